// What goes to paper and what paper comes back as: plates to paint through, setup sheet, sheet map and labels, the
// sheet with its marks, the camera.
#include "app/shell/main_window.h"

#include "app/shell/kit_dialog.h"
#include "app/shell/marks_dialog.h"
#include "app/shell/plates_dialog.h"
#include "print/artwork_page.h"
#include "print/setup_sheet.h"
#include "print/sheet_map.h"
#include "program/for_job.h"

#include <QFileDialog>

namespace ferro::app {

void MainWindow::buildMarkActions(QMenu* menu) {
    add(menu, tr("Put printed marks round it"), "marksPut", {},
        [this] { session_.apply(tr("Printed marks"), job::withMarks(session_.job(), {})); });
    add(menu, tr("Print the sheet with its marks…"), "marksPrint", {}, [this] { printSheet(); });
    add(menu, tr("Find the printed marks…"), "marksFind", {}, [this] {
        if (const QString file = askPicture(tr("A picture by the machine's camera")); !file.isEmpty())
            findMarksIn(file);
    });
}

void MainWindow::makePlates() {
    PlatesDialog dialog(session_.job(), this);
    if (dialog.exec() != QDialog::Accepted || !dialog.made()) return;
    if (!session_.apply(tr("Plates by colour"), dialog.made()->job)) return;
    session_.goTo(StationId::sheet);
    tell(tr("%1 plates, each on a sheet, in the order of painting.").arg(dialog.made()->plates.size()), false);
}

void MainWindow::makeKit() {
    KitDialog dialog({.list = {},
                      .bench = kit::benchFrom(session_.job()),
                      .book = session_.book(),
                      .house = session_.shop().house()},
                     session_.background(), this);
    if (dialog.exec() == QDialog::Accepted && !dialog.opened().isEmpty()) takeFiles({dialog.opened()});
}

QString MainWindow::askPicture(const QString& title) {
    return QFileDialog::getOpenFileName(this, title, {}, tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.webp *.bmp)"));
}

void MainWindow::findMarksIn(const QString& picture) {
    if (job::marksOf(session_.job()).empty())
        return tell(tr("There are no printed marks on this sheet. Put them round it before it is printed."), true);
    MarksDialog dialog(session_.job(), picture, MarksDialog::Of::sheet, session_.background(), this);
    if (dialog.exec() != QDialog::Accepted || !dialog.correction()) return;
    if (session_.apply(tr("Moved to the print"), job::withCorrection(session_.job(), *dialog.correction())))
        tell(tr("All on this sheet lies where its print does now. Proof it again before it is cut."), false);
}

void MainWindow::findCameraIn(const QString& picture) {
    const auto& job = session_.job();
    if (job::spotsOf(job).empty())
        return tell(tr("This job is no camera card. Take Shop › Make a camera card, cut or print it, and take a "
                       "picture of it."),
                    true);
    MarksDialog dialog(job, picture, MarksDialog::Of::camera, session_.background(), this);
    if (dialog.exec() != QDialog::Accepted || !dialog.camera()) return;
    if (auto kept = job::keepCamera(realDisk(), job.machine.key, dialog.camera()->view); !kept)
        return session_.tell(kept.problem());
    tell(tr("It is known how the camera of “%1” stands.").arg(QString::fromStdString(job.machine.name)), false);
}

void MainWindow::makeCameraCard() {
    const auto card = job::cameraCard(session_.job());
    if (!card) return session_.tell(card.problem());
    takeTestPiece(tr("Camera card"), *card,
                  card->plan.steps.empty()
                      ? tr("Print it and lay it under the camera. Then take Shop › Where the camera stands.")
                      : tr("Cut it on a light scrap under the camera. Then take Shop › Where the camera stands."));
}

void MainWindow::printSheet() {
    QString file =
        QFileDialog::getSaveFileName(this, tr("Print the sheet with its marks"),
                                     QString::fromStdString(session_.job().name) + ".pdf", tr("PDF (*.pdf)"));
    if (file.isEmpty()) return;
    if (!file.endsWith(".pdf", Qt::CaseInsensitive)) file += ".pdf";
    printSheetTo(file);
}

void MainWindow::printSheetTo(const QString& file) {
    session_.background().run(
        "print", tr("Printing the sheet"),
        [job = session_.job(), file = file.toStdString()](Progress&) -> Result<void> {
            const auto pdf = print::artworkPdf(job, {});
            if (!pdf) return pdf.problem();
            return writeAtomically(realDisk(), file, *pdf);
        },
        this,
        [this, file](const Result<void>& done) {
            if (!done) return session_.tell(done.problem());
            tell(tr("Wrote %1. Print it at its exact size, not fitted to the page.").arg(QFileInfo(file).fileName()),
                 false);
        });
}

void MainWindow::saveSheetMap() {
    QString file =
        QFileDialog::getSaveFileName(this, tr("Save the sheet map and labels"),
                                     QString::fromStdString(session_.job().name) + tr("-map.pdf"), tr("PDF (*.pdf)"));
    if (file.isEmpty()) return;
    if (!file.endsWith(".pdf", Qt::CaseInsensitive)) file += ".pdf";
    saveSheetMapTo(file);
}

void MainWindow::saveSheetMapTo(const QString& file) {
    const QString labels = file.chopped(4) + tr("-labels.pdf");
    session_.background().run(
        "map", tr("Mapping the sheets"),
        [jobs = job::sheetsToCut(session_.job()), file = file.toStdString(),
         labels = labels.toStdString()](Progress& progress) -> Result<void> {
            std::vector<print::ProofedSheet> sheets;
            for (std::size_t i = 0; i < jobs.size(); ++i) {
                progress.stage(static_cast<double>(i) / static_cast<double>(jobs.size()),
                               static_cast<double>(i + 1) / static_cast<double>(jobs.size()));
                auto proof = proof::proofOf(jobs[i], progress);
                if (!proof) return proof.problem();
                sheets.push_back({jobs[i], std::move(*proof)});
            }
            const auto map = print::sheetMap(sheets), stickers = map ? print::labelSheet(sheets) : map;
            if (!stickers) return stickers.problem();
            if (auto done = writeAtomically(realDisk(), file, *map); !done) return done;
            return writeAtomically(realDisk(), labels, *stickers);
        },
        this,
        [this, file, labels](const Result<void>& done) {
            if (!done) return tell(QString::fromStdString(done.problem().text()), true);
            tell(tr("Wrote %1 and %2").arg(QFileInfo(file).fileName(), QFileInfo(labels).fileName()), false);
        });
}

void MainWindow::saveSetupSheet() {
    if (!session_.prover().isFresh()) return tell(tr("The proof is being made: ask again when it is done."), true);
    const auto job = session_.job();
    const auto proof = session_.prover().proof();
    std::optional<print::ProgramFacts> facts;
    if (proof->mayRun()) {
        const auto program = session_.writer().program();
        if (!program) return session_.tell(program.problem());
        facts = print::ProgramFacts::of(program::fileNameFor(job, *program), program->text, program->lines);
    }
    QString file = QFileDialog::getSaveFileName(this, tr("Save the setup sheet"),
                                                QString::fromStdString(job.name) + ".pdf", tr("PDF (*.pdf)"));
    if (file.isEmpty()) return;
    if (!file.endsWith(".pdf", Qt::CaseInsensitive)) file += ".pdf";
    const auto pdf = print::setupSheet(job, *proof, facts);
    const auto done = pdf ? writeAtomically(realDisk(), file.toStdString(), *pdf) : Result<void>(pdf.problem());
    if (!done) return session_.tell(done.problem());
    tell(tr("Wrote %1").arg(QFileInfo(file).fileName()), false);
}

} // namespace ferro::app

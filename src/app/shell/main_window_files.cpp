// What comes into the window and goes out of it: jobs, pictures, programs, outlines.
#include "app/shell/main_window.h"

#include "app/shell/export_dialog.h"
#include "app/shell/piece_clipboard.h"
#include "app/shell/program_proof.h"
#include "app/shell/repeat_dialog.h"
#include "app/shell/text_dialog.h"
#include "app/shell/unit_question.h"
#include "artwork/excerpt.h"
#include "artwork/text.h"
#include "job/job_file.h"

#include <QFileDialog>
#include <QMessageBox>

namespace ferro::app {

void MainWindow::takeFiles(const QStringList& files, bool strokesAsOutlines) {
    const auto isJob = [](const QString& file) { return file.endsWith(".ferro", Qt::CaseInsensitive); };
    for (const auto& file : files) {
        if (isJob(file)) {
            if (!mayDiscard([this, files] { takeFiles(files); })) return;
            session_.files().open(file);
            // What comes with a job is for it: it waits until the job is there.
            QStringList rest = files;
            rest.removeIf(isJob);
            if (!rest.isEmpty())
                connect(
                    &session_, &Session::replaced, this, [this, rest] { takeFiles(rest); },
                    static_cast<Qt::ConnectionType>(Qt::QueuedConnection | Qt::SingleShotConnection));
            return;
        }
        if (ProgramProof::takes(file)) {
            (new ProgramProof(session_, file, this))->show();
            continue;
        }
        if (file.endsWith(".csv", Qt::CaseInsensitive)) {
            session_.addCutList(file);
            continue;
        }
        QFile in(file);
        if (!in.open(QIODevice::ReadOnly)) {
            tell(tr("%1 could not be opened: %2.").arg(QFileInfo(file).fileName(), in.errorString()), true);
            continue;
        }
        if (formats::isDrawingFile(file.toStdString()))
            session_.addDrawing(QFileInfo(file).fileName(), in.readAll(),
                                {.folder = QFileInfo(file).absolutePath(), .strokesAsOutlines = strokesAsOutlines});
        else
            session_.addPicture(QFileInfo(file).fileName(), in.readAll());
    }
}

void MainWindow::addImage(const QImage& image, const QString& name) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    session_.addPicture(name, bytes);
}

/// Undo in a field takes back what is being typed there; a field where nothing is leaves it to the job.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* field = qobject_cast<QLineEdit*>(watched);
        auto* key = static_cast<QKeyEvent*>(event);
        if (field && !(field->isModified() && field->isUndoAvailable()) && field->window() == this &&
            (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo))) {
            key->ignore();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::revert() {
    QMessageBox ask(
        QMessageBox::NoIcon, tr("Ferrograph"),
        tr("Give up what was changed in “%1” since it was saved?").arg(QString::fromStdString(session_.job().name)),
        QMessageBox::NoButton, this);
    ask.setObjectName("revertQuestion");
    const auto* back = ask.addButton(tr("Back to the saved job"), QMessageBox::DestructiveRole);
    ask.setDefaultButton(ask.addButton(tr("Stay here"), QMessageBox::RejectRole));
    ask.exec();
    if (ask.clickedButton() == back) session_.files().revert();
}

void MainWindow::refreshRecent() {
    qDeleteAll(recentMenu_->actions());
    for (const auto& file : session_.files().recent().files()) {
        auto* again = recentMenu_->addAction(QFileInfo(file).fileName());
        again->setToolTip(file);
        connect(again, &QAction::triggered, this, [this, file] { takeFiles({file}); });
    }
    recentMenu_->setToolTipsVisible(true);
    recentMenu_->setEnabled(!recentMenu_->isEmpty());
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (session_.runner().active()) {
        tell(tr("A program is running. Stop it before you close the window."), true);
        session_.goTo(StationId::run);
        return event->ignore();
    }
    if (!mayDiscard([this] { close(); })) return event->ignore();
    session_.files().leave();
    event->accept();
}

/// Whether what is open may go. Where the person wants it saved first, `again` follows that.
bool MainWindow::mayDiscard(const std::function<void()>& again) {
    if (!session_.changed()) return true;
    QMessageBox ask(QMessageBox::NoIcon, tr("Ferrograph"),
                    tr("“%1” has changes that are not saved.").arg(QString::fromStdString(session_.job().name)),
                    QMessageBox::NoButton, this);
    ask.setObjectName("unsavedQuestion");
    auto* keep = ask.addButton(tr("Save"), QMessageBox::AcceptRole);
    auto* drop = ask.addButton(tr("Do not save"), QMessageBox::DestructiveRole);
    ask.addButton(tr("Stay here"), QMessageBox::RejectRole);
    ask.exec();
    if (ask.clickedButton() == keep) save(false, again);
    return ask.clickedButton() == drop;
}

void MainWindow::save(bool ask, std::function<void()> then) {
    QString file = session_.file();
    if (file.isEmpty() || ask) {
        file = QFileDialog::getSaveFileName(this, tr("Save the job"),
                                            QString::fromStdString(session_.job().name) + ".ferro",
                                            tr("Ferrograph jobs (*.ferro)"));
        if (file.isEmpty()) return;
        if (!file.endsWith(".ferro")) file += ".ferro";
    }
    session_.files().save(file, std::move(then));
}

/// Somebody else has saved the open job's file: what each has is shown, and nothing is lost.
void MainWindow::settleChanged(const QString& file) {
    const auto wordsOf = [this](const job::Job& job) {
        const auto counts = artwork::countsOf(*job.artwork);
        return tr("%1 pieces, %2 steps, %3 × %4 × %5 mm of %6")
            .arg(counts.pieces)
            .arg(job.plan.steps.size())
            .arg(job.sheet().stock.width)
            .arg(job.sheet().stock.height)
            .arg(job.sheet().stock.thickness)
            .arg(QString::fromStdString(job.material.name));
    };
    const auto theirs = job::load(realDisk(), file.toStdString());
    const QFileInfo info(file);
    QMessageBox ask(QMessageBox::Warning, tr("Ferrograph"),
                    tr("%1 was changed by somebody else since it was opened here.").arg(info.fileName()),
                    QMessageBox::NoButton, this);
    ask.setObjectName("changedQuestion");
    ask.setInformativeText(tr("Here: %1.\nIn the file, saved at %2: %3.")
                               .arg(wordsOf(session_.job()), info.lastModified().toString("hh:mm:ss"),
                                    theirs ? wordsOf(*theirs) : QString::fromStdString(theirs.problem().text())));
    auto* mine = ask.addButton(tr("Keep mine"), QMessageBox::DestructiveRole);
    auto* take = ask.addButton(tr("Take theirs"), QMessageBox::AcceptRole);
    auto* both = ask.addButton(tr("Keep both"), QMessageBox::AcceptRole);
    auto* wait = ask.addButton(tr("Not now"), QMessageBox::RejectRole);
    mine->setObjectName("keepMine");
    take->setObjectName("takeTheirs");
    both->setObjectName("keepBoth");
    take->setEnabled(theirs.has_value());
    ask.setDefaultButton(both);
    ask.setEscapeButton(wait);
    ask.exec();
    if (ask.clickedButton() == mine) session_.files().save(file, {}, true);
    if (ask.clickedButton() == take) session_.files().takeTheirs();
    if (ask.clickedButton() != both) return;
    for (int n = 1; n < 1000; ++n)
        if (const QString beside = info.dir().filePath(tr("%1 (mine %2).ferro").arg(info.completeBaseName()).arg(n));
            !QFileInfo::exists(beside))
            return session_.files().save(beside);
}

void MainWindow::openDialog() {
    const QString file = QFileDialog::getOpenFileName(this, tr("Open a job"), {}, tr("Ferrograph jobs (*.ferro)"));
    if (!file.isEmpty()) takeFiles({file});
}

void MainWindow::proofProgramDialog() {
    takeFiles(
        QFileDialog::getOpenFileNames(this, tr("Proof a program"), {}, tr("G-code (*.nc *.ngc *.gcode *.tap *.cnc)")));
}

void MainWindow::addArtworkDialog(bool strokesAsOutlines) {
    takeFiles(QFileDialog::getOpenFileNames(this, tr("Add artwork"), {},
                                            strokesAsOutlines
                                                ? tr("SVG drawings (*.svg)")
                                                : tr("Pictures and drawings (*.png *.jpg *.jpeg *.tif "
                                                     "*.tiff *.webp *.bmp *.svg *.dxf *.plt *.hpgl);;All files (*)")),
              strokesAsOutlines);
}

bool MainWindow::toClipboard() {
    if (session_.selection().empty()) return false;
    auto clipping = clippingOf(session_.job(), session_.selection());
    if (!clipping) return tell(QString::fromStdString(clipping.problem().text()), true), false;
    QGuiApplication::clipboard()->setMimeData(clipping->release()); // which owns it from here
    return true;
}

void MainWindow::paste(bool inPlace) {
    const auto* mime = QGuiApplication::clipboard()->mimeData();
    if (!mime) return tell(tr("The clipboard is empty."), true);
    if (const auto pieces = piecesIn(*mime)) {
        if (!*pieces) return tell(QString::fromStdString(pieces->problem().text()), true);
        pasteIn(**pieces, inPlace);
    } else if (mime->hasUrls()) {
        QStringList files;
        for (const auto& url : mime->urls()) files << url.toLocalFile();
        takeFiles(files);
    } else if (const auto svg = svgIn(*mime); !svg.isEmpty()) {
        session_.addDrawing(tr("pasted.svg"), svg);
    } else if (mime->hasImage()) {
        addImage(qvariant_cast<QImage>(mime->imageData()), tr("pasted.png"));
    } else {
        tell(tr("There are no pieces, no drawing and no picture on the clipboard."), true);
    }
}

/// To where they were, or to the middle of what is seen.
void MainWindow::pasteIn(const artwork::Artwork& pieces, bool inPlace) {
    artwork::Ids all;
    for (const auto& item : pieces.items) all.push_back(item.id);
    const Vec2 seen = bench_->toSheet({bench_->width() / 2.0, bench_->height() / 2.0});
    const Vec2 by = inPlace ? Vec2{} : seen - artwork::boundsOf(pieces, all).centre();
    auto added = artwork::withExcerpt(*session_.job().artwork, pieces, by);
    const auto ids = added.ids;
    if (!session_.apply(tr("Paste"), job::withArtwork(session_.job(), std::move(added.artwork)))) return;
    session_.select(ids);
    const auto& art = *session_.job().artwork;
    const auto unseen = std::count_if(ids.begin(), ids.end(), [&](auto id) {
        const auto* item = artwork::find(art, id);
        return item && (artwork::isHidden(art, *item) || (artwork::isLocked(art, *item) && !item->underlay));
    });
    if (unseen)
        tell(tr("%1 of %2 pasted pieces are on layers that are hidden or locked here.").arg(unseen).arg(ids.size()),
             true);
}

void MainWindow::askUnit(const QString& name, const QByteArray& bytes, Session::DrawingWish wish,
                         const formats::Drawing::Drawn& drawn) {
    const auto& job = session_.job();
    UnitQuestion question(name, drawn, {job.sheet().stock.width, job.sheet().stock.height},
                          {job.machine.bedX, job.machine.bedY}, this);
    if (question.exec() != QDialog::Accepted) return;
    wish.mmPerUnit = question.mmPerUnit();
    wish.dropStrays = question.dropStrays();
    session_.addDrawing(name, bytes, wish);
}

void MainWindow::letterText() {
    // A chosen text is changed; else a new one comes to the middle of the stock.
    const artwork::Group* chosen = nullptr;
    for (const auto id : session_.selection())
        if (const auto* item = artwork::find(*session_.job().artwork, id))
            for (const auto& group : session_.job().artwork->groups)
                if (group.id == item->group && group.lettering) chosen = &group;
    std::optional<Path> line; // that a new text may stand on
    if (!chosen && session_.selection().size() == 1)
        if (const auto* item = artwork::find(*session_.job().artwork, session_.selection()[0]);
            item && artwork::shapeOf(*item) && !artwork::shapeOf(*item)->piece.outline.segments.empty())
            line = artwork::placed(*item).outline;
    const auto art = session_.job().artwork; // as it was before
    QStringList layers;
    if (!chosen) {
        layers << QStringLiteral("text");
        for (const auto& layer : art->layers)
            if (const auto name = QString::fromStdString(layer.name); !layers.contains(name)) layers << name;
    }
    TextDialog dialog(chosen ? *chosen->lettering : artwork::Lettering{}, session_.job().units, layers, line, this);
    const auto group = chosen ? chosen->id : artwork::GroupId{};
    const auto made = [&]() -> Result<artwork::Artwork> {
        const auto lettering = dialog.lettering();
        if (group) return artwork::withTextChanged(*art, group, lettering);
        auto added = artwork::withText(*art, lettering, {}, dialog.layer().toStdString());
        if (!added || lettering.along)
            return added ? Result<artwork::Artwork>(std::move(added->artwork)) : added.problem();
        // To the middle of the stock, whichever way its lines are set.
        const Vec2 to = job::sheetOf(session_.job().sheet().stock).centre() -
                        artwork::boundsOf(added->artwork, added->ids).centre();
        return artwork::withTransformed(added->artwork, added->ids, Transform::moved(to));
    };
    // What it would be is on the bench while it is typed: one edit from the first key to the answer.
    const quint64 gesture = freshGesture();
    const auto selected = session_.selection();
    bool shown = false;
    const auto show = [&] {
        auto next = made();
        if (!next) return; // half a word or an empty one: what was shown last stays
        session_.apply(tr("Text"), job::withArtwork(session_.job(), std::move(*next)), gesture);
        shown = true;
    };
    connect(&dialog, &TextDialog::changed, &dialog, show);
    dialog.move(mapToGlobal(QPoint(width() - dialog.sizeHint().width() - 12, 90))); // beside the bench
    if (dialog.exec() != QDialog::Accepted) {
        if (shown) session_.undo(), session_.select(selected);
        return;
    }
    auto last = made();
    if (!last && shown) session_.undo(); // what was shown is not what was asked for
    if (!session_.apply(tr("Text"), job::withArtwork(session_.job(), std::move(last)), gesture)) return;
    artwork::Ids fresh;
    for (const auto& item : session_.job().artwork->items)
        if (item.id.value > art->lastId) fresh.push_back(item.id);
    session_.select(fresh);
}

void MainWindow::repeatPieces() {
    const auto art = session_.job().artwork; // as it was before
    const auto chosen = session_.selection();
    if (chosen.empty()) return tell(tr("Nothing is chosen. Choose the pieces to be repeated first."), true);
    // Of several, the open line is the one to go along; or the piece that was made the key.
    std::optional<artwork::ItemId> line;
    if (chosen.size() > 1) {
        artwork::Ids open;
        for (const auto id : chosen)
            if (const auto* item = artwork::find(*art, id); item && artwork::shapeOf(*item))
                if (!artwork::shapeOf(*item)->piece.outline.closed) open.push_back(id);
        line = open.size() == 1 ? open.front() : session_.key();
    }
    const Box sheet = job::sheetOf(session_.job().sheet().stock);
    artwork::Repeat usual;
    usual.centre = sheet.centre();
    const auto* lineItem = line ? artwork::find(*art, *line) : nullptr;
    RepeatDialog dialog(usual, session_.job().units, lineItem ? QString::fromStdString(lineItem->name) : QString(),
                        this);
    const auto made = [&] {
        const auto repeat = dialog.repeat();
        return artwork::withRepeated(*art, chosen, repeat, sheet,
                                     repeat.way == artwork::Repeat::Way::line ? line : std::nullopt);
    };
    const quint64 gesture = freshGesture();
    bool shown = false;
    const auto show = [&] {
        auto next = made();
        if (!next) return dialog.say(QString::fromStdString(next.problem().text()), true);
        const auto ids = next->ids;
        const Box over = artwork::boundsOf(next->artwork, ids);
        const bool off = !sheet.grown(1e-6).contains(over);
        session_.apply(tr("Repeat"), job::withArtwork(session_.job(), std::move(next->artwork)), gesture);
        shown = true;
        dialog.say(off ? tr("%1 copies; some lie off the sheet.").arg(ids.size())
                       : tr("%1 copies, which follow their original.").arg(ids.size()),
                   false);
    };
    connect(&dialog, &RepeatDialog::changed, &dialog, show);
    dialog.move(mapToGlobal(QPoint(width() - dialog.sizeHint().width() - 12, 90))); // beside the bench
    QMetaObject::invokeMethod(&dialog, show, Qt::QueuedConnection);
    const bool taken = dialog.exec() == QDialog::Accepted;
    if (!taken && shown) session_.undo(), session_.select(chosen);
    if (!taken || !shown) return;
    artwork::Ids all = chosen;
    for (const auto& item : session_.job().artwork->items)
        if (item.id.value > art->lastId) all.push_back(item.id);
    session_.select(all);
}

void MainWindow::exportOutlines() {
    const auto job = session_.job(); // as it is now, whatever becomes of it while the dialog is open
    ExportDialog dialog(*job.artwork, this);
    if (dialog.isEmpty()) return tell(tr("There are no outlines to export."), true);
    if (dialog.exec() != QDialog::Accepted) return;
    const auto layers = dialog.hairlines();
    if (!layers) return tell(QString::fromStdString(layers.problem().text()), true);
    const QString ending = dialog.asDxf() ? ".dxf" : ".svg";
    QString file =
        QFileDialog::getSaveFileName(this, tr("Export outlines"), QString::fromStdString(job.name) + ending,
                                     dialog.asDxf() ? tr("DXF drawing in mm (*.dxf)") : tr("SVG drawing (*.svg)"));
    if (file.isEmpty()) return;
    if (!file.endsWith(ending, Qt::CaseInsensitive)) file += ending;
    const auto text =
        dialog.asDxf() ? formats::dxfOf(*layers) : formats::svgOf(*layers, job::sheetOf(job.sheet().stock));
    if (auto done = writeAtomically(realDisk(), file.toStdString(), text); !done)
        tell(QString::fromStdString(done.problem().text()), true);
    else
        tell(tr("Wrote %1").arg(QFileInfo(file).fileName()), false);
}

/// The map of all sheets as a PDF, with labels for their parts beside it.

} // namespace ferro::app

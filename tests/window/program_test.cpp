#include "window.h"

#include "app/shell/dialect_dialog.h"
#include "app/shell/program_proof.h"
#include "app/stations/run_sheet.h"
#include "job/sheets.h"

using namespace ferro;
using test::Window;

namespace {
QString write(Window& w, const char* name, const QByteArray& program) {
    QFile out(w.path(name));
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(program);
    return w.path(name);
}
app::ProgramProof* proofOf(Window& w, const QString& file) {
    w.main->takeFiles({file});
    auto* dialog = w.main->findChild<app::ProgramProof*>("programProof");
    REQUIRE(dialog);
    REQUIRE(dialog->isVisible());
    w.settle();
    return dialog;
}
QString verdict(app::ProgramProof* dialog) { return dialog->findChild<QLabel*>("programVerdict")->text(); }
const QByteArray groove =
    "G21 G90\nM3 S9000\nG0 Z5\nG0 X20 Y20\nG1 Z-5 F200\nG1 X300 F900\nG2 X300 Y120 I0 J50\nG1 X20\nG0 "
    "Z5\nM30\n";
} // namespace

TEST_CASE("program: any G-code dropped on the window is proofed on this job's stock, and anew when that changes") {
    Window w;
    auto* dialog = proofOf(w, write(w, "groove.nc", groove));
    CHECK(verdict(dialog).startsWith("Go"));
    CHECK(dialog->findChild<QLabel*>("programFacts")->text().contains("10 lines"));
    const auto* picture = dialog->findChild<QLabel*>("programSurface");
    const auto surface = picture->pixmap().toImage();
    REQUIRE_FALSE(surface.isNull());
    // The stock is 600 × 400: the groove at y = 20 crosses the picture near its lower edge.
    const auto at = [&](double x, double y) {
        return surface.pixelColor(static_cast<int>(x / 600 * surface.width()),
                                  static_cast<int>((1 - y / 400) * surface.height()));
    };
    CHECK(at(160, 20).lightness() < at(160, 200).lightness() - 10);
    // Thinner stock: now the groove goes below the scrap board.
    auto stock = w.job().sheet().stock;
    stock.thickness = 1, stock.spacer = 0;
    w.session->apply("Thin", job::withStock(w.job(), stock));
    w.settle();
    CHECK(verdict(dialog).startsWith("No-go"));
    w.act("editUndo");
    w.settle();
    CHECK(verdict(dialog).startsWith("Go"));
    w.session->apply("Clamp", job::withClamp(w.job(), {{{140, 10}, {170, 40}}, 20}));
    w.settle();
    CHECK(verdict(dialog).startsWith("No-go"));
    if (const auto shot = qgetenv("FERRO_TEST_SHOT"); !shot.isEmpty()) dialog->grab().save(QString::fromUtf8(shot));
}

TEST_CASE("program: a bad one is named by its line, and the job stays as it is") {
    Window w;
    const auto before = w.job();
    auto* dialog = proofOf(w, write(w, "bad.gcode", "G21 G90\nG0 Z5\nG1 X5\n"));
    CHECK(verdict(dialog).contains("line 3"));
    dialog->close();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    auto* plunge = proofOf(w, write(w, "plunge.tap", "G21 G90\nG0 Z5\nG0 X10 Y10\nG0 Z-1\nG0 Z5\n"));
    CHECK(verdict(plunge).startsWith("No-go"));
    bool told = false;
    for (const auto* label : plunge->findChildren<QLabel*>()) told |= label->text().contains("Line 4");
    CHECK(told);
    CHECK(w.job() == before);
}

TEST_CASE("program: files by tool, step and sheet are named as they will be, and written all or none") {
    Window w;
    w.open(FERRO_DEMO "/proscenium.ferro");
    w.session->goTo(app::StationId::run);
    w.settle();
    auto* sheet = w.find("runSheet")->findChild<app::FileSection*>();
    const auto* names = w.find<QLabel>("outputFiles");
    const QString job = names->text(); // of the job's name
    CHECK_FALSE(job.contains('\n'));
    const auto choose = [&](int index) {
        for (auto* button : w.find("outputEach")->findChildren<QAbstractButton*>())
            if (button->text() == QStringList{"job", "tool", "step"}[index]) button->click();
        w.settle();
    };
    choose(1);
    const auto proof = w.session->prover().proof();
    const auto& steps = proof->path.steps;
    const auto tools = 1 + std::count_if(steps.begin(), steps.end(), [](const auto& s) { return s.toolChange; });
    CHECK(tools > 3);
    CHECK(names->text().split('\n').size() == tools);
    CHECK(names->text().startsWith(job + "-01-"));
    QDir().mkpath(w.path("out"));
    sheet->writeTo(w.path("out"));
    w.settle();
    CHECK(QDir(w.path("out")).entryList(QDir::Files).size() == tools);
    choose(2);
    w.type("outputName", "{number}-{step}");
    w.settle();
    CHECK(names->text().split('\n').size() == 7); // six, and how many more
    CHECK(names->text().endsWith(QString("and %1 more").arg(steps.size() - 6)));
    CHECK(names->text().startsWith("01-Floor-of-the-letters"));
    w.type("outputName", "{step}"); // would not tell them apart
    CHECK(w.message().contains("{number}"));
    CHECK(w.job().output.name == "{number}-{step}");
    w.act("editUndo");
    CHECK(w.job().output.name.empty());
    CHECK_FALSE(w.find("writeAllSheets")->isVisible());

    Window two;
    two.open(FERRO_DEMO "/owls.ferro");
    two.session->goTo(app::StationId::run);
    two.settle();
    sheet = two.find("runSheet")->findChild<app::FileSection*>();
    CHECK(two.find("writeAllSheets")->isVisibleTo(sheet));
    QDir().mkpath(two.path("boards"));
    sheet->writeTo(two.path("boards"), true);
    two.settle();
    CHECK(QDir(two.path("boards")).entryList(QDir::Files).size() ==
          static_cast<qsizetype>(job::sheetsToCut(two.job()).size()));
}

namespace {
/// The dialect of a job, opened to be changed.
app::DialectDialog* onDesk(Window& w, const char* job) {
    w.open(job);
    w.session->goTo(app::StationId::run);
    w.settle();
    w.click("editDialect");
    return w.find<app::DialectDialog>("dialectDialog");
}
} // namespace

TEST_CASE("program: a dialect is changed on the desk, read back as it is typed, and kept only when it is right") {
    Window w;
    auto* dialog = onDesk(w, FERRO_DEMO "/proscenium.ferro");
    const auto part = [&]<class T>(const char* name, T*) { return dialog->findChild<T*>(QLatin1String(name)); };
    auto* keep = part("dialectKeep", static_cast<QPushButton*>(nullptr));
    auto* header = part("dialectHeader", static_cast<QPlainTextEdit*>(nullptr));
    auto* sample = part("dialectSample", static_cast<QPlainTextEdit*>(nullptr));
    auto* verdict = part("dialectVerdict", static_cast<QLabel*>(nullptr));
    CHECK(keep->isEnabled());
    CHECK(sample->toPlainText().contains("M6"));
    const QString was = header->toPlainText();
    header->setPlainText(was + "\nG91");
    w.until([&] { return !keep->isEnabled(); }, "the sample to be read back");
    CHECK(verdict->text().contains("span"));
    header->setPlainText(was + "\n(back room)");
    w.until([&] { return keep->isEnabled(); }, "the sample to be right again");
    CHECK(sample->toPlainText().contains("(back room)"));
    part("dialectKey", static_cast<QLineEdit*>(nullptr))->setText("back-room");
    for (auto* button : part("dialectArcs", static_cast<QWidget*>(nullptr))->findChildren<QAbstractButton*>())
        if (button->text() == "radius") button->click();
    CHECK(sample->toPlainText().contains(" R"));
    if (const auto shot = qgetenv("FERRO_TEST_SHOT"); !shot.isEmpty()) dialog->grab().save(QString::fromUtf8(shot));
    keep->click();
    w.settle();
    CHECK(w.job().dialect == "back-room");
    CHECK(w.find<QPlainTextEdit>("programText")->toPlainText().contains("(back room)"));
    CHECK(w.find<QPlainTextEdit>("programText")->toPlainText().contains(" R"));
}

TEST_CASE("program: a beam's dialect says air, piercing and heights, and is kept only when they come out as meant") {
    Window w;
    auto* dialog = onDesk(w, FERRO_DEMO "/heron.ferro");
    auto* keep = dialog->findChild<QPushButton*>("dialectKeep");
    auto* sample = dialog->findChild<QPlainTextEdit*>("dialectSample");
    CHECK(dialog->findChild<QCheckBox*>("dialectHeights")->isVisible());
    CHECK_FALSE(dialog->findChild<QCheckBox*>("dialectCycles")->isVisible());
    CHECK(keep->isEnabled());
    for (const char* word : {"M8", "M9", "G4 P0.3", "Z-1"}) CHECK(sample->toPlainText().contains(word));
    auto* off = dialog->findChild<QPlainTextEdit*>("dialectAirOff");
    off->setPlainText("M8");
    w.until([&] { return !keep->isEnabled(); }, "the sample to be read back");
    CHECK(dialog->findChild<QLabel*>("dialectVerdict")->text().contains("M9"));
    off->setPlainText("M9");
    dialog->findChild<QCheckBox*>("dialectHeights")->click();
    w.until([&] { return keep->isEnabled(); }, "the sample to be right again");
    CHECK_FALSE(sample->toPlainText().contains("Z-1"));
    if (const auto shot = qgetenv("FERRO_TEST_SHOT"); !shot.isEmpty()) dialog->grab().save(QString::fromUtf8(shot));
}

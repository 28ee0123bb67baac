#include "job/job_file.h"
#include "window.h"

#include <QFileDialog>
#include <QMessageBox>

using namespace ferro;
using namespace ferro::test;

namespace {

/// Types a name into the file dialog that opens, and takes it.
auto choosing(const QString& file) {
    return [file](QWidget* modal) {
        auto* dialog = qobject_cast<QFileDialog*>(modal);
        if (!dialog) return;
        dialog->findChild<QLineEdit*>("fileNameEdit")->setText(file);
        QMetaObject::invokeMethod(dialog, "accept", Qt::QueuedConnection);
    };
}
auto answeringBy(const QString& words, int& asked) {
    return [words, &asked](QWidget* modal) {
        auto* box = qobject_cast<QMessageBox*>(modal);
        if (!box) return;
        ++asked;
        for (auto* button : box->buttons())
            if (button->text() == words) return button->click();
        FAIL("no answer “" << words.toStdString() << "”");
    };
}

} // namespace

TEST_CASE("files: a job with changes is not closed or left without asking, each answer does what it says") {
    Window w;
    const auto draw = [&] {
        w.session->apply(
            "Draw",
            job::withArtwork(
                w.job(), artwork::withPieces(*w.job().artwork, {{circle({50, 50}, 20), {}}}, "cut", "moon").artwork));
    };
    draw();
    w.main->show();
    int asked = 0;
    answering(w, answeringBy("Stay here", asked), [&] { w.main->close(); });
    CHECK(asked == 1);
    CHECK(w.main->isVisible());
    CHECK(w.job().artwork->items.size() == 1);
    // Saving asks for a name, gives it the ending and forgets nothing.
    answering(w, choosing(w.path("moon")), [&] { w.act("fileSave"); });
    REQUIRE(QFile::exists(w.path("moon.ferro")));
    CHECK_FALSE(w.session->changed());
    CHECK(*job::load(realDisk(), w.path("moon.ferro").toStdString()) == w.job());
    draw();
    w.act("fileSave"); // it has one now
    CHECK(job::load(realDisk(), w.path("moon.ferro").toStdString())->artwork->items.size() == 2);
    answering(w, choosing(w.path("two moons.ferro")), [&] { w.act("fileSaveAs"); });
    CHECK(w.session->file() == w.path("two moons.ferro"));
    // Another one is opened over changes: kept when asked to.
    draw();
    answering(
        w,
        [&](QWidget* modal) {
            choosing(w.path("moon.ferro"))(modal);
            answeringBy("Save", asked)(modal);
        },
        [&] { w.act("fileOpen"); });
    CHECK(w.job().artwork->items.size() == 2);
    CHECK(job::load(realDisk(), w.path("two moons.ferro").toStdString())->artwork->items.size() == 3);
    // And dropped when asked to.
    draw();
    answering(w, answeringBy("Do not save", asked), [&] { w.main->close(); });
    CHECK_FALSE(w.main->isVisible());
    CHECK(asked == 3);
    CHECK(job::load(realDisk(), w.path("moon.ferro").toStdString())->artwork->items.size() == 2);
}

TEST_CASE("files: drawings come in by the dialog and by paste, as lines or with their strokes as areas") {
    Window w;
    QFile svg(w.path("line.svg"));
    REQUIRE(svg.open(QIODevice::WriteOnly));
    svg.write("<svg width='100mm' height='100mm' viewBox='0 0 100 100'><path d='M10 50H90' fill='none' stroke='#000' "
              "stroke-width='4'/></svg>");
    svg.close();
    const auto last = [&] { return artwork::placed(w.job().artwork->items.back()).outline; };
    answering(w, choosing(w.path("line.svg")), [&] { w.act("fileAddArtwork"); });
    w.until([&] { return w.job().artwork->items.size() == 1; }, "the drawing is in");
    CHECK_FALSE(last().closed);
    answering(w, choosing(w.path("line.svg")), [&] { w.act("fileAddStrokes"); });
    w.until([&] { return w.job().artwork->items.size() == 2; }, "its strokes are in");
    CHECK(std::abs(areaOf(last())) == Approx(320));
    auto* data = new QMimeData;
    data->setUrls({QUrl::fromLocalFile(w.path("line.svg"))});
    QApplication::clipboard()->setMimeData(data);
    w.act("editPaste");
    w.until([&] { return w.job().artwork->items.size() == 3; }, "it came in by paste");
    // What is not there is told by its name.
    w.main->takeFiles({w.path("gone.svg")});
    CHECK(w.message().contains("gone.svg could not be opened"));
    CHECK(w.job().artwork->items.size() == 3);
}

TEST_CASE("sheet: clamps by their list, clearance and the zero's height are part of the job and undone") {
    Window w;
    w.session->goTo(app::StationId::sheet);
    w.settle();
    const auto before = w.job();
    w.click("addClamp");
    w.type("clampHeight", "22");
    w.click("addClamp");
    REQUIRE(w.job().sheet().clamps.size() == 2);
    CHECK(w.job().sheet().clamps[1].height == 22);
    w.click("removeClamp");
    CHECK(w.message().contains("Choose a clamp"));
    auto* list = w.find<QListWidget>("clampList");
    list->setCurrentRow(0);
    w.type("clampHeight", "3/4in");
    CHECK(w.job().sheet().clamps[0].height == Approx(19.05));
    list->setCurrentRow(1);
    CHECK(w.edit("clampHeight")->text().contains("22"));
    w.click("removeClamp");
    REQUIRE(w.job().sheet().clamps.size() == 1);
    CHECK(w.job().sheet().clamps[0].height == Approx(19.05));
    w.type("clearance", "12");
    CHECK(job::travelHeight(w.job()) >= 12);
    auto* bottom = w.find("zeroHeight")->findChildren<QPushButton*>().last();
    bottom->click();
    QCoreApplication::processEvents();
    CHECK(w.job().sheet().stock.zeroAt == job::ZeroHeight::bottom);
    for (int i = 0; i < 20 && w.session->history().canUndo(); ++i) w.act("editUndo");
    CHECK(w.job() == before);
}

TEST_CASE("draw: while a shape is dragged its size is shown, with Shift a line keeps to fifteen degrees") {
    Window w;
    w.session->goTo(app::StationId::mend);
    w.settle();
    w.act("viewFit");
    w.click("toolDraw");
    auto* box = w.find<QComboBox>("drawKind");
    for (const auto kind : {ShapeKind::rectangle, ShapeKind::circle, ShapeKind::line}) {
        box->setCurrentIndex(static_cast<int>(kind));
        Q_EMIT box->activated(static_cast<int>(kind));
        QCoreApplication::processEvents();
        w.drag({60, 60}, {120, 78}, Qt::ShiftModifier | Qt::ControlModifier, [&] {
            // A card beside the pointer, the shape's line from where it began.
            const auto image = w.bench()->grab().toImage();
            const Vec2 end = kind == ShapeKind::rectangle ? Vec2{120, 120}
                             : kind == ShapeKind::line
                                 ? Vec2{60, 60} + Transform::rotated(pi / 12).direction({std::hypot(60, 18), 0})
                                 : Vec2{120, 78};
            const QPoint card = w.bench()->toScreen(end).toPoint() + QPoint(15, 15);
            CAPTURE(static_cast<int>(kind), image.pixelColor(card).name().toStdString());
            CHECK(like(image.pixelColor(card), app::theme().color(app::Token::card), 24));
        });
    }
    REQUIRE(w.job().artwork->items.size() == 3);
    const auto path = [&](std::size_t i) { return artwork::placed(w.job().artwork->items[i]).outline; };
    CHECK(boundsOf(path(0)).width() == Approx(boundsOf(path(0)).height()));
    const Vec2 way = path(2).end() - path(2).start;
    CHECK(std::atan2(way.y, way.x) == Approx(pi / 12));
    w.act("editUndo");
    CHECK(w.job().artwork->items.size() == 2);
}

TEST_CASE("files: the setup sheet is saved from the window, with its ending, as the command line makes it") {
    Window w;
    const QString demo = w.path("sign.ferro");
    REQUIRE(QFile::copy(FERRO_DEMO "/sign.ferro", demo));
    w.open(demo);
    w.settle();
    const QString file = w.path("at the machine");
    answering(w, choosing(file), [&] { w.act("fileSetupSheet"); });
    const auto pdf = realDisk().read((file + ".pdf").toStdString());
    REQUIRE(pdf);
    CHECK(pdf->starts_with("%PDF"));
    const auto by =
        QStringLiteral("%1/ferrograph-cli setup '%2' -o '%3' 2>/dev/null").arg(FERRO_BIN, demo, w.path("by.pdf"));
    REQUIRE(std::system(by.toUtf8().constData()) == 0);
    CHECK(*pdf == *realDisk().read(w.path("by.pdf").toStdString()));
    answering(w, choosing(w.path("no folder/a.pdf")), [&] { w.act("fileSetupSheet"); });
    CHECK(w.message().contains("no folder"));
}

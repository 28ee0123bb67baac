#include "window.h"

#include "geometry/measure.h"

#include <QTreeWidget>

using namespace ferro;
using test::Window;

TEST_CASE("source: level, find, invert and size reach the trace at once, and the blend shows it") {
    Window w;
    w.drop(test::moonPicture(w.path("moon.png")));
    w.until([&] { return w.session->traceResult() != nullptr; }, "traced");
    w.settle();
    const int automatic = w.session->traceResult()->level;
    CHECK(automatic > 25);
    CHECK(automatic < 240);
    CHECK(w.session->traceResult()->pieces[0].openings.size() == 1);
    auto* bar = w.find("levelBar");
    QTest::mouseClick(bar, Qt::LeftButton, {}, QPoint(bar->width() * 3 / 4, bar->height() / 2));
    w.settle();
    CHECK(w.session->traceSettings().level == Approx(192).margin(6));
    CHECK_FALSE(w.find<QCheckBox>("levelAutomatic")->isChecked());
    QTest::keyClick(bar, Qt::Key_Left);
    w.settle();
    CHECK(w.session->traceSettings().level < 192 + 6);
    w.click("levelAutomatic");
    w.settle();
    CHECK(w.session->traceResult()->level == automatic);
    w.click("findOuterEdge");
    w.settle();
    CHECK(w.session->traceResult()->pieces[0].openings.empty());
    w.click("findAreas");
    w.click("traceInvert");
    w.settle();
    CHECK(w.session->traceResult()->pieces.size() == 2); // the paper round the moon, and the hole
    w.click("traceInvert");
    w.type("pictureWidth", "120");
    w.settle();
    Box box;
    for (const auto& piece : w.session->traceResult()->pieces) box.take(boundsOf(piece));
    CHECK(box.width() == Approx(80).margin(0.3)); // twice as large as it came
    w.act("editUndo");
    w.settle();
    auto* blend = w.find<QSlider>("blend");
    const Vec2 ink = artwork::boundsOf(w.job().artwork->items[0]).centre() + Vec2{12, 0};
    blend->setValue(0);
    const QColor all = w.pixel(ink);
    blend->setValue(100);
    CHECK(w.pixel(ink).lightness() > all.lightness() + 60); // the ink has faded
    w.type("speck", "nonsense");
    CHECK(w.edit("speck")->property("bad").toBool());
    QTest::keyClick(w.edit("speck"), Qt::Key_Escape);
}

TEST_CASE("mend: layers are shown, locked and chosen by their list, and a piece is renamed and moved to another") {
    Window w;
    w.main->takeFiles({FERRO_DEMO "/heron.ferro"});
    w.act("stationMend");
    w.settle();
    auto* list = w.find<QTreeWidget>("layerList");
    const auto row = [&](const QString& name) {
        const auto found = list->findItems(name, Qt::MatchExactly, 0);
        REQUIRE(found.size() == 1);
        return found[0];
    };
    const auto layer = [&](const char* name) { return artwork::layerNamed(*w.job().artwork, name); };
    row("rod")->setCheckState(2, Qt::Unchecked);
    QCoreApplication::processEvents();
    CHECK(layer("rod")->hidden);
    w.act("editUndo");
    CHECK_FALSE(layer("rod")->hidden);
    row("fold")->setCheckState(3, Qt::Checked);
    QCoreApplication::processEvents();
    CHECK(layer("fold")->locked);
    w.act("editUndo");
    Q_EMIT list->itemClicked(row("fold"), 0);
    QCoreApplication::processEvents();
    CHECK(w.session->selection().size() == 2);
    w.clickAt({-40, -40});
    w.clickAt({174 + 52, 52}); // the sleeve's upper edge
    REQUIRE(w.session->selection().size() == 1);
    w.type("pieceName", "rod pocket");
    CHECK(artwork::find(*w.job().artwork, w.session->selection()[0])->name == "rod pocket");
    const auto before = artwork::find(*w.job().artwork, w.session->selection()[0])->layer;
    w.type("pieceLayer", "pocket");
    CHECK(artwork::find(*w.job().artwork, w.session->selection()[0])->layer != before);
    CHECK(w.session->history().undoLabel() == "Change layer");
}

TEST_CASE("sheet: zero, thickness and machine change what is written, and another material what was not typed") {
    Window w;
    const QString file = w.path("proscenium.ferro");
    REQUIRE(QFile::copy(FERRO_DEMO "/proscenium.ferro", file));
    w.main->takeFiles({file});
    w.settle();
    const auto text = [&] {
        w.settle();
        const auto program = w.session->program();
        INFO((program ? "" : program.problem().text()));
        REQUIRE(program);
        return program->text;
    };
    const auto first = text();
    w.act("stationSheet");
    auto* corners = w.find("zeroCorner");
    const auto buttons = corners->findChildren<QAbstractButton*>();
    REQUIRE(buttons.size() == 5);
    buttons.last()->click();
    CHECK(w.job().stock.corner == job::ZeroCorner::centre);
    const auto centred = text();
    CHECK(centred != first);
    CHECK(centred.find("X-") != std::string::npos);
    w.act("editUndo");
    CHECK(text() == first); // the same job, the same bytes
    const double feed = w.job().plan.steps[2].feed;
    w.choose("material", "acrylic");
    CHECK(w.job().plan.steps[2].feed != feed);
    w.act("editUndo");
    CHECK(w.job().plan.steps[2].feed == feed);
    // Units are a way of showing: nothing in the program changes.
    w.act("viewUnits");
    CHECK(text() == first);
    CHECK(w.edit("stockWidth")->text().toDouble() == Approx(600 / 25.4).margin(0.001));
}

TEST_CASE("strip: a block goes to its step, arrows move the playhead, and hovering tells what lies there") {
    Window w;
    w.main->takeFiles({FERRO_DEMO "/proscenium.ferro"});
    w.settle();
    w.act("stationCuts");
    auto* strip = w.find<app::TimeStrip>("timeStrip");
    QTest::mouseClick(strip, Qt::LeftButton, {}, strip->blockRect(2).center().toPoint());
    CHECK(w.session->step() == w.job().plan.steps[2].id);
    w.act("stationProof");
    strip->setFocus();
    QTest::keyClick(strip, Qt::Key_Left);
    w.settle();
    const double total = w.session->proof()->timing.total;
    CHECK(w.session->playhead() < total);
    CHECK(w.session->playhead() > total * 0.98);
    const auto words = app::wordsUnder(w.bench()->facts(), {60, 58}, 3);
    CHECK_FALSE(words.isEmpty());
    CHECK(app::wordsUnder(w.bench()->facts(), {-200, -200}, 3).isEmpty());
}

#include "window.h"

#include <QTreeView>

#include "geometry/measure.h"

#include <QTreeWidget>

using namespace ferro;
using test::Window;

TEST_CASE("source: level, find, invert and size reach the trace at once, and the blend shows it") {
    Window w;
    w.drop(test::moonPicture(w.path("moon.png")));
    w.until([&] { return w.session->tracer().result() != nullptr; }, "traced");
    w.settle();
    const int automatic = w.session->tracer().result()->level;
    CHECK(automatic > 25);
    CHECK(automatic < 240);
    CHECK(w.session->tracer().result()->pieces[0].openings.size() == 1);
    auto* bar = w.find("levelBar");
    QTest::mouseClick(bar, Qt::LeftButton, {}, QPoint(bar->width() * 3 / 4, bar->height() / 2));
    w.settle();
    CHECK(w.session->tracer().settings().level == Approx(192).margin(6));
    CHECK_FALSE(w.find<QCheckBox>("levelAutomatic")->isChecked());
    QTest::keyClick(bar, Qt::Key_Left);
    w.settle();
    CHECK(w.session->tracer().settings().level < 192 + 6);
    w.click("levelAutomatic");
    w.settle();
    CHECK(w.session->tracer().result()->level == automatic);
    w.click("findRim");
    w.settle();
    CHECK(w.session->tracer().result()->pieces[0].openings.empty());
    w.click("findAreas");
    w.click("traceInvert");
    w.settle();
    CHECK(w.session->tracer().result()->pieces.size() == 2); // the paper round the moon, and the hole
    w.click("traceInvert");
    w.type("pictureWidth", "120");
    w.settle();
    Box box;
    for (const auto& piece : w.session->tracer().result()->pieces) box.take(boundsOf(piece));
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
    w.open(FERRO_DEMO "/heron.ferro");
    w.act("stationMend");
    w.settle();
    auto* list = w.find<QTreeView>("pieceList");
    auto* model = list->model();
    const auto row = [&](const QString& name, int column = 0) {
        QCoreApplication::processEvents(); // what has changed is shown
        const auto found = model->match(model->index(0, 0), Qt::DisplayRole, name, 1, Qt::MatchExactly);
        INFO("row " << name.toStdString());
        REQUIRE(found.size() == 1);
        return found[0].siblingAtColumn(column);
    };
    const auto tick = [&](const QModelIndex& at, bool on) {
        model->setData(at, on ? Qt::Checked : Qt::Unchecked, Qt::CheckStateRole);
        QCoreApplication::processEvents();
    };
    const auto layer = [&](const char* name) { return artwork::layerNamed(*w.job().artwork, name); };
    tick(row("rod", 3), false);
    CHECK(layer("rod")->hidden);
    w.act("editUndo");
    CHECK_FALSE(layer("rod")->hidden);
    tick(row("fold", 4), true);
    CHECK(layer("fold")->locked);
    w.act("editUndo");
    const auto clickRow = [&](const QModelIndex& at) {
        list->scrollTo(at);
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualRect(at).center());
        QCoreApplication::processEvents();
    };
    clickRow(row("fold"));
    CHECK(w.session->selection().size() == 2);
    // A layer is renamed where it stands, the steps that take it go on doing so; marked as notes; made and taken away.
    model->setData(row("fold"), "crease", Qt::EditRole);
    QCoreApplication::processEvents();
    REQUIRE(layer("crease"));
    CHECK_FALSE(layer("fold"));
    clickRow(row("crease"));
    w.click("layerNotes");
    CHECK(layer("crease")->notes);
    CHECK(model->index(row("crease (notes)").row(), 0).data().toString() == "crease (notes)");
    w.click("layerDelete"); // not while something lies on it
    CHECK(layer("crease"));
    CHECK(w.message().contains("lie on it"));
    w.click("layerNew");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    QCoreApplication::processEvents();
    REQUIRE(layer("layer 1"));
    // A piece is dragged there.
    const auto piece = model->index(0, 0, row("rod"));
    std::unique_ptr<QMimeData> carried(model->mimeData({piece}));
    model->dropMimeData(carried.get(), Qt::MoveAction, -1, -1, row("layer 1"));
    QCoreApplication::processEvents();
    CHECK(model->rowCount(row("layer 1")) == 1);
    for (int i = 0; i < 4; ++i) w.act("editUndo");
    CHECK(layer("fold"));
    // Looked for by name, and both ways with the bench.
    w.find<QLineEdit>("pieceSearch")->setText("rod");
    CHECK(model->rowCount() == 1);
    w.find<QLineEdit>("pieceSearch")->clear();
    const auto one = model->index(0, 0, row("rod"));
    clickRow(one);
    REQUIRE(w.session->selection().size() == 1);
    const auto chosen = w.session->selection();
    w.session->select({});
    QCoreApplication::processEvents();
    CHECK(list->selectionModel()->selectedRows().isEmpty());
    w.session->select(chosen);
    QCoreApplication::processEvents();
    REQUIRE(list->selectionModel()->selectedRows().size() == 1);
    CHECK(list->selectionModel()->selectedRows()[0] == model->index(0, 0, row("rod")));
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
    w.open(file);
    w.settle();
    const auto text = [&] {
        w.settle();
        const auto program = w.session->writer().program();
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
    CHECK(w.job().sheet().stock.corner == job::ZeroCorner::centre);
    const auto centred = text();
    CHECK(centred != first);
    CHECK(centred.find("X-") != std::string::npos);
    w.act("editUndo");
    CHECK(text() == first); // the same job, the same bytes
    const double feed = plan::ratesIn(w.job().plan.steps[2])->feed;
    w.choose("material", "acrylic");
    CHECK(plan::ratesIn(w.job().plan.steps[2])->feed != feed);
    w.act("editUndo");
    CHECK(plan::ratesIn(w.job().plan.steps[2])->feed == feed);
    // Units are a way of showing: nothing in the program changes.
    w.act("viewUnits");
    CHECK(text() == first);
    CHECK(w.edit("stockWidth")->text().toDouble() == Approx(600 / 25.4).margin(0.001));
}

TEST_CASE("strip: a block goes to its step, arrows move the playhead, and hovering tells what lies there") {
    Window w;
    w.open(FERRO_DEMO "/proscenium.ferro");
    w.settle();
    w.act("stationCuts");
    auto* strip = w.find<app::TimeStrip>("timeStrip");
    QTest::mouseClick(strip, Qt::LeftButton, {}, strip->blockRect(2).center().toPoint());
    CHECK(w.session->step() == w.session->prover().proof()->path.steps.at(2).step);
    w.act("stationProof");
    strip->setFocus();
    QTest::keyClick(strip, Qt::Key_Left);
    w.settle();
    const double total = w.session->prover().proof()->timing.total;
    CHECK(w.session->prover().playhead() < total);
    CHECK(w.session->prover().playhead() > total * 0.98);
    const auto words = app::wordsUnder(w.bench()->facts(), {60, 58}, 3);
    CHECK_FALSE(words.isEmpty());
    CHECK(app::wordsUnder(w.bench()->facts(), {-200, -200}, 3).isEmpty());
}

TEST_CASE("source: a shadowed photo is evened out by a clean-up step, which is undone, and a patch is left out") {
    Window w;
    w.main->takeFiles({test::shadowedPhoto(w.path("photo.png"), 1, 2000)});
    w.settle();
    auto& tracer = w.session->tracer();
    REQUIRE(tracer.result());
    CHECK(boundsOf(tracer.result()->pieces.at(0)).width() > 80); // the shadow counts as ink
    for (auto* section : w.find("sourceSheet")->findChildren<app::Section*>()) section->setFolded(false);
    CHECK(tracer.quality().verdict == picture::Quality::Verdict::uneven);
    REQUIRE(w.find("evenTheLight")->isVisible()); // where it is told
    w.click("evenTheLight");
    w.settle();
    REQUIRE(tracer.cleanSteps().size() == 1);
    CHECK(tracer.result()->pieces.size() == 2);
    CHECK_FALSE(w.find("evenTheLight")->isVisible());
    w.act("editUndo");
    w.settle();
    CHECK(tracer.cleanSteps().empty());
    w.find<QAction>("clean-even-light")->trigger();
    w.settle();
    w.type("cleanAmount", "60");
    w.settle();
    CHECK(tracer.cleanSteps()[0].amount == 60);
    REQUIRE(tracer.result()->pieces.size() == 2);
    // An area drawn on the bench becomes a patch, and that is left out.
    const auto at = [&](double x, double y) { return artwork::boundsOf(*tracer.picture()).low + Vec2{x, y}; };
    w.act("viewFitSelection");
    w.click("toolArea");
    w.drag(at(130, 40), at(190, 110));
    CHECK(tracer.area().width() == Approx(60).margin(3));
    w.click("areaPatch");
    w.click("findNothing");
    CHECK_FALSE(w.find<QRadioButton>("findAreas")->isChecked()); // one of all
    w.settle();
    CHECK(tracer.result()->pieces.size() == 1);
    w.click("patchDrop");
    w.settle();
    CHECK(tracer.result()->pieces.size() == 2);
    // With Shift it is drawn freely round the small one: three sides here, closed by itself.
    w.click("toolArea");
    const auto press = [&](QEvent::Type type, Vec2 place) {
        const QPointF p = w.bench()->toScreen(place);
        QMouseEvent event(type, p, w.bench()->mapToGlobal(p), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton,
                          Qt::LeftButton, Qt::ShiftModifier);
        QCoreApplication::sendEvent(w.bench(), &event);
    };
    press(QEvent::MouseButtonPress, at(130, 40));
    for (const Vec2 p : {at(190, 42), at(192, 110), at(128, 108)}) press(QEvent::MouseMove, p);
    press(QEvent::MouseButtonRelease, at(128, 108));
    CHECK(tracer.areaOutline().size() == 4);
    CHECK(std::abs(areaOf(tracer.areaOutline())) == Approx(62 * 67).epsilon(0.1));
    w.click("areaPatch");
    w.click("findNothing");
    w.settle();
    CHECK(tracer.result()->pieces.size() == 1);
    w.click("patchDrop");
    w.settle();
    // The eraser takes the small one away; crop keeps what is left.
    w.type("brushWidth", "40");
    w.click("toolEraser");
    w.drag(at(140, 75), at(180, 75));
    w.settle();
    CHECK(tracer.cleanSteps().size() == 2);
    CHECK(tracer.result()->pieces.size() == 1);
    const Vec2 middle = boundsOf(tracer.result()->pieces[0]).centre();
    w.click("toolArea");
    w.drag(at(20, 30), at(110, 130));
    w.click("areaCrop");
    w.settle();
    CHECK(artwork::boundsOf(*tracer.picture()).width() == Approx(90).margin(3));
    CHECK(distance(boundsOf(tracer.result()->pieces[0]).centre(), middle) < 0.2); // it stays where it is
    while (!tracer.cleanSteps().empty() && w.session->history().canUndo()) w.act("editUndo"), w.settle();
    CHECK(tracer.cleanSteps().empty());
    CHECK(artwork::boundsOf(*tracer.picture()).width() == Approx(200));
}

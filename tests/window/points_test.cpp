#include "window.h"

using namespace ferro;
using test::Window;

namespace {
/// A plate with a round hole, and its points to edit.
void draw(Window& w) {
    auto added = artwork::withPieces(*w.job().artwork, {{rectangle({100, 100}, {220, 180}), {circle({150, 140}, 15)}}},
                                     "cut", "plate");
    w.session->apply("Draw", job::withArtwork(w.job(), std::move(added.artwork)));
    w.session->goTo(app::StationId::mend);
    w.settle();
    w.click("toolPoints");
    w.clickAt({100, 150});
    w.bench()->fitSelection();
    QCoreApplication::processEvents();
}
Piece piece(Window& w, std::size_t i = 0) { return artwork::placed(w.job().artwork->items.at(i)); }
const mend::PointRefs& chosen(Window& w) { return w.session->points().chosen(); }
} // namespace

TEST_CASE("points: chosen by click and box, dragged with and without snapping, typed, taken out by Delete") {
    Window w;
    draw(w);
    REQUIRE(w.session->points().marks().size() == 6);
    w.clickAt({220, 180});
    REQUIRE(chosen(w).size() == 1);
    CHECK(test::like(w.pixel({220, 180}), app::theme().color(app::Token::oxide), 60)); // filled
    w.drag({220, 180}, {231, 191}, Qt::ControlModifier);
    CHECK(piece(w).outline.segments[1].end.x == Approx(231).margin(0.6));
    CHECK(piece(w).outline.segments[1].end.y == Approx(191).margin(0.6));
    w.act("editUndo");
    CHECK(piece(w).outline == rectangle({100, 100}, {220, 180}));
    w.drag({220, 180}, {150.4, 139.7}); // onto the hole's centre, exactly
    CHECK(piece(w).outline.segments[1].end == Vec2{150, 140});
    w.act("editUndo");
    const Vec2 zero = job::zeroOf(w.job().sheet().stock).at;
    w.type("pointX", QString::number(250 - zero.x));
    CHECK(piece(w).outline.segments[1].end == Vec2{250, 180});
    w.drag({92, 92}, {255, 110}); // a box round the lower edge
    CHECK(chosen(w).size() == 2);
    w.bench()->setFocus();
    QTest::keyClick(w.bench(), Qt::Key_Down);
    CHECK(piece(w).outline.start == Vec2{100, 99});
    w.clickAt({250, 180}, Qt::ShiftModifier);
    CHECK(chosen(w).size() == 3);
    w.clickAt({100, 99}, Qt::ShiftModifier);
    w.clickAt({220, 99}, Qt::ShiftModifier);
    REQUIRE(chosen(w).size() == 1);
    w.act("editDelete");
    CHECK(piece(w).outline.segments.size() == 3);
    CHECK(piece(w).openings.size() == 1); // the points were meant, not the piece
    CHECK(w.session->history().undoLabel() == "Take points out");
    w.click("toolSelect");
    CHECK_FALSE(w.find("pointWords")->isVisible());
    w.act("editDelete");
    CHECK(w.job().artwork->items.empty());
}

TEST_CASE("points: added by a double click, bent by their line's middle, smoothed, parted and joined again") {
    Window w;
    draw(w);
    QTest::mouseDClick(w.bench(), Qt::LeftButton, {}, w.bench()->toScreen({140, 100}).toPoint());
    QCoreApplication::processEvents();
    REQUIRE(piece(w).outline.segments.size() == 5);
    REQUIRE(chosen(w).size() == 1);
    CHECK(piece(w).outline.segments[0].end.x == Approx(140).margin(0.6));
    w.drag({180, 100}, {180, 85}, Qt::ControlModifier); // the middle of the line to its right
    REQUIRE(piece(w).outline.segments[1].kind == Segment::Kind::arc);
    CHECK(boundsOf(piece(w).outline).low.y == Approx(85).margin(0.6));
    w.act("editUndo");
    w.clickAt({140, 100});
    w.click("pointSmooth");
    w.click("pointHandles");
    const auto marks = w.session->points().marks();
    const auto mark = std::find_if(marks.begin(), marks.end(), [&](const auto& m) { return m.ref == chosen(w).at(0); });
    REQUIRE(mark->after);
    w.drag(*mark->after, *mark->after + Vec2{0, -12}, Qt::NoModifier);
    CHECK(isSmoothAt(piece(w).outline, 1));
    CHECK(boundsOf(piece(w).outline).low.y < 98);
    w.clickAt({220, 180});
    w.click("pointSplit");
    CHECK_FALSE(piece(w).outline.closed);
    CHECK(w.job().artwork->items.size() == 2); // what was its opening is a piece
    REQUIRE(chosen(w).size() == 1);
    // The end is drawn away from the other, and both are joined again.
    w.drag({220, 180}, {240, 200}, Qt::ControlModifier);
    CHECK_FALSE(w.find<QPushButton>("pointJoin")->isEnabled());
    w.clickAt({220, 180}, Qt::ShiftModifier);
    REQUIRE(chosen(w).size() == 2);
    w.click("pointJoin");
    CHECK(piece(w).outline.closed);
    CHECK(piece(w).outline.segments.size() == 6); // they were too far apart to meet: a line more
    QTest::keyClick(w.bench(), Qt::Key_Escape);
    CHECK(chosen(w).empty());
}

TEST_CASE("draw: shapes by drag snap to what is there and have exact sizes, by numbers too, one undo each") {
    Window w;
    draw(w);
    w.click("toolDraw");
    const auto kind = [&](ShapeKind to) {
        auto* box = w.find<QComboBox>("drawKind");
        box->setCurrentIndex(static_cast<int>(to));
        Q_EMIT box->activated(static_cast<int>(to));
        QCoreApplication::processEvents();
    };
    w.drag({120, 110}, {140, 125}, Qt::ControlModifier | Qt::ShiftModifier);
    REQUIRE(w.job().artwork->items.size() == 2);
    CHECK(boundsOf(piece(w, 1)).width() == Approx(20).margin(0.6));
    CHECK(boundsOf(piece(w, 1)).height() == Approx(boundsOf(piece(w, 1)).width()));
    CHECK(artwork::find(*w.job().artwork, w.job().artwork->items[1].layer)->name == "cut"); // where the chosen piece is
    w.act("editUndo");
    CHECK(w.job().artwork->items.size() == 1);
    // Before the button goes down the place it would take is marked: a cross through the hole's centre.
    const auto hover = [&](Vec2 to, Qt::KeyboardModifiers keys) {
        const QPointF at = w.bench()->toScreen(to);
        QMouseEvent move(QEvent::MouseMove, at, w.bench()->mapToGlobal(at), Qt::NoButton, Qt::NoButton, keys);
        QCoreApplication::sendEvent(w.bench(), &move);
        const QPoint beside = (w.bench()->toScreen({150, 140}) + QPointF(7, 0)).toPoint();
        const auto image = w.bench()->grab().toImage();
        const QColor mark = app::theme().color(app::Token::verdigris);
        return test::like(image.pixelColor(beside), mark, 60) ||
               test::like(image.pixelColor(beside - QPoint(0, 1)), mark, 60);
    };
    CHECK(hover({150.3, 139.8}, Qt::NoModifier));
    CHECK_FALSE(hover({150.3, 139.8}, Qt::ControlModifier));
    kind(ShapeKind::circle);
    w.drag({150.3, 139.8}, {165.2, 140.1}); // from the hole's centre to its edge: exactly over it
    const auto round = circleOf(piece(w, 1).outline, 1e-9);
    REQUIRE(round);
    CHECK(round->centre == Vec2{150, 140});
    CHECK(round->radius == Approx(15));
    kind(ShapeKind::rectangle);
    const Vec2 zero = job::zeroOf(w.job().sheet().stock).at;
    w.type("drawCorner", "4");
    w.type("drawAcross", QString::number(300 - zero.x));
    w.type("drawUpward", QString::number(50 - zero.y));
    w.type("drawSize", "2in");
    w.type("drawHeight", "30");
    w.click("drawIt");
    CHECK(piece(w, 2).outline == rectangle({300, 50}, {350.8, 80}, 4));
    CHECK(w.session->selection().size() == 1);
    CHECK(w.session->history().undoLabel() == "Draw a shape: rectangle");
    kind(ShapeKind::star);
    CHECK(w.find("drawInner")->isVisible());
    CHECK_FALSE(w.find("drawCorner")->isVisible());
    w.type("drawCorners", "5");
    w.drag({250, 60}, {250, 70}, Qt::ControlModifier);
    CHECK(piece(w, 3).outline.segments.size() == 10);
}

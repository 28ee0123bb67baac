#include "window.h"

#include "app/bench/bench_painter.h"

#include "support/shapes.h"

using namespace ferro;
using test::Window;

namespace {
/// Two rectangles on the standard sheet.
void draw(Window& w) {
    auto added = artwork::withPieces(*w.job().artwork,
                                     {{rectangle({100, 100}, {180, 150}), {}}, {rectangle({300, 200}, {340, 260}), {}}},
                                     "cut", "plate");
    w.session->apply("Draw", job::withArtwork(w.job(), std::move(added.artwork)));
    w.session->goTo(app::StationId::mend);
    w.settle();
}
Box boxOf(const Window& w, std::size_t i) { return artwork::boundsOf(w.job().artwork->items[i]); }
} // namespace

TEST_CASE("bench: click, rubber band, move, scale and turn with the mouse, each is one undo") {
    Window w;
    draw(w);
    w.clickAt({100, 120});
    REQUIRE(w.session->selection().size() == 1);
    CHECK(test::like(w.pixel({100, 112}), app::theme().color(app::Token::oxide), 70)); // the chosen line is oxide
    w.clickAt({450, 50});
    CHECK(w.session->selection().empty());
    w.drag({60, 60}, {400, 300});
    CHECK(w.session->selection().size() == 2);
    w.clickAt({450, 50});
    w.clickAt({120, 100});
    w.drag({120, 100}, {157, 131}, Qt::ControlModifier); // Ctrl: no snapping
    CHECK(boxOf(w, 0).low.x == Approx(137).margin(1.2));
    CHECK(boxOf(w, 0).low.y == Approx(131).margin(1.2));
    CHECK(boxOf(w, 0).width() == Approx(80));
    w.act("editUndo");
    CHECK(boxOf(w, 0).low == Vec2{100, 100});
    // Near a line of another piece it snaps onto it exactly.
    w.drag({120, 100}, {121, 201});
    CHECK(boxOf(w, 0).low.y == Approx(200).margin(1e-6));
    w.act("editUndo");
    // Held at a corner point, that corner goes onto a point of another piece exactly.
    w.clickAt({450, 50});
    w.drag({100, 100}, {299.2, 200.7});
    CHECK(boxOf(w, 0).low == Vec2{300, 200});
    w.act("editUndo");
    w.clickAt({120, 100});
    w.drag({180, 150}, {220, 175}); // the upper right handle
    CHECK(boxOf(w, 0).low == Vec2{100, 100});
    CHECK(boxOf(w, 0).width() == Approx(120).margin(3));
    w.act("editUndo");
    CHECK(boxOf(w, 0).width() == Approx(80));
    CHECK(w.session->history().undoLabel() == "Draw");
}

TEST_CASE("bench: the readout takes typing with arithmetic and units, arrows nudge, menus edit") {
    Window w;
    draw(w);
    w.clickAt({100, 120});
    w.type("droX", "10+5.5");
    CHECK(boxOf(w, 0).low.x == Approx(15.5));
    w.type("droW", "2 in");
    CHECK(boxOf(w, 0).width() == Approx(50.8));
    CHECK(boxOf(w, 0).height() == Approx(50 * 50.8 / 80)); // in proportion
    w.type("droTurn", "90");
    CHECK(boxOf(w, 0).height() == Approx(50.8));
    const Box before = boxOf(w, 0);
    w.type("droX", "ten");
    CHECK(boxOf(w, 0).low.x == before.low.x);
    CHECK_FALSE(w.message().isEmpty());
    w.bench()->setFocus();
    QTest::keyClick(w.bench(), Qt::Key_Right);
    QTest::keyClick(w.bench(), Qt::Key_Right, Qt::ShiftModifier);
    CHECK(boxOf(w, 0).low.x > before.low.x + 1);
    w.act("editUndo");
    CHECK(boxOf(w, 0).low.x == Approx(before.low.x)); // quick nudges are one edit
    w.act("pieceOriginal");
    CHECK(boxOf(w, 0).width() + boxOf(w, 0).height() == Approx(130));
    w.act("editDuplicate");
    CHECK(w.job().artwork->items.size() == 3);
    w.act("editSelectAll");
    w.act("pieceGroup");
    w.clickAt({450, 50});
    w.clickAt({320, 200});
    CHECK(w.session->selection().size() == 3); // the group comes along
    w.act("pieceLock");
    w.act("editSelectAll");
    CHECK(w.session->selection().empty());
    w.act("pieceUnlock");
    w.act("editSelectAll");
    w.act("editDelete");
    CHECK(w.job().artwork->items.empty());
    while (w.session->history().canUndo()) w.act("editUndo");
    CHECK(w.job().artwork->items.empty());
}

TEST_CASE("bench: zoom keeps the place under the pointer, and a picture comes in by paste") {
    Window w;
    draw(w);
    const QPoint at = w.bench()->toScreen({320, 230}).toPoint();
    const Vec2 before = w.bench()->toSheet(at);
    const double scale = w.bench()->zoom();
    QWheelEvent wheel(at, w.bench()->mapToGlobal(QPointF(at)), {}, {0, 360}, Qt::NoButton, {}, Qt::NoScrollPhase,
                      false);
    QCoreApplication::sendEvent(w.bench(), &wheel);
    CHECK(w.bench()->zoom() > scale * 1.2);
    CHECK(distance(w.bench()->toSheet(at), before) < 1e-6);
    w.act("viewFit");
    CHECK(w.bench()->zoom() == Approx(scale));
    QImage image(w.path("moon.png").isEmpty() ? QString() : test::moonPicture(w.path("moon.png")));
    QApplication::clipboard()->setImage(image);
    w.act("editPaste");
    w.until([&] { return w.job().artwork->items.size() == 3; }, "the pasted picture is there");
    CHECK(w.session->station() == app::StationId::source);
}

TEST_CASE(
    "bench: a crowd of pieces is drawn in the background, in the colours of what is chosen, and moves with the view") {
    Window w;
    std::vector<Piece> pieces;
    for (int i = 0; i < 900; ++i) {
        const Vec2 low{20.0 + i % 45 * 10, 20.0 + i / 45 * 10};
        pieces.push_back({rectangle(low, low + Vec2{8, 8}), {}});
    }
    auto added = artwork::withPieces(*w.job().artwork, std::move(pieces), "cut", "token");
    const auto ids = added.ids;
    w.session->apply("Draw", job::withArtwork(w.job(), std::move(added.artwork)));
    w.session->goTo(app::StationId::mend);
    w.settle();
    const auto shown = [&] {
        (void)w.bench()->grab();
        w.until([&] { return !w.bench()->isBehind(); }, "the crowd is drawn");
        return w.bench()->grab().toImage();
    };
    const auto at = [&](const QImage& image, Vec2 p) { return image.pixelColor(w.bench()->toScreen(p).toPoint()); };
    const QColor oxide = app::theme().color(app::Token::oxide);
    const auto any = [&](const QImage& image, Vec2 p) { // on the line, wherever its pixel fell
        bool found = false;
        for (const double dx : {-0.5, 0.0, 0.5}) found = found || test::like(at(image, p + Vec2{dx, 0}), oxide, 70);
        return found;
    };
    CHECK_FALSE(any(shown(), {20, 24}));
    w.act("editSelectAll");
    QCoreApplication::processEvents();
    REQUIRE(w.session->selection().size() == 900);
    const auto chosen = shown();
    CHECK(any(chosen, {20, 24}));
    CHECK(any(chosen, {430, 204}));
    // While all of them are dragged: where they would come to is seen before they are let go.
    CHECK_FALSE(any(chosen, {20, 274}));
    w.drag({224, 114}, {224, 174}, Qt::ControlModifier, [&] {
        const auto dragged = shown();
        CHECK(any(dragged, {20, 274}));
        CHECK(any(dragged, {430, 274}));
    });
    CHECK(artwork::boundsOf(w.job().artwork->items.back()).high.y == Approx(278).margin(0.5));
    w.act("editUndo");
    (void)shown();
    w.clickAt({500, 300});
    w.session->select({ids[10]});
    QCoreApplication::processEvents();
    const auto one = shown();
    CHECK(any(one, {120, 24}));
    CHECK_FALSE(any(one, {20, 24}));
    // Moved about, what was drawn comes along at once.
    w.bench()->centreOn({300, 150});
    const auto moved = w.bench()->grab().toImage();
    CHECK(any(moved, {120, 24}));
    CHECK(test::like(at(shown(), {24, 24}), at(one, {24, 24}), 12));
    w.bench()->zoomBy(2, w.bench()->toScreen({124, 24})); // its handles are apart now
    w.drag({124, 24}, {124, 54}, Qt::ControlModifier);
    CHECK(artwork::boundsOf(w.job().artwork->items[10]).low.y == Approx(50).margin(1));
}

TEST_CASE("bench: an arc is drawn where it is, the shallowest too") {
    for (const double radius : {0.5, 30.0, 400.0, 3857.0, 200'000.0})
        for (const double turn : {0.003, 0.4, 3.0}) {
            const Vec2 centre{133.19, 180.93};
            const auto at = [&](double angle) { return centre + Vec2{std::cos(angle), std::sin(angle)} * radius; };
            const auto drawn = app::painterPathOf({at(1.1), {Segment::arc(centre, at(1.1 + turn), true)}, false});
            CAPTURE(radius, turn);
            for (double part = 0; part <= 1; part += 0.05) {
                const QPointF p = drawn.pointAtPercent(part);
                CHECK(distance({p.x(), p.y()}, centre) == Approx(radius).epsilon(1e-6));
            }
        }
}

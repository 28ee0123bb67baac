#include "window.h"

using namespace ferro;
using namespace ferro::test;

namespace {

void drag(QWidget* on, QPoint from, QPoint by, Qt::MouseButton button = Qt::LeftButton) {
    QTest::mousePress(on, button, {}, from);
    for (int i = 1; i <= 4; ++i) {
        QMouseEvent move(QEvent::MouseMove, QPointF(from + by * i / 4), on->mapToGlobal(QPointF(from + by * i / 4)),
                         Qt::NoButton, button, {});
        QApplication::sendEvent(on, &move);
    }
    QTest::mouseRelease(on, button, {}, from + by);
}

} // namespace

TEST_CASE("round: the bench turns, is turned and cut open by hand, follows the playhead, and turns back") {
    Window w;
    w.open(FERRO_DEMO "/proscenium.ferro");
    CHECK_FALSE(w.find<QToolButton>("wayRound")->isVisible());
    w.session->goTo(app::StationId::proof);
    w.until([&] { return !w.session->prover().surface().isNull(); }, "the surface");
    auto& turner = w.session->turner();
    const auto sharp = [&] {
        w.until([&] { return turner.isSharp() && !w.session->background().busy("round"); }, "the sharp picture");
    };
    QTest::mouseClick(w.find<QToolButton>("wayRound"), Qt::LeftButton);
    auto* round = w.main->round();
    CHECK((round->isVisible() && !w.main->bench()->isVisible()));
    CHECK_FALSE(w.find<QToolButton>("toolSelect")->isVisible());
    w.until([&] { return std::abs(turner.view().tilt - 0.72) < 0.01; }, "the turn from the plan");
    sharp();
    const auto before = turner.view();
    const auto first = round->grab().toImage();

    drag(round, {300, 300}, {100, -40});
    CHECK(turner.view().turn < before.turn - 0.5);
    CHECK(turner.view().tilt < before.tilt - 0.2);
    sharp();
    CHECK(round->grab().toImage() != first);
    const auto centre = turner.view().centre;
    drag(round, {300, 300}, {60, 0}, Qt::MiddleButton);
    CHECK(distance(turner.view().centre, centre) > 10);

    // What lies below the pointer is told, and its place in the readout.
    QTest::keyClick(round, Qt::Key_Home);
    sharp();
    const Vec2 part = turner.view().project({300, 10}, 0);
    const auto place = turner.placeAt(part);
    REQUIRE(place);
    CHECK(distance(place->flat(), {300, 10}) < 1);
    CHECK(std::abs(place->z) < 0.01);

    auto* section = w.find<QSlider>("roundSection");
    section->setValue(section->maximum() / 2);
    CHECK(turner.view().section == Approx(6).margin(0.1));
    sharp();
    const auto open = turner.placeAt(turner.view().project({300, 10}, -6));
    REQUIRE(open);
    CHECK(open->z == Approx(-6).margin(0.05));
    QTest::keyClick(round, Qt::Key_Home);
    CHECK(turner.view().section == 0);

    // Early in the job nothing of the outlines is cut, and the tool stands there.
    sharp();
    const auto done = round->grab().toImage();
    w.session->prover().setPlayhead(5);
    w.until([&] { return !w.session->background().busy(); }, "the earlier moment");
    sharp();
    CHECK(round->grab().toImage() != done);

    // Nearer: finer than the whole sheet is kept.
    const double scale = turner.view().scale;
    w.main->action("viewNearer")->trigger();
    CHECK(turner.view().scale == Approx(1.25 * scale));
    Q_EMIT w.session->jumpAsked({300, 10});
    CHECK(turner.view().scale >= 6);
    sharp();
    CHECK(distance(turner.view().centre, {300, 10}) < 1e-6);

    w.session->goTo(app::StationId::cuts);
    QCoreApplication::processEvents();
    CHECK(w.main->bench()->isVisible());
    w.main->action("viewRound")->trigger();
    QCoreApplication::processEvents();
    CHECK(w.session->station() == app::StationId::proof);
    CHECK(round->isVisible());
    w.main->action("viewRound")->trigger();
    CHECK(w.main->bench()->isVisible());
    // What is asked for while it still turns counts from where that ends.
    w.main->action("viewRound")->trigger();
    w.main->action("viewNearer")->trigger();
    w.until([&] { return !w.session->background().busy(); }, "the turn");
    CHECK(turner.view().tilt == Approx(0.72).margin(0.01));
    CHECK(turner.view().scale == Approx(1.25 * scale));
}

// The Draw tool: a shape between where the pointer went down and where it is now, both on what they snap to.
#include "app/bench/bench_painter.h"

#include "app/theme/theme.h"

namespace ferro::app {

namespace {

bool liesInBox(ShapeKind kind) { return kind == ShapeKind::rectangle || kind == ShapeKind::ellipse; }

} // namespace

Vec2 BenchView::snappedPlace(Vec2 at) {
    auto& drag = pointDrag_;
    drag.snap = drag.snaps ? drag.snaps->near(at, reach(), drag.neighbours) : std::nullopt;
    return drag.snap ? drag.snap->at : at;
}

/// Where a shape would begin if the button went down here.
void BenchView::hoverShape(QPointF at, Qt::KeyboardModifiers modifiers) {
    if (drawSnapsOf_ != facts_.job.artwork) {
        drawSnapsOf_ = facts_.job.artwork;
        drawSnaps_ = std::make_shared<const mend::Snaps>(*drawSnapsOf_);
    }
    pointDrag_ = {};
    pointDrag_.snaps = drawSnaps_;
    if (!(modifiers & Qt::ControlModifier)) (void)snappedPlace(toSheet(at));
    update();
}

void BenchView::pressShape(QMouseEvent* event) {
    hoverShape(event->position(), event->modifiers());
    if (!(event->modifiers() & Qt::ControlModifier)) from_ = to_ = snappedPlace(from_);
    drag_ = Drag::shape;
    // Lines run to where they touch an arc, and level or upright.
    if (!liesInBox(facts_.shape.kind) && facts_.shape.kind != ShapeKind::circle) pointDrag_.neighbours = {from_};
}

void BenchView::dragShape(Vec2 now, Qt::KeyboardModifiers modifiers) {
    pointDrag_.snap.reset();
    to_ = now;
    const Vec2 by = now - from_;
    if (modifiers & Qt::ShiftModifier) {
        if (liesInBox(facts_.shape.kind)) { // as high as wide
            const double side = std::max(std::abs(by.x), std::abs(by.y));
            to_ = from_ + Vec2{std::copysign(side, by.x), std::copysign(side, by.y)};
        } else { // by 15°
            const double angle = std::round(std::atan2(by.y, by.x) / (pi / 12)) * (pi / 12);
            to_ = from_ + Transform::rotated(angle).direction({length(by), 0});
        }
    } else if (!(modifiers & Qt::ControlModifier)) {
        to_ = snappedPlace(now);
    }
}

void BenchPainter::shape() {
    if (view_.drag_ != BenchView::Drag::shape || !view_.beyondThreshold_) return;
    const auto path = shapeBetween(facts_.shape, view_.from_, view_.to_);
    if (!path) return;
    QPen pen = theme().pen(Token::oxide, 1.8);
    pen.setCosmetic(true);
    strokePath(*path, pen);
    const Vec2 by = view_.to_ - view_.from_;
    const auto number = [&](double v) { return QString::fromStdString(shown(v, Measure::length, facts_.job.units)); };
    const QString words =
        liesInBox(facts_.shape.kind) ? QObject::tr("%1 × %2").arg(number(std::abs(by.x)), number(std::abs(by.y)))
        : facts_.shape.kind >= ShapeKind::slot
            ? QObject::tr("%1  %2°").arg(number(length(by))).arg(std::atan2(by.y, by.x) * 180 / pi, 0, 'f', 1)
            : QObject::tr("⌀ %1").arg(number(2 * length(by)));
    painter_.setFont(theme().text());
    QRectF box = painter_.fontMetrics().boundingRect(words).adjusted(-6, -4, 6, 4);
    box.moveTopLeft(view_.toScreen(view_.to_) + QPointF(12, 12));
    painter_.fillRect(box, theme().color(Token::card));
    painter_.setPen(theme().color(Token::ink));
    painter_.drawText(box, Qt::AlignCenter, words);
}

} // namespace ferro::app

#include "app/bench/crowd_layer.h"

#include "app/bench/bench_painter.h"

namespace ferro::app {

namespace {

constexpr double margin = 0.12; // of the view, drawn beyond it on each side, so that moving a little shows no gap
constexpr double dot = 2.5;     // px: what is smaller is drawn as a spot

QPointF shiftOf(const CrowdLayer::View& view) { return {view.size.width() * margin, view.size.height() * margin}; }

} // namespace

CrowdLayer::CrowdLayer(QObject* parent) : QObject(parent) {}

QImage CrowdLayer::imageOf(const View& view, const What& what, Progress& progress) {
    const QPointF shift = shiftOf(view);
    const QSizeF size(view.size.width() + 2 * shift.x(), view.size.height() + 2 * shift.y());
    QImage image((size * view.ratio).toSize(), QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(view.ratio);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    const double k = view.scale;
    const QPointF origin = view.origin + shift;
    const Box seen{{-origin.x() / k, (origin.y() - size.height()) / k},
                   {(size.width() - origin.x()) / k, origin.y() / k}};
    QColor fill = what.line;
    fill.setAlpha(what.filled ? 26 : 0);
    std::size_t count = 0;
    for (const auto& item : what.artwork->items) {
        if (++count % 256 == 0 && progress.cancelled()) return {};
        const auto* shape = artwork::shapeOf(item);
        if (!shape || artwork::isHidden(*what.artwork, item)) continue;
        const bool chosen = std::binary_search(what.chosen.begin(), what.chosen.end(), item.id);
        if (what.onlyChosen && !chosen) continue;
        const Box box = artwork::boundsOf(item);
        if (!seen.meets(box)) continue;
        const QColor& line = chosen ? what.chosenLine : what.line;
        if (std::max(box.width(), box.height()) * k < dot) {
            const QPointF at(origin.x() + box.centre().x * k, origin.y() - box.centre().y * k);
            painter.fillRect(QRectF(at - QPointF(1, 1), QSizeF(2, 2)), line);
            continue;
        }
        QPainterPath path = painterPathOf(shape->piece.outline);
        for (const auto& opening : shape->piece.openings) path.addPath(painterPathOf(opening));
        QPen pen(line, chosen ? 1.8 : 1.4);
        pen.setCosmetic(true);
        painter.setPen(pen);
        painter.setBrush(shape->piece.outline.closed ? QBrush(fill) : Qt::NoBrush);
        const auto& t = item.place;
        painter.setTransform(
            QTransform(t.a * k, -t.b * k, t.c * k, -t.d * k, origin.x() + t.tx * k, origin.y() - t.ty * k));
        painter.drawPath(path);
        painter.resetTransform();
    }
    return image;
}

void CrowdLayer::begin() {
    background_.run(
        "crowd", {},
        [view = view_, what = what_](Progress& progress) {
            return Drawn{view, what, imageOf(view, what, progress)};
        },
        this,
        [this](Drawn drawn) {
            drawn_ = std::move(drawn);
            if (!isCurrent()) begin(); // more was asked for meanwhile: not to wait for the next paint
            Q_EMIT made();
        });
}

void CrowdLayer::paint(QPainter& painter, const View& view, const What& what, const Transform& by) {
    view_ = view;
    if (!(what == what_)) what_ = what;
    if (!isCurrent() && !background_.busy()) begin(); // one at a time: one that never ended would show nothing
    // Of what is moved only itself may be shown, of the rest the last until the next is there.
    if (!drawn_ || (what.onlyChosen && !(drawn_->what == what))) return;
    const double k = view.scale / drawn_->view.scale;
    const QPointF shift = shiftOf(drawn_->view);
    // Where the image's upper left corner has come to.
    const QPointF corner = view.origin - (drawn_->view.origin + shift) * k;
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform, false);
    const QSizeF size = drawn_->image.deviceIndependentSize();
    if (!(by == Transform{})) {
        // From the image by way of the sheet to the screen.
        const double to = view.scale, from = 1 / drawn_->view.scale;
        const QPointF was = drawn_->view.origin + shift;
        painter.setTransform(QTransform(from, 0, 0, -from, -was.x() * from, was.y() * from) *
                                 QTransform(by.a, by.b, by.c, by.d, by.tx, by.ty) *
                                 QTransform(to, 0, 0, -to, view.origin.x(), view.origin.y()),
                             true);
        painter.drawImage(QPointF(0, 0), drawn_->image);
    } else if (k == 1)
        painter.drawImage(corner.toPoint(), drawn_->image);
    else
        painter.drawImage(QRectF(corner, size * k), drawn_->image);
    painter.restore();
}

} // namespace ferro::app

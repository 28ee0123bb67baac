#include "app/widgets/ringed_picture.h"

#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

namespace ferro::app {

RingedPicture::RingedPicture() {
    setObjectName("ringedPicture");
    setMinimumSize(480, 360);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("Picture of the bed"));
    setCursor(Qt::CrossCursor);
}

void RingedPicture::setImage(QImage image) {
    image_ = std::move(image);
    update();
}
void RingedPicture::setRings(std::vector<Ring> rings) {
    rings_ = std::move(rings);
    update();
}
double RingedPicture::scale() const {
    if (image_.isNull()) return 1;
    return nearer_ * std::min(width() / double(image_.width()), height() / double(image_.height()));
}
QPointF RingedPicture::origin() const {
    return QPointF(width() / 2.0, height() / 2.0) -
           (QPointF(image_.width() / 2.0, image_.height() / 2.0) + shift_) * scale();
}
QPointF RingedPicture::shownAt(Vec2 px) const { return origin() + QPointF(px.x, px.y) * scale(); }

void RingedPicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().color(Token::bench));
    if (image_.isNull()) return;
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.drawImage(QRectF(origin(), QSizeF(image_.size()) * scale()), image_);
    for (const auto& ring : rings_) {
        const Token token = ring.as == Ring::As::found     ? Token::verdigris
                            : ring.as == Ring::As::missing ? Token::ochre
                                                           : Token::oxide;
        QPen pen = theme().pen(token, 2);
        if (ring.as == Ring::As::missing) pen.setStyle(Qt::DashLine);
        painter.setPen(pen);
        painter.setBrush(Qt::NoBrush);
        const QPointF at = shownAt(ring.at);
        const double radius = std::max(7.0, ring.radius * scale() + 4);
        QPolygonF outline;
        for (const Vec2 p : ring.outline) outline << shownAt(p);
        if (outline.isEmpty())
            painter.drawEllipse(at, radius, radius);
        else
            painter.drawPolygon(outline);
        if (ring.words.isEmpty()) continue;
        // On its own ground, since nobody knows what the bed looks like.
        const int wide = painter.fontMetrics().horizontalAdvance(ring.words) + 8;
        const QRectF where(at.x() - wide / 2.0, at.y() - (outline.isEmpty() ? radius + 20 : 9), wide, 17);
        painter.fillRect(where, theme().color(Token::card));
        painter.setPen(theme().pen(token));
        painter.drawText(where, Qt::AlignCenter, ring.words);
    }
}

void RingedPicture::wheelEvent(QWheelEvent* event) {
    if (image_.isNull()) return;
    const QPointF before = (event->position() - origin()) / scale();
    nearer_ = std::clamp(nearer_ * std::pow(1.0015, event->angleDelta().y()), 1.0, 40.0);
    shift_ += before - (event->position() - origin()) / scale();
    if (nearer_ == 1.0) shift_ = {};
    update();
}
void RingedPicture::mousePressEvent(QMouseEvent* event) {
    pressed_ = last_ = event->position();
    dragged_ = false;
}
void RingedPicture::mouseMoveEvent(QMouseEvent* event) {
    if ((event->position() - pressed_).manhattanLength() > 5) dragged_ = true;
    if (!dragged_) return;
    shift_ -= (event->position() - last_) / scale();
    last_ = event->position();
    update();
}
void RingedPicture::mouseReleaseEvent(QMouseEvent* event) {
    if (dragged_ || image_.isNull() || event->button() != Qt::LeftButton) return;
    const QPointF at = (event->position() - origin()) / scale();
    Q_EMIT clicked({at.x(), at.y()});
}

Result<LookedAt> LookedAt::of(const std::string& file) {
    const auto loaded = picture::load(file);
    if (!loaded) return loaded.problem();
    LookedAt out{{}, picture::greyOf(*loaded), {}};
    const auto& grey = out.grey;
    out.image = QImage(grey.values.data(), grey.width, grey.height, grey.width, QImage::Format_Grayscale8).copy();
    out.round = picture::roundMarksIn(grey);
    return out;
}

Vec2 LookedAt::snapped(Vec2 px, double radii) const {
    Vec2 at = px;
    double nearest = std::numeric_limits<double>::infinity();
    for (const auto& mark : round)
        if (const double off = distance(mark.at, px); off < radii * mark.radius && off < nearest)
            nearest = off, at = mark.at;
    return at;
}

QVBoxLayout* besidePicture(QDialog* dialog, RingedPicture* picture) {
    auto* all = new QHBoxLayout(dialog);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(picture, 1);
    auto* side = new QWidget;
    side->setFixedWidth(312);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(16, 16, 16, 16);
    column->setSpacing(8);
    all->addWidget(side);
    dialog->resize(1080, 700);
    return column;
}

} // namespace ferro::app

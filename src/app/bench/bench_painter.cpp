#include "app/bench/bench_painter.h"

#include "app/theme/theme.h"
#include "geometry/arc_cubics.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"

namespace ferro::app {

QPainterPath painterPathOf(const Path& path) {
    QPainterPath out(QPointF(path.start.x, path.start.y));
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const auto& s = path.segments[i];
        const Vec2 from = path.from(i);
        if (s.kind == Segment::Kind::line) {
            out.lineTo(s.end.x, s.end.y);
        } else if (s.kind == Segment::Kind::cubic) {
            out.cubicTo(s.a.x, s.a.y, s.b.x, s.b.y, s.end.x, s.end.y);
        } else {
            // The toolkit's own arcs are off by a ten-thousandth of their radius: half a millimetre on a shallow one.
            for (const auto& c : arcAsCubics(from, s, pi / 6))
                out.cubicTo(c.a.x, c.a.y, c.b.x, c.b.y, c.end.x, c.end.y);
        }
    }
    if (path.closed) out.closeSubpath();
    return out;
}

void BenchView::paintEvent(QPaintEvent*) {
    QElapsedTimer timer;
    timer.start();
    QPainter painter(this);
    BenchPainter(*this, painter).paint();
    frameTime_ = static_cast<double>(timer.nsecsElapsed()) / 1e6;
}

QTransform BenchPainter::toDevice(const Transform& place) const {
    const double k = view_.scale_;
    return QTransform(place.a * k, -place.b * k, place.c * k, -place.d * k, view_.origin_.x() + place.tx * k,
                      view_.origin_.y() - place.ty * k);
}

void BenchPainter::paint() {
    painter_.fillRect(view_.rect(), theme().color(Token::bench));
    painter_.setRenderHint(QPainter::Antialiasing);
    painter_.setRenderHint(QPainter::SmoothPixmapTransform);
    const bool proofs = facts_.station >= StationId::proof && !facts_.surface.isNull();
    otherBlanks();
    stock();
    if (proofs)
        surface();
    else
        pictures();
    if (facts_.station == StationId::cuts) ribbons();
    if (!proofs) pieces();
    reach();
    if (facts_.station == StationId::source) trace();
    if (facts_.station == StationId::cuts) starts(), tabs();
    if (facts_.station == StationId::proof && facts_.view == ProofView::deviation) deviation();
    clamps();
    zero();
    playheadTool();
    selection();
    flaws();
    bridges();
    collision();
    points();
    shape();
    snapMark();
    areas();
    measure();
    emptyWords();
    rulers();
    hover();
}

QRectF BenchPainter::sheetBox() const {
    const auto& stock = facts_.job.sheet().stock;
    return QRectF(view_.toScreen({0, 0}), view_.toScreen({stock.width, stock.height})).normalized();
}

QPainterPath BenchPainter::blankPath() const {
    QPainterPath blank;
    const auto& outline = facts_.job.sheet().stock.outline;
    if (!outline) {
        blank.addRect(sheetBox());
        return blank;
    }
    for (const auto& ring : flattened(*outline, std::max(0.01, 0.3 / view_.scale_))) {
        QPolygonF polygon;
        for (const Vec2 p : ring) polygon << view_.toScreen(p);
        blank.addPolygon(polygon);
        blank.closeSubpath();
    }
    return blank;
}

void BenchPainter::stock() {
    if (!facts_.job.artwork->sheet) return; // beside all sheets there is only the bench
    const QRectF sheet = sheetBox();
    const QPainterPath blank = blankPath();
    painter_.fillPath(blank.translated(3, 3), theme().color(Token::shade)); // the sheet's own shadow, the only one
    painter_.save();
    if (facts_.job.sheet().stock.outline) painter_.setClipPath(blank, Qt::IntersectClip);
    stockLook(sheet);
    painter_.restore();
    painter_.setPen(theme().pen(Token::faded));
    painter_.setBrush(Qt::NoBrush);
    painter_.drawPath(blank);
}

/// The other blanks of a tray: as they lie, what is drawn faint on each, with their numbers.
void BenchPainter::otherBlanks() {
    const auto& sheet = facts_.job.sheet();
    if (!facts_.job.artwork->sheet || !sheet.tray) return;
    const auto places = job::placesOf(sheet);
    const QColor wood(QString::fromStdString(job::materialOf(facts_.job).colour)), iron = theme().ironOn(wood);
    const QPainterPath blank = blankPath();
    // Made once for all of them; of a crowd the blanks alone.
    QPainterPath drawn;
    std::size_t pieces = 0;
    for (const auto& item : facts_.job.artwork->items)
        if (artwork::shapeOf(item) && !artwork::isHidden(*facts_.job.artwork, item)) ++pieces;
    constexpr std::size_t crowd = 3000;
    if (pieces * places.size() < crowd)
        for (const auto& item : facts_.job.artwork->items)
            if (artwork::shapeOf(item) && !artwork::isHidden(*facts_.job.artwork, item))
                drawn.addPath(toDevice(item.place).map(outlineOf(item)));
    for (std::size_t k = 1; k < places.size(); ++k) {
        const QPointF by(places[k].x * view_.scale_, -places[k].y * view_.scale_);
        if (!blank.boundingRect().translated(by).intersects(QRectF(view_.rect()))) continue;
        painter_.save();
        painter_.translate(by);
        painter_.setOpacity(0.55);
        painter_.fillPath(blank, wood);
        painter_.setPen(theme().pen(Token::faded));
        painter_.setBrush(Qt::NoBrush);
        painter_.drawPath(blank);
        painter_.setOpacity(0.4);
        painter_.setPen(QPen(iron, 1));
        painter_.drawPath(drawn);
        painter_.setOpacity(0.8);
        painter_.drawText(blank.boundingRect().adjusted(6, 4, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                          QString::number(k + 1));
        painter_.restore();
    }
}

void BenchPainter::stockLook(const QRectF& sheet) {
    const QColor wood(QString::fromStdString(job::materialOf(facts_.job).colour));
    painter_.fillRect(sheet, wood);
    if (!job::materialOf(facts_.job).grain) return;
    painter_.save();
    painter_.setClipRect(sheet.intersected(QRectF(view_.rect())), Qt::IntersectClip);
    painter_.setPen(QPen(wood.darker(107), 1));
    // The same grain wherever one looks, drawn only where one looks.
    constexpr double step = 12, length = 90;
    const QRectF seen = sheet.intersected(QRectF(view_.rect()));
    const double firstX = sheet.left() + std::floor((seen.left() - sheet.left()) / length) * length;
    const double firstY = sheet.top() + 5 + std::max(0.0, std::floor((seen.top() - sheet.top()) / step - 1)) * step;
    for (double y = firstY; y < std::min(sheet.bottom(), seen.bottom() + step); y += step) {
        const double down = y - sheet.top();
        const auto level = [&](double x) { return y + std::sin((x - sheet.left()) * 0.017 + down * 0.3); };
        QPainterPath line(QPointF(firstX, level(firstX)));
        const double wave = 3 * std::sin(down * 0.7);
        for (double x = firstX; x < std::min(sheet.right(), seen.right()); x += length)
            line.quadTo(x + length / 2, y + wave + 2 * std::sin((x - sheet.left()) * 0.011 + down), x + length,
                        level(x + length));
        painter_.drawPath(line);
    }
    painter_.restore();
}

void BenchPainter::pictures() {
    for (const auto& item : facts_.job.artwork->items) {
        const auto* leaf = artwork::pictureOf(item);
        if (!leaf || artwork::isHidden(*facts_.job.artwork, item)) continue;
        if (item.underlay && !facts_.underlay) continue;
        auto& drawn = view_.pictures_[leaf];
        drawn.leaf = item.leaf;
        QPixmap& pixmap = drawn.pixmap;
        if (pixmap.isNull()) {
            const auto& p = leaf->picture;
            const auto format = p.channels == 1   ? QImage::Format_Grayscale8
                                : p.channels == 3 ? QImage::Format_RGB888
                                                  : QImage::Format_RGBA8888;
            const QImage image(p.pixels->data(), p.width, p.height, static_cast<qsizetype>(p.width) * p.channels,
                               format);
            const bool huge = p.width > 4096 || p.height > 4096; // shown at most this fine; traced in full
            pixmap = QPixmap::fromImage(huge ? image.scaled(4096, 4096, Qt::KeepAspectRatio, Qt::SmoothTransformation)
                                             : image.copy());
        }
        painter_.save();
        const bool traced = facts_.station == StationId::source && facts_.trace && item.id == facts_.traced;
        painter_.setOpacity(traced ? 1 - facts_.blend * 0.85 : item.underlay ? 1 - item.fade : 1);
        const bool moving = isChosen(item.id);
        painter_.setTransform(toDevice(moving ? view_.preview_ * item.place : item.place));
        painter_.scale(leaf->size.x / pixmap.width(), -leaf->size.y / pixmap.height());
        if (traced) { // it fades to white, not into the stock
            painter_.setOpacity(1);
            painter_.fillRect(QRectF(0, -pixmap.height(), pixmap.width(), pixmap.height()), Qt::white);
            painter_.setOpacity(1 - facts_.blend * 0.85);
        }
        painter_.drawPixmap(QPointF(0, -pixmap.height()), pixmap);
        painter_.restore();
    }
}

const QPainterPath& BenchPainter::outlineOf(const artwork::Item& item) {
    const auto* shape = artwork::shapeOf(item);
    auto& drawn = view_.outlines_[shape];
    QPainterPath& path = drawn.path;
    if (path.isEmpty()) {
        drawn.leaf = item.leaf;
        path = painterPathOf(shape->piece.outline);
        for (const auto& opening : shape->piece.openings) path.addPath(painterPathOf(opening));
    }
    return path;
}

void BenchPainter::pieces() {
    const auto& art = *facts_.job.artwork;
    const bool faint = facts_.station == StationId::source && facts_.trace;
    const bool filled = facts_.station <= StationId::sheet;
    const QColor iron = theme().ironOn(QColor(QString::fromStdString(job::materialOf(facts_.job).colour)));
    QPen pen(iron, 1.4), chosen = theme().pen(Token::oxide, 1.8);
    pen.setCosmetic(true);
    const Box view{view_.toSheet({0, static_cast<double>(view_.height())}),
                   view_.toSheet({static_cast<double>(view_.width()), 0})};
    // What is drawn in this frame: all that is seen, or of a crowd only a few chosen ones, over the crowd's image.
    constexpr std::size_t crowd = 120, fewChosen = 60;
    std::vector<const artwork::Item*> own;
    bool isCrowd = false;
    for (const auto& item : art.items) {
        if (!artwork::shapeOf(item) || artwork::isHidden(art, item)) continue;
        if (isChosen(item.id) || view.meets(artwork::boundsOf(item))) own.push_back(&item);
        if (own.size() > crowd && (isCrowd = true)) break;
    }
    if (faint) painter_.setOpacity(0.4);
    if (isCrowd) {
        const CrowdLayer::View seen{view_.scale_, view_.origin_, view_.size(), view_.devicePixelRatioF()};
        CrowdLayer::What what{facts_.job.artwork, view_.chosen_, iron, chosen.color(), filled};
        view_.crowd_.paint(painter_, seen, what);
        if (view_.chosen_.size() > fewChosen && !(view_.preview_ == Transform{})) {
            what.onlyChosen = true;
            view_.lifted_.paint(painter_, seen, what, view_.preview_);
        }
        own.clear();
        if (view_.chosen_.size() <= fewChosen)
            for (const auto id : view_.chosen_)
                if (const auto* item = artwork::find(art, id); item && artwork::shapeOf(*item)) own.push_back(item);
    }
    for (const auto* item : own) {
        const auto* shape = artwork::shapeOf(*item);
        const bool isSelected = isChosen(item->id);
        painter_.save();
        painter_.setTransform(toDevice(isSelected ? view_.preview_ * item->place : item->place));
        painter_.setPen(isSelected ? chosen : pen);
        QColor fill = iron;
        fill.setAlpha(shape->piece.outline.closed && filled ? 26 : 0);
        painter_.setBrush(shape->piece.outline.closed ? QBrush(fill) : Qt::NoBrush);
        if (shape->piece.outline.segments.empty()) {
            painter_.resetTransform();
            const QPointF p = view_.toScreen(item->place(shape->piece.outline.start));
            painter_.drawLine(p - QPointF(4, 0), p + QPointF(4, 0));
            painter_.drawLine(p - QPointF(0, 4), p + QPointF(0, 4));
        } else {
            painter_.drawPath(outlineOf(*item));
        }
        painter_.restore();
    }
    painter_.setOpacity(1);
}

void BenchPainter::strokePath(const Path& path, const QPen& pen) {
    painter_.save();
    painter_.setTransform(toDevice());
    painter_.setPen(pen);
    painter_.setBrush(Qt::NoBrush);
    painter_.drawPath(painterPathOf(path));
    painter_.restore();
}

void BenchPainter::trace() {
    if (!facts_.trace || facts_.blend <= 0.01) return;
    painter_.save();
    painter_.setTransform(toDevice());
    painter_.setOpacity(std::min(1.0, facts_.blend * 1.6));
    QColor fill = theme().color(Token::oxide);
    fill.setAlpha(static_cast<int>(20 + 40 * facts_.blend));
    painter_.setPen(theme().pen(Token::oxide, 1.6));
    painter_.setBrush(fill);
    std::size_t at = 0, layer = 0; // of a trace by colours each piece shows its own
    for (const auto& piece : facts_.trace->pieces) {
        const auto& layers = facts_.trace->layers;
        while (layer < layers.size() && at >= layers[layer].pieces) at = 0, ++layer;
        if (layer < layers.size()) {
            fill = QColor(layers[layer].colour.r, layers[layer].colour.g, layers[layer].colour.b);
            painter_.setBrush(fill);
        } else if (!piece.outline.closed) {
            painter_.setBrush(Qt::NoBrush);
        } else {
            painter_.setBrush(fill);
        }
        ++at;
        QPainterPath path = painterPathOf(piece.outline);
        for (const auto& opening : piece.openings) path.addPath(painterPathOf(opening));
        painter_.drawPath(path);
    }
    painter_.restore();
    if (facts_.trace->points > 3000) return; // a thicket of squares would hide the line
    painter_.setPen(theme().pen(Token::oxide, 1.2));
    painter_.setBrush(theme().color(Token::card));
    const auto mark = [&](const Path& path) {
        for (const auto& s : path.segments)
            painter_.drawRect(QRectF(view_.toScreen(s.end) - QPointF(2.5, 2.5), QSizeF(5, 5)));
    };
    for (const auto& piece : facts_.trace->pieces) {
        mark(piece.outline);
        for (const auto& opening : piece.openings) mark(opening);
    }
}

} // namespace ferro::app

// What lies over the sheet and is no part of it: clamps, zero, the choice and its handles, rulers, words.
#include "app/bench/bench_painter.h"

#include "app/theme/theme.h"

namespace ferro::app {

void BenchPainter::clamps() {
    for (std::size_t i = 0; i < facts_.job.sheet().clamps.size(); ++i) {
        Box box = facts_.job.sheet().clamps[i].area;
        if (view_.drag_ == BenchView::Drag::clamp && view_.clamp_ == i)
            box = {box.low + view_.to_ - view_.from_, box.high + view_.to_ - view_.from_};
        const QRectF rect = QRectF(view_.toScreen(box.low), view_.toScreen(box.high)).normalized();
        painter_.fillRect(rect, theme().color(Token::card));
        painter_.setPen(theme().pen(Token::ink));
        painter_.setBrush(QBrush(theme().color(Token::faded), Qt::BDiagPattern));
        painter_.drawRect(rect);
    }
    if (view_.drag_ == BenchView::Drag::newClamp && view_.beyondThreshold_) {
        painter_.setPen(theme().pen(Token::oxide));
        painter_.setBrush(Qt::NoBrush);
        painter_.drawRect(QRectF(view_.toScreen(view_.from_), view_.toScreen(view_.to_)).normalized());
    }
}

void BenchPainter::zero() {
    if (!facts_.job.artwork->sheet) return;
    const QPointF at = view_.toScreen(job::zeroOf(facts_.job.sheet().stock).at);
    const QRectF circle(at - QPointF(8, 8), QSizeF(16, 16));
    painter_.setPen(theme().pen(Token::ink, 1.5));
    painter_.setBrush(theme().color(Token::card));
    painter_.drawEllipse(circle);
    painter_.setPen(Qt::NoPen);
    painter_.setBrush(theme().color(Token::ink));
    painter_.drawPie(circle, 0, 90 * 16);
    painter_.drawPie(circle, 180 * 16, 90 * 16);
}

void BenchPainter::selection() {
    if (view_.drag_ == BenchView::Drag::band && view_.beyondThreshold_) {
        painter_.setPen(theme().pen(Token::oxide));
        QColor fill = theme().color(Token::oxide);
        fill.setAlpha(20);
        painter_.setBrush(fill);
        painter_.drawRect(QRectF(view_.toScreen(view_.from_), view_.toScreen(view_.to_)).normalized());
    }
    const Box box = view_.shownBounds();
    if (box.empty() || facts_.station > StationId::cuts || view_.tool_ == BenchTool::points) return;
    QPen dashed = theme().pen(Token::oxide);
    dashed.setDashPattern({4, 3});
    painter_.setPen(dashed);
    painter_.setBrush(Qt::NoBrush);
    painter_.drawRect(QRectF(view_.toScreen(box.low), view_.toScreen(box.high)).normalized());
    if (const auto* key = facts_.selection.size() > 1 ? artwork::find(*facts_.job.artwork, facts_.key) : nullptr) {
        const Box own = artwork::boundsOf(*key);
        painter_.setPen(theme().pen(Token::oxide, 2));
        const QRectF rect =
            QRectF(view_.toScreen(own.low), view_.toScreen(own.high)).normalized().adjusted(-4, -4, 4, 4);
        painter_.drawRect(rect);
        painter_.setFont(theme().caption());
        const QString word = QObject::tr("key");
        QRectF plate = painter_.fontMetrics().boundingRect(word).adjusted(-4, -1, 4, 1);
        plate.moveBottomLeft(rect.topLeft());
        painter_.fillRect(plate, theme().color(Token::oxide));
        painter_.setPen(theme().color(Token::onAccent));
        painter_.drawText(plate, Qt::AlignCenter, word);
        painter_.setBrush(Qt::NoBrush);
    }
    const bool dragging = view_.drag_ == BenchView::Drag::move || view_.drag_ == BenchView::Drag::scale ||
                          view_.drag_ == BenchView::Drag::turn;
    if (dragging) {
        painter_.setPen(theme().pen(Token::verdigris));
        if (view_.snap_.x)
            painter_.drawLine(QPointF(view_.toScreen({*view_.snap_.x, 0}).x(), 0),
                              QPointF(view_.toScreen({*view_.snap_.x, 0}).x(), view_.height()));
        if (view_.snap_.y)
            painter_.drawLine(QPointF(0, view_.toScreen({0, *view_.snap_.y}).y()),
                              QPointF(view_.width(), view_.toScreen({0, *view_.snap_.y}).y()));
        return;
    }
    painter_.setPen(theme().pen(Token::oxide, 1.2));
    painter_.setBrush(theme().color(Token::card));
    for (const auto& handle : view_.handles()) {
        if (handle.turns) {
            painter_.drawLine(handle.at + QPointF(0, 4), handle.at + QPointF(0, 24));
            painter_.drawEllipse(handle.at, 4, 4);
        } else {
            const bool stays = Vec2{double(handle.x), double(handle.y)} == facts_.stays;
            painter_.setBrush(theme().color(stays ? Token::oxide : Token::card));
            painter_.drawRect(QRectF(handle.at - QPointF(3.5, 3.5), QSizeF(7, 7)));
            painter_.setBrush(theme().color(Token::card));
        }
    }
    if (facts_.stays == Vec2{} && !view_.handles().empty()) {
        painter_.setBrush(theme().color(Token::oxide));
        painter_.drawRect(QRectF(view_.toScreen(view_.shownBounds().centre()) - QPointF(3.5, 3.5), QSizeF(7, 7)));
    }
}

/// A ring at each finding of the audit, the one being looked at with a cross.
void BenchPainter::flaws() {
    if (!facts_.audit) return;
    constexpr std::size_t most = 2000; // beyond that rings hide the drawing
    const auto& all = facts_.audit->flaws;
    painter_.setBrush(Qt::NoBrush);
    for (std::size_t i = 0; i < std::min(all.size(), most); ++i) {
        const bool now = static_cast<int>(i) == facts_.auditCurrent;
        const QPointF at = view_.toScreen(all[i].at);
        painter_.setPen(theme().pen(now ? Token::oxide : Token::ochre, now ? 2 : 1.5));
        painter_.drawEllipse(at, now ? 11.0 : 6.0, now ? 11.0 : 6.0);
        if (!now) continue;
        for (const QPointF way : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
            painter_.drawLine(at + way * 11, at + way * 18);
    }
}

/// Where what is moved by hand lies on others or beyond the sheet; what it is only too near to, in outline.
void BenchPainter::collision() {
    const auto& hit = view_.hand_.hit;
    if (hit.none()) return;
    QPainterPath overlap;
    for (const auto& ring : hit.overlap) {
        QPolygonF polygon;
        for (const Vec2 p : ring) polygon << view_.toScreen(p);
        overlap.addPolygon(polygon);
        overlap.closeSubpath();
    }
    painter_.setPen(theme().pen(Token::noGo, 1.5));
    QColor fill = theme().color(Token::noGo);
    fill.setAlpha(170);
    painter_.setBrush(fill);
    painter_.drawPath(overlap);
    if (!hit.overlap.empty()) return;
    QPen near = theme().pen(Token::noGo, 2);
    near.setCosmetic(true);
    for (const auto id : hit.items)
        if (const auto* item = artwork::find(*facts_.job.artwork, id)) strokePath(artwork::placed(*item).outline, near);
}

/// What outlines would become, and bridges as two feet and what lies between; the one being dragged where the pointer
/// is.
void BenchPainter::bridges() {
    const auto mark = [&](const std::vector<Path>& paths, QPen pen) {
        pen.setCosmetic(true);
        for (const auto& path : paths) strokePath(path, pen);
    };
    QPen going = theme().pen(Token::noGo, 2);
    going.setDashPattern({3, 3});
    mark(facts_.goes, going);
    mark(facts_.proposals, theme().pen(Token::verdigris, 2));
    for (std::size_t i = 0; i < facts_.bridges.size(); ++i) {
        const auto& b = facts_.bridges[i].bridge;
        const bool dragged = view_.drag_ == BenchView::Drag::bridge && view_.beyondThreshold_ && view_.bridge_ == i;
        const Vec2 shift = dragged ? view_.to_ - (b.from + b.to) / 2 : Vec2{};
        const QPointF from = view_.toScreen(b.from + shift), to = view_.toScreen(b.to + shift);
        painter_.setPen(theme().pen(Token::oxide, dragged ? 2.5 : 1.5));
        painter_.drawLine(from, to);
        const Vec2 side = perpendicular(unit(b.to - b.from)) * (b.width / 2);
        for (const Vec2 end : {b.from + shift, b.to + shift})
            painter_.drawLine(view_.toScreen(end - side), view_.toScreen(end + side));
        painter_.setBrush(theme().color(Token::card));
        painter_.drawEllipse((from + to) / 2, 3.5, 3.5);
    }
}

/// Parts of a picture: the area just drawn, all that is traced, patches with their numbers; a brush stroke in the
/// making.
void BenchPainter::areas() {
    if (facts_.station != StationId::source) return;
    painter_.setBrush(Qt::NoBrush);
    const auto rect = [&](const Box& box) {
        return QRectF(view_.toScreen(box.low), view_.toScreen(box.high)).normalized();
    };
    const auto polygon = [&](const Ring& ring) {
        QPolygonF corners;
        for (const Vec2 p : ring) corners << view_.toScreen(p);
        return corners;
    };
    const auto dashed = [&](Token token) {
        QPen pen = theme().pen(token, 1.5);
        pen.setDashPattern({4, 3});
        return pen;
    };
    if (!facts_.only.empty()) {
        painter_.setPen(theme().pen(Token::verdigris, 1.5));
        painter_.drawRect(rect(facts_.only));
    }
    painter_.setFont(theme().caption());
    for (std::size_t i = 0; i < facts_.patches.size(); ++i) {
        const QPolygonF corners = polygon(facts_.patches[i]);
        painter_.setPen(theme().pen(static_cast<int>(i) == facts_.patch ? Token::oxide : Token::ochre, 1.5));
        painter_.drawPolygon(corners);
        painter_.drawText(corners.boundingRect().topLeft() + QPointF(4, 13), QString::number(i + 1));
    }
    painter_.setPen(dashed(Token::oxide));
    if (view_.drag_ == BenchView::Drag::area) {
        const Vec2 a = view_.from_, b = view_.to_;
        painter_.drawPolygon(polygon(view_.brushed_.empty() ? Ring{a, {b.x, a.y}, b, {a.x, b.y}} : view_.brushed_));
    } else if (!facts_.area.empty()) {
        painter_.drawPolygon(polygon(facts_.area));
    }
    if (view_.drag_ == BenchView::Drag::brush && !view_.brushed_.empty()) {
        QPainterPath path(view_.toScreen(view_.brushed_[0]));
        for (const Vec2 p : view_.brushed_) path.lineTo(view_.toScreen(p));
        QColor colour = theme().color(view_.tool() == BenchTool::erase ? Token::card : Token::ink);
        colour.setAlpha(180);
        painter_.setPen(
            QPen(colour, std::max(1.0, facts_.brush * view_.zoom()), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter_.drawPath(path);
    }
}

void BenchPainter::measure() {
    if (view_.tool_ != BenchTool::measure || view_.from_ == view_.to_) return;
    const QPointF a = view_.toScreen(view_.from_), b = view_.toScreen(view_.to_);
    painter_.setPen(theme().pen(Token::oxide, 1.5));
    painter_.drawLine(a, b);
    const Vec2 d = view_.to_ - view_.from_;
    const auto number = [&](double v) { return QString::fromStdString(shown(v, Measure::length, facts_.job.units)); };
    const QString words = QObject::tr("%1   dx %2  dy %3  %4°")
                              .arg(number(length(d)), number(d.x), number(d.y))
                              .arg(std::atan2(d.y, d.x) * 180 / pi, 0, 'f', 1);
    painter_.setFont(theme().text());
    QRectF box = painter_.fontMetrics().boundingRect(words).adjusted(-6, -4, 6, 4);
    box.moveTo((a + b) / 2 + QPointF(10, 10));
    painter_.fillRect(box, theme().color(Token::card));
    painter_.setPen(theme().color(Token::ink));
    painter_.drawText(box, Qt::AlignCenter, words);
}

void BenchPainter::rulers() {
    constexpr int side = Theme::ruler;
    const bool inch = facts_.job.units == Units::inch;
    const double unit = inch ? mmPerInch : 1;
    // Steps of 1, 2, 5 times a power of ten, so that labels keep about 100 px apart.
    double major = std::pow(10.0, std::floor(std::log10(100 / (view_.scale_ * unit))));
    for (const double k : {1.0, 2.0, 5.0, 10.0})
        if (major * k * unit * view_.scale_ >= 70) {
            major *= k;
            break;
        }
    painter_.fillRect(QRectF(0, 0, view_.width(), side), theme().color(Token::card));
    painter_.fillRect(QRectF(0, 0, side, view_.height()), theme().color(Token::card));
    painter_.setFont(theme().caption());
    const Vec2 zero = job::zeroOf(facts_.job.sheet().stock).at;
    const auto label = [&](double v) { return QString::number(v, 'g', 6); };
    for (const bool across : {true, false}) {
        const double begin = across ? view_.toSheet({static_cast<double>(side), 0}).x - zero.x
                                    : view_.toSheet({0, static_cast<double>(view_.height())}).y - zero.y;
        const double end = across ? view_.toSheet({static_cast<double>(view_.width()), 0}).x - zero.x
                                  : view_.toSheet({0, static_cast<double>(side)}).y - zero.y;
        for (double tick = std::floor(begin / unit / major) * major; tick <= end / unit; tick += major)
            for (int part = 0; part < 5; ++part) {
                const double at = (tick + major * part / 5) * unit;
                const double px = across ? view_.toScreen({at + zero.x, 0}).x() : view_.toScreen({0, at + zero.y}).y();
                if (px < side) continue;
                painter_.setPen(theme().pen(Token::faded));
                const double size = part == 0 ? 8 : 4;
                if (across)
                    painter_.drawLine(QPointF(px, side - size), QPointF(px, side));
                else
                    painter_.drawLine(QPointF(side - size, px), QPointF(side, px));
                if (part) continue;
                painter_.setPen(theme().color(Token::faded));
                if (across)
                    painter_.drawText(QPointF(px + 3, 11), label(tick));
                else {
                    painter_.save();
                    painter_.translate(9, px - 3);
                    painter_.rotate(-90);
                    painter_.drawText(QPointF(0, 0), label(tick));
                    painter_.restore();
                }
            }
    }
    painter_.fillRect(QRectF(0, 0, side, side), theme().color(Token::card));
    painter_.setPen(theme().pen(Token::rule));
    painter_.drawLine(0, side, view_.width(), side);
    painter_.drawLine(side, 0, side, view_.height());
}

void BenchPainter::hover() {
    if (view_.hover_.isEmpty()) return;
    painter_.setFont(theme().caption());
    QRectF box = painter_.fontMetrics().boundingRect(view_.hover_).adjusted(-6, -3, 6, 3);
    box.moveTopLeft(view_.hoverAt_ + QPointF(14, 16));
    if (box.right() > view_.width()) box.moveRight(view_.width() - 4);
    if (box.bottom() > view_.height()) box.moveBottom(view_.hoverAt_.y() - 8);
    painter_.setPen(theme().pen(Token::rule));
    painter_.setBrush(theme().color(Token::card));
    painter_.drawRect(box);
    painter_.setPen(theme().color(Token::ink));
    painter_.drawText(box, Qt::AlignCenter, view_.hover_);
}

void BenchPainter::emptyWords() {
    if (!facts_.job.artwork->items.empty()) return;
    const QString words = facts_.station == StationId::source || facts_.station == StationId::mend
                              ? QObject::tr("Drop a picture here, paste one, or choose “Add artwork…”.")
                              : QObject::tr("Nothing lies on the sheet yet. Begin at Source with a picture.");
    painter_.setFont(theme().text(15));
    QRectF box = painter_.fontMetrics().boundingRect(words).adjusted(-16, -10, 16, 10);
    box.moveCenter(QPointF((view_.width() + Theme::ruler) / 2.0, view_.height() / 2.0));
    painter_.setPen(theme().pen(Token::rule));
    painter_.setBrush(theme().color(Token::card));
    painter_.drawRect(box);
    painter_.setPen(theme().color(Token::faded));
    painter_.drawText(box, Qt::AlignCenter, words);
}

} // namespace ferro::app

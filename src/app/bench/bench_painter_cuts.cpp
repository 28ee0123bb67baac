// What the machine does to the sheet: ribbons and tabs in Cuts, the cut surface and its deviation in Proof.
#include "app/bench/bench_painter.h"

#include "app/theme/theme.h"
#include "geometry/measure.h"
#include "toolpath/blade.h"

namespace ferro::app {

namespace {

/// All corners one after the other the same way round, so that areas that overlap are one.
void addTurned(QPainterPath& into, QPolygonF corners) {
    double area = 0;
    for (int i = 0; i < corners.size(); ++i) {
        const QPointF a = corners[i], b = corners[(i + 1) % corners.size()];
        area += a.x() * b.y() - b.x() * a.y();
    }
    if (area < 0) std::reverse(corners.begin(), corners.end());
    into.addPolygon(corners);
    into.closeSubpath();
}

} // namespace

/// What a cut takes of the surface whose depth changes along its way; empty where it is as wide all along.
QPainterPath BenchPainter::carved(const toolpath::StepMoves& step, const toolpath::Cut& cut) const {
    QPainterPath out;
    out.setFillRule(Qt::WindingFill);
    constexpr std::size_t most = 4000; // moves that are drawn one by one
    const bool narrows = step.tool.isPointed() || step.tool.kind == shop::ToolKind::ball;
    if (!narrows || cut.end - cut.first > most) return out;
    const std::size_t first = std::max<std::size_t>(cut.first, 1); // it begins with a rapid
    double low = 0, high = -1e9;
    for (std::size_t i = first; i < cut.end; ++i) {
        const auto& move = step.moves[i];
        if (move.kind == toolpath::Move::Kind::rapid || step.moves[i - 1].to.z > 0) continue;
        low = std::min(low, move.to.z), high = std::max(high, move.to.z);
    }
    if (high - low < 0.05) return out;
    for (std::size_t i = first; i < cut.end; ++i) {
        const auto& move = step.moves[i];
        const auto from = step.moves[i - 1].to;
        if (move.kind != toolpath::Move::Kind::line || from.z > 0) continue;
        const double r0 = step.tool.radiusAt(-from.z), r1 = step.tool.radiusAt(-move.to.z);
        const Vec2 a = from.flat(), b = move.to.flat(), side = perpendicular(unit(b - a));
        if (distance(a, b) > 1e-9)
            addTurned(out, {view_.toScreen(a + side * r0), view_.toScreen(a - side * r0), view_.toScreen(b - side * r1),
                            view_.toScreen(b + side * r1)});
        QPolygonF end;
        for (int k = 0; k < 10; ++k) end << view_.toScreen(b + Vec2{std::cos(k * pi / 5), std::sin(k * pi / 5)} * r1);
        addTurned(out, std::move(end));
    }
    return out;
}

void BenchPainter::ribbons() {
    if (!facts_.moves) return;
    for (const auto& step : facts_.moves->steps) {
        QColor color = theme().hue(step.kind);
        color.setAlpha(step.step == facts_.step ? 165 : 105);
        for (const auto& cut : step.cuts) {
            const double width = 2 * step.tool.radiusAt(cut.intent.bottom);
            if (cut.centre.segments.empty() && !cut.intent.area.empty()) { // all that is cleared
                QPainterPath area;
                area.setFillRule(Qt::OddEvenFill);
                for (const auto& ring : cut.intent.area) {
                    QPolygonF corners;
                    for (const Vec2 p : ring) corners << view_.toScreen(p);
                    area.addPolygon(corners);
                    area.closeSubpath();
                }
                painter_.fillPath(area, color);
                continue;
            }
            if (cut.centre.segments.empty() && step.kind &&
                (step.kind->takes == plan::Takes::areas || step.kind->takes == plan::Takes::pictures))
                continue;
            if (cut.centre.segments.empty()) {
                painter_.setPen(Qt::NoPen);
                painter_.setBrush(theme().pattern(step.kind));
                const double r = std::max(2.0, step.tool.radius() * view_.scale_);
                painter_.drawEllipse(view_.toScreen(cut.centre.start), r, r);
                continue;
            }
            if (const auto area = carved(step, cut); !area.isEmpty()) {
                painter_.fillPath(area, color);
                continue;
            }
            // As wide as the tool, but never thinner than can be seen.
            QPen pen(color, std::max(width, 1.6 / view_.scale_), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin);
            strokePath(cut.centre, pen);
            if (step.kind && step.kind->decorates) {
                QPen dots = theme().pen(Token::card, 1);
                dots.setDashPattern({2, 5});
                strokePath(cut.centre, dots);
            }
        }
    }
}

/// What the tools do not get to: cross-hatched, its thickest leftover beside it where there is room for the words.
void BenchPainter::reach() {
    if (!facts_.reach) return;
    const auto& places = facts_.reach->places;
    const QColor ochre = theme().color(Token::ochre);
    painter_.setFont(theme().text(11));
    std::vector<QRectF> words;
    for (std::size_t i = 0; i < places.size(); ++i) {
        const QPointF at = view_.toScreen(places[i].at);
        if (!QRectF(view_.rect()).adjusted(-400, -400, 400, 400).contains(at) && places[i].thickest < 20) continue;
        QPainterPath area;
        area.setFillRule(Qt::OddEvenFill);
        for (const auto& ring : places[i].area) {
            QPolygonF corners;
            for (const Vec2 p : ring) corners << view_.toScreen(p);
            area.addPolygon(corners);
            area.closeSubpath();
        }
        const QRectF seen = area.boundingRect();
        if (std::max(seen.width(), seen.height()) < 7) { // too small for a hatch: a mark that can be seen
            for (const auto& pen : {theme().pen(Token::card, 4.5), theme().pen(Token::ochre, 1.8)}) {
                painter_.setPen(pen);
                painter_.drawLine(at - QPointF(3.5, 3.5), at + QPointF(3.5, 3.5));
                painter_.drawLine(at - QPointF(3.5, -3.5), at + QPointF(3.5, -3.5));
            }
        } else {
            painter_.fillPath(area, theme().color(Token::card));
            painter_.fillPath(area, QBrush(ochre, Qt::DiagCrossPattern));
            painter_.strokePath(area, theme().pen(Token::ochre, 1.2));
        }
        if (i > 0 && std::max(seen.width(), seen.height()) < 14) continue; // the thickest is always told
        const QString thick = QString::fromStdString(shown(places[i].thickest, Measure::length, facts_.job.units));
        const QRectF box(seen.right() + 4, seen.center().y() - 8, painter_.fontMetrics().horizontalAdvance(thick) + 6,
                         16);
        if (std::any_of(words.begin(), words.end(), [&](const QRectF& w) { return w.intersects(box); })) continue;
        words.push_back(box);
        QColor card = theme().color(Token::card);
        card.setAlpha(215);
        painter_.fillRect(box, card);
        painter_.setPen(theme().color(Token::ink));
        painter_.drawText(box, Qt::AlignCenter, thick);
    }
}

/// Where the outlines of the step at hand are begun: a notch beside the way, pointing along it; filled where a person
/// has placed it.
void BenchPainter::starts() {
    if (!facts_.moves) return;
    for (const auto& step : facts_.moves->steps) {
        const auto* asked = plan::find(facts_.job.plan, step.step);
        if (step.step != facts_.step || !asked || !plan::startsIn(*asked)) continue;
        for (const auto& cut : step.cuts) {
            if (!cut.centre.closed || cut.centre.segments.empty()) continue;
            const bool dragged = view_.drag_ == BenchView::Drag::start && view_.tab_ &&
                                 view_.tab_->item == cut.intent.item && view_.tab_->opening == cut.intent.opening;
            const Vec2 along = tangentAt(cut.centre.start, cut.centre.segments.front(), 0);
            painter_.save();
            painter_.translate(view_.toScreen(dragged ? view_.to_ : cut.centre.start));
            painter_.rotate(-std::atan2(along.y, along.x) * 180 / pi);
            painter_.setPen(theme().pen(Token::card, 3.5));
            painter_.drawLine(QPointF(0, -7), QPointF(0, 7));
            painter_.setPen(theme().pen(Token::oxide, 1.6));
            painter_.drawLine(QPointF(0, -7), QPointF(0, 7));
            painter_.setBrush(theme().color(isPlacedStart(facts_, step, cut) ? Token::oxide : Token::card));
            painter_.drawPolygon(QPolygonF{QPointF(1, -4.5), QPointF(8.5, 0), QPointF(1, 4.5)});
            painter_.restore();
        }
    }
}

void BenchPainter::tabs() {
    if (!facts_.moves) return;
    for (const auto& step : facts_.moves->steps) {
        for (const auto& cut : step.cuts) {
            if (cut.tabs.empty()) continue;
            const Ruler ruler(cut.centre);
            for (std::size_t i = 0; i < cut.tabs.size(); ++i) {
                const auto at = ruler.at(cut.tabs[i]);
                const bool dragged = view_.drag_ == BenchView::Drag::tab && view_.tab_ &&
                                     view_.tab_->item == cut.intent.item && view_.tab_->opening == cut.intent.opening &&
                                     view_.tab_->index == i;
                painter_.save();
                painter_.translate(view_.toScreen(dragged ? view_.to_ : at.point));
                painter_.rotate(-std::atan2(at.tangent.y, at.tangent.x) * 180 / pi);
                const double w = std::max(9.0, cut.tabWidth * view_.scale_),
                             h = std::max(8.0, step.tool.diameter * view_.scale_ * 1.25);
                painter_.setPen(theme().pen(Token::oxide, 1.5));
                painter_.setBrush(theme().color(Token::card));
                painter_.drawRect(QRectF(-w / 2, -h / 2, w, h));
                painter_.restore();
            }
        }
    }
}

void BenchPainter::surface() {
    // Much smaller than it was cut, a fine line would fall between the pixels that are looked at.
    const QSize seen = (sheetBox().size() * view_.devicePixelRatioF()).toSize();
    auto& small = view_.smallSurface_;
    if (4 * seen.width() >= 3 * facts_.surface.width() || seen.isEmpty()) {
        painter_.drawImage(sheetBox(), facts_.surface);
    } else {
        if (small.of != facts_.surface.cacheKey() || small.image.size() != seen)
            small = {facts_.surface.cacheKey(),
                     facts_.surface.scaled(seen, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)};
        painter_.drawImage(sheetBox(), small.image);
    }
    narrowCuts(2.5 * facts_.job.sheet().stock.width / facts_.surface.width());
    painter_.setPen(theme().pen(Token::faded));
    painter_.setBrush(Qt::NoBrush);
    painter_.drawPath(blankPath());
}

/// Cuts too narrow for the height grid to show, a beam's or an engraver's, as far as the playhead has come.
void BenchPainter::narrowCuts(double below) {
    if (!facts_.proof) return;
    const QColor stock(QString::fromStdString(job::materialOf(facts_.job).colour));
    const bool light = stock.lightness() > 110;
    const auto scored = [&](double share) { // by how deep it goes, evenly for the eye
        const int by = 110 + static_cast<int>(200 * std::sqrt(share));
        return light ? stock.darker(by) : stock.lighter(by);
    };
    const bool beam = facts_.proof->path.byBeam();
    const double thick = facts_.job.sheet().stock.thickness;
    const QColor through = light ? stock.darker(320) : theme().color(Token::bench);
    const auto& proof = *facts_.proof;
    toolpath::Caster caster(0);
    for (std::size_t s = 0; s < proof.path.steps.size(); ++s) {
        const auto& step = proof.path.steps[s];
        if (step.onBoard) continue; // hidden by the blank
        caster = toolpath::Caster(step.tool.trail, caster.heading());
        for (const auto& cut : step.cuts) {
            const double width = 2 * step.tool.radiusAt(cut.intent.bottom);
            if (width > below || (beam && !cut.intent.through)) continue; // what is only burnt is on the picture
            Path way;
            double share = 0;
            const auto put = [&] {
                if (!way.segments.empty())
                    strokePath(way,
                               QPen(cut.intent.through ? through : scored(share), std::max(width, 2 / view_.scale_),
                                    Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
                way.segments.clear();
                share = 0;
            };
            for (std::size_t i = cut.first; i < cut.end; ++i) {
                if (facts_.playhead >= 0 && proof.timing.steps[s].ends[i] > facts_.playhead) break;
                const auto& move = step.moves[i];
                const bool cuts = move.kind != toolpath::Move::Kind::rapid && (move.power > 0 || move.to.z < 0);
                if (!cuts || i == 0) {
                    put();
                    continue;
                }
                const Vec2 from = step.moves[i - 1].to.flat();
                if (way.segments.empty()) way.start = caster.tipAt(from);
                if (step.tool.trail > 0) // what is cut is where the tip is drawn
                    caster.draw(from, move.flat(),
                                [&](Vec2 tip, Vec2, double) { way.segments.push_back(Segment::line(tip)); });
                else
                    way.segments.push_back(move.flat());
                share = std::max(share, -move.to.z / thick);
            }
            put();
        }
    }
}

void BenchPainter::deviation() {
    if (!facts_.proof) return;
    QColor veil = theme().color(Token::card);
    veil.setAlpha(190);
    painter_.fillRect(sheetBox(), veil);
    // Ready within 0.01 mm, look left standing, no-go cut into; as dots of growing size, so that hue is not the only
    // sign.
    for (const auto& edge : facts_.proof->deviation.edges)
        for (const auto& sample : edge.samples) {
            const double miss = static_cast<double>(sample.miss);
            const Token token = miss < -0.01 ? Token::noGo : miss > 0.01 ? Token::ochre : Token::verdigris;
            const double size =
                std::abs(miss) <= 0.01 ? 1.2 : std::clamp(1.6 + std::abs(miss) * view_.scale_, 2.0, 7.0);
            painter_.setPen(Qt::NoPen);
            painter_.setBrush(theme().color(token));
            painter_.drawEllipse(view_.toScreen(sample.at), size, size);
        }
}

void BenchPainter::playheadTool() {
    std::optional<std::pair<toolpath::Vec3, double>> tool; // where, radius
    if (facts_.station == StationId::proof && facts_.proof && facts_.playhead >= 0) {
        const auto& proof = *facts_.proof;
        if (const auto work = proof::atWork(proof.path, proof.timing, facts_.playhead))
            tool = {work->at, proof.path.steps[work->step].tool.radius()};
    } else if (facts_.station == StationId::run && facts_.tool) {
        tool = {*facts_.tool, 2.5 / view_.scale_};
    }
    if (!tool) return;
    const QPointF at = view_.toScreen(tool->first.flat());
    const double r = std::max(5.0, tool->second * view_.scale_);
    painter_.setPen(theme().pen(Token::oxide, 2));
    QColor fill = theme().color(Token::oxide);
    fill.setAlpha(tool->first.z < 0 ? 130 : 40);
    painter_.setBrush(fill);
    painter_.drawEllipse(at, r, r);
    painter_.drawLine(at - QPointF(r + 5, 0), at + QPointF(r + 5, 0));
    painter_.drawLine(at - QPointF(0, r + 5), at + QPointF(0, r + 5));
}

} // namespace ferro::app

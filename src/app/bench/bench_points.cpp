// The Points tool: what is under the pointer, what a drag does to it, and how it is drawn.
#include "app/bench/bench_painter.h"

#include "app/theme/theme.h"

#include <set>

namespace ferro::app {

namespace {

constexpr double near = 8; // px: how near the pointer has to be

bool isChosen(const BenchFacts& facts, const mend::PointRef& ref) {
    return std::find(facts.chosenPoints.begin(), facts.chosenPoints.end(), ref) != facts.chosenPoints.end();
}

/// The pieces that an edit of points touches, by themselves: an edit of these is quick whatever else is drawn.
artwork::Artwork touched(const artwork::Artwork& art, const mend::PointRefs& points) {
    std::set<artwork::ItemId> wanted;
    for (const auto& ref : points) wanted.insert(ref.item);
    artwork::Artwork out{art.layers, art.groups, {}, art.lastId};
    for (const auto& item : art.items)
        if (wanted.contains(item.id)) out.items.push_back(item);
    return out;
}

} // namespace

std::vector<BenchView::Grip> BenchView::grips() const {
    std::vector<Grip> out;
    if (facts_.chosenPoints.empty() || facts_.chosenPoints.size() > 40) return out;
    std::set<mend::PointRef> begins;
    for (const auto& ref : facts_.chosenPoints) {
        const auto* item = artwork::find(*facts_.job.artwork, ref.item);
        const auto* shape = item ? artwork::shapeOf(*item) : nullptr;
        if (!shape) continue;
        const Path& line =
            ref.opening < 0 ? shape->piece.outline : shape->piece.openings[static_cast<std::size_t>(ref.opening)];
        for (const auto segment : {segmentBefore(line, ref.point), segmentAfter(line, ref.point)}) {
            if (!segment || line.segments[*segment].kind == Segment::Kind::cubic || !item->place.keepsCircles())
                continue;
            const mend::PointRef from{ref.item, ref.opening, *segment};
            if (begins.insert(from).second)
                out.push_back({from, item->place(pointAt(line.from(*segment), line.segments[*segment], 0.5))});
        }
    }
    return out;
}

void BenchView::pressPoints(QMouseEvent* event) {
    const QPointF at = event->position();
    const auto isNear = [&](Vec2 place) { return QLineF(toScreen(place), at).length() <= near; };
    pointDrag_ = {};
    for (const auto& mark : facts_.points)
        for (const Side side : {Side::before, Side::after}) {
            const auto& handle = side == Side::before ? mark.before : mark.after;
            if (!handle || !isNear(*handle) || !isChosen(facts_, mark.ref)) continue; // only theirs are shown
            drag_ = Drag::handle;
            pointDrag_.ref = mark.ref, pointDrag_.side = side, pointDrag_.at = *handle;
            return;
        }
    const mend::PointMark* hit = nullptr;
    for (const auto& mark : facts_.points) // the nearest, of those that are as near a chosen one
        if (isNear(mark.at)) {
            const double off = distance(mark.at, from_), best = hit ? distance(hit->at, from_) : 1e300;
            if (off < best || (off == best && isChosen(facts_, mark.ref))) hit = &mark;
        }
    if (hit) {
        auto chosen = facts_.chosenPoints;
        const mend::PointMark mark = *hit; // choosing makes the marks anew
        if (event->modifiers() & Qt::ShiftModifier) {
            if (std::erase(chosen, mark.ref) == 0) chosen.push_back(mark.ref);
            Q_EMIT pointsChosen(chosen);
            return;
        }
        if (!isChosen(facts_, mark.ref)) Q_EMIT pointsChosen({mark.ref});
        drag_ = Drag::points;
        pointDrag_.ref = mark.ref, pointDrag_.at = mark.at;
        return;
    }
    for (const auto& grip : grips())
        if (isNear(grip.at)) {
            drag_ = Drag::bulge;
            pointDrag_.ref = grip.from, pointDrag_.at = grip.at;
            return;
        }
    const auto* item = itemUnder(facts_, from_, reach());
    if (item && std::find(facts_.selection.begin(), facts_.selection.end(), item->id) == facts_.selection.end()) {
        auto ids = artwork::withGroupMates(*facts_.job.artwork, {item->id});
        if (event->modifiers() & Qt::ShiftModifier)
            ids.insert(ids.begin(), facts_.selection.begin(), facts_.selection.end());
        Q_EMIT selectAsked(ids);
        return;
    }
    drag_ = Drag::pointBand;
}

void BenchView::dragPoints(Vec2 now, Qt::KeyboardModifiers modifiers) {
    auto& drag = pointDrag_;
    if (drag_ == Drag::pointBand) return;
    const auto& art = *facts_.job.artwork;
    const mend::PointRefs dragged = drag_ == Drag::points ? facts_.chosenPoints : mend::PointRefs{drag.ref};
    if (!drag.snaps) {
        drag.snaps = std::make_shared<const mend::Snaps>(art, dragged);
        drag.neighbours = mend::neighboursOf(art, dragged.size() == 1 ? dragged : mend::PointRefs{drag.ref});
    }
    Vec2 to = drag.at + now - from_;
    drag.snap.reset();
    if (drag_ == Drag::points && modifiers & Qt::ShiftModifier) {
        const Vec2 by = to - drag.at;
        to = drag.at + (std::abs(by.x) > std::abs(by.y) ? Vec2{by.x, 0} : Vec2{0, by.y});
    } else if (drag_ == Drag::points && !(modifiers & Qt::ControlModifier)) {
        drag.snap = drag.snaps->near(to, reach(), drag.neighbours);
        if (drag.snap) to = drag.snap->at;
    }
    to_ = to;
    const auto few = touched(art, dragged);
    const auto edit = drag_ == Drag::points ? mend::withPointsMoved(few, dragged, to - drag.at)
                      : drag_ == Drag::handle
                          ? mend::withHandleMoved(few, drag.ref, drag.side, to, modifiers & Qt::ControlModifier)
                          : mend::withBulge(few, drag.ref, to);
    drag.shown = edit ? std::optional(edit->artwork) : std::nullopt;
}

void BenchView::releasePoints(Drag done, Qt::KeyboardModifiers modifiers) {
    const auto drag = std::exchange(pointDrag_, {});
    const Vec2 to = to_;
    if (done == Drag::pointBand) {
        Box box;
        box.take(from_);
        box.take(to);
        mend::PointRefs chosen;
        if (modifiers & Qt::ShiftModifier) chosen = facts_.chosenPoints;
        const std::set<mend::PointRef> before(chosen.begin(), chosen.end());
        if (beyondThreshold_)
            for (const auto& mark : facts_.points)
                if (box.contains(mark.at) && !before.contains(mark.ref)) chosen.push_back(mark.ref);
        if (!beyondThreshold_ && facts_.chosenPoints.empty() && !itemUnder(facts_, from_, reach()))
            Q_EMIT selectAsked({});
        else
            Q_EMIT pointsChosen(chosen);
    } else if (!beyondThreshold_) { // a click on one of several means it alone
        if (done == Drag::points && !(modifiers & Qt::ShiftModifier)) Q_EMIT pointsChosen({drag.ref});
    } else if (done == Drag::points) {
        Q_EMIT pointsMoveAsked(to - drag.at);
    } else if (done == Drag::handle) {
        Q_EMIT handleMoveAsked(drag.ref, drag.side, to, modifiers & Qt::ControlModifier);
    } else {
        Q_EMIT bulgeAsked(drag.ref, to);
    }
}

void BenchView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (tool_ == BenchTool::select && event->button() == Qt::LeftButton && openText(toSheet(event->position()))) return;
    if (tool_ != BenchTool::points || event->button() != Qt::LeftButton) return mousePressEvent(event);
    const Vec2 at = toSheet(event->position());
    for (const auto& mark : facts_.points)
        if (QLineF(toScreen(mark.at), event->position()).length() <= near) return; // there is one
    drag_ = Drag::none;
    if (const auto on = mend::nearestOnLine(*facts_.job.artwork, facts_.selection, at, reach()))
        Q_EMIT pointAddAsked(on->from, on->t);
}

/// A ring for a smooth point, a wedge for a corner, a bar for an open end; chosen ones filled. Handles end in a bar
/// across, a line's middle in a short stroke along it.
void BenchPainter::points() {
    if (view_.tool_ != BenchTool::points) return;
    const auto& drag = view_.pointDrag_;
    if (drag.shown) {
        for (const auto& item : drag.shown->items) {
            const Piece piece = artwork::placed(item);
            QPen pen = theme().pen(Token::oxide, 1.8);
            pen.setCosmetic(true);
            strokePath(piece.outline, pen);
            for (const auto& opening : piece.openings) strokePath(opening, pen);
        }
    }
    if (view_.drag_ == BenchView::Drag::pointBand && view_.beyondThreshold_) {
        QPen dashed = theme().pen(Token::oxide);
        dashed.setDashPattern({4, 3});
        painter_.setPen(dashed);
        painter_.setBrush(Qt::NoBrush);
        painter_.drawRect(QRectF(view_.toScreen(view_.from_), view_.toScreen(view_.to_)).normalized());
    }
    const std::set<mend::PointRef> chosen(facts_.chosenPoints.begin(), facts_.chosenPoints.end());
    const QRectF seen = QRectF(view_.rect()).adjusted(-10, -10, 10, 10);
    constexpr std::size_t most = 6000; // beyond that marks hide the line: only the chosen ones
    std::vector<const mend::PointMark*> shown;
    for (const auto& mark : facts_.points)
        if (seen.contains(view_.toScreen(mark.at))) shown.push_back(&mark);
    for (const auto* mark : shown) {
        const bool on = chosen.contains(mark->ref);
        if (!on && shown.size() > most) continue;
        const QPointF at = view_.toScreen(mark->at);
        if (on && chosen.size() <= 200 && !drag.shown)
            for (const auto& handle : {mark->before, mark->after}) {
                if (!handle) continue;
                const QPointF end = view_.toScreen(*handle), way = end - at;
                const double size = std::hypot(way.x(), way.y());
                painter_.setPen(theme().pen(Token::oxide, 1.3));
                painter_.drawLine(at, end);
                if (size < 1) continue;
                const QPointF side = QPointF(-way.y(), way.x()) / size * 5;
                painter_.setPen(theme().pen(Token::oxide, 2.2));
                painter_.drawLine(end - side, end + side);
            }
        painter_.setPen(theme().pen(on ? Token::oxide : Token::iron, 1.4));
        painter_.setBrush(theme().color(on ? Token::oxide : Token::card));
        if (mark->end) {
            painter_.drawRect(QRectF(at - QPointF(5.5, 2), QSizeF(11, 4)));
        } else if (mark->smooth) {
            painter_.drawEllipse(at, 3.2, 3.2);
        } else {
            painter_.drawPolygon(QPolygonF({at + QPointF(0, -4.4), at + QPointF(4.2, 3.2), at + QPointF(-4.2, 3.2)}));
        }
    }
    if (!drag.shown) {
        painter_.setPen(theme().pen(Token::oxide, 1.2));
        painter_.setBrush(theme().color(Token::card));
        for (const auto& grip : view_.grips()) {
            const QPointF at = view_.toScreen(grip.at);
            painter_.drawPolygon(
                QPolygonF({at + QPointF(-4, 0), at + QPointF(0, -2.4), at + QPointF(4, 0), at + QPointF(0, 2.4)}));
        }
    }
}

/// Where the dragged point has snapped to, in a word and a cross.
void BenchPainter::snapMark() {
    const auto& snap = view_.pointDrag_.snap;
    if (!snap) return;
    const QPointF at = view_.toScreen(snap->at);
    painter_.setPen(theme().pen(Token::verdigris, 1.4));
    if (snap->from) painter_.drawLine(view_.toScreen(*snap->from), at);
    painter_.drawLine(at - QPointF(9, 0), at + QPointF(9, 0));
    painter_.drawLine(at - QPointF(0, 9), at + QPointF(0, 9));
    const auto word = mend::wordOf(snap->kind);
    const QString text = QString::fromUtf8(word.data(), static_cast<qsizetype>(word.size()));
    painter_.setFont(theme().caption());
    QRectF box = painter_.fontMetrics().boundingRect(text).adjusted(-4, -2, 4, 2);
    box.moveTopLeft(at + QPointF(12, -24));
    painter_.fillRect(box, theme().color(Token::card));
    painter_.setPen(theme().color(Token::ink));
    painter_.drawText(box, Qt::AlignCenter, text);
}

} // namespace ferro::app

// The Select tool: what is chosen, its handles, and how it is moved, scaled and turned.
#include "app/bench/bench_view.h"

namespace ferro::app {

Box BenchView::shownBounds() const {
    const Box box = selectionBox();
    if (box.empty() || (drag_ != Drag::move && drag_ != Drag::scale && drag_ != Drag::turn)) return box;
    Box out;
    for (const Vec2 corner : {box.low, Vec2{box.high.x, box.low.y}, box.high, Vec2{box.low.x, box.high.y}})
        out.take(preview_(corner));
    return out;
}

std::vector<BenchView::Handle> BenchView::handles() const {
    const Box box = selectionBox();
    if (box.empty() || tool_ != BenchTool::select || facts_.station > StationId::cuts) return {};
    const QPointF low = toScreen(box.low), high = toScreen(box.high);
    const double midX = (low.x() + high.x()) / 2, midY = (low.y() + high.y()) / 2;
    std::vector<Handle> list{{{low.x(), low.y()}, -1, -1},
                             {{high.x(), low.y()}, 1, -1},
                             {{high.x(), high.y()}, 1, 1},
                             {{low.x(), high.y()}, -1, 1}};
    if (high.x() - low.x() > 30) list.insert(list.end(), {{{midX, low.y()}, 0, -1}, {{midX, high.y()}, 0, 1}});
    if (low.y() - high.y() > 30) list.insert(list.end(), {{{low.x(), midY}, -1, 0}, {{high.x(), midY}, 1, 0}});
    list.push_back({{midX, high.y() - 24}, 0, 0, true});
    return list;
}

void BenchView::pressSelect(QMouseEvent* event) {
    for (const auto& handle : handles())
        if ((QPointF(event->position()) - handle.at).manhattanLength() <= 9) {
            grabbed_ = handle;
            drag_ = handle.turns ? Drag::turn : Drag::scale;
            return;
        }
    const auto* item = itemUnder(facts_, from_, reach());
    const bool adds = event->modifiers() & Qt::ShiftModifier;
    if (!item) {
        drag_ = Drag::band;
        if (!adds) Q_EMIT selectAsked({});
        return;
    }
    const bool selected =
        std::find(facts_.selection.begin(), facts_.selection.end(), item->id) != facts_.selection.end();
    auto mates = artwork::withGroupMates(*facts_.job.artwork, {item->id});
    if (adds) {
        auto ids = facts_.selection;
        for (const auto id : mates) {
            if (selected)
                std::erase(ids, id);
            else
                ids.push_back(id);
        }
        Q_EMIT selectAsked(ids);
        return;
    }
    wasChosen_ = selected;
    if (!selected) Q_EMIT selectAsked(mates);
    drag_ = facts_.station <= StationId::cuts ? Drag::move : Drag::none;
}

/// Pieces snap by the point or centre they were taken hold of at, else by the edges and middles of their bounds.
void BenchView::dragMove(Vec2 now, Qt::KeyboardModifiers modifiers) {
    const auto& art = *facts_.job.artwork;
    Vec2 by = now - from_;
    if (modifiers & Qt::ShiftModifier) (std::abs(by.x) > std::abs(by.y) ? by.y : by.x) = 0;
    snap_ = {};
    pointDrag_.snap.reset();
    if (!(modifiers & (Qt::ControlModifier | Qt::ShiftModifier)) && takenHoldOf()) {
        const Vec2 to = pointDrag_.at + by;
        if (const auto at = pointDrag_.snaps->near(to, reach(), {}); at && at->kind <= mend::Snap::Kind::centre) {
            pointDrag_.snap = at;
            preview_ = Transform::moved(by + at->at - to);
            return;
        }
    }
    if (!(modifiers & Qt::ControlModifier)) {
        std::vector<Box> targets{job::sheetOf(facts_.job.sheet().stock)};
        if (art.items.size() < 400)
            for (const auto& item : art.items)
                if (!artwork::isHidden(art, item) && !std::binary_search(chosen_.begin(), chosen_.end(), item.id))
                    targets.push_back(artwork::boundsOf(item));
        const Box box = selectionBox();
        snap_ = snapped({box.low + by, box.high + by}, targets, reach(), facts_.grid,
                        job::zeroOf(facts_.job.sheet().stock).at);
        by += snap_.shift;
    }
    if (const auto* others = facts_.apart && !(modifiers & Qt::ControlModifier) ? amongOthers() : nullptr)
        by = hand_.at = others->pushed(hand_.at, by);
    preview_ = Transform::moved(by);
}

/// What the chosen pieces are moved among, at Sheet; made once for a drag. None where there is too much of it.
const job::ByHand* BenchView::amongOthers() {
    constexpr std::size_t most = 5000; // pieces, chosen times others: beyond, a hand's move would wait
    if (facts_.station != StationId::sheet) return nullptr;
    if (!hand_.others && facts_.selection.size() * facts_.job.artwork->items.size() <= most * 10) {
        const auto apart = facts_.apart.value_or(BenchFacts::Apart{});
        hand_.others = std::make_shared<const job::ByHand>(facts_.job, facts_.selection, apart.spacing, apart.margin);
    }
    return hand_.others.get();
}

/// Whether the drag began at a point or a centre of what is moved; looked up once for a drag.
bool BenchView::takenHoldOf() {
    auto& drag = pointDrag_;
    if (!drag.snaps) {
        const auto& art = *facts_.job.artwork;
        artwork::Ids others;
        for (const auto& item : art.items)
            if (!std::binary_search(chosen_.begin(), chosen_.end(), item.id)) others.push_back(item.id);
        const auto own = mend::Snaps(art, {}, others).near(from_, reach(), {});
        drag.holds = own && own->kind <= mend::Snap::Kind::centre;
        if (drag.holds) drag.at = own->at;
        drag.snaps = std::make_shared<const mend::Snaps>(art, mend::PointRefs{}, facts_.selection);
    }
    return drag.holds;
}

void BenchView::dragScale(Vec2 now, Qt::KeyboardModifiers modifiers) {
    const Box box = selectionBox();
    const Vec2 fixed{grabbed_.x < 0   ? box.high.x
                     : grabbed_.x > 0 ? box.low.x
                                      : box.centre().x,
                     grabbed_.y < 0   ? box.high.y
                     : grabbed_.y > 0 ? box.low.y
                                      : box.centre().y};
    double sx = grabbed_.x && box.width() > 0 ? (now.x - fixed.x) / (grabbed_.x * box.width()) : 1;
    double sy = grabbed_.y && box.height() > 0 ? (now.y - fixed.y) / (grabbed_.y * box.height()) : 1;
    // Corners keep the proportion unless Shift; sides change one direction.
    if (grabbed_.x && grabbed_.y && !(modifiers & Qt::ShiftModifier)) sx = sy = std::max(sx, sy);
    preview_ = Transform::scaled(std::max(sx, 0.01), std::max(sy, 0.01), fixed);
}

} // namespace ferro::app

#include "mend/points.h"

#include "artwork/widths.h"
#include "geometry/measure.h"

#include <map>
#include <set>

namespace ferro::mend {

namespace {

using artwork::Item;
using Numbers = std::vector<std::size_t>;

const Path* lineOf(const Item& item, int opening) {
    const auto* shape = artwork::shapeOf(item);
    if (!shape || opening < -1 || opening >= static_cast<int>(shape->piece.openings.size())) return nullptr;
    return opening < 0 ? &shape->piece.outline : &shape->piece.openings[static_cast<std::size_t>(opening)];
}

Path& lineOf(Piece& piece, int opening) {
    return opening < 0 ? piece.outline : piece.openings[static_cast<std::size_t>(opening)];
}

/// The chosen points by piece and outline; or what is wrong with them.
using ByLine = std::map<ItemId, std::map<int, Numbers>>;
Result<ByLine> sorted(const Artwork& art, const PointRefs& points) {
    ByLine out;
    for (const auto& ref : points) {
        const auto* item = artwork::find(art, ref.item);
        const auto* line = item ? lineOf(*item, ref.opening) : nullptr;
        if (!line || ref.point >= ferro::pointsOf(*line))
            return Problem{.what = fmt::format("Item {} has no point {}.", ref.item.value, ref.point),
                           .where = {},
                           .mend = "Its points are numbered from 0; the readout and `info` tell how many there are."};
        if (artwork::isLocked(art, *item))
            return Problem{
                .what = fmt::format("“{}” is locked.", item->name), .where = {}, .mend = "Unlock it, or leave it out."};
        out[ref.item][ref.opening].push_back(ref.point);
    }
    if (out.empty())
        return Problem{.what = "No point is chosen.", .where = {}, .mend = "Choose one or more points first."};
    return out;
}

/// What its group remembers of a piece no longer holds.
void forget(Artwork& art, const Item& item) {
    for (artwork::GroupId id = item.group; id.value;) {
        const auto group =
            std::find_if(art.groups.begin(), art.groups.end(), [&](const auto& g) { return g.id == id; });
        if (group == art.groups.end()) break;
        group->lettering = nullptr, group->bridged = nullptr;
        id = group->parent;
    }
}

/// Puts a line the way round that it has to run; its points then count backwards. True when it was turned.
bool windRight(Path& line, bool isOutline, Numbers& chosen) {
    if (!line.closed || line.segments.empty() || (areaOf(line) > 0) == isOutline) return false;
    line = reversed(line);
    for (auto& p : chosen) p = p == 0 ? 0 : line.segments.size() - p;
    return true;
}

/// Changes each line that has chosen points. `change` answers the new line and which of its points are chosen then; a
/// line without segments goes.
struct Changed {
    Path line;
    Numbers chosen;
};
template<class Change> Result<PointEdit> changed(const Artwork& art, const PointRefs& points, Change change) {
    const auto by = sorted(art, points);
    if (!by) return by.problem();
    PointEdit out{art, {}};
    std::set<ItemId> gone;
    for (auto& item : out.artwork.items) {
        const auto mine = by->find(item.id);
        if (mine == by->end()) continue;
        const auto* shape = artwork::shapeOf(item);
        Piece piece = shape->piece;
        const artwork::Inked ink{shape->piece.outline, shape->widths};
        auto widths = shape->widths;
        std::set<int> empty;
        for (const auto& [opening, numbers] : mine->second) {
            Path& line = lineOf(piece, opening);
            Changed now = change(item, line, numbers);
            const bool turned = windRight(now.line, opening < 0, now.chosen);
            line = std::move(now.line);
            // A point that was moved keeps its width; where points came or went, the places tell.
            if (opening < 0 && !widths.empty() && (turned || widths.size() != line.segments.size() + 1))
                widths = artwork::widthsFor(line, {&ink, 1});
            if (line.segments.empty()) empty.insert(opening);
            for (const auto p : now.chosen) out.chosen.push_back({item.id, opening, p});
        }
        if (empty.contains(-1)) {
            gone.insert(item.id);
            continue;
        }
        for (auto it = empty.rbegin(); it != empty.rend(); ++it) piece.openings.erase(piece.openings.begin() + *it);
        if (!empty.empty()) std::erase_if(out.chosen, [&](const PointRef& r) { return r.item == item.id; });
        forget(out.artwork, item);
        item.leaf = artwork::leafOf(std::move(piece), std::move(widths));
    }
    std::erase_if(out.artwork.items, [&](const Item& item) { return gone.contains(item.id); });
    std::erase_if(out.chosen, [&](const PointRef& r) { return gone.contains(r.item); });
    if (!gone.empty()) artwork::dropEmptyGroups(out.artwork);
    return out;
}

/// A direction on the sheet in an item's own coordinates.
Vec2 inOwn(const Item& item, Vec2 by) {
    const auto back = item.place.inverse();
    return back ? back->direction(by) : by;
}
Vec2 placeInOwn(const Item& item, Vec2 at) {
    const auto back = item.place.inverse();
    return back ? (*back)(at) : at;
}

/// The points of a changed line that lie where chosen ones lay.
Numbers samePlaces(const Path& old, const Numbers& numbers, const Path& now) {
    std::map<std::pair<double, double>, std::size_t> where;
    for (std::size_t i = 0; i < ferro::pointsOf(now); ++i) {
        const Vec2 p = pointOf(now, i);
        where.try_emplace({p.x, p.y}, i);
    }
    Numbers out;
    for (const auto n : numbers) {
        const Vec2 p = pointOf(old, n);
        if (const auto at = where.find({p.x, p.y}); at != where.end()) out.push_back(at->second);
    }
    return out;
}

} // namespace

std::vector<PointMark> pointsOf(const Artwork& artwork, const Ids& items) {
    std::vector<PointMark> out;
    const std::set<ItemId> wanted(items.begin(), items.end());
    for (const auto& item : artwork.items) {
        if (!wanted.contains(item.id)) continue;
        const auto* shape = artwork::shapeOf(item);
        if (!shape || artwork::isHidden(artwork, item) || artwork::isLocked(artwork, item)) continue;
        for (int opening = -1; opening < static_cast<int>(shape->piece.openings.size()); ++opening) {
            const Path& line = *lineOf(item, opening);
            for (std::size_t i = 0; i < ferro::pointsOf(line); ++i) {
                PointMark mark{{item.id, opening, i}, item.place(pointOf(line, i)), isSmoothAt(line, i), false, {}, {}};
                mark.end = !line.closed && (i == 0 || i == line.segments.size());
                if (const auto h = handleAt(line, i, Side::before)) mark.before = item.place(*h);
                if (const auto h = handleAt(line, i, Side::after)) mark.after = item.place(*h);
                out.push_back(mark);
            }
        }
    }
    return out;
}

std::optional<Vec2> placeOf(const Artwork& artwork, const PointRef& ref) {
    const auto* item = artwork::find(artwork, ref.item);
    const auto* line = item ? lineOf(*item, ref.opening) : nullptr;
    if (!line || ref.point >= ferro::pointsOf(*line)) return std::nullopt;
    return item->place(pointOf(*line, ref.point));
}

Result<PointEdit> withPointsMoved(const Artwork& artwork, const PointRefs& points, Vec2 by) {
    return changed(artwork, points, [by](const Item& item, const Path& line, const Numbers& numbers) {
        return Changed{ferro::withPointsMoved(line, numbers, inOwn(item, by)), numbers};
    });
}

Result<PointEdit> withHandleMoved(const Artwork& artwork, const PointRef& point, Side side, Vec2 to, bool alone) {
    return changed(artwork, {point}, [=](const Item& item, const Path& line, const Numbers& numbers) {
        return Changed{ferro::withHandleMoved(line, point.point, side, placeInOwn(item, to), alone), numbers};
    });
}

Result<PointEdit> withPointsRemoved(const Artwork& artwork, const PointRefs& points) {
    return changed(artwork, points, [](const Item&, const Path& line, const Numbers& numbers) {
        return Changed{ferro::withPointsRemoved(line, numbers), {}};
    });
}

Result<PointEdit> withPointsFormed(const Artwork& artwork, const PointRefs& points, PointForm form) {
    return changed(artwork, points, [form](const Item&, const Path& line, const Numbers& numbers) {
        Path now = form == PointForm::straight  ? ferro::withStraight(line, numbers)
                   : form == PointForm::handles ? ferro::withHandles(line, numbers)
                   : form == PointForm::smooth  ? ferro::withSmooth(line, numbers)
                                                : ferro::withCorner(line, numbers);
        Numbers chosen = samePlaces(line, numbers, now);
        return Changed{std::move(now), std::move(chosen)};
    });
}

Result<PointEdit> withPointAdded(const Artwork& artwork, const PointRef& from, double t) {
    return changed(artwork, {from}, [&](const Item&, const Path& line, const Numbers&) {
        Changed out{ferro::withPointAt(line, from.point, t), {}};
        if (ferro::pointsOf(out.line) == ferro::pointsOf(line)) return out;
        out.chosen = {from.point + 1};
        return out;
    });
}

Result<PointEdit> withBulge(const Artwork& artwork, const PointRef& from, Vec2 through) {
    const auto* item = artwork::find(artwork, from.item);
    if (item && !item->place.keepsCircles())
        return Problem{.what = fmt::format("“{}” is stretched: an arc of it is none on the sheet.", item->name),
                       .where = {},
                       .mend = "Give it handles instead."};
    return changed(artwork, {from}, [&](const Item& of, const Path& line, const Numbers& numbers) {
        return Changed{ferro::withArcThrough(line, from.point, placeInOwn(of, through)), numbers};
    });
}

Result<PointEdit> withSplit(const Artwork& artwork, const PointRefs& points) {
    const auto by = sorted(artwork, points);
    if (!by) return by.problem();
    PointEdit out{artwork, {}};
    out.artwork.items.clear();
    for (const auto& item : artwork.items) {
        const auto mine = by->find(item.id);
        if (mine == by->end()) {
            out.artwork.items.push_back(item);
            continue;
        }
        forget(out.artwork, item);
        Piece whole = artwork::shapeOf(item)->piece;
        const artwork::Inked ink{whole.outline, artwork::shapeOf(item)->widths};
        std::vector<Piece> parts;
        std::vector<Path> openings;
        const bool opens = whole.outline.closed && mine->second.contains(-1);
        if (mine->second.contains(-1))
            for (auto& part : splitAt(whole.outline, mine->second.at(-1))) parts.push_back({std::move(part), {}});
        else
            parts.push_back({whole.outline, {}});
        for (std::size_t i = 0; i < whole.openings.size(); ++i) {
            const auto at = mine->second.find(static_cast<int>(i));
            if (at != mine->second.end())
                for (auto& part : splitAt(whole.openings[i], at->second)) parts.push_back({std::move(part), {}});
            else if (opens)
                parts.push_back({wound(whole.openings[i], true), {}});
            else
                openings.push_back(std::move(whole.openings[i]));
        }
        parts[0].openings = std::move(openings);
        for (std::size_t i = 0; i < parts.size(); ++i) {
            Item made = item;
            if (i) made.id = {++out.artwork.lastId};
            if (!parts[i].outline.closed) out.chosen.push_back({made.id, -1, 0});
            auto widths = artwork::widthsFor(parts[i].outline, {&ink, 1});
            made.leaf = artwork::leafOf(std::move(parts[i]), std::move(widths));
            out.artwork.items.push_back(std::move(made));
        }
    }
    return out;
}

Result<PointEdit> withEndsJoined(const Artwork& artwork, const PointRefs& points, double reach) {
    const auto by = sorted(artwork, points);
    if (!by) return by.problem();
    const auto isEnd = [&](const PointRef& r) {
        const Path& line = *lineOf(*artwork::find(artwork, r.item), r.opening);
        return !line.closed && !line.segments.empty() && (r.point == 0 || r.point == line.segments.size());
    };
    if (points.size() != 2 || points[0] == points[1] || !isEnd(points[0]) || !isEnd(points[1]))
        return Problem{.what = "Two ends of open lines are needed.", .where = {}, .mend = "Choose just two ends."};
    PointEdit out{artwork, {}};
    const auto itemOf = [&](ItemId id) {
        return std::find_if(out.artwork.items.begin(), out.artwork.items.end(),
                            [&](const Item& i) { return i.id == id; });
    };
    const auto a = itemOf(points[0].item);
    forget(out.artwork, *a);
    const double ownScale = 1 / std::sqrt(std::max(1e-300, std::abs(a->place.determinant()))),
                 ownReach = reach * ownScale;
    if (points[0].item == points[1].item) {
        const artwork::Inked ink{artwork::shapeOf(*a)->piece.outline, artwork::shapeOf(*a)->widths};
        Piece piece{ferro::withEndsJoined(ink.line, ownReach), {}};
        Numbers none;
        windRight(piece.outline, true, none);
        auto widths = artwork::widthsFor(piece.outline, {&ink, 1});
        a->leaf = artwork::leafOf(std::move(piece), std::move(widths));
        return out;
    }
    // The second line in the first one's coordinates, both turned so that the chosen ends meet.
    const auto b = itemOf(points[1].item);
    forget(out.artwork, *b);
    const auto back = a->place.inverse();
    if (!back)
        return Problem{.what = fmt::format("“{}” is flat.", a->name), .where = {}, .mend = "Choose another piece."};
    Path first = artwork::shapeOf(*a)->piece.outline;
    Path second = b->place == a->place ? artwork::shapeOf(*b)->piece.outline
                                       : transformed(artwork::shapeOf(*b)->piece.outline, *back * b->place);
    if (points[0].point == 0) first = reversed(first);
    if (points[1].point != 0) second = reversed(second);
    const std::size_t seam = first.segments.size();
    const std::array ink{artwork::inkedOnSheet(*a), artwork::inkedOnSheet(*b)};
    Piece joined{ferro::joined(std::move(first), std::move(second), ownReach), {}};
    auto widths = artwork::widthsFor(transformed(joined.outline, a->place), ink);
    for (double& width : widths) width *= ownScale;
    a->leaf = artwork::leafOf(std::move(joined), std::move(widths));
    out.chosen.push_back({a->id, -1, seam});
    out.artwork.items.erase(itemOf(points[1].item));
    artwork::dropEmptyGroups(out.artwork);
    return out;
}

std::optional<OnLine> nearestOnLine(const Artwork& artwork, const Ids& items, Vec2 to, double reach) {
    std::optional<OnLine> best;
    for (const auto id : items) {
        const auto* item = artwork::find(artwork, id);
        if (!item || !artwork::shapeOf(*item) || !artwork::boundsOf(*item).grown(reach).contains(to)) continue;
        const Vec2 own = placeInOwn(*item, to);
        for (int opening = -1; opening < static_cast<int>(artwork::shapeOf(*item)->piece.openings.size()); ++opening) {
            const Ruler ruler(*lineOf(*item, opening));
            if (!(ruler.length() > 0)) continue;
            const auto station = ruler.at(ruler.nearest(own));
            const Vec2 at = item->place(station.point);
            if (const double off = distance(at, to); off <= (best ? best->off : reach))
                best = OnLine{{id, opening, station.segment}, station.t, at, off};
        }
    }
    return best;
}

} // namespace ferro::mend

#include "artwork/arrange.h"

namespace ferro::artwork {

namespace {

struct Unit {
    Ids items;
    Box box;
};

/// Chosen pieces that share an outermost group are one.
std::vector<Unit> unitsOf(const Artwork& artwork, const Ids& items) {
    std::map<GroupId, GroupId> parent;
    for (const auto& group : artwork.groups) parent[group.id] = group.parent;
    std::map<GroupId, std::size_t> byGroup;
    std::vector<Unit> units;
    for (const auto id : items) {
        const auto* item = find(artwork, id);
        if (!item) continue;
        GroupId top = item->group;
        while (top && parent[top]) top = parent[top];
        std::size_t at = units.size();
        if (top) at = byGroup.try_emplace(top, at).first->second;
        if (at == units.size()) units.push_back({});
        units[at].items.push_back(id);
        units[at].box.take(boundsOf(*item));
    }
    return units;
}

Result<Artwork> withMoved(const Artwork& artwork, const std::vector<Unit>& units, const std::vector<Vec2>& by) {
    Result<Artwork> out = artwork;
    for (std::size_t i = 0; i < units.size() && out; ++i)
        if (by[i] != Vec2{}) out = withTransformed(*out, units[i].items, Transform::moved(by[i]));
    return out;
}

} // namespace

Result<Artwork> withAligned(const Artwork& artwork, const Ids& items, Edge edge, const Box& to) {
    if (items.empty() || to.empty())
        return Problem{.what = "Nothing is chosen.", .where = {}, .mend = "Choose one or more pieces first."};
    const auto units = unitsOf(artwork, items);
    std::vector<Vec2> by;
    for (const auto& unit : units) {
        const Box& b = unit.box;
        switch (edge) {
        case Edge::left: by.push_back({to.low.x - b.low.x, 0}); break;
        case Edge::centre: by.push_back({to.centre().x - b.centre().x, 0}); break;
        case Edge::right: by.push_back({to.high.x - b.high.x, 0}); break;
        case Edge::bottom: by.push_back({0, to.low.y - b.low.y}); break;
        case Edge::middle: by.push_back({0, to.centre().y - b.centre().y}); break;
        case Edge::top: by.push_back({0, to.high.y - b.high.y}); break;
        }
    }
    return withMoved(artwork, units, by);
}

Result<Artwork> withSpaced(const Artwork& artwork, const Ids& items, Along along, std::optional<double> gap) {
    auto units = unitsOf(artwork, items);
    const std::size_t least = gap ? 2 : 3;
    if (units.size() < least)
        return Problem{.what = fmt::format("Spacing needs at least {} pieces or groups.", least),
                       .where = {},
                       .mend = "Choose more."};
    const auto low = [&](const Unit& u) { return along == Along::across ? u.box.low.x : u.box.low.y; };
    const auto size = [&](const Unit& u) { return along == Along::across ? u.box.width() : u.box.height(); };
    std::stable_sort(units.begin(), units.end(), [&](const Unit& a, const Unit& b) { return low(a) < low(b); });
    double filled = 0;
    for (const auto& unit : units) filled += size(unit);
    const double whole = low(units.back()) + size(units.back()) - low(units.front());
    const double space = gap ? *gap : (whole - filled) / static_cast<double>(units.size() - 1);
    std::vector<Vec2> by;
    double at = low(units.front());
    for (const auto& unit : units) {
        const double shift = at - low(unit);
        by.push_back(along == Along::across ? Vec2{shift, 0} : Vec2{0, shift});
        at += size(unit) + space;
    }
    return withMoved(artwork, units, by);
}

} // namespace ferro::artwork

// Going on from one way to the next without being lifted.
#include "toolpath/ways_internal.h"

#include "geometry/measure.h"

namespace ferro::toolpath {

namespace {
constexpr double atEdge =
    0.002; ///< mm: along a wall it may run as well as across; what counts is that it is not over it
constexpr double onWall = 0.01;

/// Where on the stretch from `a` to `b` it crosses the one from `c` to `d`, 0 to 1; none: nowhere, or along it.
std::optional<double> crossingOf(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
    const double bend = cross(b - a, d - c);
    if (bend == 0) return std::nullopt;
    const double t = cross(c - a, d - c) / bend, u = cross(c - a, b - a) / bend;
    if (t <= 0 || t >= 1 || u < 0 || u > 1) return std::nullopt;
    return t;
}
} // namespace

Crossing::Crossing(const Ways& ways, double radius) : axis_(ways.axis), radius_(radius) {
    for (const auto& way : ways.edge)
        walls_.push_back({boundsOf(way.path).grown(onWall), Ruler(way.path), Ruler(reversed(way.path))});
    std::vector<Box> boxes;
    for (const auto& ring : axis_)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const auto& edge = edges_.emplace_back(ring[i], ring[(i + 1) % ring.size()]);
            Box box;
            box.take(edge.a);
            box.take(edge.b);
            boxes.push_back(box);
        }
    index_ = std::make_unique<SpatialIndex>(boxes);
}

std::optional<std::vector<Segment>> Crossing::between(Vec2 from, Vec2 to) const {
    const double way = distance(from, to);
    if (way < 1e-9) return std::vector<Segment>{};
    if (way > 3 * radius_) return std::nullopt;
    if (isClear(from, to)) return std::vector{Segment::line(to)};
    for (const auto& wall : walls_) {
        if (!wall.box.contains(from) || !wall.box.contains(to)) continue;
        const double a = wall.ahead.nearest(from), b = wall.ahead.nearest(to), whole = wall.ahead.length();
        if (distance(wall.ahead.at(a).point, from) > onWall || distance(wall.ahead.at(b).point, to) > onWall) continue;
        const double ahead = b >= a ? b - a : b - a + whole;
        if (std::min(ahead, whole - ahead) > 4 * radius_) return std::nullopt;
        if (ahead <= whole - ahead) return wall.ahead.stretch(a, a + ahead);
        return wall.back.stretch(whole - a, whole - a + whole - ahead);
    }
    return std::nullopt;
}

bool Crossing::hasRoom(Vec2 centre, double radius) const {
    const auto near = index_->meeting(Box{centre, centre}.grown(radius));
    // One that touches the edge from outside has as much room, but not here.
    return std::all_of(near.begin(), near.end(),
                       [&](std::size_t k) { return distanceToLine(centre, edges_[k].a, edges_[k].b) >= radius; }) &&
           contains(axis_, centre);
}

bool Crossing::isClear(Vec2 from, Vec2 to) const {
    Box box;
    box.take(from);
    box.take(to);
    const auto near = index_->meeting(box.grown(atEdge));
    if (near.empty()) return true; // both ends are where the axis may be
    const auto isNear = [&](Vec2 p) {
        return std::any_of(near.begin(), near.end(),
                           [&](std::size_t k) { return distanceToLine(p, edges_[k].a, edges_[k].b) < atEdge; });
    };
    std::vector<double> parts{0, 1};
    for (const std::size_t k : near)
        if (const auto t = crossingOf(from, to, edges_[k].a, edges_[k].b)) parts.push_back(*t);
    std::sort(parts.begin(), parts.end());
    // Between two crossings it is all inside, or all outside: one place that is not at an edge tells.
    constexpr double apart = 0.05; // mm
    for (std::size_t i = 0; i + 1 < parts.size(); ++i) {
        const double size = (parts[i + 1] - parts[i]) * distance(from, to);
        const int places = std::max(2, static_cast<int>(std::ceil(size / apart)));
        for (int k = 1; k < places; ++k) {
            const Vec2 p = lerp(from, to, parts[i] + (parts[i + 1] - parts[i]) * k / places);
            if (isNear(p)) continue;
            if (!contains(axis_, p)) return false;
            break;
        }
    }
    return true;
}

} // namespace ferro::toolpath

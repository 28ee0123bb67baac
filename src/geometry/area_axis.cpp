#include "geometry/area_axis.h"

#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "geometry/spatial.h"

#include <boost/polygon/segment_data.hpp>
#include <boost/polygon/voronoi.hpp>
#include <fmt/format.h>

namespace ferro {

namespace {

constexpr double unitsPerMm = 100'000;
constexpr double most = 10'000; // mm from the origin: what whole numbers of 32 bits hold

using Place = AreaEdges::Place;

Vec2 vec(Place p) { return Vec2{static_cast<double>(p.x), static_cast<double>(p.y)} / unitsPerMm; }

/// Exact: places lie within a thousand million of 0.
int sideOf(Place a, Place b, Place p) {
    const std::int64_t turn =
        (std::int64_t(b.x) - a.x) * (std::int64_t(p.y) - a.y) - (std::int64_t(b.y) - a.y) * (std::int64_t(p.x) - a.x);
    return turn > 0 ? 1 : turn < 0 ? -1 : 0;
}
bool isBetween(Place a, Place b, Place p) { // on their line
    return std::min(a.x, b.x) <= p.x && p.x <= std::max(a.x, b.x) && std::min(a.y, b.y) <= p.y &&
           p.y <= std::max(a.y, b.y);
}
/// Whether two edges have more in common than a corner of both.
bool clash(Place a, Place b, Place c, Place d) {
    const int c1 = sideOf(a, b, c), d1 = sideOf(a, b, d), a1 = sideOf(c, d, a), b1 = sideOf(c, d, b);
    if (c1 * d1 < 0 && a1 * b1 < 0) return true;
    const auto on = [&](int side, Place p, Place q, Place r) {
        return side == 0 && isBetween(p, q, r) && !(r == p) && !(r == q);
    };
    return on(c1, a, b, c) || on(d1, a, b, d) || on(a1, c, d, a) || on(b1, c, d, b) ||
           (a == d && b == c && !(a == b)) || (a == c && b == d);
}

Problem crossing(Vec2 at) {
    return {.what = fmt::format("Its outline crosses or touches itself at {:.2f}, {:.2f} mm.", at.x, at.y),
            .where = {},
            .mend = "Mend the piece, or take one of the edges that lie on each other away."};
}

/// The first place where edges clash, if there is one.
std::optional<Vec2> clashIn(const AreaEdges& edges) {
    const auto count = edges.corners.size();
    std::vector<Box> boxes(count);
    for (std::size_t i = 0; i < count; ++i) {
        boxes[i].take(vec(edges.corners[i]));
        boxes[i].take(vec(edges.corners[edges.next[i]]));
    }
    const SpatialIndex index(boxes);
    for (std::size_t i = 0; i < count; ++i)
        for (const std::size_t k : index.meeting(boxes[i])) {
            const Place a = edges.corners[i], b = edges.corners[edges.next[i]], c = edges.corners[k],
                        d = edges.corners[edges.next[k]];
            if (k <= i || !clash(a, b, c, d)) continue;
            const Vec2 along = vec(b) - vec(a), other = vec(d) - vec(c);
            const double bend = cross(along, other);
            const double t = bend != 0 ? cross(vec(c) - vec(a), other) / bend : 0;
            return vec(a) + along * std::clamp(t, 0.0, 1.0);
        }
    return std::nullopt;
}

/// Puts the bisector of two sites into an axis, in pieces as short as place and radius need to go evenly.
class Bisector {
public:
    Bisector(AreaAxis& axis, double tolerance) : axis_(axis), tolerance_(tolerance / 2) {}

    void line(std::uint32_t a, std::uint32_t b) { axis_.edges.push_back({a, b}); }
    /// Between a point and a line through `on` along `along`, of length 1: a parabola.
    void parabola(std::uint32_t a, std::uint32_t b, Vec2 focus, Vec2 on, Vec2 along) {
        const Vec2 p = axis_.nodes[a].at, q = axis_.nodes[b].at;
        const Vec2 up = dot(perpendicular(along), focus - on) >= 0 ? perpendicular(along) : -perpendicular(along);
        const double height = dot(up, focus - on);
        const double from = dot(along, p - focus), to = dot(along, q - focus);
        const int parts = height > 1e-9
                              ? static_cast<int>(std::clamp(
                                    std::ceil(std::abs(to - from) / std::sqrt(8 * height * tolerance_)), 1.0, 1e4))
                              : 1;
        const Vec2 foot = focus - up * height;
        auto last = a;
        for (int k = 1; k < parts; ++k) {
            const double x = from + (to - from) * k / parts, y = (x * x + height * height) / (2 * height);
            last = go(last, foot + along * x + up * y, y);
        }
        line(last, b);
    }
    /// Between two points, `middle` between them: straight, but its radius is no line's.
    void between(std::uint32_t a, std::uint32_t b, Vec2 point) {
        const auto last = split(a, axis_.nodes[a], axis_.nodes[b], point, 0);
        line(last, b);
    }

private:
    std::uint32_t go(std::uint32_t from, Vec2 at, double radius) {
        const auto made = static_cast<std::uint32_t>(axis_.nodes.size());
        axis_.nodes.push_back({at, radius});
        axis_.edges.push_back({from, made});
        return made;
    }
    std::uint32_t split(std::uint32_t last, AreaAxis::Node a, AreaAxis::Node b, Vec2 point, int depth) {
        const Vec2 at = (a.at + b.at) / 2;
        const AreaAxis::Node middle{at, distance(at, point)};
        if (depth > 14 || (a.radius + b.radius) / 2 - middle.radius <= tolerance_) return last;
        last = split(last, a, middle, point, depth + 1);
        last = go(last, middle.at, middle.radius);
        return split(last, middle, b, point, depth + 1);
    }
    AreaAxis& axis_;
    double tolerance_;
};

} // namespace

Result<AreaEdges> areaEdges(const std::vector<Path>& area, double tolerance) {
    AreaEdges edges;
    for (const auto& path : area) {
        if (!path.closed || path.segments.empty()) continue;
        const auto first = static_cast<std::uint32_t>(edges.corners.size());
        bool far = false;
        const auto put = [&](Vec2 p, bool smooth) {
            if (!isFinite(p) || std::max(std::abs(p.x), std::abs(p.y)) > most) return void(far = true);
            const Place place{static_cast<std::int32_t>(std::lround(p.x * unitsPerMm)),
                              static_cast<std::int32_t>(std::lround(p.y * unitsPerMm))};
            if (edges.corners.size() > first && edges.corners.back() == place) {
                edges.smooth.back() = edges.smooth.back() && smooth;
                return;
            }
            edges.corners.push_back(place);
            edges.smooth.push_back(smooth);
        };
        for (std::size_t i = 0; i < path.segments.size() && !far; ++i) {
            const Vec2 from = path.from(i);
            const auto& here = path.segments[i];
            const std::size_t before = i ? i - 1 : path.segments.size() - 1;
            const Vec2 arriving = tangentAt(path.from(before), path.segments[before], 1),
                       leaving = tangentAt(from, here, 0);
            // Straight on, or nearly: in a bend of two degrees a disc of 10 mm leaves 2 µm.
            put(from, dot(arriving, leaving) > 0 && std::abs(cross(arriving, leaving)) < 0.04);
            std::vector<Vec2> bends;
            flattenSegment(from, here, tolerance, [&](Vec2 p) { bends.push_back(p); });
            for (std::size_t k = 0; k + 1 < bends.size(); ++k) put(bends[k], true);
        }
        if (far)
            return Problem{.what = "It lies further than 10 m from the sheet's corner.",
                           .where = {},
                           .mend = "Move it onto the sheet."};
        while (edges.corners.size() > first + 1 && edges.corners.back() == edges.corners[first]) {
            edges.smooth[first] = edges.smooth[first] && edges.smooth.back();
            edges.corners.pop_back(), edges.smooth.pop_back();
        }
        if (edges.corners.size() < first + 3) { // no area
            edges.corners.resize(first), edges.smooth.resize(first);
            continue;
        }
        for (auto i = first; i < edges.corners.size(); ++i) edges.next.push_back(i + 1);
        edges.next.back() = first;
    }
    if (const auto at = clashIn(edges)) return crossing(*at);
    return edges;
}

AreaAxis axisOf(const AreaEdges& edges, double tolerance) {
    AreaAxis axis;
    const auto count = edges.corners.size();
    if (count < 3) return axis;
    using Point = boost::polygon::point_data<std::int32_t>;
    std::vector<boost::polygon::segment_data<std::int32_t>> sites;
    sites.reserve(count);
    std::vector<std::uint32_t> before(count);
    for (std::size_t i = 0; i < count; ++i) {
        const Place a = edges.corners[i], b = edges.corners[edges.next[i]];
        sites.emplace_back(Point(a.x, a.y), Point(b.x, b.y));
        before[edges.next[i]] = static_cast<std::uint32_t>(i);
    }
    boost::polygon::voronoi_diagram<double> diagram;
    boost::polygon::construct_voronoi(sites.begin(), sites.end(), &diagram);

    const auto start = [&](std::size_t i) { return vec(edges.corners[i]); };
    const auto end = [&](std::size_t i) { return vec(edges.corners[edges.next[i]]); };
    using Cell = boost::polygon::voronoi_diagram<double>::cell_type;
    /// Of a cell that belongs to a corner.
    const auto cornerOf = [&](const Cell* cell) {
        const auto i = cell->source_index();
        return cell->source_category() == boost::polygon::SOURCE_CATEGORY_SEGMENT_START_POINT
                   ? i
                   : std::size_t{edges.next[i]};
    };
    const auto isInside = [&](const Cell* cell, Vec2 p) {
        if (cell->contains_segment()) {
            const auto i = cell->source_index();
            return cross(end(i) - start(i), p - start(i)) > 0;
        }
        // A corner has room to itself only on the side where it stands out: inside if the area goes round it.
        const auto k = cornerOf(cell);
        return sideOf(edges.corners[before[k]], edges.corners[k], edges.corners[edges.next[k]]) < 0;
    };
    const auto toSite = [&](const Cell* cell, Vec2 p) {
        if (!cell->contains_segment()) return distance(p, start(cornerOf(cell)));
        const auto i = cell->source_index();
        const Vec2 along = end(i) - start(i);
        return std::abs(cross(along, p - start(i))) / length(along);
    };
    constexpr auto none = std::numeric_limits<std::uint32_t>::max();
    const auto* firstVertex = diagram.vertices().data();
    std::vector<std::uint32_t> node(diagram.vertices().size(), none);
    std::vector<std::uint32_t> dropped(diagram.vertices().size(), 0), kept(diagram.vertices().size(), 0);
    const auto place = [](const auto* v) { return Vec2{v->x(), v->y()} / unitsPerMm; };
    const auto indexOf = [&](const auto* v) { return static_cast<std::size_t>(v - firstVertex); };
    const auto nodeOf = [&](const auto* vertex, const Cell* cell) {
        auto& n = node[indexOf(vertex)];
        if (n == none) {
            n = static_cast<std::uint32_t>(axis.nodes.size());
            axis.nodes.push_back({place(vertex), toSite(cell, place(vertex))});
        }
        return n;
    };
    Bisector put(axis, tolerance);
    for (const auto& edge : diagram.edges()) {
        if (!edge.is_finite() || !edge.is_primary() || &edge > edge.twin()) continue; // each once
        const Cell *one = edge.cell(), *other = edge.twin()->cell();
        const Vec2 a = place(edge.vertex0()), b = place(edge.vertex1());
        if (!isInside(one->contains_segment() ? one : other, (a + b) / 2)) continue;
        const std::size_t v0 = indexOf(edge.vertex0()), v1 = indexOf(edge.vertex1());
        if (one->contains_segment() && other->contains_segment()) {
            const auto i = one->source_index(), k = other->source_index();
            if ((edges.next[i] == k && edges.smooth[k]) || (edges.next[k] == i && edges.smooth[i])) {
                ++dropped[v0], ++dropped[v1];
                continue;
            }
        }
        ++kept[v0], ++kept[v1];
        const auto from = nodeOf(edge.vertex0(), one), to = nodeOf(edge.vertex1(), one);
        if (one->contains_segment() == other->contains_segment()) {
            if (one->contains_segment())
                put.line(from, to);
            else
                put.between(from, to, start(cornerOf(one)));
            continue;
        }
        const Cell *segment = one->contains_segment() ? one : other, *point = segment == one ? other : one;
        const auto i = segment->source_index();
        put.parabola(from, to, start(cornerOf(point)), start(i), unit(end(i) - start(i)));
    }
    for (std::size_t v = 0; v < node.size(); ++v)
        if (dropped[v] > 2 && kept[v] == 0) {
            axis.spots.push_back(nodeOf(firstVertex + v, diagram.vertices()[v].incident_edge()->cell()));
        }
    return axis;
}

Result<AreaAxis> areaAxis(const std::vector<Path>& area, double tolerance) {
    const auto edges = areaEdges(area, tolerance);
    if (!edges) return edges.problem();
    return axisOf(*edges, tolerance);
}

Circle largestDisc(const std::vector<Path>& area) {
    Circle best{area.empty() ? Vec2{} : area.front().start, 0};
    const auto take = [&](Vec2 at, double radius) {
        if (radius > best.radius + 1e-9) best = {at, radius};
    };
    if (const auto axis = areaAxis(area, 0.01)) {
        for (const auto& node : axis->nodes) take(node.at, node.radius);
        if (best.radius > 0) return best;
    }
    // Edges that touch have no axis.
    constexpr double fine = 0.005;
    Rings rings;
    for (const auto& path : area) rings.push_back(flattened(path, fine));
    for (double step = 32, radius = 0; step > fine; step /= 2)
        if (const auto less = offset(rings, -(radius + step), {.tolerance = 0.004}); less && !less->empty()) {
            radius += step;
            take(less->front().front(), radius);
        }
    return best;
}

} // namespace ferro

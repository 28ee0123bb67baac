#include "geometry/medial_axis.h"

#include <boost/polygon/voronoi.hpp>

namespace ferro {

namespace {

struct Boundary {
    Ring points;
    std::vector<std::uint32_t> ring;        // of each point
    std::vector<std::uint32_t> first, last; // of each ring
    std::vector<double> along;              // from the ring's first point
    std::vector<double> total;              // of each ring

    explicit Boundary(const Rings& rings) {
        for (const auto& r : rings) {
            if (r.size() < 3) continue;
            first.push_back(static_cast<std::uint32_t>(points.size()));
            double sum = 0;
            for (std::size_t i = 0; i < r.size(); ++i) {
                if (i) sum += distance(r[i - 1], r[i]);
                points.push_back(r[i]);
                along.push_back(sum);
                ring.push_back(static_cast<std::uint32_t>(total.size()));
            }
            total.push_back(sum + distance(r.back(), r.front()));
            last.push_back(static_cast<std::uint32_t>(points.size() - 1));
        }
    }
    [[nodiscard]] std::size_t next(std::size_t i) const { return i == last[ring[i]] ? first[ring[i]] : i + 1; }
    [[nodiscard]] std::size_t before(std::size_t i) const { return i == first[ring[i]] ? last[ring[i]] : i - 1; }
    /// `p`, to which point `i` is the nearest: between the two stretches that meet there, on the inner side.
    [[nodiscard]] bool isInside(Vec2 p, std::size_t i) const {
        const Vec2 at = points[i], in = at - points[before(i)], out = points[next(i)] - at;
        const bool leftOfIn = cross(in, p - at) > 0, leftOfOut = cross(out, p - at) > 0;
        return cross(in, out) >= 0 ? leftOfIn && leftOfOut : leftOfIn || leftOfOut;
    }
    [[nodiscard]] double residual(std::size_t i, std::size_t k) const {
        if (ring[i] != ring[k]) return std::numeric_limits<double>::infinity();
        const double way = std::abs(along[i] - along[k]);
        return std::min(way, total[ring[i]] - way) - distance(points[i], points[k]);
    }
};

} // namespace

MedialAxis medialAxis(const Rings& rings, double leastResidual) {
    const Boundary boundary(rings);
    MedialAxis axis;
    if (boundary.points.size() < 4) return axis;
    Box box;
    for (const Vec2 p : boundary.points) box.take(p);
    // As fine as whole numbers of 2^26 allow: far finer than what any boundary means.
    const double scale = std::min(1024.0, double(1 << 26) / std::max({box.width(), box.height(), 1.0}));
    using Point = boost::polygon::point_data<int>;
    std::vector<Point> sites;
    sites.reserve(boundary.points.size());
    for (const Vec2 p : boundary.points)
        sites.emplace_back(static_cast<int>(std::lround((p.x - box.low.x) * scale)),
                           static_cast<int>(std::lround((p.y - box.low.y) * scale)));
    boost::polygon::voronoi_diagram<double> diagram;
    boost::polygon::construct_voronoi(sites.begin(), sites.end(), &diagram);

    constexpr auto none = std::numeric_limits<std::uint32_t>::max();
    const auto* firstVertex = diagram.vertices().data();
    std::vector<std::uint32_t> node(diagram.vertices().size(), none);
    const auto nodeOf = [&](const auto* vertex, std::size_t site) {
        auto& n = node[static_cast<std::size_t>(vertex - firstVertex)];
        if (n == none) {
            n = static_cast<std::uint32_t>(axis.nodes.size());
            const Vec2 at = Vec2{vertex->x(), vertex->y()} / scale + box.low;
            axis.nodes.push_back({at, distance(at, boundary.points[site])});
        }
        return n;
    };
    for (const auto& edge : diagram.edges()) {
        if (!edge.is_finite() || &edge > edge.twin()) continue; // each once
        const std::size_t i = edge.cell()->source_index(), k = edge.twin()->cell()->source_index();
        if (boundary.next(i) == k || boundary.next(k) == i) continue; // it crosses the boundary
        const auto place = [&](const auto* v) { return Vec2{v->x(), v->y()} / scale + box.low; };
        const Vec2 a = place(edge.vertex0()), b = place(edge.vertex1());
        if (!boundary.isInside((a + b) / 2, i)) continue;
        const double residual = boundary.residual(i, k);
        if (residual < leastResidual) continue;
        axis.edges.push_back({nodeOf(edge.vertex0(), i), nodeOf(edge.vertex1(), i), residual});
    }
    return axis;
}

} // namespace ferro

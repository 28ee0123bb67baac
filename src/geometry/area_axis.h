#pragma once

#include "base/result.h"
#include "geometry/path.h"

#include <cstdint>

namespace ferro {

/// The middles of all discs that touch the edge of an area in two places or more, as a graph: its medial axis.
struct AreaAxis {
    struct Node {
        Vec2 at;
        double radius; ///< of the disc, mm; 0 in sharp corners
    };
    struct Edge {
        std::uint32_t a, b; ///< nodes; place and radius go evenly from one to the other
    };
    std::vector<Node> nodes;
    std::vector<Edge> edges;
    std::vector<std::uint32_t> spots; ///< middles of discs that are an area by themselves
};

/// The medial axis of the area on the left of closed paths (outlines counter-clockwise, openings clockwise), from the
/// Voronoi diagram of their segments (Fortune 1987 as in Boost.Polygon; the axis as its part inside, Lee 1982). Curves
/// are flattened, `tolerance` mm, above 0; the corners of that are no corners: no branch leads to them. Parabolas are
/// lines within half the tolerance. A problem where edges cross or lie on each other, or beyond 10 m. Deterministic.
[[nodiscard]] Result<AreaAxis> areaAxis(const std::vector<Path>& area, double tolerance);

/// The largest disc in such an area; where there is none, of radius 0 at the start of its first path. Edges may touch:
/// then it is found by shrinking the area, within 0.01 mm.
[[nodiscard]] Circle largestDisc(const std::vector<Path>& area);

/// The edges that it is made from, for whoever judges what it costs: 10 nm are one unit.
struct AreaEdges {
    struct Place {
        std::int32_t x, y;
        friend bool operator==(const Place&, const Place&) = default;
    };
    std::vector<Place> corners;
    std::vector<std::uint32_t> next; ///< the corner that the edge from this one leads to
    std::vector<char> smooth;        ///< stands for a bend
};
[[nodiscard]] Result<AreaEdges> areaEdges(const std::vector<Path>& area, double tolerance);
[[nodiscard]] AreaAxis axisOf(const AreaEdges& edges, double tolerance);

} // namespace ferro

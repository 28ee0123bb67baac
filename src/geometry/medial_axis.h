#pragma once

#include "base/progress.h"
#include "geometry/path.h"

#include <cstdint>

namespace ferro {

/// The middles of the largest discs that fit into an area, as a graph.
struct MedialAxis {
    struct Node {
        Vec2 at;
        double radius; ///< of the disc
    };
    struct Edge {
        std::uint32_t a, b; ///< nodes
        /// How much longer the way between the two touching points is along the boundary than straight across: near 0
        /// for an edge that leads to a ripple of the boundary, infinite where the two lie on different rings.
        double residual;
    };
    std::vector<Node> nodes;
    std::vector<Edge> edges;
};

/// From points along the boundary: the Voronoi edges of the points that lie inside and do not cross the boundary
/// (Brandt & Algazi 1992; residuals after Ogniewicz & Kübler 1995). Outlines run counter-clockwise, openings
/// clockwise; points must lie nearer together than the area is wide, and more than 0.01 apart. Deterministic.
[[nodiscard]] MedialAxis medialAxis(const Rings& rings, double leastResidual);

} // namespace ferro

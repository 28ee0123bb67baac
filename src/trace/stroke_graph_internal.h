#pragma once

#include "geometry/medial_axis.h"

#include <array>

namespace ferro::trace {

/// A place on a stroke's axis: where, and half the ink's width there.
struct AxisPoint {
    Vec2 at;
    double radius;
};
using AxisLine = std::vector<AxisPoint>;

/// The strokes' axis as branches between junctions.
struct StrokeGraph {
    static constexpr int none = -1;
    struct Branch {
        AxisLine line;
        std::array<int, 2> junction{none, none}; ///< at its two ends; none: a free end
        bool loop = false;                       ///< closed, without a junction
    };
    struct Junction {
        Vec2 at;
        double radius;
    };
    std::vector<Branch> branches;
    std::vector<Junction> junctions;
};

/// Drops the spurs and follows what is left from junction to junction.
[[nodiscard]] StrokeGraph strokeGraph(const MedialAxis& axis);

/// The strokes themselves: branches joined across the junctions they cross. Free ends are not led on yet: `free` tells
/// which of a line's two ends are.
struct Stroke {
    AxisLine line;
    bool closed = false;
    std::array<bool, 2> free{false, false};
};
[[nodiscard]] std::vector<Stroke> strokesOf(const StrokeGraph& graph);

} // namespace ferro::trace

#pragma once

#include "geometry/path.h"

#include <span>

namespace ferro::trace {

struct FitSettings {
    double tolerance = 0.3;     ///< px, above 0: how far a curve may leave the line it stands for
    double cornerTurn = pi / 6; ///< radians, 0 to π: a bend of more than this in one place stays a corner
    double blur = 1;            ///< 1 or more: how many times softer than a sharp scan the edge is
    double grainy = 0;          ///< px: the tolerance for an edge with a grain of its own, where that is more
    double round = 0;           ///< px: an outline that keeps this near to a circle is one
    bool mayCross = false;      ///< a stroke may cross itself, an edge is followed more closely where it would
};

/// A closed level line as lines, arcs and cubics, px in and out. Corners are found where two straight arms meet
/// nearer to the line than any rounding would let them, and put where those arms meet, not where blur has worn them
/// down; straight runs become one line each, by least squares; a whole circle two arcs; what is left between becomes
/// an arc or smoothly joined cubics (Schneider 1990). `closed` runs the way the points run. Points about a pixel apart
/// or nearer, 3 at least.
/// `corners`: which of the points are known to be tips of corners, beside those that are found.
[[nodiscard]] Path fittedOutline(const Ring& closed, const FitSettings& settings,
                                 std::span<const std::size_t> corners = {});
/// The same for a line with two ends, which stay where they are; 2 points at least.
[[nodiscard]] Path fittedLine(const Ring& open, const FitSettings& settings);

} // namespace ferro::trace

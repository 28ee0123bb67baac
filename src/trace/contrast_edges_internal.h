#pragma once

#include "geometry/path.h"

#include <functional>

namespace ferro::trace {

/// A line of an edge's points on its way to be finished: px, y down, pixels' middles on whole numbers, dark to the left
/// as seen with y up.
struct EdgeLine {
    Ring points;
    bool closed = false;
    double step = 0, slope = 0; ///< of a ContrastEdge
};

/// Puts lines together. Ends near each other are two arms of one corner, because the linking of points does not turn
/// so sharply; an end that goes under a drawn line (`hidden`) goes on where one comes out ahead of it; a line that runs
/// across itself with its last few points ends there; an end on its way to another line is led up to it.
[[nodiscard]] std::vector<EdgeLine> joinedEdges(std::vector<EdgeLine> lines, const std::function<bool(Vec2)>& hidden);

} // namespace ferro::trace

#pragma once

#include "geometry/path.h"

#include <span>

namespace ferro {

/// Lines and arcs through a chain of points: fewest greedily, each within `tolerance` mm of every point it replaces and
/// within a quarter more of the straight stretches between them. Ends of segments are points of the chain, so closed
/// stays closed. A closed ring is begun at its sharpest corner, or at its longest stretch when it has none. Arcs turn
/// by at most half a turn.
[[nodiscard]] Path arcFitted(const Ring& points, bool closed, double tolerance);
/// The chain as one arc through its two ends, of at most half a turn, each point within `tolerance` mm of it and each
/// stretch between two within a quarter more; none when there is no such arc.
[[nodiscard]] std::optional<Segment> arcThrough(std::span<const Vec2> chain, double tolerance);
/// The circle nearest to some points (Kåsa 1976: linear in the centre and r² - |c|²); none for points on a line.
[[nodiscard]] std::optional<Circle> circleThrough(std::span<const Vec2> points);
/// Cubics become lines and arcs within `tolerance` mm; lines and arcs stay as they are.
[[nodiscard]] Path withoutCubics(const Path& path, double tolerance);

} // namespace ferro

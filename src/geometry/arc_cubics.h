#pragma once

#include "geometry/path.h"

namespace ferro {

/// An arc as even cubics of at most `mostTurn` radians each: off by 2.7e-4 of the radius at a quarter turn, by 4e-9 at
/// a sixteenth.
[[nodiscard]] std::vector<Segment> arcAsCubics(Vec2 from, const Segment& arc, double mostTurn);

} // namespace ferro

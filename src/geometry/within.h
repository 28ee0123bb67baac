#pragma once

#include "geometry/path.h"

namespace ferro {

/// Whether an outline, or a line, lies within an area and on none of its openings; flush with an edge of it is within.
/// What is beyond by less than a micron for all of its length does not count. Far-off coordinates lie in nothing.
[[nodiscard]] bool liesWithin(const Path& outline, const Piece& area);

} // namespace ferro

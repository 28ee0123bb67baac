#pragma once

#include "geometry/vec.h"

#include <span>
#include <vector>

namespace ferro {

/// The corners of what lies outermost, counter-clockwise from the leftmost, as indices (monotone chain, Andrew 1979).
/// Of less than three places there is none.
[[nodiscard]] std::vector<std::size_t> hullOf(std::span<const Vec2> places);

} // namespace ferro

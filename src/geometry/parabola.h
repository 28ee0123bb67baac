#pragma once

#include "geometry/vec.h"

#include <array>
#include <optional>
#include <span>

namespace ferro {

/// The parabola y = c[0] + c[1] x + c[2] x² nearest to points by least squares in y; none if they do not tell one, as
/// under three do not, or all at two places of x.
[[nodiscard]] std::optional<std::array<double, 3>> parabolaThrough(std::span<const Vec2> points);

} // namespace ferro

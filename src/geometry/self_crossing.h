#pragma once

#include "geometry/path.h"

#include <optional>

namespace ferro {

/// Where a line first crosses itself, by its points; touching ends of neighbours do not count.
[[nodiscard]] std::optional<Vec2> selfCrossing(const Ring& points, bool closed);

/// Where a path crosses itself, its curves flattened to `tolerance` (its unit, above 0). Most closed paths cost next to
/// nothing, for how they turn shows that they are simple; one in some thousands that cross themselves more than once is
/// taken for simple, which the points above never are.
[[nodiscard]] std::optional<Vec2> selfCrossing(const Path& path, double tolerance);

} // namespace ferro

#pragma once

#include "geometry/path.h"

#include <optional>
#include <span>

namespace ferro {

/// A straight side of a closed path, from corner to corner as if its corners were sharp.
struct StraightSide {
    std::size_t segment = 0; ///< of the path
    Vec2 from, to;           ///< where there is no corner, the segment's own end
    bool cornered = false;   ///< joined with the next side by a corner, sharp or rounded by one arc
    [[nodiscard]] Vec2 along() const { return unit(to - from); }
    [[nodiscard]] double length() const { return distance(from, to); }
};
/// In the order of the path, which should hold no two sides on one line (see `withoutSeams`); empty when it is open.
[[nodiscard]] std::vector<StraightSide> sidesOf(const Path& path);
/// A closed path without the points that lie on a straight line between their neighbours, begun at a point that is
/// none.
[[nodiscard]] Path withoutSeams(const Path& path);
/// The path with each side moved to its left by so many mm, its corners and what rounds them along; `shifts` has a
/// value for each side. None where a side that moves is not cornered, or where its corners would run over each other.
[[nodiscard]] std::optional<Path> withSidesShifted(const Path& path, std::span<const StraightSide> sides,
                                                   std::span<const double> shifts);

} // namespace ferro

#pragma once

#include "geometry/path.h"

namespace ferro::mend {

/// Two ends of open paths that lie near each other. End 0 is a path's start, 1 its end.
struct Gap {
    std::size_t first, second; ///< paths; the same for one that only has to be closed
    int firstEnd, secondEnd;
    double size; ///< mm
    Vec2 at;     ///< the middle
};

/// The pairs of ends within `reach` mm that belong together: nearest first, each end in one pair at most. A path is
/// closed onto itself only when it is longer than three times the gap; straight ends that would run back along each
/// other do not belong together.
[[nodiscard]] std::vector<Gap> gapsBetween(const std::vector<Path>& paths, double reach);

struct Chain {
    Path path;
    std::vector<std::size_t> from; ///< the paths it was made of, in its order
};
/// Joins open paths at their gaps, turning some round, and closes what comes back to itself. Where two cross
/// at their ends they are trimmed to the crossing, two lines are led to where they meet, ends that differ by no more
/// than a hundredth of a millimetre become one point where no arc ends there; other gaps get a straight line.
/// Closed paths are left out. Order: by the first path of each.
[[nodiscard]] std::vector<Chain> chained(const std::vector<Path>& paths, double reach);

} // namespace ferro::mend

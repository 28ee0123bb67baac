#pragma once

#include "toolpath/work_internal.h"

#include <span>

namespace ferro::toolpath {

/// The straight stretches along which the tool's ways round two parts are the same: parts that lie as far apart as the
/// tool is wide. One cut serves both.
struct SharedEdges {
    struct Line {
        Vec2 from, to;
        std::vector<std::size_t> contours; ///< that it is beside, ascending
    };
    std::vector<Line> lines; ///< each on its support as long as can be: on over crossings, where no part is in the way
    struct Part {
        std::size_t contour;
        std::vector<Path> rest; ///< open ways that are left of it, in their order; none: the lines are all of it
    };
    std::vector<Part> parts; ///< that share, by contour
};
/// A contour and the closed way of the tool's axis round it; all wound alike.
using WayRound = std::pair<std::size_t, Path>;
/// `width`: mm, of the tool. Ways that lie within 0.01 mm of each other are the same, over 5 mm at least.
[[nodiscard]] Result<SharedEdges> sharedEdges(std::span<const WayRound> ways, double width, const Keepout& keepout);

} // namespace ferro::toolpath

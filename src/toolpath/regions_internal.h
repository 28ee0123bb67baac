#pragma once

#include "toolpath/work_internal.h"

namespace ferro::toolpath {

/// An area that a step is to work on, with what stands in it.
struct Region {
    std::size_t outer = 0;            ///< its outline, index into the contours
    std::vector<std::size_t> islands; ///< likewise
    std::vector<Path> edges;          ///< of both, the area on their left

    [[nodiscard]] Rings flat() const; ///< within `sampling`
};

/// Which of the taken contours bound one area together: those at an even depth among them with what lies right in them.
[[nodiscard]] std::vector<Region> regionsOf(const StepWork& work);
/// Where steps before have drilled wide enough for the tool and as deep as `bottom`, with the hole's full width.
[[nodiscard]] std::vector<Vec2> drilledBefore(const StepWork& work, double bottom);
/// What steps before have cleared at least so deep.
[[nodiscard]] Result<Rings> clearedBefore(const StepWork& work, double bottom);

} // namespace ferro::toolpath

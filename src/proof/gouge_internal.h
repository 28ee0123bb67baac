#pragma once

#include "base/progress.h"
#include "proof/meant_internal.h"

namespace ferro::proof {

/// Where something is cut that is to stay.
struct Gouge {
    double depth = 0; ///< mm
    Vec2 at;
};

/// The deepest cut into a part, or below what its step is for. `wanted`: the contours that are cut beside. Cancelled: a
/// problem.
[[nodiscard]] Result<Gouge> worstGouge(const toolpath::Toolpath& path, const Meanings& meant,
                                       const std::vector<Reach>& ways, const std::vector<std::size_t>& wanted,
                                       const Areas& areas, Progress& progress);

} // namespace ferro::proof

#pragma once

#include "geometry/area_axis.h"

namespace ferro::toolpath {

/// A run of places with the radius of the area there.
using Trail = std::vector<AreaAxis::Node>;

/// The stretches of an axis where the area's radius lies between two, as few runs as there can be: from ends and
/// junctions of an odd number of branches, straight on where there is a choice (an Euler trail of each part, Hierholzer
/// 1873, cut where it would go twice). Runs begin at the surface where they can. Places within `tolerance` mm of the
/// line between others are left out. Nearest next. Spots are runs of one place.
[[nodiscard]] std::vector<Trail> trailsOf(const AreaAxis& axis, double least, double most, double tolerance);

} // namespace ferro::toolpath

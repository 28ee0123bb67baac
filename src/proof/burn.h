#pragma once

#include "proof/removal.h"

namespace ferro::proof {

/// How dark a beam leaves each cell of a grid, 0 as it was to 1 charred: by the light that fell on it (power over feed,
/// spread over the beam's width, summed over all lines and passes), against what a scribed line of the material gets,
/// which comes out at three quarters. Up to `until` seconds when timing is given. Nothing where there is no beam.
[[nodiscard]] Result<HeightGrid> darknessOf(const HeightGrid& like, const toolpath::Toolpath& path,
                                            const shop::Material& material, Progress& progress,
                                            const Timing* timing = nullptr, double until = 1e300);

} // namespace ferro::proof

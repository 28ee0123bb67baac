#pragma once

#include "trace/trace_internal.h"

namespace ferro::trace {

/// A picture of flat colours as areas, px in and out. The borders between two colours are traced once, to a fraction of
/// a pixel by how the two mix along them, and fitted once: neighbours share them point by point, without a gap and
/// without an overlap. They begin and end where three colours meet and at the picture's corners. Separate: the areas
/// lie beside each other. Stacked: each goes on under those that lie on it.
[[nodiscard]] Result<Traced> tracedColours(const picture::Picture& picture, const PixelSettings& settings,
                                           Progress& progress);

} // namespace ferro::trace

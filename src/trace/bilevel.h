#pragma once

#include "trace/trace.h"

namespace ferro::trace {

/// Pieces from a picture that is only black and white, where no grey says where between two pixels an edge lies:
/// libpotrace (Selinger 2003) smooths the stairs. px in and out; settings in px and px². `level`: greys below are dark.
[[nodiscard]] Result<Traced> tracedBilevel(const picture::Grey& grey, int level, const Settings& inPx,
                                           Progress& progress);

} // namespace ferro::trace

#pragma once

#include "base/progress.h"
#include "geometry/path.h"

namespace ferro::mend {

/// A stretch of an open line that lies on another line, or on an earlier stretch of its own.
struct Overlap {
    std::size_t line, on;
    double from, to; ///< mm along the first
};

/// All of them, by line and along it. Of two open lines the shorter gives way, of two alike the later; closed lines do
/// not. `left`: lines that are not looked at. Shorter than half a millimetre does not count, but at an end of the line,
/// where four tolerances do. Empty when cancelled.
[[nodiscard]] std::vector<Overlap> overlapsOf(const std::vector<Path>& lines, const std::vector<bool>& left,
                                              double tolerance, const Progress& progress);

} // namespace ferro::mend

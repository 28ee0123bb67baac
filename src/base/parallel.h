#pragma once

#include "base/progress.h"

#include <cstddef>
#include <functional>

namespace ferro {

/// Calls `body(i)` for every i below `count`, on all cores, in no particular order: write results by index.
/// Stops early, without the rest of the calls, when `progress` is cancelled.
void parallelFor(std::size_t count, const Progress& progress, const std::function<void(std::size_t)>& body);

/// Calls `body(begin, end)` for slices of [0, count) of about `grain`; for bodies too small for a call each.
void parallelSlices(std::size_t count, std::size_t grain, const std::function<void(std::size_t, std::size_t)>& body);

} // namespace ferro

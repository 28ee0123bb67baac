#include "base/parallel.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

namespace ferro {

void parallelFor(std::size_t count, const Progress& progress, const std::function<void(std::size_t)>& body) {
    tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) {
        if (!progress.cancelled()) body(i);
    });
}

void parallelSlices(std::size_t count, std::size_t grain, const std::function<void(std::size_t, std::size_t)>& body) {
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, grain),
                      [&](const tbb::blocked_range<std::size_t>& slice) { body(slice.begin(), slice.end()); });
}

} // namespace ferro

#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace ferro::picture::pixels {

struct Run {
    int row, begin, end; ///< columns begin to end - 1
};
struct Speck {
    bool dark;
    std::vector<Run> runs; ///< from the top
};
/// Patches of pixels under `level`, or not under it, that touch each other also by corners and are smaller than `least`
/// pixels; dark ones first, each kind by its first pixel. Runs of each row are joined with those of the row above (He,
/// Chao & Suzuki 2008): the time hardly depends on how many patches there are.
[[nodiscard]] std::vector<Speck> specksIn(std::span<const std::uint8_t> pixels, int width, int height, int level,
                                          double least);

} // namespace ferro::picture::pixels

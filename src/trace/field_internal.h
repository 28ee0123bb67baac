#pragma once

#include "trace/trace.h"

namespace ferro::trace {

/// In a field what is sought is dark: greys below this belong to it.
inline constexpr int fieldLevel = 128;

/// The level that a setting means in this picture, found or given.
[[nodiscard]] int levelOf(const picture::Grey& grey, const Settings& settings);

/// The picture turned so that what the settings seek lies below `fieldLevel`, as far below as the grey is from where it
/// would not be sought: level, light on dark, a band of greys, but not where dark goes over into light and only passes
/// it. Its slopes are the picture's, so that edges stay where they are to a fraction of a pixel.
[[nodiscard]] picture::Grey fieldOf(const picture::Grey& grey, const Settings& settings);

/// Which patch each pixel lies in, the later over the earlier: 0 none, else the patch's number from 1.
[[nodiscard]] Result<std::vector<std::uint8_t>> patchMap(int width, int height, double pxPerMm,
                                                         const std::vector<Patch>& patches);

} // namespace ferro::trace

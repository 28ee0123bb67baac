#pragma once

#include "picture/pixel_work.h"

namespace ferro::picture::pixels {

/// What the module does; see `PixelWork`.
[[nodiscard]] Result<Cleaned> cleaned(const Picture& original, const std::vector<CleanStep>& steps, double pxPerMm,
                                      Progress& progress);
[[nodiscard]] Reduced reduced(const Picture& picture, double pxPerMm, std::size_t pixels);
[[nodiscard]] std::vector<std::uint8_t> areaMap(int width, int height, const Rings& areas);
[[nodiscard]] DrawnApart drawnApart(const Grey& grey, double widest, double least);

} // namespace ferro::picture::pixels

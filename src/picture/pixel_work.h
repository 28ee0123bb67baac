#pragma once

#include "picture/clean.h"

namespace ferro::picture {

/// A picture's drawn lines, dark ones and light ones.
struct DrawnApart {
    Grey lines;                      ///< dark where a line is, whatever its ground; half way at its edge
    std::vector<std::uint8_t> under; ///< not 0 where one lies, or within 3 px of it
};

/// The work on pixels that the vision library does. With all that it draws in it would make every start a fifth longer;
/// so it is a module beside the program, loaded when it is first needed.
struct PixelWork {
    Result<Cleaned> (*cleaned)(const Picture&, const std::vector<CleanStep>&, double, Progress&);
    Reduced (*reduced)(const Picture&, double, std::size_t);
    std::vector<std::uint8_t> (*areaMap)(int, int, const Rings&);
    DrawnApart (*drawnApart)(const Grey&, double, double);
};
/// A problem when the module is not there.
[[nodiscard]] Result<const PixelWork*> pixelWork();

/// Which area each pixel's middle lies in, the later over the earlier: 0 none, else its number from 1 (at most 255).
/// Corners in px, y down.
[[nodiscard]] Result<std::vector<std::uint8_t>> areaMap(int width, int height, const Rings& areas);

/// `widest` px: what is wider counts as an area with an edge to either side. `least`: greys that a line must differ by
/// from what it is drawn on.
[[nodiscard]] Result<DrawnApart> drawnApart(const Grey& grey, double widest, double least);

} // namespace ferro::picture

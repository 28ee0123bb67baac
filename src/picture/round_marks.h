#pragma once

#include "geometry/vec.h"
#include "picture/picture.h"

namespace ferro::picture {

/// A dark round mark on light ground.
struct RoundMark {
    Vec2 at;           ///< px from the upper left corner of the picture, y down; a pixel's middle at a half
    double radius = 0; ///< px, of the circle of as much area
};

/// All dark ellipses of a picture that stand alone on lighter ground, not thinner than half as long, from `least` px
/// across and up to a twenty-fourth of the picture's shorter side; in the order of their first pixels, row by row.
/// Whatever is darker than two thirds of the ground about it is looked at; the middle is the centroid of how much
/// darker than the paper each pixel is, the paper taken to change evenly across, so that blur, light and noise do not
/// shift it (within a thirtieth of a pixel from 12 px across on, grain of 2 greys).
[[nodiscard]] std::vector<RoundMark> roundMarksIn(const Grey& grey, double least = 6);

} // namespace ferro::picture

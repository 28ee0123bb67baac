#pragma once

#include "geometry/vec.h"
#include "picture/picture.h"

namespace ferro::standin {

/// How a printed sheet lies on the bed: what is drawn at p lies at shift + turn(skew(size(p))).
struct Lying {
    Vec2 shift;      ///< mm
    double turn = 0; ///< radians, counter-clockwise, about the sheet's lower left
    double wider = 1, higher = 1;
    double skew = 0; ///< radians that the upright leans to the left
    [[nodiscard]] Transform map() const;
};
/// A camera over the bed, a pinhole with a lens before it.
struct Eye {
    int width = 2400, height = 1800; ///< px
    Vec2 over{150, 100};             ///< mm on the bed that it looks at
    double high = 500;               ///< mm above it
    double wide = 340;               ///< mm of the bed across the picture
    double tilt = 0, roll = 0;       ///< radians: leaning back, and about the way it looks
    double bend = 0;                 ///< of the lens: at the picture's corner this share is added
    double blur = 0.8, noise = 0;    ///< px and greys, standard deviations
    double gloom = 0;                ///< 0 to 1: how much darker the lower left is than the upper right
    unsigned seed = 1;
};

/// What it sees of a page (its grey, drawn from the lower left of the sheet, so many px a mm) on a bed of middle grey.
/// The same on every machine.
[[nodiscard]] picture::Grey photographed(const picture::Grey& page, double pxPerMm, const Lying& lying, const Eye& eye);

} // namespace ferro::standin

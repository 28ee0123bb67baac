#pragma once

#include "base/progress.h"
#include "geometry/path.h"
#include "picture/picture.h"

namespace ferro::trace {

/// What a pixel may say instead of how much an edge must differ by.
inline constexpr std::uint8_t notSought = 0, underLine = 255;

/// A line along which greys change.
struct ContrastEdge {
    Ring points; ///< px, y up, lower left of the picture at 0,0; about one apart; the dark lies to the left
    bool closed = false;
    double step = 0;  ///< greys that the two sides differ by, on the mean
    double slope = 0; ///< mean steepness across it, greys per px
};

/// Where the greys change most, to a fraction of a pixel: local maxima of the gradient of the softened picture, along
/// it between pixels, linked to lines by where they point (Devernay 1995; Grompone von Gioi & Randall, IPOL 2017), then
/// each point moved to where the grey is half way between its two sides. Ends that meet are joined, an end on another
/// line is led up to it. `least`: for each pixel the greys, 1 to 254, that its sides must differ by; `notSought` and
/// `underLine`: no edge is looked for there, but under a drawn line what comes out on its other side goes on. Order: by
/// the first point from the top row down. The same for any number of threads; empty when cancelled.
[[nodiscard]] std::vector<ContrastEdge> contrastEdges(const picture::Grey& grey, const std::vector<std::uint8_t>& least,
                                                      const Progress& progress);

} // namespace ferro::trace

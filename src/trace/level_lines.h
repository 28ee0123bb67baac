#pragma once

#include "base/progress.h"
#include "geometry/path.h"
#include "picture/picture.h"

namespace ferro::trace {

/// A closed line along which the grey picture crosses the level.
struct LevelLine {
    Ring points;      ///< px, y up, lower left of the picture at 0,0; dark lies to the left
    double area = 0;  ///< px², above 0 round the dark, below 0 round an opening
    double slope = 0; ///< mean steepness across it, greys per px
    int parent = -1;  ///< index of the line next round it
};

/// All level lines, by marching squares over the pixels' middles (Lorensen & Cline 1987, in two dimensions): the greys
/// say where between two pixels the edge lies, by the area they cover where both sides are even, else by interpolation.
/// A saddle joins its dark corners when the mean of its four is dark. What runs off the picture is closed along its
/// edge. Order: from the top row down, left to right. `level`: greys below it are dark; `invert` swaps dark and light.
/// Empty when cancelled.
[[nodiscard]] std::vector<LevelLine> levelLines(const picture::Grey& grey, double level, bool invert,
                                                const Progress& progress);

} // namespace ferro::trace

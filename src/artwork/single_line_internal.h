#pragma once

#include "geometry/path.h"

namespace ferro::artwork {

struct SingleLineGlyph {
    std::vector<Path> paths; ///< at a cap height of 1, the baseline at y = 0
    double advance = 0;
};
/// The glyphs of a single-line face in the form of J. Hurt's distribution of A. V. Hershey's fonts, by their order from
/// the blank on: five digits, three digits of how many pairs, then pairs of letters, the first the sides; " R" lifts.
[[nodiscard]] std::vector<SingleLineGlyph> singleLineGlyphs(std::string_view file);

} // namespace ferro::artwork

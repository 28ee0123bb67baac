#pragma once

#include "formats/svg_style_internal.h"
#include "geometry/path.h"

namespace ferro::formats {

struct SvgLetters {
    std::vector<Piece> pieces; ///< placed
    std::string notice;        ///< what face they are in, or why there are none; empty for no words
};
/// Words in the nearest of our faces, beginning (or with their middle, or ending) at `place`'s origin. `size`: of an
/// em, in user units, in which y runs down.
[[nodiscard]] SvgLetters svgLetters(std::string words, const SvgStyle& style, double size, const Transform& place);

} // namespace ferro::formats

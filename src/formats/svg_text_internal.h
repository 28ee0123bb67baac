#pragma once

#include "formats/drawing.h"
#include "formats/svg_shapes_internal.h"
#include "formats/svg_style_internal.h"

namespace ferro::formats {

/// Words of a text that stand in one row and one style.
struct SvgRun {
    std::string words;
    SvgStyle style;
    std::optional<Vec2> at;    ///< where they begin, user units; none: after the run before
    Vec2 shift;                ///< from there
    std::optional<Path> along; ///< the line they stand on, user units
};

/// The runs of a text element: spans, places of single letters, paths to stand on. Blanks in a row are one. `find`: the
/// element of an id.
[[nodiscard]] std::vector<SvgRun> svgRuns(const pugi::xml_node& text, const SvgStyle& style, const SvgStyles& styles,
                                          const SvgScale& scale,
                                          const std::function<pugi::xml_node(std::string_view)>& find);

struct SvgLetters {
    std::vector<Piece> pieces; ///< placed
    double advance = 0;        ///< user units from their beginning to where the next word begins
    std::string notice;        ///< what face they are in, or why there are none; empty for no words
};
/// A run in the face it names where `find` knows it, else in the nearest of ours, beginning (or with its middle, or
/// ending) at `place`'s origin, or along its own line in `place`'s units, in which y runs down.
[[nodiscard]] SvgLetters svgLetters(const SvgRun& run, const Transform& place, const FaceFinder& find);

} // namespace ferro::formats

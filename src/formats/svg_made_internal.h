#pragma once

#include "formats/svg_shapes_internal.h"
#include "formats/svg_style_internal.h"

namespace ferro::formats {

/// What one element has given, before it is clipped: mm, y up.
struct Made {
    std::vector<Piece> pieces;
    std::string layer, name; ///< no layer: of none that the file names
    std::string paint;       ///< what it is filled with, as it is written
    std::string colour;      ///< "#rrggbb" of its line, else of its fill; empty when it is another
    bool stroked = false;
};

/// Where something shows.
using Area = std::vector<Piece>;
[[nodiscard]] Area areaOfBox(const Box& box, const Transform& place);

/// Takes away what lies outside an area, and what has nothing left. False where it lies too far off for that.
bool clipTo(std::vector<Made>& made, const Area& area);

[[nodiscard]] Box boundsOf(const std::vector<Made>& made, const Transform& by);
/// From the unit square onto the bounds of what was drawn, in the coordinates that `place` takes to it. None where they
/// have no area.
[[nodiscard]] std::optional<Transform> ontoBounds(const std::vector<Made>& made, const Transform& place);

/// How light a mask's paint is, 0 to 1; none for shades.
[[nodiscard]] std::optional<double> lightOf(const std::string& paint);

/// What the stroke of some lines covers, worked out as large as it comes out, so that it is as exact. Nothing for a
/// stroke of no width.
[[nodiscard]] Result<std::vector<Piece>> strokeArea(const std::vector<Path>& paths, const Transform& place,
                                                    const SvgStyle& style, const SvgScale& scale);

} // namespace ferro::formats

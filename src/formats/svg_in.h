#pragma once

#include "formats/drawing.h"

#include <functional>

namespace ferro::formats {

struct SvgOptions {
    bool strokesAsOutlines = false; ///< what is stroked comes in as the area that the stroke covers
    /// The bytes of a linked picture by its name; without it linked pictures are left out.
    std::function<std::optional<std::string>(std::string_view)> linked = {};
    /// The file of a face by its family; without it, or where it knows none, texts are set in our own faces.
    FaceFinder face = {};
};

/// Reads the static geometry of an SVG drawing (SVG 1.1 and 2): paths, shapes, nested transforms, units, viewBox with
/// preserveAspectRatio, nested svg, use and symbol, switch, style sheets in the file with their selectors, style
/// attributes, display and visibility, fill rules, clip paths and masks without shades; embedded pictures; text, in
/// rows, letter by letter and along paths, set in the face they name where it
/// is found, else in ours, and told so. Lengths without a unit are CSS pixels, 96 to
/// the inch. Groups next to the root become layers by their label or id, in the colour that all on them have. What is
/// left out is told as a notice. The whole is refused with its place when it is no SVG, and where it holds more than a
/// million elements or refers to itself.
[[nodiscard]] Result<Drawing> drawingFromSvg(std::string_view text, const SvgOptions& options = {});

} // namespace ferro::formats

#pragma once

#include "geometry/vec.h"

#include <optional>
#include <pugixml.hpp>
#include <string>
#include <string_view>

namespace ferro::formats {

/// How the values of an SVG drawing's attributes are read.
inline constexpr double pxInMm = 25.4 / 96; // CSS

[[nodiscard]] std::string_view localName(const pugi::xml_node& node);
/// Takes the number that a text begins with off it; commas and blanks before it go along. False: there is none, or it
/// is absurd.
bool takeNumber(std::string_view& text, double& value);
/// A length in user units (CSS pixels); a share of `whole` where it is in percent.
[[nodiscard]] std::optional<double> lengthFrom(std::string_view text, double whole);
/// "translate(…) rotate(…)": the first is the outermost. None when it is spoilt.
[[nodiscard]] std::optional<Transform> transformFrom(std::string_view text);

struct ViewBox {
    double x = 0, y = 0, width = 0, height = 0;
};
[[nodiscard]] std::optional<ViewBox> viewBoxOf(const pugi::xml_node& node);
/// From the box's units into an area of the given size (SVG 2, 8.2).
[[nodiscard]] Transform fitted(const ViewBox& box, double width, double height, std::string_view aspect);

/// None when it is spoilt.
[[nodiscard]] std::optional<std::string> fromBase64(std::string_view text);

} // namespace ferro::formats

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
/// A length in user units (CSS pixels); a share of `whole` where it is in percent, of the font where it is in `em`.
[[nodiscard]] std::optional<double> lengthFrom(std::string_view text, double whole, double em = 16);
/// "10 20mm 30": as many lengths as there are.
[[nodiscard]] std::vector<double> lengthsFrom(std::string_view text, double whole, double em = 16);
/// "translate(…) rotate(…)": the first is the outermost; units as in CSS may be there. None when it is spoilt.
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

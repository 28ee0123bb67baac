#pragma once

#include "formats/svg_values_internal.h"
#include "geometry/path.h"

#include <functional>

namespace ferro::formats {

/// What the lengths of an element's attributes are measured by.
struct SvgScale {
    ViewBox view;
    double em = 16;
    std::function<void(std::string)> notice; ///< told what could not be read

    [[nodiscard]] double diagonal() const { return std::hypot(view.width, view.height) / std::sqrt(2.0); }
    [[nodiscard]] double length(const pugi::xml_node& node, const char* attribute, double whole,
                                double fallback = 0) const;
    [[nodiscard]] double x(const pugi::xml_node& node, const char* attribute, double fallback = 0) const {
        return length(node, attribute, view.width, fallback);
    }
    [[nodiscard]] double y(const pugi::xml_node& node, const char* attribute, double fallback = 0) const {
        return length(node, attribute, view.height, fallback);
    }
};

/// Its id, or its kind.
[[nodiscard]] std::string svgName(const pugi::xml_node& node);

/// The lines of a path, rect, circle, ellipse, line, polyline or polygon in its own coordinates; empty where it draws
/// nothing, a problem where it cannot be read or is of another kind. `broken`: where a path is spoilt, which is drawn
/// up to there.
[[nodiscard]] Result<std::vector<Path>> svgShape(const pugi::xml_node& node, const SvgScale& scale,
                                                 std::optional<Problem>* broken = nullptr);

} // namespace ferro::formats

#pragma once

#include "geometry/path.h"

#include <array>

namespace ferro {

/// Basic shapes, each drawn between two places.
enum class ShapeKind : std::uint8_t {
    rectangle, ///< between two opposite corners
    circle,    ///< from the centre to a place on it
    ellipse,   ///< in the upright box between two opposite corners
    polygon,   ///< regular, from the centre to a corner
    star,      ///< from the centre to a tip
    slot,      ///< round ends about two centres
    line,
    arc ///< between two ends, a height off the chord
};
inline constexpr std::array shapeKinds{ShapeKind::rectangle, ShapeKind::circle, ShapeKind::ellipse, ShapeKind::polygon,
                                       ShapeKind::star,      ShapeKind::slot,   ShapeKind::line,    ShapeKind::arc};
/// "rectangle", "circle" …
[[nodiscard]] std::string_view wordOf(ShapeKind kind);

struct ShapeSettings {
    ShapeKind kind = ShapeKind::rectangle;
    double corner = 0;  ///< mm, of a rectangle: at most half the shorter side
    int corners = 6;    ///< of a polygon, tips of a star; 3 to 360
    double inner = 0.5; ///< of a star: its inner corners' distance from the centre as a share of its tips', 0.01 to 1
    double width = 6;   ///< mm, of a slot
    double rise = 10;   ///< mm, of an arc: off the chord to its left, below 0 to its right
    friend bool operator==(const ShapeSettings&, const ShapeSettings&) = default;
};
/// The shape as a path, closed ones counter-clockwise; ellipses as eight cubics, within 5e-6 of their radius. A problem
/// for a value out of range and for a shape without extent.
[[nodiscard]] Result<Path> shapeBetween(const ShapeSettings& settings, Vec2 from, Vec2 to);

} // namespace ferro

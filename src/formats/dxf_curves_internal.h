#pragma once

#include "geometry/path.h"

namespace ferro::formats {

/// A piece of a polyline from `from` to `to`; `bulge` is the tangent of a quarter of the sweep, above 0
/// counter-clockwise.
[[nodiscard]] Segment bulged(Vec2 from, Vec2 to, double bulge);

/// Radians, counter-clockwise from `start` to `end`; a full turn where they are the same.
[[nodiscard]] Path arcOf(Vec2 centre, double radius, double start, double end);
/// The same with half axes `major` and `minor`, by parameter. Cubics unless it is a circle.
[[nodiscard]] Path ellipseOf(Vec2 centre, Vec2 major, Vec2 minor, double start, double end);

/// A B-spline, rational where `weights` are given. Empty `knots` with `through` points: the natural cubic spline
/// through those.
struct Spline {
    int degree = 3;
    std::vector<double> knots, weights;
    Ring control, through;
    bool closed = false;
};
/// As lines and cubics: exact for polynomial splines up to the third degree, else within a millionth of its size (each
/// span as a Bézier curve by blossoming: Ramshaw 1989). None when knots and control points do not fit together.
[[nodiscard]] std::optional<Path> pathOf(const Spline& spline);

} // namespace ferro::formats

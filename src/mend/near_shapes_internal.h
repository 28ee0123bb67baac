#pragma once

#include "geometry/path.h"

namespace ferro::mend {

inline constexpr double exact = 1e-7; ///< mm: what needs no truing up

struct Axis {
    Vec2 at, way;                                                          ///< a point of it, its direction of length 1
    [[nodiscard]] double side(Vec2 p) const { return cross(way, p - at); } ///< above 0 to the left
    [[nodiscard]] Transform mirror() const;
};

/// The largest distance between two closed lines or two open ones, looked at from both.
[[nodiscard]] double apart(const Path& a, const Path& b);

/// Each answers what a line becomes when it is nearly such a shape, within `tolerance` mm, and is not one already.
[[nodiscard]] std::optional<Path> asCircle(const Path& path, double tolerance);
/// As upright as it nearly is, else turned as it is; corners as round as they are.
[[nodiscard]] std::optional<Path> asRectangle(const Path& path, double tolerance);
/// Runs of lines and curves that are one arc of 15° or more; their ends stay where they are.
[[nodiscard]] std::optional<Path> withArcs(const Path& path, double tolerance);
/// Runs of lines that are one line; ends stay where they are.
[[nodiscard]] std::optional<Path> asStraight(const Path& path, double tolerance);
/// Lines that are nearly level or upright become so, where that moves no end farther than the tolerance.
[[nodiscard]] std::optional<Path> asLevel(const Path& path, double tolerance);
/// The same on both sides of an axis through its middle, upright, level or along it: the half with fewer points stays,
/// the other becomes its mirror image. Outlines that their axis meets in two places only.
struct Symmetry {
    Axis axis;
    std::optional<Path> becomes; ///< none: it is the same on both sides already
};
[[nodiscard]] std::optional<Symmetry> asSymmetric(const Path& path, double tolerance);
/// The same about an axis that is given; none where it is no such outline, or the same on both sides already.
[[nodiscard]] std::optional<Path> evenedAbout(const Path& path, const Axis& axis, double tolerance);

} // namespace ferro::mend

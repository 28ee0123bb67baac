#pragma once

#include "geometry/path.h"

namespace ferro::mend {

inline constexpr double exact = 1e-7; ///< mm: what needs no truing up

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
[[nodiscard]] std::optional<Path> asSymmetric(const Path& path, double tolerance);

} // namespace ferro::mend

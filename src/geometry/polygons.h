#pragma once

#include "base/progress.h"
#include "base/result.h"
#include "geometry/path.h"

namespace ferro {

/// Polygon work on fixed-point integers, 1 unit = 10 nm, the only place in the program that does it. Coordinates may
/// reach 10 m from the origin; beyond that a problem says so. Outlines come back counter-clockwise, openings clockwise.

enum class Corner { round, sharp, flat };
enum class FillRule { evenOdd, nonZero };

struct OffsetOptions {
    double tolerance = 0.004; ///< mm, above 0: largest distance from the true offset; a quarter each goes to thinning
                              ///< and to rounding corners
    Corner corner = Corner::round;
    double sharpLimit = 2; ///< sharp corners reach at most this many times the offset, then they are cut flat
};

/// Grows (`by` > 0) or shrinks the area of `rings` by `by` mm. Promises: boundary points lie |by| from the input's
/// boundary within the tolerance; by == 0 only cleans up. Nothing left is an answer, no error. The input may cross
/// itself: it is read by the non-zero rule. The library is worse than linear in one ring, so rings are thinned first.
[[nodiscard]] Result<Rings> offset(const Rings& rings, double by, const OffsetOptions& options = {});
/// The same, with arcs put back: lines and arcs within another half of the tolerance of the offset's corners.
[[nodiscard]] Result<std::vector<Path>> offsetPaths(const Rings& rings, double by, const OffsetOptions& options = {});

enum class Cap { round, flat, square };
/// Lines drawn `width` mm wide, above 0, as the area they cover; where they cross they become one. `closed`: the rings'
/// last points join their first. Flat corners are cut from edge to edge. Arcs as in `offsetPaths`.
[[nodiscard]] Result<Rings> widened(const Rings& lines, bool closed, double width, Cap cap,
                                    const OffsetOptions& options = {});
[[nodiscard]] Result<std::vector<Path>> widenedPaths(const Rings& lines, bool closed, double width, Cap cap,
                                                     const OffsetOptions& options = {});

/// The line that runs `by` mm beside an open one, above 0, on its left or its right as it goes, from beside its start
/// to beside its end: no place of it is nearer than that to any of the line. Problems: the line comes so near to itself
/// that nothing leads from the one to the other.
[[nodiscard]] Result<Path> besideLine(const Path& line, double by, bool left, double tolerance = 0.004);

enum class Combine { join, takeAway, overlap, eitherNotBoth };
[[nodiscard]] Result<Rings> combined(const Rings& first, const Rings& second, Combine how,
                                     FillRule fill = FillRule::nonZero);

} // namespace ferro

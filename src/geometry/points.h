#pragma once

#include "geometry/path.h"

#include <span>

namespace ferro {

/// Editing a path point by point. Points are numbered: 0 is the start, i the end of segment i - 1; on a closed path the
/// last end is point 0 again. Numbers out of range are passed over. What an edit does not touch stays bit for bit.
using PointNumbers = std::span<const std::size_t>;

[[nodiscard]] Vec2 pointOf(const Path& path, std::size_t point);
/// The segment that ends at a point, and the one that begins there.
[[nodiscard]] std::optional<std::size_t> segmentBefore(const Path& path, std::size_t point);
[[nodiscard]] std::optional<std::size_t> segmentAfter(const Path& path, std::size_t point);
/// Whether the path goes on through a point without a bend of more than 0.1°.
[[nodiscard]] bool isSmoothAt(const Path& path, std::size_t point);

enum class Side : std::uint8_t { before, after };
/// Where a cubic's handle at a point is; none at lines and arcs.
[[nodiscard]] std::optional<Vec2> handleAt(const Path& path, std::size_t point, Side side);

/// Moves points. Handles go with their point, arcs keep their angle (their bulge).
[[nodiscard]] Path withPointsMoved(Path path, PointNumbers points, Vec2 by);
/// Moves a handle. The one across stays in line with it where the path was smooth, unless it is moved `alone`;
/// beside a line or an arc the handle itself stays in line.
[[nodiscard]] Path withHandleMoved(Path path, std::size_t point, Side side, Vec2 to, bool alone);
/// Bends a segment into an arc through a place; into a line where that lies on the chord.
[[nodiscard]] Path withArcThrough(Path path, std::size_t segment, Vec2 through);
/// Takes points out. What is left in their place keeps the shape: a line for lines, an arc for arcs of one circle, else
/// the nearest cubic with the directions at its two ends. Without segments: nothing is left that has an extent.
[[nodiscard]] Path withPointsRemoved(const Path& path, PointNumbers points);
/// A point more, at `t` (0 to 1) along a segment; the shape stays.
[[nodiscard]] Path withPointAt(Path path, std::size_t segment, double t);
/// Straight between chosen neighbours; a point alone makes both its sides straight.
[[nodiscard]] Path withStraight(Path path, PointNumbers points);
/// Cubics in place of the lines and arcs that `withStraight` would take, of the same shape: their handles can be drawn.
/// An arc of more than a quarter turn becomes several.
[[nodiscard]] Path withHandles(Path path, PointNumbers points);
/// Smooth through the points: handles in line, along a line on one side, else in the direction between them.
[[nodiscard]] Path withSmooth(Path path, PointNumbers points);
/// A corner at the points: handles on the way to the neighbours.
[[nodiscard]] Path withCorner(Path path, PointNumbers points);
/// Parts the path at points; a closed one is opened there.
[[nodiscard]] std::vector<Path> splitAt(const Path& path, PointNumbers points);
/// The same closed path, begun at another of its points.
[[nodiscard]] Path startedAt(const Path& path, std::size_t point);
/// Closes an open path: ends within `reach` mm meet in their middle, others by a line.
[[nodiscard]] Path withEndsJoined(Path path, double reach);
/// One path of two, the end of the first to the start of the second, as above.
[[nodiscard]] Path joined(Path first, Path second, double reach);

} // namespace ferro

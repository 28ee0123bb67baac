#pragma once

#include "geometry/path.h"

#include <span>

namespace ferro {

/// Appends cubics through the ends of a chain of points, leaving it by at most `tolerance` at every point, with the
/// given directions of length 1 at the two ends (`into` points on, `out` points on too). Least squares with Newton's
/// reparametrisation (Schneider, "An algorithm for automatically fitting digitized curves", Graphics Gems 1990), each
/// cubic as far as it reaches, G1 where they meet.
void fitCubics(std::span<const Vec2> points, Vec2 into, Vec2 out, double tolerance, std::vector<Segment>& onto);

/// The one cubic through the ends of a chain that leaves its points least, by the same method run until it settles; the
/// chain has at least two points.
[[nodiscard]] Segment nearestCubic(std::span<const Vec2> points, Vec2 into, Vec2 out);

} // namespace ferro

#pragma once

#include "geometry/path.h"

#include <span>

namespace ferro {

/// Appends cubics through the ends of a chain of points, leaving it by at most `tolerance` at every point, with the
/// given directions of length 1 at the two ends (`into` points on, `out` points on too). Least squares with Newton's
/// reparametrisation (Schneider, "An algorithm for automatically fitting digitized curves", Graphics Gems 1990), each
/// cubic as far as it reaches, G1 where they meet.
/// `grainy`: the points have a grain of their own that is most of the error; longer reaches are looked for.
void fitCubics(std::span<const Vec2> points, Vec2 into, Vec2 out, double tolerance, std::vector<Segment>& onto,
               bool grainy = false);

/// The one cubic through the ends of a chain that leaves its points least, by the same method run until it settles; the
/// chain has at least two points.
[[nodiscard]] Segment nearestCubic(std::span<const Vec2> points, Vec2 into, Vec2 out);

} // namespace ferro

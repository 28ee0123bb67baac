#pragma once

#include "geometry/path.h"

namespace ferro {

struct Thinned {
    Path path;
    double deviation = 0; ///< mm, the largest distance of the old points and middles from the new path
};

/// The fewest lines and arcs that stand for the path within `tolerance` mm, and of those with as few the one that
/// leaves it least: a shortest path over the points of the path, by dynamic programming (after Pei & Horng 1996). Bends
/// of more than 20° in one point are corners and stay; so do the ends of an open path. A closed path without corners is
/// solved twice, the second time from a joint of the first, so that where it happened to start costs nothing. Time
/// grows with the points times the square of how many one segment replaces.
[[nodiscard]] Thinned thinnedPath(const Path& path, double tolerance);

} // namespace ferro

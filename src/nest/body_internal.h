#pragma once

#include "base/result.h"
#include "geometry/path.h"

namespace ferro::nest {

/// A disc within a part.
struct Disc {
    Vec2 at;
    double radius = 0;
};

/// A part's edges and discs as it is turned, about its middle.
struct Turned {
    std::vector<Vec2> from, to;     ///< edges
    std::vector<std::size_t> rings; ///< the first edge of each
    std::vector<Disc> discs;        ///< the largest first
    /// The same once more, to be gone through four at a time; filled up with discs without extent.
    std::vector<float> discX, discY, discR;
    Box box;
    bool overX = false; ///< face down it is turned over its x axis, else over its y axis
};

/// A part as collisions see it: grown by half the spacing.
struct Body {
    Turned upright; ///< about `middle`
    Vec2 middle;    ///< of its bounds, in its own coordinates
    double area = 0;
    double bulk = 0;     ///< mm, root of its hull's area: how much it matters
    double least = 0;    ///< mm, the shorter side of its bounds
    double turnStep = 0; ///< 0: any angle
    bool mirror = false;
    std::vector<Turned> turns; ///< all that are allowed, mirrored ones in the second half; empty: any angle
};

/// Of rings without crossings (even-odd), on a plane where the part may be turned so. A problem for no area.
[[nodiscard]] Result<Body> bodyOf(const Rings& rings, double turnStep, bool mirror, bool overX = false);
void turn(const Turned& upright, double angle, bool mirrored, Turned& out);

/// Whether two parts at these places overlap or touch; edges, and one within the other.
[[nodiscard]] bool collide(const Turned& a, Vec2 atA, const Turned& b, Vec2 atB);
/// How much they overlap, by their discs: above 0 and falling as they part, even a little beyond.
[[nodiscard]] double overlapOf(const Turned& a, Vec2 atA, const Turned& b, Vec2 atB, double bulkA, double bulkB);

} // namespace ferro::nest

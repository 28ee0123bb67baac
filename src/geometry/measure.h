#pragma once

#include "geometry/path.h"

namespace ferro {

[[nodiscard]] double distanceToLine(Vec2 p, Vec2 a, Vec2 b);
/// Smallest distance between two straight stretches, 0 where they cross.
[[nodiscard]] double distanceBetween(Vec2 a, Vec2 b, Vec2 c, Vec2 d);

/// The length round a ring, back to its first point.
[[nodiscard]] double perimeterOf(const Ring& ring);

/// How far a place is from a line or arc.
[[nodiscard]] double distanceTo(Vec2 from, const Segment& lineOrArc, Vec2 p);
/// Where a line or arc and a straight stretch come nearest to each other.
struct Approach {
    double apart = 0;
    Vec2 onFirst, onSecond;
};
[[nodiscard]] Approach approachOf(Vec2 from, const Segment& lineOrArc, Vec2 c, Vec2 d);

/// Even-odd; a point on the edge may count either way.
[[nodiscard]] bool contains(const Ring& ring, Vec2 p);
[[nodiscard]] bool contains(const Rings& rings, Vec2 p);
/// The stretches of the level line at this height within an area, from left to right, by the even-odd rule.
[[nodiscard]] std::vector<std::pair<double, double>> insideAt(const Rings& area, double y);

/// Where on a segment the point nearest to `p` lies, as its parameter.
[[nodiscard]] double nearestOn(Vec2 from, const Segment& segment, Vec2 p);

/// Where on a path a length along it lies. `along` is taken round a closed path and clamped on an open one.
struct Station {
    std::size_t segment = 0;
    double t = 0;
    Vec2 point;
    Vec2 tangent;
};
/// Lengths along a path, summed once so that many questions are cheap.
class Ruler {
public:
    explicit Ruler(Path path);
    [[nodiscard]] const Path& path() const { return path_; }
    [[nodiscard]] double length() const { return ends_.empty() ? 0 : ends_.back(); }
    [[nodiscard]] Station at(double along) const;
    /// The length along the path whose point is nearest to `p`.
    [[nodiscard]] double nearest(Vec2 p) const;
    /// The stretch between two lengths, `from` <= `to`; across the start of a closed path, and round it more than once,
    /// if need be.
    [[nodiscard]] std::vector<Segment> stretch(double from, double to) const;

private:
    Path path_;
    std::vector<double> ends_; // length along at the end of each segment
    std::vector<Box> boxes_;   // round each segment
};

/// Where two segments cross, as parameters of both, by Newton's iteration from a place near there; to 1e-10 mm. None
/// where they are parallel or the way leads elsewhere than onto both.
[[nodiscard]] std::optional<std::pair<double, double>> crossingNear(Vec2 fromA, const Segment& a, double t, Vec2 fromB,
                                                                    const Segment& b, double u);

/// The part of a segment between two of its parameters.
[[nodiscard]] Segment cutOf(Vec2 from, const Segment& segment, double t0, double t1);

} // namespace ferro

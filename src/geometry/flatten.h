#pragma once

#include "geometry/path.h"

namespace ferro {

/// Calls `take` for the points after `from` that approximate the segment by chords within `tolerance` mm, the end
/// exactly. Cubics are cut evenly by Wang's bound on the second difference, arcs by their sagitta.
template<class Take> void flattenSegment(Vec2 from, const Segment& s, double tolerance, Take&& take) {
    std::size_t parts = 1;
    if (s.kind == Segment::Kind::arc) {
        const double r = std::max(distance(from, s.a), distance(s.end, s.a));
        const double step = r > tolerance ? 2 * std::acos(1 - tolerance / r) : pi / 2;
        parts = static_cast<std::size_t>(
            std::clamp(std::ceil(std::abs(sweepOf(from, s)) / std::min(step, pi / 2)), 1.0, 1e6));
    } else if (s.kind == Segment::Kind::cubic) {
        const double bend = std::max(length(from - 2 * s.a + s.b), length(s.a - 2 * s.b + s.end));
        parts = static_cast<std::size_t>(std::clamp(std::ceil(std::sqrt(0.75 * bend / tolerance)), 1.0, 1e6));
    }
    for (std::size_t i = 1; i < parts; ++i) take(pointAt(from, s, static_cast<double>(i) / static_cast<double>(parts)));
    take(s.end);
}

/// The path's points, within `tolerance` mm of it; a closed path's start is not repeated.
[[nodiscard]] Ring flattened(const Path& path, double tolerance);
/// Outline and openings as rings; open paths give open rings.
[[nodiscard]] Rings flattened(const Piece& piece, double tolerance);

/// From one kept point, the directions in which a chord passes every point since within the tolerance: a cone that each
/// point narrows.
class ChordCone {
public:
    ChordCone(Vec2 apex, double tolerance) : apex_(apex), tolerance_(tolerance) {}

    /// Takes the next point in. False: no direction serves all any more. Written without branches where either way is
    /// as likely: noise would make the processor guess wrong all the time.
    [[gnu::always_inline]] bool narrow(Vec2 p) {
        const Vec2 v = p - apex_;
        const double d2 = dot(v, v), t2 = tolerance_ * tolerance_;
        good_ = d2 >= farthest_;
        farthest_ = std::max(farthest_, d2);
        if (d2 <= t2) return true; // near the apex itself
        // The tangents from the apex to the circle of the tolerance about the point, not normalised; never wider than
        // 45°, so that a quarter turn off the first direction decides on which side of another each of them lies.
        const double along = std::max(std::sqrt(d2 - t2), tolerance_);
        const Vec2 side = perpendicular(v) * tolerance_, left = v * along + side, right = v * along - side;
        if (!open_) {
            axis_ = v, low_ = right, high_ = left;
            return open_ = true;
        }
        if (dot(v, axis_) <= 0) return false; // it turns back
        good_ &= static_cast<int>(cross(low_, v) >= 0) & static_cast<int>(cross(v, high_) >= 0);
        const bool isHigher = cross(left, high_) > 0, isLower = cross(low_, right) > 0;
        high_.x = isHigher ? left.x : high_.x;
        high_.y = isHigher ? left.y : high_.y;
        low_.x = isLower ? right.x : low_.x;
        low_.y = isLower ? right.y : low_.y;
        return cross(low_, high_) >= 0;
    }
    /// A chord to the point taken in last serves all before it: it lies in the cone, and none is farther away.
    [[nodiscard]] bool servesAll() const { return good_ != 0; }

private:
    Vec2 apex_, axis_, low_, high_;
    double tolerance_, farthest_ = 0;
    bool open_ = false;
    int good_ = 1;
};

/// Fewer points, each dropped one within `tolerance` mm of the line that replaces it, in linear time (cone
/// intersection: Williams 1978, Sklansky & Gonzalez 1980). Keeps direction, start, and the end of an open chain.
[[nodiscard]] Ring thinned(const Ring& points, double tolerance, bool closed);

} // namespace ferro

#pragma once

#include "geometry/measure.h"
#include "toolpath/moves.h"

namespace ferro::toolpath {

/// A blade that hangs behind its axis like a caster: while it is in the stock its tip is drawn after the axis (the
/// tractrix, Huygens 1693; for straight ways tan(φ/2) falls by e^(-s/trail), with φ between the way and the blade).
/// In the air it keeps its direction. A blade without a trail is where its axis is.
class Caster {
public:
    explicit Caster(double trail, Vec2 heading = {1, 0}) : trail_(trail), heading_(heading) {}

    /// From the tip towards the axis, of length 1.
    [[nodiscard]] Vec2 heading() const { return heading_; }
    [[nodiscard]] Vec2 tipAt(Vec2 axis) const { return axis - heading_ * trail_; }
    /// The tip's way while the axis goes along a segment in the stock, in straight bits; each is told by `visit(tip,
    /// axis, share)` at its end, with the share of the segment gone by then.
    template<class Visit> void draw(Vec2 from, const Segment& segment, Visit&& visit) {
        if (trail_ <= 0) return visit(segment.end, segment.end, 1.0);
        const bool line = segment.kind == Segment::Kind::line;
        const double way = lengthOf(from, segment), bit = std::min(0.05, trail_ / 8);
        const int bits = std::clamp(static_cast<int>(std::ceil(way / bit)), 1, 100'000);
        Vec2 axis = from;
        for (int i = 1; i <= bits; ++i) {
            const double share = static_cast<double>(i) / bits;
            const Vec2 next = i == bits ? segment.end
                              : line    ? lerp(from, segment.end, share)
                                        : pointAt(from, segment, share);
            turn(axis, next);
            axis = next;
            visit(tipAt(axis), axis, share);
        }
    }

private:
    void turn(Vec2 from, Vec2 to) {
        const Vec2 d = to - from;
        const double s = length(d);
        if (s < 1e-12) return;
        const Vec2 u = d / s;
        const double sine = cross(u, heading_), cosine = dot(u, heading_);
        // Half the angle by its tangent, so that a blade that points straight back is not a division by nothing.
        const double half = std::atan2(sine, 1 + cosine);
        const double now = std::atan(std::tan(std::clamp(half, -1.5707, 1.5707)) * std::exp(-s / trail_)) * 2;
        heading_ = u * std::cos(now) + perpendicular(u) * std::sin(now);
    }
    double trail_;
    Vec2 heading_;
};

/// Where the axis has to go so that the tip follows a path of lines and arcs: so far ahead of the tip as it trails, in
/// the direction of the path; round the tip where the path turns by more than `turnsOver` radians. `heading` is the
/// blade's before, and is the one after. Begins with the turn into the path's direction.
struct AxisWay {
    Vec2 start;
    struct Bit {
        Segment way;
        bool turns = false; ///< round the tip, which stands still
    };
    std::vector<Bit> bits;
};
[[nodiscard]] AxisWay axisOver(Vec2 start, const std::vector<Segment>& path, double trail, double turnsOver,
                               Vec2& heading);

} // namespace ferro::toolpath

#include "toolpath/blade.h"

namespace ferro::toolpath {

namespace {

double turnBetween(Vec2 a, Vec2 b) { return std::atan2(cross(a, b), dot(a, b)); }

} // namespace

AxisWay axisOver(Vec2 start, const std::vector<Segment>& path, double trail, double turnsOver, Vec2& heading) {
    AxisWay way;
    way.start = start + heading * trail;
    Vec2 tip = start, axis = way.start;
    const auto go = [&](Segment segment, bool turns) {
        if (distance(axis, segment.end) < 1e-9) return;
        axis = segment.end;
        way.bits.push_back({segment, turns});
    };
    bool first = true;
    for (const auto& segment : path) {
        if (lengthOf(tip, segment) < 1e-9) continue;
        const Vec2 begins = tangentAt(tip, segment, 0);
        const double turn = turnBetween(heading, begins);
        const Vec2 there = tip + begins * trail;
        if (trail > 0 && (std::abs(turn) > turnsOver || (first && std::abs(turn) > 1e-6)))
            go(Segment::arc(tip, there, turn > 0), true);
        else
            go(Segment::line(there), false);
        first = false;
        const Vec2 ends = tangentAt(tip, segment, 1), target = segment.end + ends * trail;
        // Round an arc the tip goes at r, the axis ahead of it on the tangent: about the same centre at √(r² + trail²).
        go(segment.kind == Segment::Kind::arc ? Segment::arc(segment.a, target, segment.ccw) : Segment::line(target),
           false);
        heading = ends;
        tip = segment.end;
    }
    return way;
}

} // namespace ferro::toolpath

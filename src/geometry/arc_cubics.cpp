#include "geometry/arc_cubics.h"

namespace ferro {

std::vector<Segment> arcAsCubics(Vec2 from, const Segment& arc, double mostTurn) {
    const double sweep = sweepOf(from, arc);
    const int parts = std::max(1, static_cast<int>(std::ceil(std::abs(sweep) / mostTurn - 1e-9)));
    const double handle = 4.0 / 3 * std::tan(sweep / parts / 4);
    std::vector<Segment> out;
    Vec2 p = from;
    for (int i = 1; i <= parts; ++i) {
        const Vec2 q = i == parts ? arc.end : pointAt(from, arc, static_cast<double>(i) / parts);
        out.push_back(Segment::cubic(p + perpendicular(p - arc.a) * handle, q - perpendicular(q - arc.a) * handle, q));
        p = q;
    }
    return out;
}

} // namespace ferro

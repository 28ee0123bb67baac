#pragma once

#include "geometry/measure.h"
#include "geometry/path.h"

#include <algorithm>

// How near what came out lies to what it should be.

namespace ferro::test {

/// Places where the way turns by more than about 10°.
inline Ring cornersIn(const std::vector<Path>& paths) {
    Ring corners;
    for (const auto& path : paths)
        for (std::size_t i = 0; i < path.segments.size(); ++i) {
            const std::size_t next = (i + 1) % path.segments.size();
            if (std::abs(cross(tangentAt(path.from(i), path.segments[i], 1),
                               tangentAt(path.from(next), path.segments[next], 0))) > 0.2)
                corners.push_back(path.segments[i].end);
        }
    return corners;
}

struct Off {
    double mean = 0, largest = 0; ///< from what came out to the truth, at even steps, corners apart
    double missed = 0;            ///< the other way: the part of the truth that is farthest from what came out
    double atCorners = 0;
};

enum class Corners { apart, count };

/// In units of `unit` mm, such as a pixel; what lies within 2 of a true corner is told apart, unless corners count too.
inline Off offBetween(const std::vector<Path>& got, const std::vector<Path>& truth, double unit,
                      Corners corner = Corners::apart) {
    const Ring corners = corner == Corners::apart ? cornersIn(truth) : Ring{};
    const auto atCorner = [&](Vec2 p) {
        return std::any_of(corners.begin(), corners.end(), [&](Vec2 c) { return distance(c, p) < 2 * unit; });
    };
    struct Line {
        Ruler ruler;
        Box box;
    };
    const auto rulersOf = [](const std::vector<Path>& paths) {
        std::vector<Line> out;
        for (const auto& path : paths) out.push_back({Ruler(path), boundsOf(path)});
        return out;
    };
    const auto ours = rulersOf(got), theirs = rulersOf(truth);
    const auto far = [&](Vec2 p, const std::vector<Line>& from) {
        double best = 1e300;
        for (const auto& [ruler, box] : from)
            if (best == 1e300 || box.grown(best).contains(p))
                best = std::min(best, distance(p, ruler.at(ruler.nearest(p)).point));
        return best / unit;
    };
    Off off;
    int count = 0;
    for (const auto& [ruler, box] : ours)
        for (double along = 0; along < ruler.length(); along += 0.5 * unit) {
            const Vec2 p = ruler.at(along).point;
            double& worst = atCorner(p) ? off.atCorners : off.largest;
            const double here = far(p, theirs);
            worst = std::max(worst, here);
            if (&worst == &off.largest) off.mean += here, ++count;
        }
    for (const auto& [ruler, box] : theirs)
        for (double along = 0; along < ruler.length(); along += 0.5 * unit)
            if (const Vec2 p = ruler.at(along).point; !atCorner(p)) off.missed = std::max(off.missed, far(p, ours));
    off.mean /= std::max(1, count);
    return off;
}

} // namespace ferro::test

#include "trace/stroke_ending_internal.h"

#include "geometry/parabola.h"

namespace ferro::trace {

namespace {

constexpr double quarterTurn = pi / 4;

/// Makes the place, the direction and the bend of an ending those of a parabola through points of its branch, given
/// from its place in its direction (least squares).
void bendToward(Ending& ending, const std::vector<Vec2>& points) {
    Ring own;
    for (const Vec2 p : points) own.push_back({dot(ending.way, p), cross(ending.way, p)});
    const auto parabola = parabolaThrough(own);
    if (!parabola) return;
    const auto [place, slope, half] = *parabola;
    ending.at += perpendicular(ending.way) * place;
    ending.bend = 2 * half / std::pow(1 + slope * slope, 1.5);
    ending.way = unit(ending.way + perpendicular(ending.way) * slope);
}

} // namespace

Ending endingOf(const StrokeGraph& graph, int branch, int end, Vec2 centre, double radius) {
    Ending ending = endingOf(graph.branches[static_cast<std::size_t>(branch)].line, end, centre, radius);
    ending.branch = branch;
    return ending;
}

Ending endingOf(const AxisLine& line, int end, Vec2 centre, double radius) {
    // Beyond 1.3 discs no crossing stroke touches the discs any more, whatever the angle.
    const double clear = 1.3 * radius;
    std::size_t keep = 0;
    while (keep + 1 < line.size() && distance(counted(line, end, keep).at, centre) < clear) ++keep;
    const Vec2 from = counted(line, end, keep).at;
    Vec2 mean;
    double xx = 0, xy = 0, yy = 0, walked = 0;
    std::size_t last = keep, n = 0;
    const double window = std::max(4 * radius, 8.0);
    std::vector<Vec2> points;
    for (std::size_t i = keep; i < line.size() && walked <= window; ++i) {
        const Vec2 p = counted(line, end, i).at - from;
        if (i > keep) walked += distance(counted(line, end, i).at, counted(line, end, i - 1).at);
        mean += p, xx += p.x * p.x, xy += p.x * p.y, yy += p.y * p.y, ++n;
        last = i;
        points.push_back(p);
    }
    Ending out{
        StrokeGraph::none, end, keep, from, unit(counted(line, end, last).at - from), counted(line, end, keep).radius};
    if (walked < 0.7 * radius || n < 4) { // no more than the way out of the junction
        out.stump = true;
        out.way = unit(counted(line, end, line.size() - 1).at - centre);
        return out;
    }
    if (walked > 2.5 * radius && n >= 8) {
        bendToward(out, points);
        return out;
    }
    mean = mean / static_cast<double>(n);
    xx = xx / static_cast<double>(n) - mean.x * mean.x, xy = xy / static_cast<double>(n) - mean.x * mean.y,
    yy = yy / static_cast<double>(n) - mean.y * mean.y;
    const double half = (xx - yy) / 2, root = std::hypot(half, xy);
    const Vec2 way = unit(half >= 0 ? Vec2{half + root, xy} : Vec2{xy, root - half});
    if (way != Vec2{}) {
        out.way = dot(way, out.way) < 0 ? -way : way;
        out.at = from + mean + out.way * dot(out.way, -mean);
    }
    return out;
}

std::optional<Vec2> cornerOf(const Ending& a, const Ending& b) {
    const double sine = cross(a.way, b.way);
    if (std::abs(sine) < 0.05) return std::nullopt;
    const double back = cross(b.at - a.at, b.way) / sine, other = cross(b.at - a.at, a.way) / sine;
    if (back > 0 || other > 0) return std::nullopt; // ahead is against the ways, which lead out of the junction
    return a.at + a.way * back;
}

void leadToCorner(AxisLine& line, Vec2 corner, const AxisPoint& next) {
    if (line.empty()) return;
    const auto straight = [&](Vec2 end, double radius) {
        const Vec2 from = line.back().at;
        const double way = distance(from, end);
        for (double x = 1; x < way - 0.5; ++x) line.push_back({from + (end - from) * (x / way), radius});
    };
    straight(corner, line.back().radius);
    line.push_back({corner, line.back().radius});
    straight(next.at, next.radius);
}

double misfit(const Ending& a, const Ending& b, double radius, bool loosely) {
    const Vec2 between = b.at - a.at;
    const double signedTurn = std::atan2(cross(-a.way, b.way), -dot(a.way, b.way)), turn = std::abs(signedTurn);
    const double byItself = std::clamp(length(between) * (b.bend - a.bend) / 2, -0.5, 0.5);
    const double beside = std::max(std::abs(cross(a.way, between)), std::abs(cross(b.way, between)));
    // Two that turn pass beside each other by half the turn times what lies between.
    const double excused = 0.6 * length(between) * std::sin(std::min(turn, pi / 2));
    const double ill = loosely ? std::min(turn, std::abs(signedTurn - byItself)) : std::abs(signedTurn - byItself);
    return ill / quarterTurn + std::max(0.0, beside - excused) / (1.5 * radius);
}

void leadOver(AxisLine& line, const Ending& from, const Ending& to, const AxisLine& into) {
    if (from.stump || to.stump || line.empty() || to.keep >= into.size()) return;
    const AxisPoint a = line.back(), b = counted(into, to.end, to.keep);
    const double gap = distance(a.at, b.at);
    const Vec2 in = -from.way * gap, out = to.way * gap;
    for (double x = 1; x < gap - 0.5; ++x) {
        const double t = x / gap, u = 1 - t;
        line.push_back(
            {a.at * (u * u * (1 + 2 * t)) + in * (t * u * u) + b.at * (t * t * (1 + 2 * u)) - out * (t * t * u),
             std::lerp(a.radius, b.radius, t)});
    }
}

} // namespace ferro::trace

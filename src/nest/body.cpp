#include "nest/body_internal.h"

#include "geometry/hull.h"
#include "geometry/measure.h"

#include <algorithm>
#include <cmath>

namespace ferro::nest {

namespace {

constexpr std::size_t mostDiscs = 14;

double hullAreaOf(const std::vector<Vec2>& points) {
    Ring hull;
    for (const auto i : hullOf(points)) hull.push_back(points[i]);
    return areaOf(hull);
}

double distanceToEdges(const Turned& t, Vec2 p) {
    double least = 1e300;
    for (std::size_t i = 0; i < t.from.size(); ++i) least = std::min(least, distanceToLine(p, t.from[i], t.to[i]));
    return least;
}

/// Even-odd, by the crossings of a level ray.
bool within(const Turned& t, Vec2 p) {
    bool inside = false;
    for (std::size_t i = 0; i < t.from.size(); ++i) {
        const Vec2 a = t.from[i], b = t.to[i];
        if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x) inside = !inside;
    }
    return inside;
}

/// Discs that fill it, each the largest that has room beside those before: middles on a grid, then shifted.
std::vector<Disc> discsIn(const Turned& t, double area) {
    constexpr int n = 26;
    const auto roomAt = [&](Vec2 p, const std::vector<Disc>& discs) {
        double room = within(t, p) ? distanceToEdges(t, p) : -1;
        for (const auto& disc : discs) room = std::min(room, distance(p, disc.at) - disc.radius);
        return room;
    };
    std::vector<std::pair<Vec2, double>> grid;
    const double step = std::max(t.box.width(), t.box.height()) / n;
    for (double x = t.box.low.x + step / 2; x < t.box.high.x; x += step)
        for (double y = t.box.low.y + step / 2; y < t.box.high.y; y += step)
            if (const double room = roomAt({x, y}, {}); room > 0) grid.emplace_back(Vec2{x, y}, room);
    if (grid.empty()) // a sliver: along its longest edge
        for (std::size_t i = 0; i < t.from.size(); ++i) {
            const Vec2 middle = lerp(t.from[i], t.to[i], 0.5);
            for (const double off : {0.3, 0.03, 0.003})
                for (const double side : {off, -off}) {
                    const Vec2 p = middle + perpendicular(unit(t.to[i] - t.from[i])) * side;
                    if (const double room = roomAt(p, {}); room > 0) grid.emplace_back(p, room);
                }
        }
    std::vector<Disc> discs;
    double covered = 0;
    while (discs.size() < mostDiscs && covered < 0.9 * area && !grid.empty()) {
        auto best = std::max_element(grid.begin(), grid.end(),
                                     [](const auto& a, const auto& b) { return a.second < b.second; });
        if (best->second <= 0) break;
        Disc disc{best->first, best->second};
        for (double move = step; move > step / 64; move /= 2)
            for (bool better = true; better;) {
                better = false;
                for (const Vec2 by : {Vec2{move, 0}, Vec2{-move, 0}, Vec2{0, move}, Vec2{0, -move}})
                    if (const double room = roomAt(disc.at + by, discs); room > disc.radius + 1e-9) {
                        disc = {disc.at + by, room};
                        better = true;
                        break;
                    }
            }
        if (!discs.empty() && disc.radius < discs.front().radius / 12) break;
        discs.push_back(disc);
        covered += pi * disc.radius * disc.radius;
        for (auto& [p, room] : grid) room = std::min(room, distance(p, disc.at) - disc.radius);
    }
    return discs;
}

void lineUp(Turned& t) {
    const std::size_t padded = (t.discs.size() + 3) / 4 * 4;
    for (auto* some : {&t.discX, &t.discY, &t.discR}) some->assign(padded, 0.0F);
    for (std::size_t i = 0; i < t.discs.size(); ++i) {
        t.discX[i] = static_cast<float>(t.discs[i].at.x);
        t.discY[i] = static_cast<float>(t.discs[i].at.y);
        t.discR[i] = static_cast<float>(t.discs[i].radius);
    }
}

} // namespace

void turn(const Turned& upright, double angle, bool mirrored, Turned& out) {
    const double c = std::cos(angle), s = std::sin(angle);
    const double x = mirrored && !upright.overX ? -1 : 1, y = mirrored && upright.overX ? -1 : 1;
    const auto turned = [&](Vec2 p) { return Vec2{c * x * p.x - s * y * p.y, s * x * p.x + c * y * p.y}; };
    const std::size_t n = upright.from.size();
    out.from.resize(n);
    out.to.resize(n);
    out.box = {};
    for (std::size_t i = 0; i < n; ++i) {
        out.from[i] = turned(upright.from[i]);
        out.to[i] = turned(upright.to[i]);
        out.box.take(out.from[i]);
    }
    out.rings = upright.rings;
    out.discs.resize(upright.discs.size());
    for (std::size_t i = 0; i < out.discs.size(); ++i)
        out.discs[i] = {turned(upright.discs[i].at), upright.discs[i].radius};
    lineUp(out);
}

Result<Body> bodyOf(const Rings& rings, double turnStep, bool mirror, bool overX) {
    Body body;
    body.upright.overX = overX;
    Box bounds;
    std::vector<Vec2> points;
    for (const auto& ring : rings) {
        body.area += areaOf(ring);
        for (const Vec2 p : ring) bounds.take(p), points.push_back(p);
    }
    if (!(body.area > 0))
        return Problem{.what = "It has no area.", .where = {}, .mend = "Close its outline, or leave it out."};
    body.middle = bounds.centre();
    for (const auto& ring : rings) {
        body.upright.rings.push_back(body.upright.from.size());
        for (std::size_t i = 0; i < ring.size(); ++i) {
            body.upright.from.push_back(ring[i] - body.middle);
            body.upright.to.push_back(ring[(i + 1) % ring.size()] - body.middle);
        }
    }
    body.upright.box = {bounds.low - body.middle, bounds.high - body.middle};
    body.upright.discs = discsIn(body.upright, body.area);
    lineUp(body.upright);
    body.bulk = std::sqrt(hullAreaOf(points));
    body.least = std::min(bounds.width(), bounds.height());
    body.turnStep = turnStep;
    body.mirror = mirror;
    if (turnStep > 0) {
        const int count = std::max(1, static_cast<int>(std::floor(2 * pi / turnStep + 1e-6)));
        for (int m = 0; m < (mirror ? 2 : 1); ++m)
            for (int k = 0; k < count; ++k) turn(body.upright, k * turnStep, m == 1, body.turns.emplace_back());
    }
    return body;
}

bool collide(const Turned& a, Vec2 atA, const Turned& b, Vec2 atB) {
    const Vec2 d = atB - atA; // all in a's frame
    const Box window{{std::max(a.box.low.x, b.box.low.x + d.x), std::max(a.box.low.y, b.box.low.y + d.y)},
                     {std::min(a.box.high.x, b.box.high.x + d.x), std::min(a.box.high.y, b.box.high.y + d.y)}};
    if (window.low.x > window.high.x || window.low.y > window.high.y) return false;
    // Large discs tell most overlaps at once.
    for (std::size_t i = 0; i < std::min<std::size_t>(a.discs.size(), 4); ++i)
        for (std::size_t j = 0; j < std::min<std::size_t>(b.discs.size(), 4); ++j) {
            const Vec2 apart = b.discs[j].at + d - a.discs[i].at;
            const double reach = a.discs[i].radius + b.discs[j].radius;
            if (dot(apart, apart) < reach * reach * 0.999999) return true;
        }
    // Edges that reach into where both are.
    thread_local std::vector<std::pair<Vec2, Vec2>> ofB;
    ofB.clear();
    const auto meets = [&](Vec2 p, Vec2 q) {
        return std::max(p.x, q.x) >= window.low.x && std::min(p.x, q.x) <= window.high.x &&
               std::max(p.y, q.y) >= window.low.y && std::min(p.y, q.y) <= window.high.y;
    };
    for (std::size_t j = 0; j < b.from.size(); ++j) {
        const Vec2 p = b.from[j] + d, q = b.to[j] + d;
        if (meets(p, q)) ofB.emplace_back(p, q);
    }
    for (std::size_t i = 0; i < a.from.size() && !ofB.empty(); ++i) {
        const Vec2 p = a.from[i], q = a.to[i];
        if (!meets(p, q)) continue;
        const Vec2 along = q - p;
        const double lowX = std::min(p.x, q.x), highX = std::max(p.x, q.x), lowY = std::min(p.y, q.y),
                     highY = std::max(p.y, q.y);
        for (const auto& [r, s] : ofB) {
            if (std::max(r.x, s.x) < lowX || std::min(r.x, s.x) > highX || std::max(r.y, s.y) < lowY ||
                std::min(r.y, s.y) > highY)
                continue;
            const double sideR = cross(along, r - p), sideS = cross(along, s - p);
            if ((sideR > 0 && sideS > 0) || (sideR < 0 && sideS < 0)) continue;
            const Vec2 other = s - r;
            const double sideP = cross(other, p - r), sideQ = cross(other, q - r);
            if ((sideP > 0 && sideQ > 0) || (sideP < 0 && sideQ < 0)) continue;
            return true;
        }
    }
    // None crosses: each ring lies wholly in the other part or wholly out of it.
    for (const std::size_t i : a.rings)
        if (window.contains(a.from[i]) && within(b, a.from[i] - d)) return true;
    return std::any_of(b.rings.begin(), b.rings.end(),
                       [&](std::size_t j) { return window.contains(b.from[j] + d) && within(a, b.from[j] + d); });
}

double overlapOf(const Turned& a, Vec2 atA, const Turned& b, Vec2 atB, double bulkA, double bulkB) {
    // Discs that part by more than nothing still pull a little, so that there is always a way down.
    const auto dx = static_cast<float>(atB.x - atA.x), dy = static_cast<float>(atB.y - atA.y);
    const auto hair = static_cast<float>(0.01 * std::max(bulkA, bulkB));
    float sums[4] = {hair * hair, 0, 0, 0};
    for (std::size_t i = 0; i < a.discs.size(); ++i) {
        const float x = a.discX[i] - dx, y = a.discY[i] - dy, r = a.discR[i];
        for (std::size_t j = 0; j < b.discX.size(); j += 4)
            for (std::size_t k = 0; k < 4; ++k) {
                const float ox = b.discX[j + k] - x, oy = b.discY[j + k] - y, other = b.discR[j + k];
                const float deep = r + other - std::sqrt(ox * ox + oy * oy);
                const float soft =
                    hair * hair / (hair + std::max(hair - deep, 0.0F)); // hair at hair, falling from there
                sums[k] += (std::max(deep - hair, 0.0F) + soft) * std::min(r, other);
            }
    }
    const double sum = static_cast<double>((sums[0] + sums[1]) + (sums[2] + sums[3]));
    return std::sqrt(sum * bulkA * bulkB);
}

} // namespace ferro::nest

#include "geometry/self_crossing.h"

#include "geometry/flatten.h"
#include "geometry/spatial.h"

#include <array>

namespace ferro {

namespace {

/// Where two stretches cross inside, touching apart.
std::optional<Vec2> crossing(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
    const double bend = cross(b - a, d - c);
    if (bend == 0) return std::nullopt;
    const double s = cross(c - a, d - c) / bend, t = cross(c - a, b - a) / bend;
    if (s > 1e-9 && s < 1 - 1e-9 && t > 1e-9 && t < 1 - 1e-9) return a + (b - a) * s;
    return std::nullopt;
}

/// The ways that a segment goes, one after the other: its control polygon's, an arc's by thirds.
struct Ways {
    std::array<Vec2, 4> way;
    std::size_t count = 0;
    void add(Vec2 v) {
        if (v != Vec2{}) way[count++] = v;
    }
};

/// Whether a closed path is simple at a glance. With no segment near one that it does not follow, only two that follow
/// each other could cross, and every such loop turns the whole path once more, or once less (Hopf 1935, Whitney 1937):
/// it turns once round in all, and none turns far enough the other way to make up for a loop.
bool isSimple(const Path& path) {
    const std::size_t n = path.segments.size();
    constexpr std::size_t few = 48;
    if (n < 2 || n > few) return false;
    std::array<Box, few> boxes;
    std::array<Ways, few> ways;
    for (std::size_t i = 0; i < n; ++i) {
        const Vec2 from = path.from(i);
        const auto& s = path.segments[i];
        boxes[i].take(from), boxes[i].take(s.end);
        if (s.kind == Segment::Kind::line) {
            ways[i].add(s.end - from);
        } else if (s.kind == Segment::Kind::cubic) {
            const Vec2 a = s.a - from, b = s.b - s.a, c = s.end - s.b;
            const double ab = cross(a, b), bc = cross(b, c), ca = cross(c, a);
            if ((ab > 0 && bc > 0 && ca > 0) || (ab < 0 && bc < 0 && ca < 0)) return false;
            ways[i].add(a), ways[i].add(b), ways[i].add(c);
            boxes[i].take(s.a), boxes[i].take(s.b);
        } else {
            if (std::abs(sweepOf(from, s)) > pi + 0.01) return false;
            for (const double t : {0.0, 0.34, 0.67, 1.0}) ways[i].add(tangentAt(from, s, t));
            boxes[i].take(boundsOf(Path{from, {s}, false}));
        }
        if (ways[i].count == 0) return false;
        for (std::size_t k = 0; k + 1 < i; ++k)
            if (!(k == 0 && i == n - 1) && boxes[k].meets(boxes[i])) return false;
    }
    int rounds = 0; // times the way passes the x axis, to the left less to the right
    Vec2 before = ways[n - 1].way[ways[n - 1].count - 1];
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t k = 0; k < ways[i].count; before = ways[i].way[k], ++k) {
            const Vec2 way = ways[i].way[k];
            const double side = cross(before, way);
            if (side == 0 && dot(before, way) < 0) return false; // straight back
            if (before.y < 0 && way.y >= 0 && side > 0) ++rounds;
            if (before.y >= 0 && way.y < 0 && side < 0) --rounds;
        }
    if (std::abs(rounds) != 1) return false;
    for (std::size_t i = 0; i < n; ++i) {
        const Ways &a = ways[i], &b = ways[(i + 1) % n];
        Vec2 last = a.way[0], left = last, right = last;
        bool turnsBack = false, spreads = false;
        const auto look = [&](Vec2 way) {
            turnsBack |= cross(last, way) * rounds < 0;
            const bool beyondLeft = cross(left, way) > 0, beyondRight = cross(right, way) < 0;
            spreads |= beyondLeft && beyondRight; // behind both
            if (beyondLeft) left = way;
            if (beyondRight) right = way;
            spreads |= cross(right, left) < 0 || (cross(right, left) == 0 && dot(right, left) < 0);
            last = way;
        };
        for (std::size_t k = 1; k < a.count; ++k) look(a.way[k]);
        for (std::size_t k = 0; k < b.count; ++k) look(b.way[k]);
        if (turnsBack && spreads) return false;
    }
    return true;
}

std::optional<Vec2> crossingOf(const Ring& a, const Ring& b) {
    for (std::size_t i = 0; i + 1 < a.size(); ++i)
        for (std::size_t k = 0; k + 1 < b.size(); ++k)
            if (const auto at = crossing(a[i], a[i + 1], b[k], b[k + 1])) return at;
    return std::nullopt;
}

} // namespace

std::optional<Vec2> selfCrossing(const Ring& points, bool closed) {
    const std::size_t n = points.size(), count = closed ? n : n - (n > 0);
    if (count < 3) return std::nullopt;
    std::vector<Box> boxes(count);
    for (std::size_t i = 0; i < count; ++i) boxes[i].take(points[i]), boxes[i].take(points[(i + 1) % n]);
    const SpatialIndex index(boxes);
    for (std::size_t i = 0; i < count; ++i)
        for (const std::size_t j : index.meeting(boxes[i])) {
            if (j <= i + 1 || (closed && i == 0 && j == count - 1)) continue;
            if (const auto at = crossing(points[i], points[(i + 1) % n], points[j], points[(j + 1) % n])) return at;
        }
    return std::nullopt;
}

std::optional<Vec2> selfCrossing(const Path& path, double tolerance) {
    if (path.closed && isSimple(path)) return std::nullopt;
    const std::size_t n = path.segments.size();
    std::vector<Ring> parts(n);
    std::vector<Box> boxes(n);
    for (std::size_t i = 0; i < n; ++i) {
        parts[i].push_back(path.from(i));
        flattenSegment(path.from(i), path.segments[i], tolerance, [&](Vec2 p) { parts[i].push_back(p); });
        for (const Vec2 p : parts[i]) boxes[i].take(p);
    }
    const SpatialIndex index(boxes);
    for (std::size_t i = 0; i < n; ++i)
        for (const std::size_t j : index.meeting(boxes[i]))
            if (j >= i) // itself too: a cubic may loop
                if (const auto at = crossingOf(parts[i], parts[j])) return at;
    return std::nullopt;
}

} // namespace ferro

#include "geometry/measure.h"

#include "geometry/flatten.h"

namespace ferro {

double distanceToLine(Vec2 p, Vec2 a, Vec2 b) {
    const Vec2 along = b - a;
    const double size2 = dot(along, along);
    const double t = size2 > 0 ? std::clamp(dot(p - a, along) / size2, 0.0, 1.0) : 0;
    return distance(p, a + along * t);
}

double distanceBetween(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
    const double s1 = cross(b - a, c - a), s2 = cross(b - a, d - a), s3 = cross(d - c, a - c), s4 = cross(d - c, b - c);
    if (s1 * s2 < 0 && s3 * s4 < 0) return 0;
    return std::min(
        {distanceToLine(a, c, d), distanceToLine(b, c, d), distanceToLine(c, a, b), distanceToLine(d, a, b)});
}

bool contains(const Ring& ring, Vec2 p) {
    bool inside = false;
    for (std::size_t i = 0, j = ring.size() - 1; i < ring.size(); j = i++)
        if ((ring[i].y > p.y) != (ring[j].y > p.y) &&
            p.x < (ring[j].x - ring[i].x) * (p.y - ring[i].y) / (ring[j].y - ring[i].y) + ring[i].x)
            inside = !inside;
    return inside;
}

bool contains(const Rings& rings, Vec2 p) {
    bool inside = false;
    for (const auto& ring : rings) inside ^= contains(ring, p);
    return inside;
}

Segment cutOf(Vec2 from, const Segment& s, double t0, double t1) {
    if (t0 <= 0 && t1 >= 1) return s;
    if (s.kind != Segment::Kind::cubic) return {s.kind, s.ccw, pointAt(from, s, t1), s.a, {}};
    // Blossoms of the cubic: de Casteljau with mixed parameters (Ramshaw 1987).
    const auto blossom = [&](double u, double v, double w) {
        const auto mix = [](Vec2 a, Vec2 b, double t) { return lerp(a, b, t); };
        const Vec2 ab = mix(from, s.a, u), bc = mix(s.a, s.b, u), cd = mix(s.b, s.end, u);
        return mix(mix(ab, bc, v), mix(bc, cd, v), w);
    };
    return Segment::cubic(blossom(t0, t0, t1), blossom(t0, t1, t1), pointAt(from, s, t1));
}

std::optional<std::pair<double, double>> crossingNear(Vec2 fromA, const Segment& a, double t, Vec2 fromB,
                                                      const Segment& b, double u) {
    for (int round = 0; round < 10; ++round) {
        constexpr double h = 1e-6;
        const Vec2 off = pointAt(fromA, a, t) - pointAt(fromB, b, u);
        if (length(off) < 1e-10) return std::pair{t, u};
        const Vec2 dt = (pointAt(fromA, a, t + h) - pointAt(fromA, a, t - h)) / (2 * h),
                   du = (pointAt(fromB, b, u + h) - pointAt(fromB, b, u - h)) / (2 * h);
        const double slope = cross(dt, du);
        if (std::abs(slope) < 1e-9 * length(dt) * length(du) || slope == 0) return std::nullopt;
        t = std::clamp(t - cross(off, du) / slope, 0.0, 1.0);
        u = std::clamp(u - cross(off, dt) / slope, 0.0, 1.0);
    }
    return length(pointAt(fromA, a, t) - pointAt(fromB, b, u)) < 1e-9 ? std::optional(std::pair{t, u}) : std::nullopt;
}

Ruler::Ruler(Path path) : path_(std::move(path)) {
    double sum = 0;
    for (std::size_t i = 0; i < path_.segments.size(); ++i)
        ends_.push_back(sum += lengthOf(path_.from(i), path_.segments[i]));
}

Station Ruler::at(double along) const {
    if (ends_.empty()) return {0, 0, path_.start, {}};
    const double whole = length();
    if (path_.closed && whole > 0) {
        along = std::fmod(along, whole);
        if (along < 0) along += whole;
    }
    along = std::clamp(along, 0.0, whole);
    const auto found = std::lower_bound(ends_.begin(), ends_.end(), along);
    const auto i = static_cast<std::size_t>(
        std::min<std::ptrdiff_t>(found - ends_.begin(), static_cast<std::ptrdiff_t>(ends_.size()) - 1));
    const double begin = i == 0 ? 0 : ends_[i - 1], size = ends_[i] - begin;
    const double t = size > 0 ? (along - begin) / size : 0;
    return {i, t, pointAt(path_.from(i), path_.segments[i], t), tangentAt(path_.from(i), path_.segments[i], t)};
}

double Ruler::nearest(Vec2 p) const {
    double best = std::numeric_limits<double>::infinity(), along = 0;
    for (std::size_t i = 0; i < path_.segments.size(); ++i) {
        const Vec2 from = path_.from(i);
        const auto& s = path_.segments[i];
        const double begin = i == 0 ? 0 : ends_[i - 1], size = ends_[i] - begin;
        const int parts = s.kind == Segment::Kind::line ? 1 : 64;
        Vec2 a = from;
        for (int k = 1; k <= parts; ++k) {
            const Vec2 b = pointAt(from, s, static_cast<double>(k) / parts), d = b - a;
            const double t = dot(d, d) > 0 ? std::clamp(dot(p - a, d) / dot(d, d), 0.0, 1.0) : 0;
            if (const double far = distance(p, a + d * t); far < best)
                best = far, along = begin + size * (k - 1 + t) / parts;
            a = b;
        }
    }
    return along;
}

std::vector<Segment> Ruler::stretch(double from, double to) const {
    std::vector<Segment> out;
    if (ends_.empty() || !(to > from)) return out;
    const double whole = length();
    double shift = 0;
    if (path_.closed && whole > 0) shift = std::floor(from / whole) * whole;
    from -= shift, to -= shift;
    const Station first = at(from);
    for (std::size_t i = from >= whole ? 0 : first.segment, turn = 0; turn < 3;) {
        const double lap = static_cast<double>(turn) * whole;
        const double begin = lap + (i == 0 ? 0 : ends_[i - 1]), end = lap + ends_[i], size = end - begin;
        if (begin >= to - 1e-12) break;
        if (size > 0 && end > from + 1e-12) {
            const double t0 = std::max(0.0, (from - begin) / size), t1 = std::min(1.0, (to - begin) / size);
            out.push_back(cutOf(path_.from(i), path_.segments[i], t0, t1));
        }
        if (++i == ends_.size()) {
            if (!path_.closed) break;
            i = 0, ++turn;
        }
    }
    return out;
}

} // namespace ferro

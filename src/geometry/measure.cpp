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

namespace {

Vec2 nearestOnLine(Vec2 p, Vec2 a, Vec2 b) {
    const Vec2 along = b - a;
    const double size2 = dot(along, along);
    return a + along * (size2 > 0 ? std::clamp(dot(p - a, along) / size2, 0.0, 1.0) : 0);
}
/// Whether a place lies in the sector that an arc sweeps; angles by cross products alone, for this is asked by the
/// million.
bool inSweep(Vec2 from, const Segment& arc, Vec2 p) {
    const Vec2 u = (arc.ccw ? from : arc.end) - arc.a, v = (arc.ccw ? arc.end : from) - arc.a, w = p - arc.a;
    return cross(u, v) >= 0 ? cross(u, w) >= 0 && cross(w, v) >= 0 : !(cross(v, w) > 0 && cross(w, u) > 0);
}
double radiusOf(Vec2 from, const Segment& arc) { return (distance(from, arc.a) + distance(arc.end, arc.a)) / 2; }
Vec2 nearestOnArc(Vec2 from, const Segment& arc, Vec2 p) {
    const Vec2 out = p - arc.a;
    if (inSweep(from, arc, p) && dot(out, out) > 0) return arc.a + unit(out) * radiusOf(from, arc);
    return distance(p, from) <= distance(p, arc.end) ? from : arc.end;
}

} // namespace

double distanceTo(Vec2 from, const Segment& s, Vec2 p) {
    return s.kind == Segment::Kind::line ? distanceToLine(p, from, s.end) : distance(p, nearestOnArc(from, s, p));
}

Approach approachOf(Vec2 from, const Segment& s, Vec2 c, Vec2 d) {
    Approach best{std::numeric_limits<double>::infinity(), from, c};
    const auto take = [&](Vec2 onFirst, Vec2 onSecond) {
        if (const double far = distance(onFirst, onSecond); far < best.apart) best = {far, onFirst, onSecond};
    };
    for (const Vec2 end : {from, s.end}) take(end, nearestOnLine(end, c, d));
    const Vec2 way = d - c;
    if (s.kind == Segment::Kind::line) {
        for (const Vec2 end : {c, d}) take(nearestOnLine(end, from, s.end), end);
        const double s1 = cross(s.end - from, c - from), s2 = cross(s.end - from, d - from), s3 = cross(way, from - c),
                     s4 = cross(way, s.end - c);
        if (s1 * s2 < 0 && s3 * s4 < 0) {
            const Vec2 at = lerp(c, d, s1 / (s1 - s2));
            best = {0, at, at};
        }
        return best;
    }
    for (const Vec2 end : {c, d}) take(nearestOnArc(from, s, end), end);
    const double size2 = dot(way, way), radius = radiusOf(from, s);
    if (!(size2 > 0)) return best;
    // On the whole line the nearest place is below the centre; where the line runs within the circle, where they cross.
    const double foot = dot(s.a - c, way) / size2;
    const double off2 = radius * radius - dot(c + way * foot - s.a, c + way * foot - s.a);
    const double half = off2 > 0 ? std::sqrt(off2 / size2) : 0;
    for (const double t : {foot - half, foot + half})
        if (const Vec2 at = c + way * t; t >= 0 && t <= 1 && inSweep(from, s, at)) take(nearestOnArc(from, s, at), at);
    return best;
}

double perimeterOf(const Ring& ring) {
    double around = 0;
    for (std::size_t i = 0; i < ring.size(); ++i) around += distance(ring[i], ring[(i + 1) % ring.size()]);
    return around;
}

bool contains(const Ring& ring, Vec2 p) {
    bool inside = false;
    for (std::size_t i = 0, j = ring.size() - 1; i < ring.size(); j = i++)
        if ((ring[i].y > p.y) != (ring[j].y > p.y) &&
            p.x < (ring[j].x - ring[i].x) * (p.y - ring[i].y) / (ring[j].y - ring[i].y) + ring[i].x)
            inside = !inside;
    return inside;
}

std::vector<std::pair<double, double>> insideAt(const Rings& area, double y) {
    std::vector<double> crossings;
    for (const auto& ring : area)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
            if ((a.y <= y) != (b.y <= y)) crossings.push_back(a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y));
        }
    std::sort(crossings.begin(), crossings.end());
    std::vector<std::pair<double, double>> out;
    for (std::size_t i = 0; i + 1 < crossings.size(); i += 2) out.emplace_back(crossings[i], crossings[i + 1]);
    return out;
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
    for (std::size_t i = 0; i < path_.segments.size(); ++i) {
        const Vec2 from = path_.from(i);
        const auto& s = path_.segments[i];
        ends_.push_back(sum += lengthOf(from, s));
        // As wide as its handles or its circle reach: that costs nothing, and is all that is asked.
        Box box;
        box.take(from), box.take(s.end);
        if (s.kind == Segment::Kind::cubic) box.take(s.a), box.take(s.b);
        boxes_.push_back(s.kind == Segment::Kind::arc ? box.grown(2 * distance(from, s.a)) : box);
    }
}

/// By angle on an arc, by Newton's iteration on a cubic.
double nearestOn(Vec2 from, const Segment& s, Vec2 p) {
    if (s.kind == Segment::Kind::line) {
        const Vec2 d = s.end - from;
        return dot(d, d) > 0 ? std::clamp(dot(p - from, d) / dot(d, d), 0.0, 1.0) : 0;
    }
    if (s.kind == Segment::Kind::arc) {
        const double sweep = sweepOf(from, s);
        const Vec2 u = from - s.a;
        const double angle = std::atan2(cross(u, p - s.a), dot(u, p - s.a)),
                     along = positiveAngle(sweep < 0 ? -angle : angle), whole = std::abs(sweep);
        if (along <= whole) return whole > 0 ? along / whole : 0;
        return distance(p, from) <= distance(p, s.end) ? 0 : 1;
    }
    constexpr int parts = 20;
    double best = std::numeric_limits<double>::infinity(), t = 0;
    Vec2 a = from;
    for (int k = 1; k <= parts; ++k) {
        const Vec2 b = pointAt(from, s, static_cast<double>(k) / parts), d = b - a;
        const double share = dot(d, d) > 0 ? std::clamp(dot(p - a, d) / dot(d, d), 0.0, 1.0) : 0;
        const Vec2 off = a + d * share - p;
        if (const double far2 = dot(off, off); far2 < best) best = far2, t = (k - 1 + share) / parts;
        a = b;
    }
    for (int round = 0; round < 3; ++round) {
        const double u = 1 - t;
        const Vec2 off = pointAt(from, s, t) - p,
                   slope = ((s.a - from) * (u * u) + (s.b - s.a) * (2 * u * t) + (s.end - s.b) * (t * t)) * 3,
                   bend = ((s.b - s.a * 2 + from) * u + (s.end - s.b * 2 + s.a) * t) * 6;
        const double below = dot(slope, slope) + dot(off, bend);
        if (!(below > 1e-12)) break;
        t = std::clamp(t - dot(off, slope) / below, 0.0, 1.0);
    }
    return t;
}

namespace {
double farFrom(const Box& box, Vec2 p) {
    const double x = std::max({box.low.x - p.x, p.x - box.high.x, 0.0}),
                 y = std::max({box.low.y - p.y, p.y - box.high.y, 0.0});
    return std::hypot(x, y);
}
} // namespace

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
    const auto look = [&](std::size_t i) {
        const Vec2 from = path_.from(i);
        const double t = nearestOn(from, path_.segments[i], p), far = distance(p, pointAt(from, path_.segments[i], t));
        const double begin = i == 0 ? 0 : ends_[i - 1], here = begin + (ends_[i] - begin) * t;
        // Of two as near the first counts, in whatever order they are looked at.
        if (far < best || (far == best && here < along)) best = far, along = here;
    };
    std::size_t first = 0; // whose box is nearest: most of the others need no look after that
    for (std::size_t i = 1; i < boxes_.size(); ++i)
        if (farFrom(boxes_[i], p) < farFrom(boxes_[first], p)) first = i;
    if (!boxes_.empty()) look(first);
    for (std::size_t i = 0; i < boxes_.size(); ++i)
        if (i != first && farFrom(boxes_[i], p) <= best) look(i);
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
    for (std::size_t i = from >= whole ? 0 : first.segment, turn = 0; whole > 0;) { // as many laps as it takes
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

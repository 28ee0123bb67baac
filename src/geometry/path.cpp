#include "geometry/path.h"

#include "base/kept.h"
#include "geometry/arc_cubics.h"
#include "geometry/flatten.h"

#include <array>

namespace ferro {

void Path::close(double snap) {
    closed = true;
    if (segments.empty() || end() == start) return;
    Segment& last = segments.back();
    // Arcs keep their radius only if their ends stay put, so only lines and cubics are nudged.
    if (distance(end(), start) <= snap && last.kind != Segment::Kind::arc)
        last.end = start;
    else
        segments.push_back(Segment::line(start));
}

Path pathOf(const Ring& points, bool closed) {
    Path path;
    if (points.empty()) return path;
    path.start = points.front();
    path.segments.reserve(points.size());
    for (std::size_t i = 1; i < points.size(); ++i) path.segments.push_back(Segment::line(points[i]));
    if (closed) path.close();
    return path;
}

Path circle(Vec2 centre, double radius) {
    const Vec2 right = centre + Vec2{radius, 0}, left = centre - Vec2{radius, 0};
    return {right, {Segment::arc(centre, left, true), Segment::arc(centre, right, true)}, true};
}

Path rectangle(Vec2 low, Vec2 high, double r) {
    r = std::clamp(r, 0.0, std::min(high.x - low.x, high.y - low.y) / 2);
    if (r <= 0) return pathOf({low, {high.x, low.y}, high, {low.x, high.y}}, true);
    Path path{{low.x + r, low.y}, {}, false};
    const auto corner = [&](Vec2 centre, Vec2 from, Vec2 to) {
        if (distance(path.end(), from) > 1e-12) path.segments.push_back(Segment::line(from));
        path.segments.push_back(Segment::arc(centre, to, true));
    };
    corner({high.x - r, low.y + r}, {high.x - r, low.y}, {high.x, low.y + r});
    corner({high.x - r, high.y - r}, {high.x, high.y - r}, {high.x - r, high.y});
    corner({low.x + r, high.y - r}, {low.x + r, high.y}, {low.x, high.y - r});
    corner({low.x + r, low.y + r}, {low.x, low.y + r}, {low.x + r, low.y});
    path.close();
    return path;
}

double sweepOf(Vec2 from, const Segment& arc) {
    const Vec2 u = from - arc.a, v = arc.end - arc.a;
    const double turn = std::atan2(cross(u, v), dot(u, v));
    if (arc.ccw) return turn < 0 ? turn + 2 * pi : turn;
    return turn > 0 ? turn - 2 * pi : turn;
}

Vec2 pointAt(Vec2 from, const Segment& s, double t) {
    if (t <= 0) return from;
    if (t >= 1) return s.end;
    switch (s.kind) {
    case Segment::Kind::line: return lerp(from, s.end, t);
    case Segment::Kind::arc: {
        // The radius eases from start to end, so that a rounded arc still meets both.
        const double angle = t * sweepOf(from, s);
        const Vec2 u = from - s.a;
        const double r0 = length(u), r1 = distance(s.end, s.a);
        const Vec2 turned{u.x * std::cos(angle) - u.y * std::sin(angle), u.x * std::sin(angle) + u.y * std::cos(angle)};
        return s.a + turned * (r0 > 0 ? (r0 + (r1 - r0) * t) / r0 : 0);
    }
    case Segment::Kind::cubic: {
        const double k = 1 - t;
        return from * (k * k * k) + s.a * (3 * k * k * t) + s.b * (3 * k * t * t) + s.end * (t * t * t);
    }
    }
    return s.end;
}

Vec2 tangentAt(Vec2 from, const Segment& s, double t) {
    if (s.kind == Segment::Kind::line) return unit(s.end - from);
    if (s.kind == Segment::Kind::arc) {
        const Vec2 radial = unit(pointAt(from, s, t) - s.a);
        return s.ccw ? perpendicular(radial) : -perpendicular(radial);
    }
    const double k = 1 - t;
    const Vec2 d = (s.a - from) * (k * k) + (s.b - s.a) * (2 * k * t) + (s.end - s.b) * (t * t);
    if (length(d) > 1e-12) return unit(d);
    // A handle lies on its end: the next one gives the direction.
    if (t < 0.5) return unit(distance(s.b, from) > 1e-12 ? s.b - from : s.end - from);
    return unit(distance(s.end, s.a) > 1e-12 ? s.end - s.a : s.end - from);
}

double lengthOf(Vec2 from, const Segment& s) {
    if (s.kind == Segment::Kind::line) return distance(from, s.end);
    if (s.kind == Segment::Kind::arc)
        return std::abs(sweepOf(from, s)) * (distance(from, s.a) + distance(s.end, s.a)) / 2;
    double sum = 0;
    Vec2 last = from;
    flattenSegment(from, s, 0.0005, [&](Vec2 p) { sum += distance(last, p), last = p; });
    return sum;
}

double lengthOf(const Path& path) {
    double sum = 0;
    for (std::size_t i = 0; i < path.segments.size(); ++i) sum += lengthOf(path.from(i), path.segments[i]);
    return sum;
}

double areaOf(const Ring& ring) {
    if (ring.size() < 3) return 0;
    double sum = 0;
    for (std::size_t i = 1; i + 1 < ring.size(); ++i) sum += cross(ring[i] - ring[0], ring[i + 1] - ring[0]);
    return sum / 2;
}

double areaOf(const Piece& piece) {
    double area = std::abs(areaOf(piece.outline));
    for (const auto& opening : piece.openings) area -= std::abs(areaOf(opening));
    return area;
}

double areaOf(const Path& path) {
    double twice = 0;
    const Vec2 o = path.start;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const auto& s = path.segments[i];
        const Vec2 p = path.from(i) - o, q = s.end - o;
        twice += cross(p, q);
        if (s.kind == Segment::Kind::arc) {
            const double sweep = sweepOf(path.from(i), s), r = distance(s.end, s.a);
            twice += r * r * (sweep - std::sin(sweep));
        } else if (s.kind == Segment::Kind::cubic) {
            const Vec2 a = s.a - o, b = s.b - o;
            // Green's theorem on the Bernstein form; the chord's share is already in.
            twice += 0.1 * (6 * cross(p, a) + 3 * cross(p, b) + cross(p, q) + 3 * cross(a, b) + 3 * cross(a, q) +
                            6 * cross(b, q)) -
                     cross(p, q);
        }
    }
    return twice / 2;
}

Path reversed(const Path& path) {
    Path back{path.end(), {}, path.closed};
    back.segments.reserve(path.segments.size());
    for (std::size_t i = path.segments.size(); i-- > 0;) {
        Segment s = path.segments[i];
        s.end = path.from(i);
        s.ccw = s.kind == Segment::Kind::arc ? !s.ccw : s.ccw;
        if (s.kind == Segment::Kind::cubic) std::swap(s.a, s.b);
        back.segments.push_back(s);
    }
    return back;
}

Path wound(Path path, bool ccw) { return path.closed && (areaOf(path) > 0) != ccw ? reversed(path) : path; }

Path transformed(const Path& path, const Transform& by) {
    Path out{by(path.start), {}, path.closed};
    out.segments.reserve(path.segments.size());
    const bool round = by.keepsCircles(), mirrors = by.determinant() < 0;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const auto& s = path.segments[i];
        if (s.kind == Segment::Kind::arc && !round) {
            for (const auto& c : arcAsCubics(path.from(i), s, pi / 8))
                out.segments.push_back(Segment::cubic(by(c.a), by(c.b), by(c.end)));
            continue;
        }
        Segment moved{s.kind, s.ccw, by(s.end), {}, {}};
        if (s.kind != Segment::Kind::line) moved.a = by(s.a);
        if (s.kind == Segment::Kind::cubic) moved.b = by(s.b);
        if (s.kind == Segment::Kind::arc && mirrors) moved.ccw = !moved.ccw;
        out.segments.push_back(moved);
    }
    if (out.closed && !out.segments.empty()) out.segments.back().end = out.start;
    return out;
}

Piece transformed(const Piece& piece, const Transform& by) {
    Piece out{wound(transformed(piece.outline, by), true), {}};
    out.openings.reserve(piece.openings.size());
    for (const auto& opening : piece.openings) out.openings.push_back(wound(transformed(opening, by), false));
    return out;
}

Box boundsOf(Vec2 from, const Segment& s) {
    Box box;
    box.take(from);
    box.take(s.end);
    if (s.kind == Segment::Kind::arc) {
        const double sweep = sweepOf(from, s), r = distance(s.end, s.a);
        const double begin = std::atan2(from.y - s.a.y, from.x - s.a.x);
        for (const Vec2 d : {Vec2{1, 0}, Vec2{0, 1}, Vec2{-1, 0}, Vec2{0, -1}}) {
            const double at = std::atan2(d.y, d.x);
            const double turn = positiveAngle(sweep > 0 ? at - begin : begin - at);
            if (turn < std::abs(sweep)) box.take(s.a + d * r);
        }
    } else if (s.kind == Segment::Kind::cubic) {
        const auto extremes = [&](double p0, double p1, double p2, double p3) {
            const double a = -p0 + 3 * p1 - 3 * p2 + p3, b = 2 * (p0 - 2 * p1 + p2), c = p1 - p0;
            std::array<double, 2> roots{-1, -1};
            if (std::abs(a) < 1e-12 * (std::abs(b) + std::abs(c)))
                roots[0] = b != 0 ? -c / b : -1;
            else if (const double disc = b * b - 4 * a * c; disc >= 0)
                roots = {(-b + std::sqrt(disc)) / (2 * a), (-b - std::sqrt(disc)) / (2 * a)};
            for (const double t : roots)
                if (t > 0 && t < 1) box.take(pointAt(from, s, t));
        };
        extremes(from.x, s.a.x, s.b.x, s.end.x);
        extremes(from.y, s.a.y, s.b.y, s.end.y);
    }
    return box;
}
Box boundsOf(const Path& path) {
    Box box;
    box.take(path.start);
    for (std::size_t i = 0; i < path.segments.size(); ++i) box.take(boundsOf(path.from(i), path.segments[i]));
    return box;
}
KeptKey& operator<<(KeptKey& key, const Path& path) {
    key << path.start.x << path.start.y << path.closed << path.segments.size();
    for (const auto& s : path.segments)
        key << s.kind << s.ccw << s.end.x << s.end.y << s.a.x << s.a.y << s.b.x << s.b.y;
    return key;
}
KeptKey& operator<<(KeptKey& key, const Rings& rings) {
    key << rings.size();
    for (const auto& ring : rings) {
        key << ring.size();
        for (const Vec2 p : ring) key << p.x << p.y;
    }
    return key;
}

Box boundsOf(const Piece& piece) {
    Box box = boundsOf(piece.outline);
    for (const auto& opening : piece.openings) box.take(boundsOf(opening));
    return box;
}

std::size_t pointsOf(const Path& path) {
    return path.segments.size() + (path.closed && !path.segments.empty() ? 0 : 1);
}

std::size_t pointsOf(const Piece& piece) {
    std::size_t sum = pointsOf(piece.outline);
    for (const auto& opening : piece.openings) sum += pointsOf(opening);
    return sum;
}

std::optional<Circle> circleOf(const Path& path, double tolerance) {
    if (!path.closed || path.segments.size() < 2) return std::nullopt;
    const Box box = boundsOf(path);
    const Circle guess{box.centre(), (box.width() + box.height()) / 4};
    if (!(guess.radius > tolerance) || std::abs(box.width() - box.height()) > 2 * tolerance) return std::nullopt;
    // A regular polygon of few sides is no circle: every sample of the flattened path must lie on the round.
    for (std::size_t i = 0; i < path.segments.size(); ++i)
        for (int k = 0; k < 4; ++k)
            if (std::abs(distance(pointAt(path.from(i), path.segments[i], k / 4.0), guess.centre) - guess.radius) >
                tolerance)
                return std::nullopt;
    if (std::abs(std::abs(areaOf(path)) - pi * guess.radius * guess.radius) > 2 * pi * guess.radius * tolerance)
        return std::nullopt;
    return guess;
}

} // namespace ferro

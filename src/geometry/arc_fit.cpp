#include "geometry/arc_fit.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"

namespace ferro {

namespace {

/// The chain from `first` to `last` (inclusive) as one line, if every point between is near it and in its order.
bool fitsLine(std::span<const Vec2> p, std::size_t first, std::size_t last, double tolerance) {
    const Vec2 a = p[first], d = p[last] - a;
    const double size = length(d);
    if (size < 1e-12) return last == first + 1;
    double reached = 0;
    for (std::size_t i = first + 1; i < last; ++i) {
        const Vec2 v = p[i] - a;
        const double along = dot(v, d) / size;
        if (std::abs(cross(d, v)) > tolerance * size || along < reached - tolerance || along > size + tolerance)
            return false;
        reached = std::max(reached, along);
    }
    return true;
}

std::optional<Segment> fittedArc(std::span<const Vec2> p, std::size_t first, std::size_t last, double tolerance) {
    return arcThrough(p.subspan(first, last - first + 1), tolerance);
}

/// The farthest end that `fits` accepts, by doubling and then halving: fitting is not monotonic, but nearly so.
template<class Fits> std::size_t farthest(std::size_t first, std::size_t shortest, std::size_t end, Fits&& fits) {
    if (first + shortest > end || !fits(first + shortest)) return first;
    std::size_t good = first + shortest, step = shortest;
    while (good + step <= end && fits(good + step)) good += step, step *= 2;
    for (; step > 0; step /= 2)
        if (good + step <= end && fits(good + step)) good += step;
    return good;
}

void fitRun(Path& out, std::span<const Vec2> p, double tolerance) {
    for (std::size_t at = 0; at + 1 < p.size();) {
        const std::size_t end = p.size() - 1;
        const std::size_t line = farthest(at, 1, end, [&](std::size_t to) { return fitsLine(p, at, to, tolerance); });
        const std::size_t arc =
            farthest(at, 2, end, [&](std::size_t to) { return fittedArc(p, at, to, tolerance).has_value(); });
        // A straight edge must not lean over to take in the first chord of the round after it: where an arc is about to
        // begin, lines are held to a quarter of the tolerance.
        const std::size_t strict =
            farthest(at, 1, end, [&](std::size_t to) { return fitsLine(p, at, to, tolerance / 4); });
        const bool roundFollows = strict < line && farthest(strict, 2, end, [&](std::size_t to) {
                                                       return fittedArc(p, strict, to, tolerance).has_value();
                                                   }) > line;
        if (arc <= line + 1 && roundFollows) {
            at = std::max(strict, at + 1);
            out.segments.push_back(Segment::line(p[at]));
        } else if (arc > line + 1) {
            out.segments.push_back(*fittedArc(p, at, arc, tolerance));
            at = arc;
        } else {
            at = std::max(line, at + 1);
            out.segments.push_back(Segment::line(p[at]));
        }
    }
}

} // namespace

// The one freedom left, the centre's place on the bisector of the two ends, is solved by least squares over the points
// between (each gives one linear equation), then every point and chord is checked.
std::optional<Segment> arcThrough(std::span<const Vec2> p, double tolerance) {
    const Vec2 a = p.front(), b = p.back(), middle = (a + b) / 2;
    const Vec2 chord = b - a;
    const double half = length(chord) / 2;
    if (half < 1e-9 || p.size() < 3) return std::nullopt;
    const Vec2 normal = perpendicular(chord) / (2 * half);
    // |q - m - h n|² = half² + h²  →  2 h (q-m)·n = |q-m|² - half²
    double weight = 0, sum = 0;
    for (std::size_t i = 1; i + 1 < p.size(); ++i) {
        const Vec2 q = p[i] - middle;
        const double k = 2 * dot(q, normal);
        weight += k * k;
        sum += k * (dot(q, q) - half * half);
    }
    if (weight < 1e-18) return std::nullopt;
    const double h = sum / weight;
    const Vec2 centre = middle + normal * h;
    const double radius = std::hypot(half, h);
    if (!(radius < 1e5)) return std::nullopt;
    const bool ccw = cross(p[1] - a, b - a) > 0;
    // At most half a turn, so that the arc is well defined by its ends.
    if (ccw ? h < -1e-9 * half : h > 1e-9 * half) return std::nullopt;
    Vec2 last_point = a;
    for (std::size_t i = 1; i < p.size(); ++i) {
        const Vec2 q = p[i];
        if (i + 1 < p.size() && std::abs(distance(q, centre) - radius) > tolerance) return std::nullopt;
        const double turn = cross(last_point - centre, q - centre);
        if (ccw ? turn <= 0 : turn >= 0) return std::nullopt;
        // The middle of the stretch is where it is farthest from the arc. A quarter more room: the offsetter makes the
        // last chord of a round up to half as long again as the rest.
        if (std::abs(distance((last_point + q) / 2, centre) - radius) > 1.25 * tolerance) return std::nullopt;
        last_point = q;
    }
    return Segment::arc(centre, b, ccw);
}

std::optional<Circle> circleThrough(std::span<const Vec2> points) {
    Vec2 mean;
    for (const Vec2 p : points) mean += p / static_cast<double>(points.size());
    double xx = 0, xy = 0, yy = 0, xz = 0, yz = 0, zz = 0;
    for (const Vec2 q : points) {
        const Vec2 p = q - mean;
        const double z = dot(p, p);
        xx += p.x * p.x, xy += p.x * p.y, yy += p.y * p.y, xz += p.x * z, yz += p.y * z, zz += z;
    }
    const double det = xx * yy - xy * xy;
    if (!(det > 1e-12 * (xx + yy) * (xx + yy))) return std::nullopt; // on a line, or all in one place
    const Vec2 off{(xz * yy - yz * xy) / (2 * det), (yz * xx - xz * xy) / (2 * det)};
    return Circle{mean + off, std::sqrt(zz / static_cast<double>(points.size()) + dot(off, off))};
}

Path arcFitted(const Ring& points, bool closed, double tolerance) {
    if (points.size() < 3) return pathOf(points, closed);
    Ring chain = points;
    if (closed) {
        std::size_t sharpest = 0;
        double turn = -1;
        for (std::size_t i = 0; i < points.size(); ++i) {
            const Vec2 in = unit(points[i] - points[(i + points.size() - 1) % points.size()]);
            const Vec2 out = unit(points[(i + 1) % points.size()] - points[i]);
            if (const double here = 1 - dot(in, out); here > turn + 1e-9) turn = here, sharpest = i;
        }
        if (turn < 1 - std::cos(0.35)) { // no corner anywhere: the longest straight stretch is the best place to begin
            double longest = -1;
            for (std::size_t i = 0; i < points.size(); ++i)
                if (const double size = distance(points[i], points[(i + 1) % points.size()]); size > longest + 1e-9)
                    longest = size, sharpest = i;
        }
        std::rotate(chain.begin(), chain.begin() + static_cast<std::ptrdiff_t>(sharpest), chain.end());
        chain.push_back(chain.front());
    }
    Path path{chain.front(), {}, closed};
    fitRun(path, chain, tolerance);
    return path;
}

Path withoutCubics(const Path& path, double tolerance) {
    Path out{path.start, {}, path.closed};
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const auto& s = path.segments[i];
        if (s.kind != Segment::Kind::cubic) {
            out.segments.push_back(s);
            continue;
        }
        Ring points{path.from(i)};
        flattenSegment(path.from(i), s, tolerance / 4, [&](Vec2 p) { points.push_back(p); });
        fitRun(out, points, tolerance * 3 / 4);
    }
    return out;
}

} // namespace ferro

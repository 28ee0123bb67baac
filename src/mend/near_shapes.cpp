#include "mend/near_shapes_internal.h"

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"

namespace ferro::mend {

namespace {

/// Points at even steps, so that no part of an outline counts more than another.
Ring evenly(const Path& path, int count) {
    const Ruler ruler(path);
    Ring out;
    for (int i = 0; i < count; ++i) out.push_back(ruler.at(ruler.length() * i / count).point);
    return out;
}

/// Whether the two have the same points, wherever they begin.
bool hasCorners(const Path& path, const Path& of) {
    return path.segments.size() == of.segments.size() &&
           std::all_of(of.segments.begin(), of.segments.end(), [&](const Segment& s) {
               return std::any_of(path.segments.begin(), path.segments.end(),
                                  [&](const Segment& t) { return distance(s.end, t.end) < exact; });
           });
}

/// The run from one segment to another as one arc; none where it is none, or an arc already.
std::optional<Segment> oneArc(const Path& path, std::size_t first, std::size_t last, double tolerance) {
    if (first == last && path.segments[first].kind != Segment::Kind::cubic) return std::nullopt;
    Ring chain{path.from(first)};
    for (std::size_t i = first; i <= last; ++i) {
        const int parts = path.segments[i].kind == Segment::Kind::line ? 1 : 12;
        for (int k = 1; k <= parts; ++k) chain.push_back(pointAt(path.from(i), path.segments[i], k / double(parts)));
    }
    if (chain.size() < 5) return std::nullopt;   // a few lines are corners, not a bend
    for (std::size_t i = first; i < last; ++i) { // nor is what has a corner in it
        const Vec2 in = tangentAt(path.from(i), path.segments[i], 1),
                   out = tangentAt(path.from(i + 1), path.segments[i + 1], 0);
        if (dot(in, out) < std::cos(20 * pi / 180)) return std::nullopt;
    }
    return arcThrough(chain, tolerance);
}

/// Whether an arc is worth the name: bent so much that no line would do, and more where it stands for one curve or two,
/// which may well have been meant as they are.
bool isBent(Vec2 from, const Segment& arc, std::size_t replaces, double tolerance) {
    const double leastTurn = (replaces > 2 ? 30 : 75) * pi / 180;
    const double sweep = std::abs(sweepOf(from, arc)), radius = distance(from, arc.a);
    return sweep >= leastTurn && radius * (1 - std::cos(sweep / 2)) > 2 * tolerance;
}

/// Its left half beside the axis through `at` along `way`, from where it crosses the axis forwards to where it does so
/// backwards, and the mirror image of that.
std::optional<Path> mirrored(const Path& path, Vec2 at, Vec2 way, double tolerance) {
    struct Crossing {
        std::size_t segment;
        double t;
        Vec2 place;
        bool toLeft;
    };
    const auto side = [&](Vec2 p) { return cross(way, p - at); };
    std::vector<Crossing> crossings;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        // By small steps, then halved: an axis through the middle meets outlines squarely.
        constexpr int steps = 16;
        const Vec2 from = path.from(i);
        for (int k = 0; k < steps; ++k) {
            double low = k / double(steps), high = (k + 1) / double(steps);
            const bool before = side(pointAt(from, path.segments[i], low)) >= 0,
                       after = side(pointAt(from, path.segments[i], high)) >= 0;
            if (before == after) continue;
            for (int round = 0; round < 60; ++round) {
                const double middle = (low + high) / 2;
                ((side(pointAt(from, path.segments[i], middle)) >= 0) == before ? low : high) = middle;
            }
            const Vec2 p = pointAt(from, path.segments[i], high);
            crossings.push_back({i, high, at + way * dot(way, p - at), after});
        }
    }
    if (crossings.size() != 2) return std::nullopt;
    const auto& begin = crossings[0].toLeft ? crossings[0] : crossings[1];
    const auto& end = crossings[0].toLeft ? crossings[1] : crossings[0];
    const Ruler ruler(path);
    const auto along = [&](const Crossing& c) {
        double sum = 0;
        for (std::size_t i = 0; i < c.segment; ++i) sum += lengthOf(path.from(i), path.segments[i]);
        return sum + lengthOf(path.from(c.segment), cutOf(path.from(c.segment), path.segments[c.segment], 0, c.t));
    };
    const double a = along(begin), b = along(end);
    Path half{begin.place, ruler.stretch(a, b < a ? b + ruler.length() : b), false};
    while (half.segments.size() > 1 && lengthOf(half.from(half.segments.size() - 1), half.segments.back()) < 1e-6)
        half.segments.pop_back();
    if (half.segments.empty()) return std::nullopt;
    half.segments.back().end = end.place; // on the axis to the last bit
    // A point that nearly lies on the axis is meant to: it and its image are one.
    const auto onto = [&](Vec2 p) { return at + way * dot(way, p - at); };
    if (half.segments.size() > 2 && half.segments.front().kind == Segment::Kind::line &&
        std::abs(side(half.segments.front().end)) <= tolerance) {
        half.start = onto(half.segments.front().end);
        half.segments.erase(half.segments.begin());
    }
    Vec2 foot = end.place;
    if (const auto n = half.segments.size(); n > 2 && half.segments.back().kind == Segment::Kind::line &&
                                             std::abs(side(half.segments[n - 2].end)) <= tolerance) {
        half.segments.pop_back();
        foot = half.segments.back().end = onto(half.segments.back().end);
    }
    const Transform mirror = Axis{at, way}.mirror();
    // A line across the axis stays one, square to it; a curve goes square through it.
    Segment &first = half.segments.front(), &last = half.segments.back();
    // Square to it already where a point of the outline lies on the axis: there two lines meet.
    const bool meetsAtStart = distance(half.start, begin.place) > 0, meetsAtEnd = distance(foot, end.place) > 0;
    const bool lineBegins = first.kind == Segment::Kind::line && half.segments.size() > 1 && !meetsAtStart,
               lineEnds =
                   last.kind == Segment::Kind::line && half.segments.size() > (lineBegins ? 2 : 1) && !meetsAtEnd;
    const auto squared = [&](Vec2 on, Vec2 handle) { return handle - way * dot(handle - on, way); };
    if (first.kind == Segment::Kind::cubic) first.a = squared(half.start, first.a);
    if (last.kind == Segment::Kind::cubic) last.b = squared(foot, last.b);
    Path out = half;
    if (lineBegins) out.start = first.end, out.segments.erase(out.segments.begin());
    if (lineEnds) out.segments.pop_back();
    Path other = reversed(transformed(out, mirror));
    if (lineEnds) out.segments.push_back(Segment::line(other.start));
    out.segments.insert(out.segments.end(), other.segments.begin(), other.segments.end());
    if (lineBegins) out.segments.push_back(Segment::line(out.start));
    out.segments.back().end = out.start;
    out.closed = true;
    return out;
}

} // namespace

Transform Axis::mirror() const {
    const double turn = std::atan2(way.y, way.x);
    return Transform::rotated(turn, at) * Transform::scaled(1, -1, at) * Transform::rotated(-turn, at);
}

double apart(const Path& a, const Path& b) {
    const Ruler one(a), two(b);
    double worst = 0;
    for (const auto& [from, to] : {std::pair{&one, &two}, {&two, &one}})
        for (int i = 0; i <= 96; ++i) {
            const Vec2 p = from->at(from->length() * i / 96).point;
            worst = std::max(worst, distance(p, to->at(to->nearest(p)).point));
        }
    return worst;
}

std::optional<Path> asCircle(const Path& path, double tolerance) {
    if (!path.closed || circleOf(path, exact)) return std::nullopt;
    const auto round = circleThrough(evenly(path, 128));
    // A square is no circle, however small: the tolerance may not be a large part of it.
    if (!round || round->radius < 3 * tolerance) return std::nullopt;
    Path becomes = circle(round->centre, round->radius);
    return apart(path, becomes) <= tolerance ? std::optional(wound(becomes, areaOf(path) > 0)) : std::nullopt;
}

std::optional<Path> asRectangle(const Path& path, double tolerance) {
    if (!path.closed || path.segments.size() < 4) return std::nullopt;
    // The way its longest stretches run, folded into a quarter turn, weighted by their lengths.
    Vec2 sum;
    Vec2 from = path.start;
    for (const auto& s : path.segments) {
        const Vec2 d = s.end - from;
        if (s.kind == Segment::Kind::line) {
            const double four = 4 * std::atan2(d.y, d.x);
            sum += Vec2{std::cos(four), std::sin(four)} * length(d);
        }
        from = s.end;
    }
    if (length(sum) < 0.4 * lengthOf(path)) return std::nullopt;
    double turn = std::atan2(sum.y, sum.x) / 4;
    const Box box = boundsOf(path);
    if (std::abs(std::sin(turn)) * std::max(box.width(), box.height()) < tolerance) turn = 0;
    const Transform upright = Transform::rotated(-turn);
    const Path laid = transformed(path, upright);
    // Each side lies where the middle half of it does on average: corners may be round.
    const Ring points = evenly(laid, 256);
    const Box own = boundsOf(laid);
    const Vec2 quarter = Vec2{own.width(), own.height()} / 4, middle = own.centre();
    const auto side = [&](double Vec2::*member, double Vec2::*other, double at) {
        double total = 0;
        int n = 0;
        for (const Vec2 p : points)
            if (std::abs(p.*member - at) <= 4 * tolerance && std::abs(p.*other - middle.*other) <= quarter.*other)
                total += p.*member, ++n;
        return n ? total / n : at;
    };
    const Vec2 low{side(&Vec2::x, &Vec2::y, own.low.x), side(&Vec2::y, &Vec2::x, own.low.y)},
        high{side(&Vec2::x, &Vec2::y, own.high.x), side(&Vec2::y, &Vec2::x, own.high.y)};
    if (!(high.x - low.x > 4 * tolerance && high.y - low.y > 4 * tolerance)) return std::nullopt;
    // The corner's radius by the area that the corners leave out: (4 - π) r².
    const double missing = (high.x - low.x) * (high.y - low.y) - std::abs(areaOf(laid));
    const double radius = missing > 0 ? std::sqrt(missing / (4 - pi)) : 0;
    std::optional<Path> best;
    for (const double r : {0.0, radius}) {
        if (2 * r > std::min(high.x - low.x, high.y - low.y)) continue;
        const Path becomes = rectangle(low, high, r);
        // Sharp corners where they will do: round ones only when the outline is off without.
        if (!best && apart(laid, becomes) <= tolerance) best = becomes;
    }
    if (!best || hasCorners(laid, *best)) return std::nullopt; // it is one already
    return wound(transformed(*best, Transform::rotated(turn)), areaOf(path) > 0);
}

std::optional<Path> asStraight(const Path& path, double tolerance) {
    const std::size_t n = path.segments.size();
    if (n < 2) return std::nullopt;
    Path out{path.start, {}, path.closed};
    bool changed = false;
    for (std::size_t i = 0; i < n;) {
        if (path.segments[i].kind != Segment::Kind::line) {
            out.segments.push_back(path.segments[i++]);
            continue;
        }
        const Vec2 from = path.from(i);
        std::size_t last = i;
        for (std::size_t k = i + 1; k < n && path.segments[k].kind == Segment::Kind::line; ++k) {
            bool near = true;
            for (std::size_t m = i; m < k; ++m)
                near &= distanceToLine(path.segments[m].end, from, path.segments[k].end) <= tolerance;
            if (!near) break;
            last = k;
        }
        changed |= last > i;
        out.segments.push_back(Segment::line(path.segments[last].end));
        i = last + 1;
    }
    if (!changed || (out.closed && out.segments.size() < 3 && out.segments.front().kind == Segment::Kind::line))
        return std::nullopt;
    return out;
}

std::optional<Path> asLevel(const Path& path, double tolerance) {
    if (std::any_of(path.segments.begin(), path.segments.end(),
                    [](const Segment& s) { return s.kind != Segment::Kind::line; }))
        return std::nullopt;
    Ring points{path.start};
    for (const auto& s : path.segments) points.push_back(s.end);
    if (path.closed) points.pop_back();
    const Ring before = points;
    const std::size_t n = points.size(), stretches = path.closed ? n : n - 1;
    for (std::size_t i = 0; i < stretches; ++i) {
        Vec2 &a = points[i], &b = points[(i + 1) % n];
        const double dx = std::abs(a.x - b.x), dy = std::abs(a.y - b.y);
        if (dy > 0 && dy <= tolerance && dx > 10 * dy) a.y = b.y = (a.y + b.y) / 2;
        if (dx > 0 && dx <= tolerance && dy > 10 * dx) a.x = b.x = (a.x + b.x) / 2;
    }
    // One line's move may have tilted the one before it again: a second round settles what can be.
    for (std::size_t i = 0; i < stretches; ++i) {
        Vec2 &a = points[i], &b = points[(i + 1) % n];
        if (std::abs(a.y - b.y) <= tolerance && std::abs(a.x - b.x) > 10 * std::abs(a.y - b.y)) b.y = a.y;
        if (std::abs(a.x - b.x) <= tolerance && std::abs(a.y - b.y) > 10 * std::abs(a.x - b.x)) b.x = a.x;
    }
    double moved = 0;
    for (std::size_t i = 0; i < n; ++i) moved = std::max(moved, distance(points[i], before[i]));
    if (moved < exact || moved > tolerance) return std::nullopt;
    return pathOf(points, path.closed);
}

std::optional<Path> withArcs(const Path& path, double tolerance) {
    Path out{path.start, {}, path.closed};
    bool changed = false;
    for (std::size_t i = 0; i < path.segments.size();) {
        // The longest run, by doubling and halving, from the shortest that can be one.
        std::size_t last = i;
        std::optional<Segment> arc;
        for (std::size_t more = 0; more < 4 && i + more < path.segments.size() && !arc; ++more)
            if ((arc = oneArc(path, i, i + more, tolerance))) last = i + more;
        for (std::size_t step = 1; arc && step > 0;)
            if (auto longer =
                    last + step < path.segments.size() ? oneArc(path, i, last + step, tolerance) : std::nullopt)
                arc = longer, last += step, step *= 2;
            else
                step /= 2;
        if (arc && !isBent(path.from(i), *arc, last - i + 1, tolerance)) arc.reset(), last = i;
        changed |= arc.has_value();
        out.segments.push_back(arc ? *arc : path.segments[i]);
        i = last + 1;
    }
    if (!changed) return std::nullopt;
    return apart(path, out) <= 1.5 * tolerance ? std::optional(out) : std::nullopt;
}

namespace {
/// The axis that the middles between points and their images lie on, by least squares: exact for what is symmetric. The
/// one that is given where too few points have an image.
Axis settled(const Path& path, const Axis& axis, double tolerance) {
    const Transform mirror = axis.mirror();
    Ring middles;
    for (const auto& s : path.segments)
        for (const auto& t : path.segments)
            if (distance(mirror(s.end), t.end) <= 2 * tolerance) middles.push_back((s.end + t.end) / 2);
    if (middles.size() < 4 || middles.size() > 4 * path.segments.size()) return axis;
    Vec2 mean;
    for (const Vec2 m : middles) mean += m / static_cast<double>(middles.size());
    double along = 0, across = 0;
    for (const Vec2 m : middles) {
        const double x = dot(m - mean, axis.way), y = cross(axis.way, m - mean);
        along += x * x, across += x * y;
    }
    if (!(along > 1)) return axis;
    return {mean, unit(axis.way + perpendicular(axis.way) * (across / along))};
}

/// The better of the two: either half may be the one that stays.
std::optional<Path> bestMirrored(const Path& path, const Axis& axis, double tolerance) {
    std::optional<Path> best;
    for (const double sense : {1.0, -1.0}) {
        const auto made = mirrored(path, axis.at, axis.way * sense, tolerance);
        if (!made || apart(path, *made) > tolerance) continue;
        if (!best || made->segments.size() < best->segments.size()) best = made;
    }
    return best;
}
} // namespace

std::optional<Path> evenedAbout(const Path& path, const Axis& axis, double tolerance) {
    if (!path.closed || path.segments.empty()) return std::nullopt;
    auto best = bestMirrored(path, axis, tolerance);
    if (!best || apart(path, *best) < 1e-4) return std::nullopt;
    return wound(std::move(*best), areaOf(path) > 0);
}

std::optional<Symmetry> asSymmetric(const Path& path, double tolerance) {
    if (!path.closed || path.segments.size() < 3) return std::nullopt;
    // Middle and axes of the area: for what is symmetric they lie on its axis, as well as chords tell.
    const Ring points = flattened(path, 2e-4);
    double area = 0, xx = 0, xy = 0, yy = 0;
    Vec2 sum;
    const Vec2 near = points[0];
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Vec2 a = points[i] - near, b = points[(i + 1) % points.size()] - near;
        const double twice = cross(a, b);
        area += twice / 2;
        sum += (a + b) * (twice / 6);
        xx += twice * (a.x * a.x + a.x * b.x + b.x * b.x) / 12;
        yy += twice * (a.y * a.y + a.y * b.y + b.y * b.y) / 12;
        xy += twice * (2 * a.x * a.y + a.x * b.y + b.x * a.y + 2 * b.x * b.y) / 24;
    }
    if (!(std::abs(area) > 1e-9)) return std::nullopt;
    const Vec2 off = sum / area, middle = near + off;
    xx = xx / area - off.x * off.x, yy = yy / area - off.y * off.y, xy = xy / area - off.x * off.y;
    const double turn = std::atan2(2 * xy, xx - yy) / 2; // of the longer axis
    const Vec2 ways[] = {{0, 1}, {1, 0}, {std::cos(turn), std::sin(turn)}, {-std::sin(turn), std::cos(turn)}};
    for (const Vec2 way : ways) {
        Axis axis{middle, way};
        // Half way between its two sides it lies to the last digits, unless one of them is off.
        const Box lies = boundsOf(transformed(path, Transform::rotated(-std::atan2(way.y, way.x), middle)));
        Axis halfWay{middle + perpendicular(way) * (lies.centre().y - middle.y), way};
        if (way.x != 0 && way.y != 0) halfWay = settled(path, halfWay, tolerance);
        auto best = bestMirrored(path, halfWay, tolerance);
        if (best)
            axis = halfWay;
        else
            best = bestMirrored(path, axis, tolerance);
        if (!best) continue;
        constexpr double hair = 1e-4; // mm: as well as the axis of a turned outline is known
        if (hasCorners(path, *best) || apart(path, *best) < hair)
            return Symmetry{axis, std::nullopt}; // it is so already
        return Symmetry{axis, wound(std::move(*best), areaOf(path) > 0)};
    }
    return std::nullopt;
}

} // namespace ferro::mend

#include "geometry/points.h"

#include "geometry/arc_cubics.h"
#include "geometry/arc_fit.h"
#include "geometry/cubic_fit.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"

namespace ferro {

namespace {

using Kind = Segment::Kind;

std::vector<bool> marked(const Path& path, PointNumbers points) {
    std::vector<bool> marks(pointsOf(path), false);
    for (const std::size_t p : points)
        if (p < marks.size()) marks[p] = true;
    return marks;
}

/// The number of the point at a segment's end.
std::size_t endOf(const Path& path, std::size_t segment) {
    return path.closed && segment + 1 == path.segments.size() ? 0 : segment + 1;
}

/// Puts a point somewhere else without a look at its neighbours.
void put(Path& path, std::size_t point, Vec2 to) {
    if (point == 0) path.start = to;
    if (const auto before = segmentBefore(path, point)) path.segments[*before].end = to;
}

/// How an arc's centre goes when its ends do: the map that turns and scales the old chord onto the new one.
Vec2 carried(Vec2 centre, Vec2 from, Vec2 to, Vec2 newFrom, Vec2 newTo) {
    const Vec2 old = to - from, now = newTo - newFrom, v = centre - from;
    const double size = dot(old, old);
    if (!(size > 0)) return centre + newFrom - from;
    const Vec2 turn{dot(now, old) / size, cross(old, now) / size}; // as a complex number
    return newFrom + Vec2{turn.x * v.x - turn.y * v.y, turn.x * v.y + turn.y * v.x};
}

/// The segments that chosen points mean: those between two of them, or both sides of one alone.
std::vector<std::size_t> segmentsMeant(const Path& path, PointNumbers points) {
    const auto marks = marked(path, points);
    std::vector<std::size_t> meant;
    for (std::size_t i = 0; i < path.segments.size(); ++i)
        if (marks[i] && marks[endOf(path, i)]) meant.push_back(i);
    if (!meant.empty()) return meant;
    for (std::size_t i = 0; i < path.segments.size(); ++i)
        if (marks[i] || marks[endOf(path, i)]) meant.push_back(i);
    return meant;
}

/// One segment for a run of them.
Segment refitted(Vec2 from, std::span<const Segment> run) {
    const Vec2 end = run.back().end;
    if (run.size() == 1) return run[0];
    if (std::all_of(run.begin(), run.end(), [](const Segment& s) { return s.kind == Kind::line; }))
        return Segment::line(end);
    if (std::all_of(run.begin(), run.end(), [](const Segment& s) { return s.kind == Kind::arc; })) {
        const double radius = distance(from, run[0].a);
        double sweep = 0;
        bool one = true;
        Vec2 at = from;
        for (const auto& s : run) {
            one = one && s.ccw == run[0].ccw && distance(s.a, run[0].a) <= 1e-6 * radius;
            sweep += sweepOf(at, s);
            at = s.end;
        }
        if (one && std::abs(sweep) < 2 * pi - 0.1) return Segment::arc(run[0].a, end, run[0].ccw);
    }
    Ring chain{from};
    Vec2 at = from;
    double all = 0;
    for (const auto& s : run) all += lengthOf(at, s), at = s.end;
    at = from;
    for (const auto& s : run) {
        const int parts = std::clamp(static_cast<int>(80 * lengthOf(at, s) / std::max(all, 1e-12)), 2, 80);
        for (int i = 1; i <= parts; ++i) chain.push_back(pointAt(at, s, static_cast<double>(i) / parts));
        at = s.end;
    }
    const Vec2 last = run.size() > 1 ? run[run.size() - 2].end : from;
    return nearestCubic(chain, tangentAt(from, run.front(), 0), tangentAt(last, run.back(), 1));
}

/// A segment as cubics of the same shape, at most a quarter turn each.
std::vector<Segment> asCubics(Vec2 from, const Segment& s) {
    if (s.kind == Kind::cubic) return {s};
    if (s.kind == Kind::line) return {Segment::cubic(lerp(from, s.end, 1.0 / 3), lerp(from, s.end, 2.0 / 3), s.end)};
    return arcAsCubics(from, s, pi / 2);
}

void replace(Path& path, std::size_t segment, const std::vector<Segment>& by) {
    const auto at = path.segments.begin() + static_cast<std::ptrdiff_t>(segment);
    path.segments.insert(path.segments.erase(at), by.begin(), by.end());
}

/// The chosen points, highest first: what is added behind one does not change the numbers of those before it.
std::vector<std::size_t> fromTheLast(const Path& path, PointNumbers points) {
    std::vector<std::size_t> order(points.begin(), points.end());
    std::sort(order.begin(), order.end(), std::greater<>());
    order.erase(std::unique(order.begin(), order.end()), order.end());
    std::erase_if(order, [&](std::size_t p) { return p >= pointsOf(path); });
    return order;
}

/// Makes the sides of a point cubics; answers the point's number afterwards. Of an arc only the quarter next to it
/// would have to change, but a circle drawn half by handles is no circle anyway.
std::size_t bothAsCubics(Path& path, std::size_t point, bool lines) {
    if (const auto after = segmentAfter(path, point); after && (lines || path.segments[*after].kind == Kind::arc))
        replace(path, *after, asCubics(path.from(*after), path.segments[*after]));
    if (const auto before = segmentBefore(path, point); before && (lines || path.segments[*before].kind == Kind::arc)) {
        const auto made = asCubics(path.from(*before), path.segments[*before]);
        replace(path, *before, made);
        if (point != 0) point += made.size() - 1;
    }
    return point;
}

} // namespace

Vec2 pointOf(const Path& path, std::size_t point) {
    return point < path.segments.size() ? path.from(point) : path.end();
}

std::optional<std::size_t> segmentBefore(const Path& path, std::size_t point) {
    if (path.segments.empty() || point > path.segments.size()) return std::nullopt;
    if (point > 0) return point - 1;
    return path.closed ? std::optional(path.segments.size() - 1) : std::nullopt;
}

std::optional<std::size_t> segmentAfter(const Path& path, std::size_t point) {
    return point < path.segments.size() ? std::optional(point) : std::nullopt;
}

bool isSmoothAt(const Path& path, std::size_t point) {
    const auto before = segmentBefore(path, point), after = segmentAfter(path, point);
    if (!before || !after) return false;
    const Vec2 in = tangentAt(path.from(*before), path.segments[*before], 1),
               out = tangentAt(path.from(*after), path.segments[*after], 0);
    constexpr double bend = 0.1 * pi / 180;
    return dot(in, out) > 0 && std::abs(cross(in, out)) < bend;
}

std::optional<Vec2> handleAt(const Path& path, std::size_t point, Side side) {
    const auto segment = side == Side::before ? segmentBefore(path, point) : segmentAfter(path, point);
    if (!segment || path.segments[*segment].kind != Kind::cubic) return std::nullopt;
    return side == Side::before ? path.segments[*segment].b : path.segments[*segment].a;
}

Path withPointsMoved(Path path, PointNumbers points, Vec2 by) {
    const auto marks = marked(path, points);
    const Path old = path;
    for (std::size_t i = 0; i < old.segments.size(); ++i) {
        const bool begins = marks[i], ends = marks[endOf(old, i)];
        if (!begins && !ends) continue;
        auto& s = path.segments[i];
        const Vec2 from = old.from(i), to = s.end;
        const Vec2 newFrom = begins ? from + by : from, newTo = ends ? to + by : to;
        if (s.kind == Kind::arc) s.a = begins && ends ? s.a + by : carried(s.a, from, to, newFrom, newTo);
        if (s.kind == Kind::cubic && begins) s.a += by;
        if (s.kind == Kind::cubic && ends) s.b += by;
        s.end = newTo;
        if (s.kind == Kind::arc && newFrom == newTo) s = Segment::line(newTo);
    }
    if (!marks.empty() && marks[0]) path.start += by;
    return path;
}

Path withHandleMoved(Path path, std::size_t point, Side side, Vec2 to, bool alone) {
    if (!handleAt(path, point, side)) return path;
    const Side across = side == Side::before ? Side::after : Side::before;
    const auto other = handleAt(path, point, across);
    const bool follows = !alone && other && isSmoothAt(path, point);
    const auto set = [&](Side which, Vec2 at) {
        auto& s = path.segments[which == Side::before ? *segmentBefore(path, point) : *segmentAfter(path, point)];
        (which == Side::before ? s.b : s.a) = at;
    };
    const Vec2 at = pointOf(path, point);
    if (!alone && !other && isSmoothAt(path, point)) { // what it goes on from cannot turn: only the reach changes
        const Vec2 way = unit(*handleAt(path, point, side) - at);
        to = at + way * std::max(dot(to - at, way), 1e-3 * distance(to, at));
    }
    set(side, to);
    if (follows && distance(at, to) > 0) set(across, at + unit(at - to) * distance(at, *other));
    return path;
}

Path withArcThrough(Path path, std::size_t segment, Vec2 through) {
    if (segment >= path.segments.size()) return path;
    auto& s = path.segments[segment];
    const Vec2 from = path.from(segment), chord = s.end - from, to = through - from;
    const double size = dot(chord, chord), height = cross(chord, to);
    if (!(size > 0)) return path;
    // The sagitta and the chord say it all: where along the chord the place lies does not matter to a hand.
    const double sagitta = height / std::sqrt(size), half = std::sqrt(size) / 2;
    if (std::abs(sagitta) < 1e-4 * half) {
        s = Segment::line(s.end);
        return path;
    }
    const double radius = (half * half + sagitta * sagitta) / (2 * sagitta); // signed
    const Vec2 middle = (from + s.end) / 2, side = unit(perpendicular(chord));
    s = Segment::arc(middle + side * (sagitta - radius), s.end, sagitta < 0);
    return path;
}

Path withPointsRemoved(const Path& path, PointNumbers points) {
    const auto marks = marked(path, points);
    std::vector<std::size_t> kept;
    for (std::size_t i = 0; i < marks.size(); ++i)
        if (!marks[i]) kept.push_back(i);
    if (kept.size() < 2) return {kept.empty() ? path.start : pointOf(path, kept[0]), {}, false};
    Path out{pointOf(path, kept[0]), {}, path.closed};
    const std::size_t n = path.segments.size();
    for (std::size_t k = 0; k + (path.closed ? 0 : 1) < kept.size(); ++k) {
        const std::size_t first = kept[k], last = k + 1 < kept.size() ? kept[k + 1] : kept[0] + n;
        std::vector<Segment> run;
        for (std::size_t i = first; i < last; ++i) run.push_back(path.segments[i % n]);
        out.segments.push_back(refitted(pointOf(path, first), run));
    }
    const bool flat =
        std::all_of(out.segments.begin(), out.segments.end(), [](const Segment& s) { return s.kind == Kind::line; });
    if (out.closed && out.segments.size() < 3 && flat) return {out.start, {}, false};
    return out;
}

Path withPointAt(Path path, std::size_t segment, double t) {
    if (segment >= path.segments.size() || !(t > 0 && t < 1)) return path;
    const Segment s = path.segments[segment];
    const Vec2 from = path.from(segment);
    const Segment first = cutOf(from, s, 0, t);
    Segment second = cutOf(from, s, t, 1);
    second.end = s.end;
    replace(path, segment, {first, second});
    return path;
}

Path withStraight(Path path, PointNumbers points) {
    for (const std::size_t i : segmentsMeant(path, points)) path.segments[i] = Segment::line(path.segments[i].end);
    return path;
}

Path withHandles(Path path, PointNumbers points) {
    const auto meant = segmentsMeant(path, points);
    for (auto i = meant.rbegin(); i != meant.rend(); ++i) replace(path, *i, asCubics(path.from(*i), path.segments[*i]));
    return path;
}

Path withSmooth(Path path, PointNumbers points) {
    const Path old = path;
    for (std::size_t point : fromTheLast(path, points)) {
        auto before = segmentBefore(path, point), after = segmentAfter(path, point);
        if (!before || !after) continue;
        const bool lineBefore = old.segments[*segmentBefore(old, point)].kind == Kind::line,
                   lineAfter = old.segments[*segmentAfter(old, point)].kind == Kind::line;
        point = bothAsCubics(path, point, lineBefore == lineAfter); // two lines bend; one line leads
        before = segmentBefore(path, point), after = segmentAfter(path, point);
        auto &in = path.segments[*before], &out = path.segments[*after];
        const Vec2 at = pointOf(path, point), from = path.from(*before);
        Vec2 way;
        if (lineBefore != lineAfter)
            way = lineBefore ? tangentAt(from, in, 1) : tangentAt(at, out, 0);
        else if (lineBefore)
            way = unit(out.end - from);
        else
            way = unit(out.a - in.b);
        if (way == Vec2{}) way = unit(out.end - from);
        if (in.kind == Kind::cubic) in.b = at - way * distance(at, in.b);
        if (out.kind == Kind::cubic) out.a = at + way * distance(at, out.a);
    }
    return path;
}

Path withCorner(Path path, PointNumbers points) {
    for (std::size_t point : fromTheLast(path, points)) {
        point = bothAsCubics(path, point, false);
        const auto before = segmentBefore(path, point), after = segmentAfter(path, point);
        const Vec2 at = pointOf(path, point);
        if (before && path.segments[*before].kind == Kind::cubic)
            path.segments[*before].b = lerp(at, path.from(*before), 1.0 / 3);
        if (after && path.segments[*after].kind == Kind::cubic)
            path.segments[*after].a = lerp(at, path.segments[*after].end, 1.0 / 3);
    }
    return path;
}

Path startedAt(const Path& path, std::size_t point) {
    if (!path.closed || point == 0 || point >= path.segments.size()) return path;
    Path out{pointOf(path, point), path.segments, true};
    std::rotate(out.segments.begin(), out.segments.begin() + static_cast<std::ptrdiff_t>(point), out.segments.end());
    return out;
}

std::vector<Path> splitAt(const Path& path, PointNumbers points) {
    auto cuts = fromTheLast(path, points);
    std::reverse(cuts.begin(), cuts.end());
    Path whole = path;
    if (path.closed && !cuts.empty()) {
        const std::size_t first = cuts[0];
        whole = startedAt(path, first);
        for (auto& c : cuts) c -= first;
    }
    whole.closed = path.closed && cuts.empty();
    std::vector<Path> out{{whole.start, {}, whole.closed}};
    for (std::size_t i = 0; i < whole.segments.size(); ++i) {
        if (i > 0 && std::binary_search(cuts.begin(), cuts.end(), i)) out.push_back({whole.from(i), {}, false});
        out.back().segments.push_back(whole.segments[i]);
    }
    return out;
}

Path withEndsJoined(Path path, double reach) {
    if (path.closed || path.segments.empty()) return path;
    const Vec2 a = path.start, b = path.end();
    if (a != b && distance(a, b) <= reach && path.segments.size() > 1) {
        const Vec2 middle = (a + b) / 2;
        path = withPointsMoved(std::move(path), std::array{std::size_t{0}}, middle - a);
        path = withPointsMoved(std::move(path), std::array{path.segments.size()}, middle - b);
        put(path, 0, middle), put(path, path.segments.size(), middle);
    } else if (a != b) {
        path.segments.push_back(Segment::line(a));
    }
    path.closed = true;
    return path;
}

Path joined(Path first, Path second, double reach) {
    const Vec2 a = first.end(), b = second.start;
    if (a != b && distance(a, b) <= reach) {
        const Vec2 middle = (a + b) / 2;
        const std::size_t last = first.segments.size();
        first = withPointsMoved(std::move(first), std::array{last}, middle - a);
        second = withPointsMoved(std::move(second), std::array{std::size_t{0}}, middle - b);
        put(first, last, middle), put(second, 0, middle);
    } else if (a != b) {
        first.segments.push_back(Segment::line(b));
    }
    first.segments.insert(first.segments.end(), second.segments.begin(), second.segments.end());
    return first;
}

} // namespace ferro

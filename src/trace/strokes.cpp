#include "trace/strokes.h"

#include "base/parallel.h"
#include "geometry/measure.h"
#include "trace/outline_fit.h"
#include "trace/stroke_ending_internal.h"

#include <atomic>

namespace ferro::trace {

namespace {

// All lengths in px.
constexpr double spacing = 0.75;      // of the points along the ink's edge
constexpr double leastResidual = 0.8; // what the pixels' stairs and a little grain make is less

Ring evenly(const Ring& closed) {
    double total = 0;
    for (std::size_t i = 0; i < closed.size(); ++i) total += distance(closed[i], closed[(i + 1) % closed.size()]);
    const auto count = std::max<std::size_t>(8, static_cast<std::size_t>(std::lround(total / spacing)));
    const double step = total / static_cast<double>(count);
    Ring out;
    double walked = 0, next = 0;
    for (std::size_t i = 0; i < closed.size(); ++i) {
        const Vec2 a = closed[i], b = closed[(i + 1) % closed.size()];
        const double size = distance(a, b);
        for (; next < walked + size && out.size() < count; next += step)
            out.push_back(lerp(a, b, (next - walked) / size));
        walked += size;
    }
    return out;
}

/// How far from `from` along `way` the ink ends; none within `most`.
std::optional<double> edgeAhead(const Rings& ink, Vec2 from, Vec2 way, double most) {
    double best = most;
    for (const auto& ring : ink)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const Vec2 a = ring[i] - from;
            if (std::abs(a.x) > most + 2 || std::abs(a.y) > most + 2) continue;
            const Vec2 b = ring[(i + 1) % ring.size()] - from;
            const double sa = cross(way, a), sb = cross(way, b);
            if ((sa > 0) == (sb > 0)) continue;
            const double at = dot(way, lerp(a, b, sa / (sa - sb)));
            if (at > 0) best = std::min(best, at);
        }
    return best < most ? std::optional(best) : std::nullopt;
}

/// Leads a free end, the last point of the line, on to the edge of the ink: the axis itself ends where its disc touches
/// it, and may bend aside before that where the end is cut askew.
void extend(AxisLine& line, const Rings& ink) {
    const AxisPoint tip = line.back();
    const auto fromTip = [&](std::size_t i) { return distance(line[i].at, tip.at); };
    std::size_t keep = line.size(); // points that stay
    while (keep > 3 && fromTip(keep - 1) < 0.6 * tip.radius) --keep;
    std::size_t first = keep - 1;
    const double window = std::max(3 * tip.radius, 5.0);
    while (first > 0 && distance(line[first].at, line[keep - 1].at) < window) --first;
    if (keep - first < 3 || distance(line[first].at, line[keep - 1].at) < 0.8 * tip.radius) {
        // Hardly longer than wide: straight along all of it.
        first = 0, keep = line.size();
    }
    if (keep - first < 2) return;
    Vec2 way = unit(line[keep - 1].at - line[first].at);
    // The axis bends on with the stroke: its last half tells the direction better than all of it.
    const std::size_t half = first + (keep - first) / 2;
    if (keep - half > 3) {
        const Vec2 late = unit(line[keep - 1].at - line[half].at), early = unit(line[half].at - line[first].at);
        way = unit(late * 1.5 - early * 0.5);
    }
    const Vec2 from = line[keep - 1].at;
    const auto on = edgeAhead(ink, from, way, distance(from, tip.at) + 2 * tip.radius + 2);
    if (!on) return;
    line.resize(keep);
    line.push_back({from + way * *on, tip.radius});
}

/// Where the strokes at a junction have been cut off, the line goes on as its two sides point.
void fillGaps(Stroke& stroke) {
    AxisLine out;
    const auto& line = stroke.line;
    const std::size_t n = line.size();
    const auto wayAt = [&](std::size_t from, std::size_t to) { return unit(line[to].at - line[from].at); };
    for (std::size_t i = 0; i < n; ++i) {
        out.push_back(line[i]);
        if (i + 1 == n && !stroke.closed) break;
        const std::size_t next = (i + 1) % n;
        const double gap = distance(line[i].at, line[next].at);
        if (gap < 3 || i < 6 || next + 6 >= n || next == 0) continue;
        const Vec2 into = wayAt(i - 6, i), outOf = wayAt(next, next + 6);
        if (dot(into, outOf) < 0.5) continue;
        const Segment bow =
            Segment::cubic(line[i].at + into * (gap / 3), line[next].at - outOf * (gap / 3), line[next].at);
        const int steps = static_cast<int>(gap);
        for (int k = 1; k < steps; ++k) {
            const double t = static_cast<double>(k) / steps;
            out.push_back({pointAt(line[i].at, bow, t), std::lerp(line[i].radius, line[next].radius, t)});
        }
    }
    stroke.line = std::move(out);
}

/// A pointed turn wears its axis: where the ink is widest between two arms, the axis passes inside of the corner by as
/// much as two straight arms of their width leave. There the arms are led on to where they meet.
void pointTurns(Stroke& stroke) {
    auto& line = stroke.line;
    const auto arm = [&](std::size_t from, int step, double length) {
        AxisLine out{line[from]};
        double walked = 0;
        for (std::size_t i = from; walked < length;) {
            if ((step < 0 && i == 0) || (step > 0 && i + 1 == line.size())) break;
            const std::size_t next = step < 0 ? i - 1 : i + 1;
            walked += distance(line[i].at, line[next].at);
            out.push_back(line[next]);
            i = next;
        }
        return out;
    };
    for (std::size_t i = 4; i + 4 < line.size(); ++i) {
        const AxisPoint apex = line[i];
        // The widest place for as far as it is wide.
        bool widest = true;
        for (const int step : {-1, 1}) {
            double walked = 0;
            for (std::size_t k = i; widest && walked < apex.radius && k > 0 && k + 1 < line.size();) {
                const std::size_t next = step < 0 ? k - 1 : k + 1;
                walked += distance(line[k].at, line[next].at);
                k = next;
                widest = line[k].radius < apex.radius || (line[k].radius == apex.radius && step > 0);
            }
        }
        if (!widest) continue;
        const auto before = arm(i, -1, 8 * apex.radius), after = arm(i, 1, 8 * apex.radius);
        const auto a = endingOf(before, 0, apex.at, apex.radius), b = endingOf(after, 0, apex.at, apex.radius);
        const double radius = (a.radius + b.radius) / 2;
        if (a.stump || b.stump || apex.radius < 1.1 * radius || dot(a.way, b.way) < -0.3) continue;
        const auto corner = cornerOf(a, b);
        if (!corner) continue;
        const double sine = std::sin(std::acos(std::clamp(dot(a.way, b.way), -1.0, 1.0)) / 2);
        const double worn = radius * (1 / sine - 1) / (1 + sine);
        if (std::abs(distance(*corner, apex.at) - worn) > std::max(1.5, 0.35 * worn)) continue;
        if (a.keep > i || i + b.keep + 1 >= line.size()) continue;
        AxisLine out(line.begin(), line.begin() + static_cast<std::ptrdiff_t>(i - a.keep + 1));
        const auto rest = static_cast<std::ptrdiff_t>(i + b.keep);
        leadToCorner(out, *corner, line[i + b.keep]);
        const std::size_t on = out.size();
        out.insert(out.end(), line.begin() + rest, line.end());
        line = std::move(out);
        i = on;
    }
}

struct Fitted {
    Path path;
    std::vector<double> widths;
    double miss = 0;
};

double radiusNear(const AxisLine& line, Vec2 p) {
    const AxisPoint* best = &line.front();
    for (const auto& q : line)
        if (distance(q.at, p) < distance(best->at, p)) best = &q;
    return best->radius;
}

Fitted fitted(const Stroke& stroke, const Settings& settings) {
    Ring points;
    double radius = 0;
    for (const auto& p : stroke.line) {
        radius += p.radius / static_cast<double>(stroke.line.size());
        if (points.empty() || distance(points.back(), p.at) > 0.02) points.push_back(p.at);
    }
    if (stroke.closed && points.size() > 3 && distance(points.front(), points.back()) <= 0.02) points.pop_back();
    // A corner of the stroke is worn by a quarter of half its width in its axis.
    FitSettings fit{std::max(0.1, settings.followWithin), pi - settings.cornersUnder * pi / 180,
                    std::clamp(0.6 * radius, 1.0, 8.0)};
    fit.mayCross = true;
    Fitted out;
    if (stroke.closed && points.size() >= 4)
        out.path = fittedOutline(points, fit);
    else if (points.size() >= 2)
        out.path = fittedLine(points, fit);
    else
        out.path = {points.front(), {}, false};
    out.widths.push_back(2 * radiusNear(stroke.line, out.path.start));
    for (const auto& s : out.path.segments) out.widths.push_back(2 * radiusNear(stroke.line, s.end));
    if (out.path.segments.empty()) return out;
    const Ruler ruler(out.path);
    for (std::size_t i = 0; i < points.size(); i += 3) {
        const bool atCorner = std::any_of(out.path.segments.begin(), out.path.segments.end(),
                                          [&](const Segment& s) { return distance(s.end, points[i]) < 1.5 * radius; });
        if (!atCorner) out.miss = std::max(out.miss, distance(points[i], ruler.at(ruler.nearest(points[i])).point));
    }
    return out;
}

/// The strokes of one patch of ink.
std::vector<Fitted> strokesIn(const Rings& ink, double area, const Settings& settings) {
    std::vector<Fitted> out;
    for (auto& stroke : strokesOf(strokeGraph(medialAxis(ink, leastResidual)))) {
        if (stroke.line.size() < 2) continue;
        fillGaps(stroke);
        pointTurns(stroke);
        if (stroke.free[1]) extend(stroke.line, ink);
        if (stroke.free[0]) {
            std::reverse(stroke.line.begin(), stroke.line.end());
            extend(stroke.line, ink);
            std::reverse(stroke.line.begin(), stroke.line.end());
        }
        out.push_back(fitted(stroke, settings));
    }
    if (out.empty()) { // no way to go: a dot at its middle
        Vec2 middle;
        double sum = 0;
        const Ring& r = ink.front();
        for (std::size_t i = 0; i < r.size(); ++i) {
            const Vec2 a = r[i] - r[0], b = r[(i + 1) % r.size()] - r[0];
            middle += (a + b) * (cross(a, b) / 6), sum += cross(a, b) / 2;
        }
        if (std::abs(sum) > 1e-9) middle = middle / sum;
        out.push_back({{r[0] + middle, {}, false}, {2 * std::sqrt(area / pi)}, 0});
    }
    return out;
}

} // namespace

void traceStrokes(const std::vector<LevelLine>& lines, const Settings& settings, Traced& traced, Progress& progress) {
    struct Blot {
        Rings ink;
        double area = 0;
    };
    std::vector<Blot> blots;
    std::vector<int> place(lines.size(), -1);
    const double speck = std::max(settings.speck, 0.5); // found before
    for (std::size_t i = 0; i < lines.size(); ++i) {    // outer lines come before what lies in them
        const auto& line = lines[i];
        if (std::abs(line.area) < speck) {
            ++traced.specksDropped;
        } else if (line.area > 0) {
            place[i] = static_cast<int>(blots.size());
            blots.push_back({{evenly(line.points)}, line.area});
        } else if (line.parent >= 0 && place[static_cast<std::size_t>(line.parent)] >= 0) {
            auto& patch = blots[static_cast<std::size_t>(place[static_cast<std::size_t>(line.parent)])];
            patch.ink.push_back(evenly(line.points));
            patch.area += line.area;
        }
    }
    std::vector<std::vector<Fitted>> found(blots.size());
    std::atomic<std::size_t> done = 0;
    parallelFor(blots.size(), progress, [&](std::size_t i) {
        found[i] = strokesIn(blots[i].ink, blots[i].area, settings);
        progress.at(0.3 + 0.6 * static_cast<double>(++done) / static_cast<double>(blots.size()));
    });
    for (auto& patch : found)
        for (auto& stroke : patch) {
            traced.pieces.push_back({std::move(stroke.path), {}});
            traced.widths.push_back(std::move(stroke.widths));
            traced.largestMiss = std::max(traced.largestMiss, stroke.miss);
        }
}

} // namespace ferro::trace

#include "mend/overlaps_internal.h"

#include "base/parallel.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"

namespace ferro::mend {

namespace {

using Span = std::pair<double, double>; // parameters of a segment; equal: nothing

constexpr double along = 0.1; // radians at most between two that run along each other

/// Of two lines all that lies beside each other, or nothing: the tip of a needle is no part drawn twice.
Span sharedOfLines(Vec2 a, const Segment& s, Vec2 b, const Segment& t, double tolerance) {
    const Vec2 d = s.end - a, e = t.end - b;
    const double size2 = dot(d, d);
    if (size2 == 0 || std::abs(cross(d, e)) > along * length(d) * length(e)) return {0, 0};
    double from = dot(b - a, d) / size2, to = dot(t.end - a, d) / size2;
    if (from > to) std::swap(from, to);
    from = std::max(from, 0.0), to = std::min(to, 1.0);
    if (!(from < to)) return {0, 0};
    const auto isOn = [&](double u) { return distanceToLine(a + d * u, b, t.end) <= tolerance; };
    return isOn(from) && isOn(to) ? Span{from, to} : Span{0, 0};
}

/// The longest part of a segment that lies on another one between its ends and runs along it.
Span sharedPart(Vec2 a, const Segment& s, Vec2 b, const Segment& t, double tolerance) {
    if (s.kind == Segment::Kind::line && t.kind == Segment::Kind::line) return sharedOfLines(a, s, b, t, tolerance);
    constexpr double rim = 1e-9; // of a parameter: where the other one ends
    const auto isOn = [&](double u) {
        const Vec2 p = pointAt(a, s, u);
        const double at = nearestOn(b, t, p);
        // At its very ends only what lies there itself is on it, not what has gone on.
        const double far = distance(p, pointAt(b, t, at));
        if (at < rim || at > 1 - rim) return far < 1e-6;
        return far <= tolerance && std::abs(cross(tangentAt(a, s, u), tangentAt(b, t, at))) <= along;
    };
    constexpr int parts = 24;
    int best = 0, bestEnd = -1;
    for (int i = 0; i <= parts;) {
        if (!isOn(static_cast<double>(i) / parts)) {
            ++i;
            continue;
        }
        int end = i;
        while (end < parts && isOn((end + 1.0) / parts)) ++end;
        if (end - i > bestEnd - best) best = i, bestEnd = end;
        i = end + 1;
    }
    if (bestEnd < 0) return {0, 0};
    const auto edge = [&](double on, double off) { // by halving
        for (int i = 0; i < 40; ++i) (isOn((on + off) / 2) ? on : off) = (on + off) / 2;
        return on;
    };
    return {best == 0 ? 0 : edge(static_cast<double>(best) / parts, (best - 1.0) / parts),
            bestEnd == parts ? 1 : edge(static_cast<double>(bestEnd) / parts, (bestEnd + 1.0) / parts)};
}

} // namespace

std::vector<Overlap> overlapsOf(const std::vector<Path>& lines, const std::vector<bool>& left, double tolerance,
                                const Progress& progress) {
    struct Place {
        std::size_t line, segment;
        double along; ///< where it begins
    };
    std::vector<Box> boxes;
    std::vector<Place> places;
    std::vector<double> lengths(lines.size(), 0);
    std::vector<std::size_t> firstOf(lines.size() + 1, 0);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const Path& path = lines[i];
        firstOf[i] = places.size();
        for (std::size_t k = 0; !left[i] && k < path.segments.size(); ++k) {
            boxes.push_back(boundsOf(Path{path.from(k), {path.segments[k]}, false}).grown(tolerance));
            places.push_back({i, k, lengths[i]});
            lengths[i] += lengthOf(path.from(k), path.segments[k]);
        }
    }
    firstOf.back() = places.size();
    const SpatialIndex index(boxes);
    std::vector<std::vector<Overlap>> found(lines.size());
    parallelFor(lines.size(), progress, [&](std::size_t i) {
        const Path& a = lines[i];
        if (a.closed) return;
        std::vector<Overlap> parts;
        for (std::size_t n = firstOf[i]; n < firstOf[i + 1]; ++n) {
            const auto& here = places[n];
            const Vec2 from = a.from(here.segment);
            const auto& s = a.segments[here.segment];
            const double size = lengthOf(from, s);
            for (const auto m : index.meeting(boxes[n])) {
                const auto& there = places[m];
                const std::size_t j = there.line;
                if (i == j ? m >= n
                           : !lines[j].closed && (lengths[i] > lengths[j] + tolerance ||
                                                  (lengths[i] > lengths[j] - tolerance && i < j)))
                    continue;
                const auto [low, high] =
                    sharedPart(from, s, lines[j].from(there.segment), lines[j].segments[there.segment], tolerance);
                if ((high - low) * size > 1e-6)
                    parts.push_back({i, j, here.along + low * size, here.along + high * size});
            }
        }
        // What hangs together is one stretch, named after the line that it lies on longest.
        std::sort(parts.begin(), parts.end(), [](const Overlap& p, const Overlap& q) {
            return std::tuple(p.from, -p.to, p.on) < std::tuple(q.from, -q.to, q.on);
        });
        std::vector<Overlap> whole;
        double longest = 0;
        for (const auto& part : parts) {
            if (whole.empty() || part.from > whole.back().to + 2 * tolerance) whole.push_back(part), longest = 0;
            whole.back().to = std::max(whole.back().to, part.to);
            if (part.to - part.from > longest) longest = part.to - part.from, whole.back().on = part.on;
        }
        std::erase_if(whole, [&](const Overlap& o) {
            const bool atEnd = o.from < tolerance || o.to > lengths[i] - tolerance;
            return o.to - o.from < (atEnd ? 4 * tolerance : std::max(0.5, 4 * tolerance));
        });
        found[i] = std::move(whole);
    });
    if (progress.cancelled()) return {};
    std::vector<Overlap> all;
    for (auto& some : found) all.insert(all.end(), some.begin(), some.end());
    return all;
}

} // namespace ferro::mend

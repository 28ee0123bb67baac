#include "geometry/polygons.h"

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/stroke.h"

#include <clipper.hpp>

namespace ferro {

namespace {

namespace cl = ClipperLib;

constexpr double unitsPerMm = 1e5;
constexpr double reach = 10'000; // mm: keeps the library on its quick 64-bit products

Result<cl::Paths> toFixed(const Rings& rings) {
    cl::Paths out;
    out.reserve(rings.size());
    for (const auto& ring : rings) {
        cl::Path path;
        path.reserve(ring.size());
        for (const Vec2 p : ring) {
            if (!(std::abs(p.x) <= reach && std::abs(p.y) <= reach))
                return Problem{.what = "The drawing reaches more than 10 m from zero.",
                               .where = {},
                               .mend = "Move it onto the stock, or check its units."};
            path.emplace_back(std::llround(p.x * unitsPerMm), std::llround(p.y * unitsPerMm));
        }
        out.push_back(std::move(path));
    }
    return out;
}

Rings fromFixed(const cl::Paths& paths) {
    Rings rings;
    rings.reserve(paths.size());
    for (const auto& path : paths) {
        Ring ring;
        ring.reserve(path.size());
        for (const auto& p : path)
            ring.push_back({static_cast<double>(p.X) / unitsPerMm, static_cast<double>(p.Y) / unitsPerMm});
        if (ring.size() >= 3) rings.push_back(std::move(ring));
    }
    return rings;
}

struct Edge {
    cl::IntPoint a, b;
    cl::cInt low, high; // in x
    std::size_t index;
};

/// 1 left, -1 right, 0 on the line. Exact: differences stay below 2^31.
int sideOf(const cl::IntPoint& a, const cl::IntPoint& b, const cl::IntPoint& p) {
    const cl::cInt turn = (b.X - a.X) * (p.Y - a.Y) - (b.Y - a.Y) * (p.X - a.X);
    return turn > 0 ? 1 : turn < 0 ? -1 : 0;
}

/// Whether a ring surely meets itself nowhere; touching counts as meeting. A sweep over edges by x; where that would
/// cost more than resolving the crossings, the answer is no.
bool isSimple(const cl::Path& ring) {
    const std::size_t n = ring.size();
    if (n < 3) return false;
    std::vector<Edge> edges(n);
    for (std::size_t i = 0; i < n; ++i) {
        const auto &a = ring[i], &b = ring[(i + 1) % n], &c = ring[(i + 2) % n];
        if (a == b) return false;
        if (sideOf(a, b, c) == 0 && (b.X - a.X) * (c.X - b.X) + (b.Y - a.Y) * (c.Y - b.Y) < 0) return false; // a spike
        edges[i] = {a, b, std::min(a.X, b.X), std::max(a.X, b.X), i};
    }
    std::sort(edges.begin(), edges.end(),
              [](const Edge& a, const Edge& b) { return a.low != b.low ? a.low < b.low : a.index < b.index; });
    std::size_t budget = 60 * n;
    for (std::size_t i = 0; i < n; ++i) {
        const Edge& e = edges[i];
        const cl::cInt bottom = std::min(e.a.Y, e.b.Y), top = std::max(e.a.Y, e.b.Y);
        for (std::size_t k = i + 1; k < n && edges[k].low <= e.high; ++k) {
            if (budget-- == 0) return false;
            const Edge& f = edges[k];
            if (std::min(f.a.Y, f.b.Y) > top || std::max(f.a.Y, f.b.Y) < bottom) continue;
            const std::size_t apart = e.index > f.index ? e.index - f.index : f.index - e.index;
            if (apart == 1 || apart == n - 1) continue; // neighbours share a point and no more
            if (sideOf(e.a, e.b, f.a) * sideOf(e.a, e.b, f.b) <= 0 &&
                sideOf(f.a, f.b, e.a) * sideOf(f.a, f.b, e.b) <= 0)
                return false;
        }
    }
    return true;
}

/// Rings that pass a point more than once, parted there. The library's own way of doing so walks in a circle for ever
/// where rounding brings several crossings together.
cl::Paths partedWhereTheyTouch(const cl::Paths& rings) {
    const auto before = [](const cl::IntPoint& a, const cl::IntPoint& b) { return a.X != b.X ? a.X < b.X : a.Y < b.Y; };
    cl::Paths out;
    for (const auto& ring : rings) {
        cl::Path sorted = ring;
        std::sort(sorted.begin(), sorted.end(), before);
        if (std::adjacent_find(sorted.begin(), sorted.end()) == sorted.end()) {
            out.push_back(ring);
            continue;
        }
        cl::Path way; // from the start to here, without the loops that were taken off
        std::map<cl::IntPoint, std::size_t, decltype(before)> placeOf(before);
        for (const auto& p : ring) {
            const auto [at, isNew] = placeOf.try_emplace(p, way.size());
            if (isNew) {
                way.push_back(p);
                continue;
            }
            const auto from = way.begin() + static_cast<std::ptrdiff_t>(at->second);
            out.emplace_back(from, way.end());
            std::for_each(from + 1, way.end(), [&](const cl::IntPoint& q) { placeOf.erase(q); });
            way.erase(from + 1, way.end());
        }
        out.push_back(std::move(way));
    }
    std::erase_if(out, [](const cl::Path& ring) { return ring.size() < 3; });
    return out;
}

cl::Paths executed(cl::ClipType kind, const cl::Paths& first, const cl::Paths& second, cl::PolyFillType rule) {
    cl::Clipper worker;
    worker.AddPaths(first, cl::ptSubject, true);
    worker.AddPaths(second, cl::ptClip, true);
    cl::Paths out;
    worker.Execute(kind, out, rule, rule);
    return partedWhereTheyTouch(out);
}

/// The offsetter wants sound rings, outer ones counter-clockwise: crossings and doubled stretches are resolved. A lone
/// ring that has none, the common case, is spared the library's sweep.
cl::Paths sound(cl::Paths rings) {
    if (rings.size() == 1 && isSimple(rings[0])) {
        if (!cl::Orientation(rings[0])) cl::ReversePath(rings[0]);
        return rings;
    }
    return executed(cl::ctUnion, rings, {}, cl::pftNonZero);
}

cl::Paths grown(const cl::Paths& paths, cl::EndType ends, double by, const OffsetOptions& options) {
    cl::ClipperOffset worker(options.sharpLimit, std::max(1.0, options.tolerance / 4 * unitsPerMm));
    worker.AddPaths(paths,
                    options.corner == Corner::round   ? cl::jtRound
                    : options.corner == Corner::sharp ? cl::jtMiter
                                                      : cl::jtSquare,
                    ends);
    cl::Paths out;
    worker.Execute(out, by * unitsPerMm);
    return out;
}

std::vector<Path> withArcs(const Rings& rings, double tolerance) {
    std::vector<Path> paths;
    paths.reserve(rings.size());
    for (const auto& ring : rings) paths.push_back(arcFitted(ring, true, tolerance));
    return paths;
}

} // namespace

Result<Rings> offset(const Rings& rings, double by, const OffsetOptions& options) {
    if (!(std::abs(by) <= 10'000))
        return Problem{
            .what = "An outline cannot be offset by more than 10 m.", .where = {}, .mend = "Give a smaller offset."};
    Rings thin;
    thin.reserve(rings.size());
    for (const auto& ring : rings) thin.push_back(thinned(ring, options.tolerance / 4, true));
    auto fixed = toFixed(thin);
    if (!fixed) return fixed.problem();
    const cl::Paths clean = sound(std::move(*fixed));
    if (by == 0) return fromFixed(clean);
    return fromFixed(grown(clean, cl::etClosedPolygon, by, options));
}

Result<std::vector<Path>> offsetPaths(const Rings& rings, double by, const OffsetOptions& options) {
    const auto rounded = offset(rings, by, options);
    if (!rounded) return rounded.problem();
    return withArcs(*rounded, options.tolerance / 2);
}

Result<Rings> widened(const Rings& lines, bool closed, double width, Cap cap, const OffsetOptions& options) {
    if (options.corner != Corner::round) {
        Rings parts;
        for (const auto& line : lines)
            for (auto& part : strokeParts(line, closed, width, cap, options)) parts.push_back(std::move(part));
        auto rings = combined(parts, {}, Combine::join);
        if (rings) // what rounding leaves between parts that touch
            std::erase_if(*rings, [&](const Ring& ring) {
                return 2 * std::abs(areaOf(ring)) < options.tolerance / 4 * perimeterOf(ring);
            });
        return rings;
    }
    Rings runs, dots; // the library makes a disc of a dot, whatever its ends
    for (const auto& line : lines)
        (std::all_of(line.begin(), line.end(), [&](Vec2 p) { return p == line.front(); }) ? dots : runs)
            .push_back(line);
    const auto fixed = toFixed(runs);
    if (!fixed) return fixed.problem();
    const cl::EndType ends = closed              ? cl::etClosedLine
                             : cap == Cap::round ? cl::etOpenRound
                             : cap == Cap::flat  ? cl::etOpenButt
                                                 : cl::etOpenSquare;
    auto wide = fromFixed(grown(*fixed, ends, width / 2, options));
    for (const auto& dot : dots)
        for (auto& part : strokeParts(dot, closed, width, cap, options)) wide.push_back(std::move(part));
    return dots.empty() ? wide : combined(wide, {}, Combine::join);
}

Result<std::vector<Path>> widenedPaths(const Rings& lines, bool closed, double width, Cap cap,
                                       const OffsetOptions& options) {
    const auto wide = widened(lines, closed, width, cap, options);
    if (!wide) return wide.problem();
    return withArcs(*wide, options.tolerance / 2);
}

Result<Path> besideLine(const Path& line, double by, bool left, double tolerance) {
    const auto around =
        widenedPaths({flattened(line, tolerance / 8)}, false, 2 * by, Cap::flat, {.tolerance = tolerance});
    if (!around) return around.problem();
    const auto beside = [&](Vec2 at, Vec2 tangent) { return at + perpendicular(tangent) * (left ? by : -by); };
    const std::size_t last = line.segments.size() - 1;
    const Vec2 from = beside(line.start, tangentAt(line.start, line.segments.front(), 0));
    const Vec2 to = beside(line.end(), tangentAt(line.from(last), line.segments.back(), 1));
    for (const auto& edge : *around) {
        const Ruler ruler(edge);
        const double begin = ruler.nearest(from), end = ruler.nearest(to);
        if (distance(ruler.at(begin).point, from) > 2 * tolerance || distance(ruler.at(end).point, to) > 2 * tolerance)
            continue;
        // The edge has what it encloses on its left: it runs against the line on the line's left.
        const double first = left ? end : begin, behind = left ? begin : end;
        Path out{ruler.at(first).point, ruler.stretch(first, behind > first ? behind : behind + ruler.length()), false};
        if (!out.segments.empty()) return left ? reversed(out) : out;
    }
    return Problem{.what = "The line comes too near to itself for a tool to run all along one side of it.",
                   .where = {},
                   .mend = "Use a thinner tool, or cut on the line."};
}

Result<Rings> combined(const Rings& first, const Rings& second, Combine how, FillRule fill) {
    const auto a = toFixed(first), b = toFixed(second);
    if (!a) return a.problem();
    if (!b) return b.problem();
    constexpr cl::ClipType kinds[] = {cl::ctUnion, cl::ctDifference, cl::ctIntersection, cl::ctXor};
    const auto rule = fill == FillRule::evenOdd ? cl::pftEvenOdd : cl::pftNonZero;
    return fromFixed(executed(kinds[static_cast<int>(how)], *a, *b, rule));
}

} // namespace ferro

#include "geometry/flatten.h"

#include "base/parallel.h"
#include "geometry/measure.h"

namespace ferro {

Ring flattened(const Path& path, double tolerance) {
    Ring points{path.start};
    points.reserve(path.segments.size() + 1);
    for (std::size_t i = 0; i < path.segments.size(); ++i)
        flattenSegment(path.from(i), path.segments[i], tolerance, [&](Vec2 p) { points.push_back(p); });
    if (path.closed && points.size() > 1 && points.back() == points.front()) points.pop_back();
    return points;
}

Rings flattened(const Piece& piece, double tolerance) {
    Rings rings{flattened(piece.outline, tolerance)};
    for (const auto& opening : piece.openings) rings.push_back(flattened(opening, tolerance));
    return rings;
}

namespace {

/// The points of [first, last] to keep, without `first` itself; index n is point 0 again.
std::vector<Vec2> thinnedRun(const Ring& points, std::size_t first, std::size_t last, double tolerance) {
    constexpr std::size_t patience = 64; // points tried beyond the last good end; keeps the cost linear
    std::vector<Vec2> kept;
    const auto point = [&](std::size_t i) { return points[i < points.size() ? i : 0]; };
    for (std::size_t at = first; at < last;) {
        ChordCone cone(point(at), tolerance);
        std::size_t end = at + 1;
        for (std::size_t i = at + 1; i <= last && i - end <= patience; ++i) {
            if (!cone.narrow(point(i))) break;
            if (cone.servesAll()) end = i;
        }
        kept.push_back(point(at = end));
    }
    return kept;
}

} // namespace

Ring thinned(const Ring& points, double tolerance, bool closed) {
    const std::size_t n = points.size();
    if (n < 3 || !(tolerance > 0)) return points;
    tolerance *= 1 - 1e-9;
    const std::size_t last = closed ? n : n - 1;
    // Runs of a fixed length, so that the result does not depend on how many threads share them.
    constexpr std::size_t run = 4096;
    std::vector<std::vector<Vec2>> runs((last + run - 1) / run);
    parallelSlices(runs.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i)
            runs[i] = thinnedRun(points, i * run, std::min(last, (i + 1) * run), tolerance);
    });
    Ring out{points[0]};
    for (const auto& kept : runs) out.insert(out.end(), kept.begin(), kept.end());
    if (closed) out.pop_back(); // point 0 again
    return out;
}

} // namespace ferro

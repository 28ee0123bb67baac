#include "trace/edges.h"

#include "base/parallel.h"
#include "geometry/measure.h"
#include "trace/contrast_edges.h"
#include "trace/field_internal.h"
#include "trace/outline_fit.h"
#include "trace/strokes.h"

namespace ferro::trace {

namespace {

struct Fitted {
    Path path;
    double miss = 0;
};

Fitted fitted(const ContrastEdge& edge, const PixelSettings& settings) {
    // Softened as it is followed, a sharp scan rises by 0.45 of its step in one pixel.
    const double blur = std::clamp(0.36 * edge.step / std::max(edge.slope, 1.0), 1.0, 3.0);
    const FitSettings fit{std::max(0.1, settings.followWithin), pi - settings.cornersUnder * pi / 180, blur,
                          settings.grainy};
    Fitted out{edge.closed ? wound(fittedOutline(edge.points, fit), true) : fittedLine(edge.points, fit)};
    if (out.path.segments.empty()) return out;
    const Ruler ruler(out.path);
    for (std::size_t i = 0; i < edge.points.size(); i += 3) {
        const Vec2 p = edge.points[i];
        const bool atCorner = std::any_of(out.path.segments.begin(), out.path.segments.end(),
                                          [&](const Segment& s) { return distance(s.end, p) < 2; });
        if (!atCorner) out.miss = std::max(out.miss, distance(p, ruler.at(ruler.nearest(p)).point));
    }
    return out;
}

bool isSpeck(const ContrastEdge& edge, double speck) {
    if (edge.closed) return std::abs(areaOf(edge.points)) < speck;
    return lengthOf(pathOf(edge.points, false)) < 2 * std::sqrt(speck);
}

} // namespace

void traceEdges(const EdgeFields& fields, const PixelSettings& settings, Traced& traced, Progress& progress) {
    PixelSettings lines = settings; // an edge has no areas to tell specks by
    traced.speck = lines.speck = settings.speckArea(2);
    traceStrokes(levelLines(fields.lines, fieldLevel - 0.5, false, progress), lines, traced, progress);
    auto edges = contrastEdges(fields.picture, fields.least, progress);
    traced.specksDropped += std::erase_if(edges, [&](const auto& edge) { return isSpeck(edge, lines.speck); });
    std::vector<Fitted> found(edges.size());
    parallelFor(edges.size(), progress, [&](std::size_t i) { found[i] = fitted(edges[i], settings); });
    if (progress.cancelled()) return;
    for (auto& edge : found) {
        traced.pieces.push_back({std::move(edge.path), {}});
        traced.largestMiss = std::max(traced.largestMiss, edge.miss);
    }
}

} // namespace ferro::trace

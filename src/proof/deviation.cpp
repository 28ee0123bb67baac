// What stands beside the edges when all is cut, and what is reached of them.
#include "proof/deviation.h"

#include "base/parallel.h"
#include "geometry/polygons.h"
#include "proof/gouge_internal.h"
#include "proof/slits_internal.h"

namespace ferro::proof {

namespace {

std::vector<Deviation::Sample> samplesOf(const Path& path) {
    std::vector<Deviation::Sample> samples;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const double size = lengthOf(path.from(i), path.segments[i]);
        const int parts = std::clamp(static_cast<int>(std::ceil(size / 0.5)), 2, 4000);
        for (int k = 0; k < parts; ++k)
            samples.push_back({pointAt(path.from(i), path.segments[i], static_cast<double>(k) / parts), 0});
    }
    return samples;
}

/// What of an opening (or of the outside of a part) no tool of this radius can reach.
struct Unreached {
    double area = 0;
    std::size_t places = 0;
    Vec2 at;
    std::vector<std::pair<Vec2, Vec2>> centres; // edges of where the tool's axis can go
    std::unique_ptr<SpatialIndex> index;

    /// Whether a tool of this radius can touch a point of the design's edge.
    [[nodiscard]] bool canReach(Vec2 p, double radius) const {
        if (!index) return true;
        for (const std::size_t k : index->meeting(Box{p, p}.grown(radius + 0.006)))
            if (distanceToLine(p, centres[k].first, centres[k].second) <= radius + 0.006) return true;
        return false;
    }
};
Unreached unreached(const Rings& own, bool opening, double radius, const Rings& relieved) {
    Unreached out;
    const OffsetOptions fine{.tolerance = 0.004};
    auto there = offset(own, opening ? -radius : radius, fine);
    if (!there) return out;
    std::vector<Box> boxes;
    for (const auto& ring : *there)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const auto& edge = out.centres.emplace_back(ring[i], ring[(i + 1) % ring.size()]);
            Box box;
            box.take(edge.first);
            box.take(edge.second);
            boxes.push_back(box);
        }
    out.index = std::make_unique<SpatialIndex>(boxes);
    auto back = offset(*there, opening ? radius : -radius, fine);
    if (!back) return out;
    auto rest = opening ? combined(own, *back, Combine::takeAway) : combined(*back, own, Combine::takeAway);
    if (rest && !relieved.empty()) rest = combined(*rest, relieved, Combine::takeAway);
    if (!rest) return out;
    double biggest = 0;
    for (const auto& ring : *rest) {
        const double area = std::abs(areaOf(ring));
        Box box;
        for (const Vec2 p : ring) box.take(p);
        // Slivers of a few microns along curves are the offsets' tolerance, not corners.
        if (area < 0.01 || area < 0.02 * std::hypot(box.width(), box.height())) continue;
        out.area += area;
        ++out.places;
        if (area > biggest) biggest = area, out.at = box.centre();
    }
    return out;
}

/// The edges of what is worked on as one: an outline alone, or an area with what stands in it.
Rings edgesRound(const std::vector<plan::Contour>& contours, const Meanings& meant, std::size_t which, bool slants) {
    const auto isArea = [&](std::size_t i) { return meant.of(i, slants).ofArea; };
    std::size_t outer = which;
    const int parent = contours[which].parent;
    if (!isArea(which)) return {flattened(wound(contours[which].path, true), 0.002)};
    if (meant.of(which, slants).side == plan::Side::outside && parent >= 0 && isArea(static_cast<std::size_t>(parent)))
        outer = static_cast<std::size_t>(parent);
    Rings rings{flattened(wound(contours[outer].path, true), 0.002)};
    for (std::size_t i = 0; i < contours.size(); ++i)
        if (contours[i].parent == static_cast<int>(outer) && contours[i].path.closed && isArea(i) &&
            meant.of(i, slants).side == plan::Side::outside)
            rings.push_back(flattened(wound(contours[i].path, false), 0.002));
    return rings;
}

} // namespace

Result<Deviation> deviationOf(const toolpath::Toolpath& path, Progress& progress) {
    Deviation result;
    if (!path.pieces) return result;
    if (path.process == shop::Process::blade) followTips(path, result);
    const auto& contours = path.pieces->contours;
    const auto meant = meaningsOf(path);
    std::vector<std::size_t> wanted;
    for (std::size_t i = 0; i < contours.size(); ++i)
        if (contours[i].path.closed && meant.of(i).beside) wanted.push_back(i);
    const auto list = reaches(path);
    std::vector<Box> boxes;
    boxes.reserve(list.size());
    double most = 0;
    for (const auto& reach : list) {
        boxes.push_back(boxOf(reach.a, reach.b));
        most = std::max(most, reach.most());
    }
    const SpatialIndex index(boxes);
    const Areas areas(contours, meant);
    const auto gouge = worstGouge(path, meant, list, wanted, areas, progress);
    if (!gouge) return gouge.problem();
    result.cutInto = gouge->depth, result.cutIntoAt = gouge->at;

    // Each edge by the walls that are meant on it.
    std::vector<std::pair<std::size_t, bool>> walls;
    for (const std::size_t i : wanted)
        for (const bool slants : {false, true})
            if (meant.of(i, slants).beside) walls.emplace_back(i, slants);
    std::vector<Rings> relieved(contours.size()); // what the tool covers on each relief
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts)
            for (const auto& [from, to] : cut.intent.reliefs)
                if (const auto swept = widened({{from, to}}, false, step.tool.diameter, Cap::round))
                    relieved[*cut.intent.contour].insert(relieved[*cut.intent.contour].end(), swept->begin(),
                                                         swept->end());
    std::vector<Deviation::Edge> edgesOf(walls.size());
    std::vector<Unreached> rest(walls.size());
    parallelFor(walls.size(), progress, [&](std::size_t i) {
        const auto [which, slants] = walls[i];
        const auto& contour = contours[which];
        auto& edge = edgesOf[i];
        edge = {contour.item, contour.opening, samplesOf(contour.path)};
        std::erase_if(edge.samples, [drawn = Drawn(contour)](const auto& sample) { return !drawn.has(sample.at); });
        // What is cut on the inside is an opening, whatever it is drawn as: a stencil's areas fall out.
        // What stays by intent makes the tool wider.
        const auto& m = meant.of(which, slants);
        const Rings own = edgesRound(contours, meant, which, slants);
        rest[i] = unreached(own, m.side == plan::Side::inside || own.size() > 1, m.unreachedBy(), relieved[which]);
        for (auto& sample : edge.samples) {
            double nearest = 1e9;
            const auto gone = areas.goneOver(which, sample.at);
            for (const std::size_t k : index.meeting(Box{sample.at, sample.at}.grown(most * 2.5 + 0.5)))
                if (list[k].slanted == slants && std::find(gone.begin(), gone.end(), list[k].contour) == gone.end())
                    nearest = std::min(nearest, list[k].missOf(sample.at));
            sample.miss = static_cast<float>(nearest > 1e8 ? most : nearest);
        }
    });
    if (progress.cancelled()) return Problem::cancelled();
    double biggest = 0;
    for (std::size_t i = 0; i < walls.size(); ++i) {
        const auto& m = meant.of(walls[i].first, walls[i].second);
        // What is meant to stand in the end: not what another step leaves less of, or a bevel takes.
        const auto& other = meant.of(walls[i].first, !walls[i].second);
        const bool final = m.allowance >= 0 && (!other.beside || other.allowance < 0 || m.allowance <= other.allowance);
        const bool island = m.ofArea && m.side == plan::Side::outside; // told with the area that it stands in
        if (final && !island) {
            result.unreachedArea += rest[i].area;
            result.unreachedPlaces += rest[i].places;
            if (rest[i].area > biggest) biggest = rest[i].area, result.unreachedAt = rest[i].at;
        }
        for (const auto& sample : edgesOf[i].samples) {
            const double miss = static_cast<double>(sample.miss) - m.allowance;
            const bool corner = miss > 0.005 && !rest[i].canReach(sample.at, m.unreachedBy());
            (corner ? result.corners : result.leftStanding) =
                std::max(corner ? result.corners : result.leftStanding, miss);
        }
        if (final) result.edges.push_back(std::move(edgesOf[i]));
    }
    return result;
}

} // namespace ferro::proof

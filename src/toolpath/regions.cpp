// Which outlines bound an area together, and what of areas is gone already.
#include "toolpath/regions_internal.h"

#include "geometry/flatten.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"

namespace ferro::toolpath {

Rings Region::flat() const {
    Rings rings;
    for (const auto& edge : edges) rings.push_back(flattened(edge, sampling));
    return rings;
}

std::vector<Region> regionsOf(const StepWork& work) {
    std::vector<std::size_t> closed;
    std::vector<Path> paths;
    for (const std::size_t i : work.taken)
        if (work.contours[i].path.closed) closed.push_back(i), paths.push_back(work.contours[i].path);
    const auto parents = parentsOf(paths);
    const auto depthOf = [&](std::size_t k) {
        int depth = 0;
        for (int up = parents[k]; up >= 0; up = parents[static_cast<std::size_t>(up)]) ++depth;
        return depth;
    };
    std::vector<Region> regions;
    for (std::size_t k = 0; k < closed.size(); ++k) {
        if (depthOf(k) % 2) continue;
        Region region{closed[k], {}, {wound(paths[k], true)}};
        for (std::size_t i = 0; i < closed.size(); ++i)
            if (parents[i] == static_cast<int>(k))
                region.islands.push_back(closed[i]), region.edges.push_back(wound(paths[i], false));
        regions.push_back(std::move(region));
    }
    return regions;
}

std::vector<Vec2> drilledBefore(const StepWork& work, double bottom) {
    std::vector<Vec2> places;
    for (const auto& step : work.before)
        for (const auto& cut : step.cuts) {
            if (!step.kind || step.kind->takes != plan::Takes::circles || cut.first == cut.end) continue;
            double wide = step.tool.diameter; // bored ones wider
            Vec2 at = cut.centre.start;
            if (!cut.centre.segments.empty()) {
                const Box round = boundsOf(cut.centre);
                wide += round.width(), at = round.centre();
            }
            const double point = step.tool.profile(step.tool.radius()); // its tip is narrower
            if (wide >= work.tool.diameter - 0.01 && cut.intent.bottom - point >= bottom - 1e-6) places.push_back(at);
        }
    return places;
}

Result<Rings> clearedBefore(const StepWork& work, double bottom) {
    Rings all;
    for (const auto& step : work.before)
        for (const auto& cut : step.cuts)
            if (cut.intent.bottom >= bottom - 1e-6)
                all.insert(all.end(), cut.intent.area.begin(), cut.intent.area.end());
    return combined(all, {}, Combine::join);
}

} // namespace ferro::toolpath

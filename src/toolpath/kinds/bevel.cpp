#include "plan/kinds/bevel.h"

#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "toolpath/work_internal.h"

namespace ferro::toolpath {

namespace {

/// Where a pointed tool runs to take an edge off.
struct Flank {
    double offset; ///< mm, of its axis from the edge, away from the part
    double depth;  ///< mm, of its point
};

/// Round and round, deeper from pass to pass; the last is the bevel.
Task bevelled(const StepWork& work, const plan::Bevel& bevel, const plan::Contour& contour, plan::Side side,
              Flank flank, Path way) {
    Task task;
    task.intent = intentOn(work, contour);
    task.intent.side = side;
    task.intent.allowance = -bevel.width;
    task.intent.bottom = flank.depth;
    task.intent.through = false;
    task.size = contour.size;
    task.centre = way;
    task.entry = task.exit = way.start;
    const auto passes =
        plan::passDepths({.through = false, .depth = flank.depth, .perPass = bevel.perPass}, work.thickness());
    task.write = [way = std::move(way), passes, rates = bevel.rates](Pen& pen) {
        pen.goOver(way.start);
        for (const double depth : passes) {
            pen.sinkTo(-depth, 0);
            pen.along(way.segments, -depth, rates.feed);
        }
        pen.lift();
    };
    return task;
}

Planned plannedBevel(const StepWork& work, const plan::Bevel& bevel, const plan::Contour& contour, Flank flank) {
    Planned planned;
    if (!contour.path.closed) {
        planned.snags.push_back(snagOn(work, contour, Verdict::look, "An open line has no edge to take off.",
                                       "Close it, or scribe along it."));
        return planned;
    }
    const plan::Side side = sideOn(contour, bevel.side);
    const bool outside = side == plan::Side::outside;
    const Rings rings{flattened(wound(contour.path, true), sampling)};
    auto ways = offsetPaths(rings, outside ? flank.offset : -flank.offset);
    if (!ways) {
        planned.snags.push_back(snagOn(work, contour, Verdict::noGo, ways.problem().what, ways.problem().mend));
        return planned;
    }
    if (ways->empty())
        planned.snags.push_back(
            snagOn(work, contour, Verdict::noGo,
                   fmt::format("An opening of {} has no room for the point of “{}”.", mm(contour.size), work.tool.name),
                   "Let the point run less below, or use a sharper tool."));
    for (auto& way : *ways) {
        if (way.segments.empty()) continue;
        // As offsets come their area lies on the left: outside that is the part. Climb has the part on the right.
        if (outside == (bevel.direction == plan::Direction::climb)) way = reversed(way);
        planned.tasks.push_back(bevelled(work, bevel, contour, side, flank, std::move(way)));
    }
    return planned;
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Bevel& bevel, Progress& progress) {
    const auto& tool = work.tool;
    const double slope = std::tan(tool.angle / 2 * pi / 180), cone = (tool.radius() - tool.tip / 2) / slope;
    const Flank flank{tool.tip / 2 + bevel.below * slope, bevel.width / slope + bevel.below};
    const auto no = [&](std::string what, std::string mend) {
        return Planned{{}, {{Verdict::noGo, work.step.id, {}, {}, std::move(what), std::move(mend)}}};
    };
    if (const double most = std::min(cone, tool.fluteLength); flank.depth > most + 1e-9)
        return no(fmt::format("A bevel {} wide asks {} of “{}”, it cuts {} deep.", mm(bevel.width),
                              mm(std::round(flank.depth * 100) / 100), tool.name, mm(std::floor(most * 100) / 100)),
                  "Make it narrower, let the point run less below, or use a wider tool.");
    if (flank.depth > work.thickness() + 1e-9)
        return no(fmt::format("A bevel {} wide goes {} deep, the stock is {}.", mm(bevel.width),
                              mm(std::round(flank.depth * 100) / 100), mm(work.thickness())),
                  "Make it narrower, or use a wider angle.");
    return plannedEach(work, progress,
                       [&](const plan::Contour& contour) { return plannedBevel(work, bevel, contour, flank); });
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Bevel&) { return {}; }

} // namespace ferro::toolpath

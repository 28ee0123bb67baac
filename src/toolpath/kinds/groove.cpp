#include "plan/kinds/groove.h"

#include "base/parallel.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "toolpath/carve_internal.h"
#include "toolpath/regions_internal.h"
#include "toolpath/ways_internal.h"

namespace ferro::toolpath {

namespace {

constexpr double flattening = 0.001, thinning = 0.001; // mm
constexpr double acrossFloor = 1;                      // mm: a third of how far it goes on over a floor without lifting

/// What comes of one area.
struct Carved {
    Region region;
    std::vector<Trail> trails;
    std::vector<Path> rims; ///< along the foot of the walls, where the floor is flat
    Ways floor;             ///< what is to be cleared of that
    double deepest = 0;     ///< mm
    double narrow = 0;      ///< mm, length of the axis that is too narrow for the tool's tip
};

/// The flat floor of an area: along its rim, and over what neither that nor steps before get to.
Result<void> layFloor(Carved& made, double widest, double reach, const Rings& done, Progress& progress) {
    const Rings area = made.region.flat();
    auto rims = offsetPaths(area, -widest);
    if (!rims) return rims.problem();
    made.rims = std::move(*rims);
    Rings along;
    for (const auto& rim : made.rims) along.push_back(flattened(rim, flattening));
    Rings gone;
    if (!done.empty()) {
        const auto byRims = widened(along, true, 2 * reach, Cap::round);
        auto both = byRims ? combined(done, *byRims, Combine::join) : byRims;
        if (!both) return both.problem();
        gone = std::move(*both);
    }
    // What no person would wait for is not worked out either.
    constexpr double longest = 200'000; // mm of way
    const double step = 1.8 * reach;
    auto left = offset(area, -widest);
    if (left && !gone.empty()) left = combined(*left, gone, Combine::takeAway);
    if (!left) return left.problem();
    double size = 0;
    for (const auto& ring : *left) size += areaOf(ring);
    if (size > longest * step)
        return Problem{.what = fmt::format("A flat floor of {:.0f} cm² is {:.0f} m of way for the point.", size / 100,
                                           size / step / 1000),
                       .where = {},
                       .mend = "Let an end mill clear it before, as deep and with walls that slant by half the tool's "
                               "angle; or allow higher ridges."};
    auto floor = waysOver(
        area, {.radius = reach, .allowance = widest - reach, .step = step, .done = done.empty() ? nullptr : &gone},
        progress);
    if (!floor) return floor.problem();
    made.floor = std::move(*floor);
    return {};
}

/// mm, the radius of the flat tip that an area was grooved with before, the sharpest; none: it was not.
std::optional<double> flatBefore(const StepWork& work, const Region& region) {
    std::optional<double> least;
    for (const auto& step : work.before)
        if (step.kind == &plan::Groove::kind())
            for (const auto& cut : step.cuts)
                if (cut.intent.contour == region.outer)
                    least = std::min(least.value_or(step.tool.flatRadius()), step.tool.flatRadius());
    return least;
}

Result<Carved> carvedOver(const plan::Groove& groove, const Tip& tip, Region region, const Rings& done,
                          std::optional<double> grooved, Progress& progress) {
    Carved made{std::move(region), {}, {}, {}, 0, 0};
    const auto axis = areaAxis(made.region.edges, flattening);
    if (!axis) return axis.problem();
    const double widest = tip.widest();
    // A little beyond where the floor begins, so that none too narrow for a rim is passed over; not any deeper.
    const double upTo = grooved ? *grooved + 0.02 : widest + 0.02;
    made.trails = trailsOf(*axis, tip.flat(), upTo, thinning);
    for (auto& trail : made.trails) trail = tip.evened(trail, thinning);
    for (const auto& edge : axis->edges) {
        const auto &a = axis->nodes[edge.a], &b = axis->nodes[edge.b];
        if (std::max(a.radius, b.radius) <= tip.flat()) made.narrow += distance(a.at, b.at);
    }
    double radius = 0;
    for (const auto& node : axis->nodes) radius = std::max(radius, std::min(node.radius, upTo));
    made.deepest = tip.depthAt(radius);
    // As a tool would that is as thick at its end as the point is where ridges end.
    if (!grooved && radius > widest)
        if (auto laid = layFloor(made, widest, tip.radiusAt(groove.ridge), done, progress); !laid)
            return laid.problem();
    return made;
}

/// Trail after trail, the rims, then what is to be cleared of the floor.
Task taskOf(const StepWork& work, const plan::Groove& groove, const std::shared_ptr<const Carver>& carver,
            double deepest, Carved made) {
    const auto& outer = work.contours[made.region.outer];
    std::vector<Task> tasks;
    const auto taskOn = [&](std::size_t edge) -> Task& {
        Task& task = tasks.emplace_back();
        task.intent = intentOn(work, work.contours[edge]);
        task.intent.side = edge == made.region.outer ? plan::Side::inside : plan::Side::outside;
        task.intent.bottom = deepest;
        task.intent.through = false;
        task.centre = {outer.path.start, {}, false};
        return task;
    };
    Vec2 entry = outer.path.start, exit = entry;
    for (auto& trail : made.trails) {
        Task& task = taskOn(made.region.outer);
        task.centre = {trail.front().at, {}, false};
        for (std::size_t i = 1; i < trail.size(); ++i) task.centre.segments.push_back(Segment::line(trail[i].at));
        if (tasks.size() == 1) entry = trail.front().at;
        exit = trail.back().at;
        task.write = [carver, trail = std::move(trail)](Pen& pen) { carver->carve(pen, trail); };
    }
    for (auto& rim : made.rims) {
        Task& task = taskOn(made.region.outer);
        task.centre = rim;
        if (tasks.size() == 1) entry = rim.start;
        exit = rim.start;
        task.write = [carver, path = std::move(rim)](Pen& pen) { carver->rim(pen, path); };
    }
    for (const auto island : made.region.islands) taskOn(island);
    Task& end = taskOn(made.region.outer);
    if (!made.floor.inner.empty()) {
        end.intent.area = made.floor.goal;
        end.intent.ridge = groove.ridge;
        end.centre.start = made.floor.inner.front().path.start;
        exit = made.floor.inner.back().path.end();
    }
    end.write = [carver, floor = std::make_shared<const Ways>(std::move(made.floor))](Pen& pen) {
        if (!floor->inner.empty()) carver->clear(pen, floor->inner, Crossing(*floor, acrossFloor));
        if (pen.at().z < 0) pen.lift();
    };
    Task whole = std::move(tasks.front());
    whole.then.assign(std::make_move_iterator(tasks.begin() + 1), std::make_move_iterator(tasks.end()));
    whole.size = outer.size;
    whole.entry = entry;
    whole.exit = exit;
    return whole;
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Groove& groove, Progress& progress) {
    Planned all;
    const auto& tool = work.tool;
    const double asked = plan::bottomOf(groove.depth, work.thickness());
    const Tip tip(tool, asked);
    const auto done = clearedBefore(work, tip.most());
    if (!done) {
        all.snags.push_back({Verdict::noGo, work.step.id, {}, {}, done.problem().what, done.problem().mend});
        return all;
    }
    auto regions = regionsOf(work);
    std::vector<std::size_t> outers;
    std::vector<std::optional<double>> grooved(regions.size());
    for (std::size_t i = 0; i < regions.size(); ++i) {
        outers.push_back(regions[i].outer);
        if (groove.rest) grooved[i] = flatBefore(work, regions[i]);
        if (groove.rest && !grooved[i])
            all.snags.push_back(snagOn(work, work.contours[outers[i]], Verdict::look,
                                       "No step before grooves this: it is grooved whole.",
                                       "Let a groove by a wider tip come first, or choose all."));
    }
    std::vector<std::optional<Result<Carved>>> made(regions.size());
    parallelFor(regions.size(), progress, [&](std::size_t i) {
        made[i] = carvedOver(groove, tip, std::move(regions[i]), *done, grooved[i], progress);
    });
    if (progress.cancelled()) return all;
    double deepest = 0, byPoint = 0;
    for (std::size_t i = 0; i < made.size(); ++i) {
        const auto& one = *made[i];
        if (!one) continue;
        deepest = std::max(deepest, one->deepest);
        for (const auto& ring : one->floor.goal) byPoint += areaOf(ring);
    }
    const auto carver = std::make_shared<const Carver>(
        groove.rates, tip, plan::passDepths({.through = false, .depth = deepest, .perPass = groove.depth.perPass}, 0));
    for (std::size_t i = 0; i < made.size(); ++i) {
        auto& one = *made[i];
        if (!one) {
            all.snags.push_back(
                snagOn(work, work.contours[outers[i]], Verdict::noGo, one.problem().what, one.problem().mend));
            continue;
        }
        const auto& contour = work.contours[one->region.outer];
        if (one->narrow > 0)
            all.snags.push_back(
                snagOn(work, contour, Verdict::look,
                       fmt::format("“{}” has a tip of {}: what is narrower stays.", tool.name, mm(tool.tip)),
                       "Use a sharper tool for it."));
        if (!one->trails.empty() || !one->rims.empty())
            all.tasks.push_back(taskOf(work, groove, carver, one->deepest, std::move(*one)));
    }
    if (tip.made() < asked - 1e-9 && deepest >= tip.made() - 1e-9)
        all.snags.push_back({Verdict::look,
                             work.step.id,
                             {},
                             {},
                             fmt::format("“{}” is {} wide: its grooves are at most {} deep.", tool.name,
                                         mm(tool.diameter), mm(std::floor(tip.made() * 100) / 100)),
                             "Wider areas get a flat floor there; a wider tool goes deeper."});
    constexpr double much = 200; // mm²
    if (byPoint > much)
        all.snags.push_back(
            {Verdict::look,
             work.step.id,
             {},
             {},
             fmt::format("“{}” clears {:.0f} cm² of flat floor with its point.", work.step.name, byPoint / 100),
             fmt::format("Let an end mill clear it before: {} deep, walls slanting {:.4g}°.",
                         mm(std::round(tip.most() * 1000) / 1000), tool.angle / 2)});
    if (groove.rest && all.tasks.empty() && all.snags.empty() && !outers.empty())
        all.snags.push_back(snagOn(work, work.contours[outers[0]], Verdict::note,
                                   "The tip before got everywhere: nothing is left to groove.",
                                   "Take the step out, or use a sharper tool."));
    return all;
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Groove&) { return {}; }

} // namespace ferro::toolpath

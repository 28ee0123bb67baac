#include "plan/kinds/groove.h"

#include "base/parallel.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "toolpath/regions_internal.h"
#include "toolpath/trails_internal.h"
#include "toolpath/ways_internal.h"

namespace ferro::toolpath {

namespace {

constexpr double flattening = 0.001, thinning = 0.001; // mm
constexpr double acrossFloor = 1;                      // mm: a third of how far it goes on over a floor without lifting

/// A pointed tool: how deep it goes in between two edges.
struct Point {
    double tip, slope; ///< mm, radius of the flat at its end; mm out for each mm up
    double most;       ///< mm, the deepest it goes

    [[nodiscard]] double depthAt(double radius) const { return std::clamp((radius - tip) / slope, 0.0, most); }
    [[nodiscard]] double radiusAt(double depth) const { return tip + depth * slope; }
};

/// What comes of one area.
struct Carved {
    Region region;
    std::vector<Trail> trails;
    std::vector<Path> rims; ///< along the foot of the walls, where the floor is flat
    Ways floor;             ///< what is to be cleared of that
    double deepest = 0;     ///< mm
    double narrow = 0;      ///< mm, length of the axis that is too narrow for the tool's tip
};

/// Follows trails at the depth that they ask for, in passes.
class Carver {
public:
    Carver(const plan::Rates& rates, Point point, std::vector<double> passes)
        : rates_(rates), point_(point), passes_(std::move(passes)) {}

    void carve(Pen& pen, const Trail& trail) const {
        double above = 0; // what the passes before have cut
        for (const double pass : passes_) {
            const auto isDeeper = [&](const AreaAxis::Node& node) {
                return point_.depthAt(node.radius) > above + 1e-9;
            };
            for (std::size_t i = 0; i < trail.size();) {
                if (above > 0 && !isDeeper(trail[i]) && (i + 1 == trail.size() || !isDeeper(trail[i + 1]))) {
                    ++i;
                    continue;
                }
                std::size_t end = i + 1;
                while (end < trail.size() && (above == 0 || isDeeper(trail[end - 1]) || isDeeper(trail[end]))) ++end;
                follow(pen, trail, i, end, pass);
                i = end;
            }
            above = pass;
        }
    }
    void rim(Pen& pen, const Path& path) const {
        for (const double pass : passes_) along(pen, path, -pass);
    }
    void clear(Pen& pen, const std::vector<Way>& ways, const Crossing& crossing) const {
        for (const double pass : passes_)
            for (const auto& way : ways) {
                const bool down = std::abs(pen.at().z + pass) < 1e-9;
                if (const auto link = down ? crossing.between(pen.at().flat(), way.path.start) : std::nullopt)
                    pen.along(*link, -pass, rates_.feed);
                along(pen, way.path, -pass);
            }
    }

private:
    void along(Pen& pen, const Path& path, double z) const {
        enter(pen, {path.start.x, path.start.y, z});
        pen.along(path.segments, z, rates_.feed);
    }
    void follow(Pen& pen, const Trail& trail, std::size_t from, std::size_t end, double pass) const {
        const auto at = [&](Vec2 p, double depth) { return Vec3{p.x, p.y, -std::clamp(depth, 0.0, pass)}; };
        const auto depthOf = [&](std::size_t i) { return (trail[i].radius - point_.tip) / point_.slope; };
        enter(pen, at(trail[from].at, depthOf(from)));
        for (std::size_t i = from + 1; i < end; ++i) {
            // Depth goes evenly between two places, but for where the pass cuts it off.
            const double a = depthOf(i - 1), b = depthOf(i);
            if ((a - pass) * (b - pass) < 0)
                go(pen, at(lerp(trail[i - 1].at, trail[i].at, (pass - a) / (b - a)), pass));
            go(pen, at(trail[i].at, b));
        }
    }
    /// Going down it sinks no quicker than it may plunge, whatever rounding to a program's digits makes of short moves.
    void go(Pen& pen, Vec3 to) const {
        constexpr double digit = 0.0026; // mm: a ten-thousandth of an inch
        const double down = pen.at().z - to.z, way = distance(pen.at(), to);
        const double steep = std::max(way - digit, way / 2) / (down + digit);
        pen.feed(to, down > 0 ? std::min(rates_.feed, rates_.plunge * std::max(1.0, steep)) : rates_.feed);
    }
    /// At the plunge feed from the top, though a pass before has been here.
    void enter(Pen& pen, Vec3 to) const {
        if (pen.isAt(to)) return;
        if (pen.at().z < 0) pen.lift();
        pen.goOver(to.flat());
        pen.sinkTo(to.z, 0);
    }

    plan::Rates rates_;
    Point point_;
    std::vector<double> passes_;
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

Result<Carved> carvedOver(const plan::Groove& groove, const Point& point, Region region, const Rings& done,
                          Progress& progress) {
    Carved made{std::move(region), {}, {}, {}, 0, 0};
    const auto axis = areaAxis(made.region.edges, flattening);
    if (!axis) return axis.problem();
    const double widest = point.radiusAt(point.most);
    // A little beyond where the floor begins, so that none too narrow for a rim is passed over; not any deeper.
    made.trails = trailsOf(*axis, point.tip, widest + 0.02, thinning);
    for (const auto& edge : axis->edges) {
        const auto &a = axis->nodes[edge.a], &b = axis->nodes[edge.b];
        if (std::max(a.radius, b.radius) <= point.tip) made.narrow += distance(a.at, b.at);
    }
    double radius = 0;
    for (const auto& node : axis->nodes) radius = std::max(radius, node.radius);
    made.deepest = point.depthAt(radius);
    // As a tool would that is as thick at its end as the point is where ridges end.
    if (radius > widest)
        if (auto laid = layFloor(made, widest, point.tip + groove.ridge * point.slope, done, progress); !laid)
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
    const double slope = std::tan(tool.angle / 2 * pi / 180), cone = (tool.radius() - tool.tip / 2) / slope;
    const Point point{tool.tip / 2, slope, std::min(plan::bottomOf(groove.depth, work.thickness()), cone)};
    const auto done = clearedBefore(work, point.most);
    if (!done) {
        all.snags.push_back({Verdict::noGo, work.step.id, {}, {}, done.problem().what, done.problem().mend});
        return all;
    }
    auto regions = regionsOf(work);
    std::vector<std::size_t> outers;
    for (const auto& region : regions) outers.push_back(region.outer);
    std::vector<std::optional<Result<Carved>>> made(regions.size());
    parallelFor(regions.size(), progress,
                [&](std::size_t i) { made[i] = carvedOver(groove, point, std::move(regions[i]), *done, progress); });
    if (progress.cancelled()) return all;
    double deepest = 0, byPoint = 0;
    for (std::size_t i = 0; i < made.size(); ++i) {
        const auto& one = *made[i];
        if (!one) continue;
        deepest = std::max(deepest, one->deepest);
        for (const auto& ring : one->floor.goal) byPoint += areaOf(ring);
    }
    const auto carver = std::make_shared<const Carver>(
        groove.rates, point,
        plan::passDepths({.through = false, .depth = deepest, .perPass = groove.depth.perPass}, 0));
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
    if (cone < plan::bottomOf(groove.depth, work.thickness()) - 1e-9 && deepest >= cone - 1e-9)
        all.snags.push_back({Verdict::look,
                             work.step.id,
                             {},
                             {},
                             fmt::format("“{}” is {} wide: its grooves are at most {} deep.", tool.name,
                                         mm(tool.diameter), mm(std::floor(cone * 100) / 100)),
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
                         mm(std::round(point.most * 1000) / 1000), tool.angle / 2)});
    return all;
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Groove&) { return {}; }

} // namespace ferro::toolpath

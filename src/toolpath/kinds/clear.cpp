#include "plan/kinds/clear.h"

#include "base/parallel.h"
#include "toolpath/even_load_internal.h"
#include "toolpath/regions_internal.h"
#include "toolpath/ways_internal.h"

#include <map>

namespace ferro::toolpath {

namespace {

/// An area with the ways over it.
struct Cleared {
    Region region;
    Ways ways;
    std::optional<Sweeps> even; ///< instead of the ways' inner ones
};

/// Writes ways one after the other at a depth, staying down where the next is near and the way there is clear of walls.
class Clearer {
public:
    /// `fastest`: mm/min that the machine can. `holes`: where it may go straight down.
    Clearer(const plan::Clear& clear, const Ways& ways, double radius, double fastest, const std::vector<Vec2>& holes)
        : clear_(clear), crossing_(ways, radius), radius_(radius), fastest_(fastest),
          ramp_(rampFeed(clear.rates, clear.rampAngle)) {
        for (const Vec2 hole : holes)
            if (crossing_.hasRoom(hole, 0)) holes_.push_back(hole);
    }
    [[nodiscard]] bool hasHoles() const { return !holes_.empty(); }

    void run(Pen& pen, const std::vector<Way>& ways, double surface, double depth) const {
        for (const auto& way : ways) one(pen, way, surface, -depth);
    }

    /// With an even load: each goes down by a helix, or where all is gone.
    void run(Pen& pen, const std::vector<Sweep>& sweeps, double surface, double depth) const {
        for (const auto& sweep : sweeps) {
            if (pen.at().z < 0) pen.lift();
            pen.goOver(sweep.start);
            pen.sinkTo(surface, 0); // at the plunge feed, though a pass before has been here
            if (sweep.hole && clear_.entry != plan::Entry::plunge) {
                round(pen, sweep.hole->centre, surface, -depth);
            } else {
                pen.sinkTo(-depth, 0);
                if (sweep.hole) once(pen, sweep.hole->centre, -depth, feedAt(Sweep::Stretch::Pace::slot));
            }
            for (const auto& [pace, segments] : sweep.stretches) pen.along(segments, -depth, feedAt(pace));
        }
    }

private:
    [[nodiscard]] double feedAt(Sweep::Stretch::Pace pace) const {
        switch (pace) {
        case Sweep::Stretch::Pace::back: return std::max(clear_.rates.feed, std::min(2 * clear_.rates.feed, fastest_));
        case Sweep::Stretch::Pace::slot: return clear_.rates.feed / 2; // it should bear little, and bears all
        default: return clear_.rates.feed;
        }
    }

    void one(Pen& pen, const Way& way, double surface, double z) const {
        const Path& path = way.path;
        const Ruler whole(path);
        const Vec2 at = pen.at().flat();
        const bool down = std::abs(pen.at().z - z) < 1e-9;
        const double start = path.closed && down ? whole.nearest(at) : 0;
        const Vec2 begin = whole.at(start).point;
        double from = start;
        const auto link = down ? crossing_.between(at, begin) : std::nullopt;
        if (link) {
            pen.along(*link, z, clear_.rates.feed);
        } else {
            if (pen.at().z < 0) pen.lift();
            if (const auto by = throughHole(pen, whole, z)) {
                from = *by;
            } else {
                pen.goOver(begin);
                from = enter(pen, whole, start, surface, z);
            }
        }
        if (path.closed)
            pen.along(whole.stretch(from, from + whole.length()), z, clear_.rates.feed);
        else
            pen.along(whole.stretch(from, whole.length()), z, clear_.rates.feed);
    }

    /// Down in the nearest hole and straight on to where the way begins, for a ring at its nearest place, the answer;
    /// none: no hole leads there.
    [[nodiscard]] std::optional<double> throughHole(Pen& pen, const Ruler& whole, double z) const {
        std::optional<double> best;
        Vec2 hole;
        double least = std::numeric_limits<double>::infinity();
        for (const Vec2 at : holes_) {
            const double along = whole.path().closed ? whole.nearest(at) : 0;
            const Vec2 begin = whole.at(along).point;
            if (const double off = distance(at, begin); off < least && crossing_.isStraightOn(at, begin))
                least = off, best = along, hole = at;
        }
        if (!best) return best;
        pen.goOver(hole);
        pen.sinkTo(z, 0); // at the plunge feed, should it not be there after all
        pen.along({Segment::line(whole.at(*best).point)}, z, clear_.rates.feed);
        return best;
    }

    /// Down to depth along the way; answers where on it that ends. What is cut on the ramp only is gone over again.
    double enter(Pen& pen, const Ruler& whole, double start, double surface, double z) const {
        const double slope = std::tan(clear_.rampAngle * pi / 180), run = (surface - z) / slope;
        const bool steep = clear_.entry == plan::Entry::plunge || whole.length() < radius_;
        if (steep || run <= 0) {
            pen.sinkTo(z, 0);
            return start;
        }
        pen.sinkTo(surface, 0); // at the plunge feed, though a pass before has been here
        if (clear_.entry == plan::Entry::helix && helix(pen, whole.at(start), surface, z)) return start;
        if (whole.path().closed) {
            pen.along(whole.stretch(start, start + run), z, ramp_);
            return start + run;
        }
        // To and fro, as often as it takes to come down on so short a line, back at its start in the end.
        const int legs = 2 * std::max(1, static_cast<int>(std::ceil(run / (2 * whole.length()))));
        const double leg = run / legs;
        const Ruler back(reversed(whole.path()));
        for (int i = 0; i < legs; ++i) {
            const double to = surface + (z - surface) * (i + 1) / legs;
            if (i % 2 == 0)
                pen.along(whole.stretch(0, leg), to, ramp_);
            else
                pen.along(back.stretch(whole.length() - leg, whole.length()), to, ramp_);
        }
        return 0;
    }

    /// Round and round down beside the place where a way begins, and once round at depth; false: there is no room.
    bool helix(Pen& pen, const Station& from, double surface, double z) const {
        for (double r = 0.8 * radius_; r > 0.2 * radius_; r /= 1.5)
            for (const Vec2 side : {perpendicular(from.tangent), -perpendicular(from.tangent)}) {
                const Vec2 centre = from.point + side * r;
                if (!crossing_.hasRoom(centre, r)) continue;
                round(pen, centre, surface, z);
                return true;
            }
        return false;
    }
    void round(Pen& pen, Vec2 centre, double surface, double z) const {
        const double turn = 2 * pi * distance(pen.at().flat(), centre) * std::tan(clear_.rampAngle * pi / 180);
        const int turns = std::max(1, static_cast<int>(std::ceil((surface - z) / turn)));
        for (int k = 1; k <= turns; ++k) once(pen, centre, surface + (z - surface) * k / turns, ramp_);
        once(pen, centre, z, clear_.rates.feed);
    }
    void once(Pen& pen, Vec2 centre, double to, double rate) const {
        const bool ccw = clear_.direction == plan::Direction::climb; // stock on the right, as on all the ways
        const Vec2 from = pen.at().flat(), across = centre * 2 - from;
        pen.along({Segment::arc(centre, across, ccw), Segment::arc(centre, from, ccw)}, to, rate);
    }

    plan::Clear clear_;
    Crossing crossing_;
    double radius_, fastest_, ramp_;
    std::vector<Vec2> holes_; ///< that lie where its axis may be
};

/// The walls' ways by the edge that they lie along.
std::map<std::size_t, std::vector<Way>> wallsByEdge(const StepWork& work, const Cleared& made) {
    std::map<std::size_t, std::vector<Way>> ofEdge{{made.region.outer, {}}};
    for (const std::size_t island : made.region.islands) ofEdge[island];
    std::vector<std::pair<std::size_t, Ruler>> rulers;
    for (const auto& [edge, ways] : ofEdge) rulers.emplace_back(edge, Ruler(work.contours[edge].path));
    for (const auto& wall : made.ways.walls) {
        const auto off = [&](const auto& of) {
            return distance(wall.path.start, of.second.at(of.second.nearest(wall.path.start)).point);
        };
        ofEdge[std::min_element(rulers.begin(), rulers.end(),
                                [&](const auto& a, const auto& b) { return off(a) < off(b); })
                   ->first]
            .push_back(wall);
    }
    return ofEdge;
}

/// Whether a step that comes later takes what this one leaves of the same pieces, as deep and with a thinner tool.
bool leavesToOthers(const StepWork& work) {
    const auto& steps = work.job.plan.steps;
    auto later = std::find_if(steps.begin(), steps.end(), [&](const auto& s) { return s.id == work.step.id; });
    return std::any_of(later, steps.end(), [&](const plan::Step& step) {
        const auto* other = plan::as<plan::Clear>(step);
        const auto* tool = job::toolOf(work.job, step);
        return other && step.enabled && other->rest && step.rule == work.step.rule && tool &&
               tool->diameter < work.tool.diameter &&
               plan::bottomOf(other->depth, work.thickness()) >=
                   plan::bottomOf(plan::as<plan::Clear>(work.step)->depth, work.thickness()) - 1e-9;
    });
}

plan::Depth depthOf(const plan::Clear& clear) {
    auto depth = clear.depth;
    depth.depth -= depth.through ? 0 : clear.floor;
    return depth;
}

/// How far it stays off edges: what is left on walls, and what they lean out as far down as it goes.
double offWalls(const plan::Clear& clear, double bottom) {
    return clear.allowance + bottom * std::tan(clear.slant * pi / 180);
}

/// Where it goes in through holes that were drilled; none where it is not to.
std::vector<Vec2> entriesOf(const StepWork& work, const plan::Clear& clear) {
    if (clear.entry != plan::Entry::hole) return {};
    return drilledBefore(work, plan::bottomOf(depthOf(clear), work.thickness()));
}

/// One depth after the other: the area from the inside out, then its walls, each edge with what it is for.
Task taskOf(const StepWork& work, const plan::Clear& clear, const Cleared& made, std::vector<Snag>& snags) {
    const auto& [region, ways, even] = made;
    const auto clearer = std::make_shared<const Clearer>(clear, ways, work.tool.radius(), work.job.machine.maxFeed,
                                                         entriesOf(work, clear));
    if (clear.entry == plan::Entry::hole && !even && !clearer->hasHoles())
        snags.push_back(snagOn(work, work.contours[region.outer], Verdict::look,
                               "No hole was drilled here as wide as the tool and as deep as the area: it goes in by a "
                               "ramp.",
                               "Drill one before it, or choose a ramp or a helix."));
    const Path nowhere{ways.edge.front().path.start, {}, false}; // what is cleared is drawn, not its many ways
    const auto ofEdge = wallsByEdge(work, made);
    const auto depths = plan::passDepths(depthOf(clear), work.thickness());
    std::vector<Task> tasks;
    double surface = 0;
    for (std::size_t pass = 0; pass < depths.size(); ++pass) {
        const double depth = depths[pass];
        const bool last = pass + 1 == depths.size();
        const auto writing = [=](std::vector<Way> some) {
            return [=, some = std::move(some)](Pen& pen) { clearer->run(pen, some, surface, depth); };
        };
        const auto taskOn = [&](std::size_t edge) {
            Task task;
            task.intent = intentOn(work, work.contours[edge]);
            const bool island = edge != region.outer;
            task.intent.side = island ? plan::Side::outside : plan::Side::inside;
            task.intent.allowance = offWalls(clear, depths.back());
            if (pass > 0) task.intent.top = depths[pass - 1];
            task.intent.bottom = depth;
            task.centre = nowhere;
            return task;
        };
        Task area = taskOn(region.outer);
        area.write = writing(ways.inner);
        if (even)
            area.write = [=, sweeps = even->sweeps, slots = writing(ways.inner)](Pen& pen) {
                clearer->run(pen, sweeps, surface, depth);
                slots(pen);
            };
        tasks.push_back(std::move(area));
        for (const auto& [edge, walls] : ofEdge) {
            Task wall = taskOn(edge);
            if (last) {
                wall.intent.frees = edge != region.outer && wall.intent.through;
                if (!walls.empty()) wall.centre = walls.front().path;
            }
            wall.write = writing(walls);
            tasks.push_back(std::move(wall));
        }
        Task end = taskOn(region.outer);
        end.intent.contour.reset();
        if (last) end.intent.area = ways.goal; // what all was to be cleared of
        end.write = [](Pen& pen) {
            if (pen.at().z < 0) pen.lift();
        };
        tasks.push_back(std::move(end));
        surface = -depth;
    }
    Task whole = std::move(tasks.front());
    whole.then.assign(std::make_move_iterator(tasks.begin() + 1), std::make_move_iterator(tasks.end()));
    whole.size = work.contours[region.outer].size;
    whole.entry = even && !even->sweeps.empty() ? even->sweeps.front().start
                                                : (ways.inner.empty() ? ways.walls : ways.inner).front().path.start;
    whole.exit = (ways.walls.empty() ? ways.inner : ways.walls).back().path.start;
    return whole;
}

/// Puts what is too narrow for an even load to the ways.
Result<Sweeps> evenlyOver(Ways& ways, const plan::Clear& clear, double radius, Progress& progress) {
    std::vector<Path> walls;
    for (const auto& way : ways.edge) walls.push_back(way.path);
    auto sweeps = evenLoad(walls,
                           {.radius = radius,
                            .engagement = clear.engagement * pi / 180,
                            .climb = clear.direction == plan::Direction::climb},
                           progress);
    if (sweeps)
        for (const auto& path : sweeps->narrow) ways.inner.push_back({path, {}});
    return sweeps;
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Clear& clear, Progress& progress) {
    Planned all;
    const double bottom = plan::bottomOf(depthOf(clear), work.thickness());
    if (!(bottom > clear.depth.start)) {
        all.snags.push_back({Verdict::noGo,
                             work.step.id,
                             {},
                             {},
                             "What is left on the floor is all of its depth.",
                             "Leave less, or go deeper."});
        return all;
    }
    const auto done = clear.rest ? clearedBefore(work, bottom) : Result<Rings>(Rings{});
    if (!done) {
        all.snags.push_back({Verdict::noGo, work.step.id, {}, {}, done.problem().what, done.problem().mend});
        return all;
    }
    // What a rounded edge leaves on the floor is not cleared: ways cover it with what the tool cuts level.
    const double corner = work.tool.radius() - work.tool.flatRadius();
    const bool even = clear.by == plan::ClearBy::evenLoad && !clear.rest && corner <= 0;
    const Covering how{.radius = work.tool.flatRadius(),
                       .allowance = offWalls(clear, bottom) + corner,
                       .step = std::min(work.tool.diameter * (1 - clear.overlap / 100), 2 * work.tool.flatRadius()),
                       .in = even                               ? Covering::In::none
                             : clear.by == plan::ClearBy::lines ? Covering::In::lines
                                                                : Covering::In::rings,
                       .angle = clear.angle * pi / 180,
                       .climb = clear.direction == plan::Direction::climb,
                       .done = clear.rest ? &*done : nullptr};
    std::vector<Cleared> regions;
    for (auto& region : regionsOf(work)) regions.push_back({std::move(region), {}, {}});
    std::vector<std::optional<Problem>> problems(regions.size());
    parallelFor(regions.size(), progress, [&](std::size_t i) {
        auto ways = waysOver(regions[i].region.flat(), how, progress);
        if (ways && even && !ways->edge.empty()) {
            if (auto sweeps = evenlyOver(*ways, clear, work.tool.radius(), progress); sweeps)
                regions[i].even = std::move(*sweeps);
            else
                problems[i] = sweeps.problem();
        }
        if (ways)
            regions[i].ways = std::move(*ways);
        else
            problems[i] = ways.problem();
    });
    if (progress.cancelled()) return all;
    for (std::size_t i = 0; i < regions.size(); ++i) {
        const auto& contour = work.contours[regions[i].region.outer];
        const auto& ways = regions[i].ways;
        if (problems[i])
            all.snags.push_back(snagOn(work, contour, Verdict::noGo, problems[i]->what, problems[i]->mend));
        else if (ways.edge.empty())
            all.snags.push_back(snagOn(work, contour, leavesToOthers(work) ? Verdict::note : Verdict::noGo,
                                       fmt::format("“{}” is {} wide and does not fit into an area of {}.",
                                                   work.tool.name, mm(work.tool.diameter), mm(contour.size)),
                                       leavesToOthers(work) ? "Its rest is taken by a thinner tool."
                                                            : "Choose a thinner tool for it."));
        else if (!ways.inner.empty() || !ways.walls.empty()) {
            all.tasks.push_back(taskOf(work, clear, regions[i], all.snags));
            if (const auto& made = regions[i].even; made && made->tight > work.tool.diameter)
                all.snags.push_back(
                    snagOn(work, contour, Verdict::look,
                           fmt::format("Along {} the area is hardly wider than “{}”: it cuts a slot there, all across, "
                                       "at half the feed.",
                                       mm(made->tight), work.tool.name),
                           "Use a thinner tool there, or go less deep a pass."));
        }
    }
    if (corner > 0 && clear.by == plan::ClearBy::evenLoad && !clear.rest)
        all.snags.push_back({Verdict::note,
                             work.step.id,
                             {},
                             {},
                             "With a rounded edge it is cleared in rings: an even load is for flat tools.",
                             "Choose rings, or an end mill."});
    if (even && clear.entry == plan::Entry::hole)
        all.snags.push_back({Verdict::note,
                             work.step.id,
                             {},
                             {},
                             "An even load goes in by a helix of its own, not by a drilled hole.",
                             "Choose helix, or rings."});
    if (clear.rest && clear.by == plan::ClearBy::evenLoad)
        all.snags.push_back({Verdict::note,
                             work.step.id,
                             {},
                             {},
                             "What is left is cleared in rings: an even load is kept in full areas only.",
                             "Choose all, or rings."});
    if (clear.rest && all.tasks.empty() && all.snags.empty() && !regions.empty())
        all.snags.push_back(snagOn(work, work.contours[regions[0].region.outer], Verdict::note,
                                   "Nothing is left for this tool to clear.",
                                   "Take the step out, or use a thinner tool."));
    return all;
}

template<> std::vector<Aim> aimsOf(const StepWork& work, const plan::Clear& clear) {
    std::vector<Aim> aims;
    for (auto& region : regionsOf(work)) {
        Aim aim{.contours = {region.outer}, .edges = std::move(region.edges), .keepsOff = work.tool.radius()};
        aim.contours.insert(aim.contours.end(), region.islands.begin(), region.islands.end());
        aim.allowance = offWalls(clear, plan::bottomOf(depthOf(clear), work.thickness()));
        aims.push_back(std::move(aim));
    }
    return aims;
}

} // namespace ferro::toolpath

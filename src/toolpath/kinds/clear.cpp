#include "plan/kinds/clear.h"

#include "base/parallel.h"
#include "geometry/flatten.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"
#include "toolpath/work_internal.h"

#include <map>

namespace ferro::toolpath {

namespace {

constexpr double tolerance = 0.004; ///< mm, of ways beside walls
constexpr double sliver = 0.02;     ///< mm: what is left and thinner than twice this is the ways' own tolerance

/// One way of the tool's axis in the plane: a ring, or a line.
struct Way {
    Path path;
    Ring flat; ///< within `sliver` / 4
};
Way wayOf(Path path) {
    Ring flat = flattened(path, sliver / 4);
    return {std::move(path), std::move(flat)};
}

/// An area to clear, and the ways that clear it.
struct Region {
    std::size_t outer = 0;            ///< its outline, index into the contours
    std::vector<std::size_t> islands; ///< what stands in it
    Rings area;                       ///< both, flattened
    Rings axis;                       ///< where the tool's axis may be
    Rings goal;                       ///< what is to be gone: all that the tool gets to, or the rest of it
    std::vector<Way> inner;           ///< in the order of work
    std::vector<Way> walls;
    std::vector<Way> edge; ///< the rings along all walls, to stay down along
};

Rings flatOf(const std::vector<Way>& ways) {
    Rings rings;
    for (const auto& way : ways) rings.push_back(way.flat);
    return rings;
}

/// Level by level inwards, each component after those that lie in it: what is deepest comes first.
struct Component {
    std::vector<Way> rings;
    Rings flat;
    std::vector<std::size_t> inside; ///< components of the next level
};

class Rounds {
public:
    Rounds(const Region& region, double step) : region_(region), step_(step) {}

    /// All rings but the walls' own, by how the tool works outwards.
    Result<std::vector<Way>> run() {
        std::vector<std::size_t> last;
        for (int level = 1; level < 100'000; ++level) {
            auto paths = offsetPaths(region_.axis, -step_ * level, {.tolerance = tolerance});
            if (!paths) return paths.problem();
            if (paths->empty()) break;
            std::vector<std::size_t> now;
            for (auto& piece : nested(std::move(*paths))) {
                Component made;
                const Vec2 within = piece.outline.start;
                made.rings.push_back(wayOf(std::move(piece.outline)));
                for (auto& opening : piece.openings) made.rings.push_back(wayOf(std::move(opening)));
                made.flat = flatOf(made.rings);
                const std::size_t id = all_.size();
                all_.push_back(std::move(made));
                now.push_back(id);
                const auto round = std::find_if(last.begin(), last.end(),
                                                [&](std::size_t k) { return contains(all_[k].flat, within); });
                if (round == last.end())
                    roots_.push_back(id);
                else
                    all_[*round].inside.push_back(id);
            }
            last = std::move(now);
        }
        std::vector<Way> out;
        for (const auto root : roots_) take(root, out);
        return out;
    }

private:
    void take(std::size_t id, std::vector<Way>& out) {
        for (const auto k : all_[id].inside) take(k, out);
        for (auto& way : all_[id].rings) out.push_back(std::move(way));
    }
    const Region& region_;
    double step_;
    std::vector<Component> all_;
    std::vector<std::size_t> roots_;
};

/// Parallel stretches through the axis' area, to and fro, neighbours after each other.
std::vector<Way> linesThrough(const Rings& axis, double step, double angle) {
    const Transform back = Transform::rotated(-angle), out = Transform::rotated(angle);
    Rings level = axis;
    Box box;
    for (auto& ring : level)
        for (Vec2& p : ring) p = back(p), box.take(p);
    if (box.empty()) return {};
    struct Stretch {
        Vec2 from, to;
        int row;
        bool taken = false;
    };
    std::vector<Stretch> stretches;
    const int rows = std::max(1, static_cast<int>(std::ceil(box.height() / step - 1e-9)));
    for (int row = 0; row < rows; ++row) {
        const double y = box.low.y + box.height() * (row + 0.5) / rows;
        for (const auto& [from, to] : insideAt(level, y))
            if (to - from > 1e-6) stretches.push_back({{from, y}, {to, y}, row});
    }
    std::vector<Way> ways;
    std::optional<std::pair<Vec2, int>> at;
    for (std::size_t n = 0; n < stretches.size(); ++n) {
        Stretch* best = nullptr;
        double least = std::numeric_limits<double>::infinity();
        bool turned = false;
        for (auto& s : stretches) {
            if (s.taken) continue;
            if (!at) { // the lowest at the left
                best = &s;
                break;
            }
            // The next row is nearer than any other stretch of it: lobes are finished before another is begun.
            const double rowsOff = std::abs(s.row - at->second) == 1 ? 0 : box.width() + box.height();
            for (const bool other : {false, true})
                if (const double d = distance(at->first, other ? s.to : s.from) + rowsOff; d < least)
                    least = d, best = &s, turned = other;
        }
        best->taken = true;
        if (turned) std::swap(best->from, best->to);
        at = {best->to, best->row};
        ways.push_back(wayOf({out(best->from), {Segment::line(out(best->to))}, false}));
    }
    return ways;
}

/// What the ways leave of all that can be reached: sharp corners between rings far apart, middles. Ways round it.
Result<std::vector<Way>> restOf(const Region& region, double radius) {
    Rings closed, open;
    for (const auto* ways : {&region.inner, &region.walls})
        for (const auto& way : *ways) (way.path.closed ? closed : open).push_back(way.flat);
    Rings covered;
    for (const bool ring : {true, false}) {
        const auto& lines = ring ? closed : open;
        if (lines.empty()) continue;
        auto area = widened(lines, ring, 2 * (radius - sliver / 2), Cap::round, {.tolerance = tolerance});
        if (!area) return area.problem();
        auto both = combined(covered, *area, Combine::join);
        if (!both) return both.problem();
        covered = std::move(*both);
    }
    auto left = combined(region.goal, covered, Combine::takeAway);
    if (!left) return left.problem();
    auto paths = offsetPaths(*left, -sliver, {.tolerance = tolerance});
    if (!paths) return paths.problem();
    std::vector<Way> ways;
    for (auto& path : *paths) ways.push_back(wayOf(std::move(path)));
    return ways;
}

/// Writes ways one after the other at a depth, staying down where the next is near and the way there is clear of walls.
class Clearer {
public:
    Clearer(const plan::Clear& clear, const Region& region, double radius)
        : clear_(clear), axis_(region.axis), walls_(region.edge), radius_(radius),
          ramp_(rampFeed(clear.rates, clear.rampAngle)) {}

    void run(Pen& pen, const std::vector<Way>& ways, double surface, double depth) const {
        for (const auto& way : ways) one(pen, way, surface, -depth);
    }

private:
    void one(Pen& pen, const Way& way, double surface, double z) const {
        const Path& path = way.path;
        const Ruler whole(path);
        const Vec2 at = pen.at().flat();
        const bool down = std::abs(pen.at().z - z) < 1e-9;
        const double start = path.closed && down ? whole.nearest(at) : 0;
        const Vec2 begin = whole.at(start).point;
        double from = start;
        const auto link = down ? linkOf(at, begin) : std::nullopt;
        if (link) {
            pen.along(*link, z, clear_.rates.feed);
        } else {
            if (pen.at().z < 0) pen.lift();
            pen.goOver(begin);
            from = enter(pen, whole, start, surface, z);
        }
        if (path.closed)
            pen.along(whole.stretch(from, from + whole.length()), z, clear_.rates.feed);
        else
            pen.along(whole.stretch(from, whole.length()), z, clear_.rates.feed);
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

    /// The way from one place to another within what the axis may pass, if that is not far: straight, or along a wall.
    [[nodiscard]] std::optional<std::vector<Segment>> linkOf(Vec2 from, Vec2 to) const {
        const double way = distance(from, to);
        if (way < 1e-9) return std::vector<Segment>{};
        if (way > 3 * radius_) return std::nullopt;
        if (isClear(from, to)) return std::vector{Segment::line(to)};
        for (const auto& wall : walls_) {
            const Ruler ruler(wall.path);
            const double a = ruler.nearest(from), b = ruler.nearest(to), whole = ruler.length();
            if (distance(ruler.at(a).point, from) > 0.01 || distance(ruler.at(b).point, to) > 0.01) continue;
            const double ahead = b >= a ? b - a : b - a + whole;
            if (std::min(ahead, whole - ahead) > 4 * radius_) return std::nullopt;
            if (ahead <= whole - ahead) return ruler.stretch(a, a + ahead);
            const Ruler back(reversed(wall.path));
            return back.stretch(whole - a, whole - a + whole - ahead);
        }
        return std::nullopt;
    }
    [[nodiscard]] bool isClear(Vec2 from, Vec2 to) const {
        const double way = distance(from, to);
        // Along a wall it may run as well as across: what counts is that it is nowhere over it.
        constexpr double over = 0.002, apart = 0.05; // mm
        const int parts = std::max(2, static_cast<int>(std::ceil(way / apart)));
        for (int k = 1; k < parts; ++k) {
            const Vec2 p = lerp(from, to, static_cast<double>(k) / parts);
            if (!contains(axis_, p) && !isNearEdge(p, over)) return false;
        }
        return true;
    }
    [[nodiscard]] bool isNearEdge(Vec2 p, double within) const {
        for (const auto& ring : axis_)
            for (std::size_t i = 0; i < ring.size(); ++i)
                if (distanceToLine(p, ring[i], ring[(i + 1) % ring.size()]) < within) return true;
        return false;
    }

    const plan::Clear& clear_;
    const Rings& axis_;
    const std::vector<Way>& walls_;
    double radius_, ramp_;
};

/// Which contours bound one area together: those at an even depth among the taken with what lies right in them.
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
        Region region;
        region.outer = closed[k];
        region.area.push_back(flattened(wound(paths[k], true), sampling));
        for (std::size_t i = 0; i < closed.size(); ++i)
            if (parents[i] == static_cast<int>(k))
                region.islands.push_back(closed[i]), region.area.push_back(flattened(wound(paths[i], false), sampling));
        regions.push_back(std::move(region));
    }
    return regions;
}

/// What steps before have cleared at least so deep.
Result<Rings> clearedBefore(const StepWork& work, double bottom) {
    Rings all;
    for (const auto& step : work.before)
        for (const auto& cut : step.cuts) {
            if (cut.intent.area.empty() || cut.intent.bottom < bottom - 1e-6) continue;
            auto both = combined(all, cut.intent.area, Combine::join);
            if (!both) return both;
            all = std::move(*both);
        }
    return all;
}

/// The stretches of ways from which the tool gets to the goal, each as long as it is of use.
Result<std::vector<Way>> usefulOf(const std::vector<Way>& ways, const Rings& goal, double radius) {
    const auto near = offset(goal, radius - sliver / 4, {.tolerance = tolerance});
    if (!near) return near.problem();
    Box box;
    for (const auto& ring : *near)
        for (const Vec2 p : ring) box.take(p);
    constexpr double step = 0.1, more = 0.2; // mm
    std::vector<Way> out;
    for (const auto& way : ways) {
        const Ruler ruler(way.path);
        const double whole = ruler.length();
        const int count = std::max(2, static_cast<int>(std::ceil(whole / step)));
        std::vector<char> of(static_cast<std::size_t>(count) + 1, 0);
        bool all = true;
        for (int k = 0; k <= count; ++k) {
            const Vec2 p = ruler.at(std::min(whole, whole * k / count) * (1 - 1e-12)).point;
            const bool use = box.contains(p) && contains(*near, p);
            of[static_cast<std::size_t>(k)] = use;
            all = all && use;
        }
        if (all) {
            out.push_back(way);
            continue;
        }
        // A closed way is walked from a place that is of no use, so that none of its stretches is parted there.
        int first = 0;
        if (way.path.closed)
            while (first < count && of[static_cast<std::size_t>(first)]) ++first;
        for (int k = 0; k <= count;) {
            const auto at = [&](int i) {
                return of[static_cast<std::size_t>(way.path.closed ? (first + i) % count : i)] != 0;
            };
            if (!at(k)) {
                ++k;
                continue;
            }
            int end = k;
            while (end < count && at(end + 1)) ++end;
            double from = whole * (first + k) / count - more, to = whole * (first + end) / count + more;
            if (!way.path.closed) from = std::max(0.0, from), to = std::min(whole, to);
            Path part{ruler.at(from).point, ruler.stretch(from, to), false};
            out.push_back(wayOf(std::move(part)));
            k = end + 1;
        }
    }
    return out;
}

/// Leaves of a region what earlier steps left, and of its ways what is of use for that.
Result<void> keepRest(Region& region, const Rings& done, double radius) {
    auto left = combined(region.goal, done, Combine::takeAway);
    if (!left) return left.problem();
    auto inner = offset(*left, -sliver, {.tolerance = tolerance}); // threads are the ways' own tolerance
    if (!inner) return inner.problem();
    auto goal = offset(*inner, sliver, {.tolerance = tolerance});
    if (!goal) return goal.problem();
    region.goal = std::move(*goal);
    for (auto* ways : {&region.inner, &region.walls}) {
        auto useful =
            region.goal.empty() ? Result<std::vector<Way>>(std::vector<Way>{}) : usefulOf(*ways, region.goal, radius);
        if (!useful) return useful.problem();
        *ways = std::move(*useful);
    }
    return {};
}

/// The ways of a region, or why there are none.
Result<void> layWays(Region& region, const plan::Clear& clear, double radius, const Rings& done) {
    auto walls = offsetPaths(region.area, -(radius + clear.allowance), {.tolerance = tolerance});
    if (!walls) return walls.problem();
    for (auto& path : *walls)
        if (!path.segments.empty()) region.walls.push_back(wayOf(std::move(path)));
    for (const auto& way : region.walls) region.axis.push_back(flattened(way.path, 0.001));
    region.edge = region.walls;
    if (region.walls.empty()) return {};
    auto reached = offset(region.axis, radius, {.tolerance = tolerance});
    if (!reached) return reached.problem();
    region.goal = std::move(*reached);
    const double step = 2 * radius * (1 - clear.overlap / 100);
    if (clear.by == plan::ClearBy::rings) {
        auto rings = Rounds(region, step).run();
        if (!rings) return rings.problem();
        region.inner = std::move(*rings);
    } else {
        region.inner = linesThrough(region.axis, step, clear.angle * pi / 180);
    }
    for (int round = 0; round < 4; ++round) { // what is left in the middle of what was left
        auto rest = restOf(region, radius);
        if (!rest) return rest.problem();
        if (rest->empty()) break;
        for (auto& way : *rest) region.inner.push_back(std::move(way));
    }
    // As offsets come the area lies on their left, and so the wall on the right: climb.
    if (clear.direction == plan::Direction::conventional)
        for (auto* ways : {&region.inner, &region.walls})
            for (auto& way : *ways)
                if (way.path.closed) way = wayOf(reversed(way.path));
    return clear.rest ? keepRest(region, done, radius) : Result<void>{};
}

/// One depth after the other: the area from the inside out, then its walls, each edge with what it is for.
Task taskOf(const StepWork& work, const plan::Clear& clear, Region made) {
    const auto region = std::make_shared<const Region>(std::move(made));
    const auto settings = std::make_shared<const plan::Clear>(clear);
    const double radius = work.tool.radius();
    const auto depths = plan::passDepths(clear.depth, work.thickness());
    std::vector<Task> tasks;
    double surface = 0;
    for (std::size_t pass = 0; pass < depths.size(); ++pass) {
        const double depth = depths[pass];
        const bool last = pass + 1 == depths.size();
        const double above = surface;
        Task area;
        area.intent = intentOn(work, work.contours[region->outer]);
        area.intent.side = plan::Side::on;
        if (pass > 0) area.intent.top = depths[pass - 1];
        area.intent.bottom = depth;
        area.centre.start = region->edge.front().path.start; // what it is cleared of is drawn, not its many ways
        area.write = [=](Pen& pen) { Clearer(*settings, *region, radius).run(pen, region->inner, above, depth); };
        const Intent base = area.intent;
        tasks.push_back(std::move(area));
        // The walls, those of an edge together.
        std::map<std::size_t, std::vector<Way>> ofEdge{{region->outer, {}}};
        for (const std::size_t island : region->islands) ofEdge[island];
        for (const auto& wall : region->walls) {
            std::size_t nearest = region->outer;
            double least = std::numeric_limits<double>::infinity();
            for (const auto& [edge, ways] : ofEdge) {
                const Ruler ruler(work.contours[edge].path);
                if (const double d = distance(wall.path.start, ruler.at(ruler.nearest(wall.path.start)).point);
                    d < least)
                    least = d, nearest = edge;
            }
            ofEdge[nearest].push_back(wall);
        }
        for (auto& [edge, ways] : ofEdge) {
            Task wall;
            wall.intent = intentOn(work, work.contours[edge]);
            wall.intent.top = base.top;
            wall.intent.bottom = depth;
            wall.intent.allowance = clear.allowance;
            wall.intent.side = !last                   ? plan::Side::on
                               : edge == region->outer ? plan::Side::inside
                                                       : plan::Side::outside;
            wall.centre = last && !ways.empty() ? ways.front().path : Path{region->edge.front().path.start, {}, false};
            wall.write = [=, ways = std::move(ways)](Pen& pen) {
                Clearer(*settings, *region, radius).run(pen, ways, above, depth);
            };
            tasks.push_back(std::move(wall));
        }
        Task end;
        end.intent = base;
        end.intent.contour.reset();
        if (last) end.intent.area = region->goal; // what all was to be cleared of
        end.centre.start = tasks.back().centre.start;
        end.write = [](Pen& pen) {
            if (pen.at().z < 0) pen.lift();
        };
        tasks.push_back(std::move(end));
        surface = -depth;
    }
    Task whole = std::move(tasks.front());
    whole.then.assign(std::make_move_iterator(tasks.begin() + 1), std::make_move_iterator(tasks.end()));
    whole.size = work.contours[region->outer].size;
    whole.entry = (region->inner.empty() ? region->walls : region->inner).front().path.start;
    whole.exit = (region->walls.empty() ? region->inner : region->walls).back().path.start;
    return whole;
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Clear& clear, Progress& progress) {
    Planned all;
    auto regions = regionsOf(work);
    std::vector<Result<void>> laid(regions.size());
    const auto done =
        clear.rest ? clearedBefore(work, plan::bottomOf(clear.depth, work.thickness())) : Result<Rings>(Rings{});
    if (!done) {
        all.snags.push_back({Verdict::noGo, work.step.id, {}, {}, done.problem().what, done.problem().mend});
        return all;
    }
    parallelFor(regions.size(), progress,
                [&](std::size_t i) { laid[i] = layWays(regions[i], clear, work.tool.radius(), *done); });
    for (std::size_t i = 0; i < regions.size(); ++i) {
        const auto& contour = work.contours[regions[i].outer];
        if (progress.cancelled()) return all;
        if (!laid[i]) {
            all.snags.push_back(snagOn(work, contour, Verdict::noGo, laid[i].problem().what, laid[i].problem().mend));
        } else if (regions[i].edge.empty()) {
            all.snags.push_back(snagOn(work, contour, Verdict::noGo,
                                       fmt::format("“{}” is {} wide and does not fit into an area of {}.",
                                                   work.tool.name, mm(work.tool.diameter), mm(contour.size)),
                                       "Choose a thinner tool for it."));
        } else if (!regions[i].inner.empty() || !regions[i].walls.empty()) {
            all.tasks.push_back(taskOf(work, clear, std::move(regions[i])));
        }
    }
    if (clear.rest && all.tasks.empty() && all.snags.empty() && !regions.empty())
        all.snags.push_back(snagOn(work, work.contours[regions[0].outer], Verdict::note,
                                   "Nothing is left for this tool to clear.",
                                   "Take the step out, or use a thinner tool."));
    return all;
}

} // namespace ferro::toolpath

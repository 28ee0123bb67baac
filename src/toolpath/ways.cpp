// Covering areas by ways of a tool: rings or lines, what they leave, and what steps before have left.
#include "toolpath/ways_internal.h"

#include "base/parallel.h"
#include "geometry/area_axis.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"
#include "toolpath/trails_internal.h"

namespace ferro::toolpath {

namespace {

constexpr double tolerance = 0.004; ///< mm, of ways beside walls
constexpr double sliver = 0.02;     ///< mm: what is left and thinner than twice this is the ways' own tolerance

/// mm, of ways that touch no wall: as much as the tool does not mind.
double looseFor(double radius) { return std::min(0.02, radius / 10); }

Way wayOf(Path path) {
    Ring flat = flattened(path, sliver / 4);
    return {std::move(path), std::move(flat)};
}

Rings flatOf(const std::vector<Way>& ways) {
    Rings rings;
    for (const auto& way : ways) rings.push_back(way.flat);
    return rings;
}

/// Whether rings so far apart may leave something between one and the next: in sharp corners and in middles. Where they
/// are no further apart than the tool is thick, each alone gets as far as the next.
bool leavesAny(double radius, double step) {
    const double loose = looseFor(radius);
    return step > radius - sliver / 2 - loose;
}

/// Ways over what such rings leave. Whatever is further than the radius inwards of one ring and out of reach of the
/// next lies nearer than the radius to the medial axis of the area, where that is as far from its edge.
Result<std::vector<Way>> betweenRings(const std::vector<Way>& walls, double radius, double step) {
    const double loose = looseFor(radius);
    std::vector<Path> edges;
    for (const auto& wall : walls) edges.push_back(wall.path);
    const auto axis = areaAxis(edges, tolerance / 2);
    if (!axis) return axis.problem();
    double most = 0;
    for (const auto& node : axis->nodes) most = std::max(most, node.radius);
    std::vector<Way> ways;
    const auto take = [&](double least, double upTo) {
        for (const auto& trail : trailsOf(*axis, least, upTo, loose / 4)) {
            Path path{trail.front().at, {}, false};
            for (std::size_t i = 1; i < trail.size(); ++i) path.segments.push_back(Segment::line(trail[i].at));
            if (path.segments.empty()) path.segments.push_back(Segment::line(path.start + Vec2{sliver, 0})); // a spot
            ways.push_back(wayOf(std::move(path)));
        }
    };
    const double first = radius - sliver - loose;
    if (first - loose < radius / 2) // next to nothing lies between one level's stretches and the next's
        take(std::max(first, 0.0), most + loose);
    else
        for (double level = 0; level + first < most; level += step) take(level + first, level + step + loose);
    return ways;
}

/// Level by level inwards, each component after those that lie in it: what is deepest comes first.
struct Component {
    std::vector<Way> rings;
    Rings flat;
    std::vector<std::size_t> inside; ///< components of the next level
};

class Rounds {
public:
    Rounds(const Rings& axis, double step, double loose, Progress& progress)
        : axis_(axis), step_(step), loose_(loose), progress_(progress) {}

    /// All rings but the walls' own, by how the tool works outwards.
    Result<std::vector<Way>> run() {
        std::vector<std::size_t> last;
        constexpr std::size_t atOnce = 8; // the same whatever the machine
        for (std::size_t level = 1;; level += atOnce) {
            std::vector<Result<std::vector<Path>>> levels(atOnce, std::vector<Path>{});
            parallelFor(atOnce, progress_, [&](std::size_t k) {
                levels[k] = offsetPaths(axis_, -step_ * static_cast<double>(level + k), {.tolerance = loose_});
            });
            if (progress_.cancelled()) return Problem::cancelled();
            for (auto& paths : levels) {
                if (!paths) return paths.problem();
                if (paths->empty()) return inOrder();
                last = put(std::move(*paths), last);
            }
        }
    }

private:
    std::vector<Way> inOrder() {
        std::vector<Way> out;
        for (const auto root : roots_) take(root, out);
        return out;
    }
    /// One level more; answers its components.
    std::vector<std::size_t> put(std::vector<Path> paths, const std::vector<std::size_t>& last) {
        std::vector<std::size_t> now;
        for (auto& piece : nested(std::move(paths))) {
            Component made;
            const Vec2 within = piece.outline.start;
            made.rings.push_back(wayOf(std::move(piece.outline)));
            for (auto& opening : piece.openings) made.rings.push_back(wayOf(std::move(opening)));
            made.flat = flatOf(made.rings);
            const std::size_t id = all_.size();
            all_.push_back(std::move(made));
            now.push_back(id);
            const auto round =
                std::find_if(last.begin(), last.end(), [&](std::size_t k) { return contains(all_[k].flat, within); });
            if (round == last.end())
                roots_.push_back(id);
            else
                all_[*round].inside.push_back(id);
        }
        return now;
    }
    void take(std::size_t id, std::vector<Way>& out) {
        for (const auto k : all_[id].inside) take(k, out);
        for (auto& way : all_[id].rings) out.push_back(std::move(way));
    }
    const Rings& axis_;
    double step_, loose_;
    Progress& progress_;
    std::vector<Component> all_;
    std::vector<std::size_t> roots_;
};

/// Parallel stretches through the axis' area, to and fro, neighbours after each other. They and the walls leave
/// nothing: upright from any place it is at most half a step to the nearest line, or to a wall on the way there.
std::vector<Way> linesThrough(const Rings& axis, double step, double angle) {
    const Transform back = Transform::rotated(-angle), out = Transform::rotated(angle);
    Rings level = axis;
    Box box;
    for (auto& ring : level)
        for (Vec2& p : ring) p = back(p), box.take(p);
    if (box.empty()) return {};
    struct Stretch {
        Vec2 from, to;
        bool taken = false;
    };
    std::vector<std::vector<Stretch>> rows(
        static_cast<std::size_t>(std::max(1.0, std::ceil(box.height() / step - 1e-9))));
    std::size_t left = 0, lowest = 0;
    for (std::size_t row = 0; row < rows.size(); ++row) {
        const double y = box.low.y + box.height() * (static_cast<double>(row) + 0.5) / static_cast<double>(rows.size());
        for (const auto& [from, to] : insideAt(level, y))
            if (to - from > 1e-6) rows[row].push_back({{from, y}, {to, y}}), ++left;
    }
    std::vector<Way> ways;
    std::optional<Vec2> at;
    for (std::size_t row = 0; left > 0; --left) {
        // The nearest of the rows beside: a lobe is finished before another is begun, at its lowest row on the left.
        Stretch* best = nullptr;
        std::size_t bestRow = 0;
        bool turned = false;
        double least = std::numeric_limits<double>::infinity();
        for (const std::size_t beside : {row + 1, row - 1})
            if (at && beside < rows.size())
                for (auto& s : rows[beside])
                    for (const bool other : {false, true})
                        if (const double d = distance(*at, other ? s.to : s.from); !s.taken && d < least)
                            least = d, best = &s, bestRow = beside, turned = other;
        while (!best) {
            for (auto& s : rows[lowest])
                if (!best && !s.taken) best = &s, bestRow = lowest;
            if (!best) ++lowest;
        }
        best->taken = true;
        if (turned) std::swap(best->from, best->to);
        at = best->to;
        row = bestRow;
        ways.push_back(wayOf({out(best->from), {Segment::line(out(best->to))}, false}));
    }
    return ways;
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

/// Always on to the nearest that is left: what lies in one corner is done before the next.
void putNearestNext(std::vector<Way>& ways) {
    constexpr std::size_t window = 2000; // as rings and lines come, neighbours are near in the list too
    for (std::size_t i = 1; i < ways.size(); ++i) {
        const Vec2 at = ways[i - 1].path.end();
        const auto off = [&](const Way& way) { return distance(at, way.path.start); };
        const auto from = ways.begin() + static_cast<std::ptrdiff_t>(i);
        const auto nearest = std::min_element(from, i + window < ways.size() ? from + window : ways.end(),
                                              [&](const Way& a, const Way& b) { return off(a) < off(b); });
        std::iter_swap(from, nearest);
    }
}

/// Leaves of the goal what earlier steps left, and of the ways what is of use for that.
Result<void> keepRest(Ways& all, const Rings& done, double radius) {
    auto left = combined(all.goal, done, Combine::takeAway);
    if (!left) return left.problem();
    auto inner = offset(*left, -sliver, {.tolerance = tolerance}); // threads are the ways' own tolerance
    if (!inner) return inner.problem();
    auto goal = offset(*inner, sliver, {.tolerance = tolerance});
    if (!goal) return goal.problem();
    all.goal = std::move(*goal);
    for (auto* some : {&all.inner, &all.walls}) {
        auto useful =
            all.goal.empty() ? Result<std::vector<Way>>(std::vector<Way>{}) : usefulOf(*some, all.goal, radius);
        if (!useful) return useful.problem();
        *some = std::move(*useful);
        putNearestNext(*some);
    }
    return {};
}

/// All ways but those along the walls.
Result<std::vector<Way>> innerWays(const Ways& all, const Covering& how, Progress& progress) {
    if (how.in == Covering::In::none) return std::vector<Way>{};
    if (how.in == Covering::In::lines)
        return linesThrough(all.axis, std::min(how.step, 2 * std::max(how.radius - sliver, sliver)), how.angle);
    double step = how.step;
    std::vector<Way> between;
    if (leavesAny(how.radius, step)) {
        if (auto ways = betweenRings(all.walls, how.radius, step); ways)
            between = std::move(*ways);
        else
            step = std::max(how.radius - sliver, how.radius / 2); // walls that touch have no axis: leave nothing
    }
    Rings about; // the axis' edge, as well as loose rings need it
    for (const auto& wall : all.walls) about.push_back(flattened(wall.path, looseFor(how.radius) / 4));
    auto rings = Rounds(about, step, looseFor(how.radius), progress).run();
    if (rings) std::move(between.begin(), between.end(), std::back_inserter(*rings));
    return rings;
}

} // namespace

Result<Ways> waysOver(const Rings& area, const Covering& how, Progress& progress) {
    Ways all;
    auto walls = offsetPaths(area, -(how.radius + how.allowance), {.tolerance = tolerance});
    if (!walls) return walls.problem();
    for (auto& path : *walls)
        if (!path.segments.empty()) all.walls.push_back(wayOf(std::move(path)));
    if (all.walls.empty()) return all;
    all.edge = all.walls;
    for (const auto& way : all.walls) all.axis.push_back(flattened(way.path, 0.001));
    // What is reached and how, side by side.
    Result<Rings> reached = Rings{};
    Result<std::vector<Way>> inner = std::vector<Way>{};
    parallelFor(2, progress, [&](std::size_t part) {
        if (part == 0)
            reached = offset(all.axis, how.radius, {.tolerance = tolerance});
        else
            inner = innerWays(all, how, progress);
    });
    if (progress.cancelled()) return Problem::cancelled();
    if (!reached) return reached.problem();
    if (!inner) return inner.problem();
    all.goal = std::move(*reached);
    all.inner = std::move(*inner);
    // As offsets come the area lies on their left, and so the wall on the right: climb.
    if (!how.climb)
        for (auto* some : {&all.inner, &all.walls})
            for (auto& way : *some)
                if (way.path.closed) way = wayOf(reversed(way.path));
    if (how.done)
        if (auto kept = keepRest(all, *how.done, how.radius); !kept) return kept.problem();
    return all;
}

} // namespace ferro::toolpath

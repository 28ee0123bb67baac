#include "geometry/thin.h"

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"

namespace ferro {

namespace {

/// What stands for the chain: a line, or an arc where that is nearer. Deviation below 0: nothing does.
struct Stand {
    Segment segment;
    double deviation = -1;
};

double lineDeviation(std::span<const Vec2> p, double tolerance) {
    const Vec2 a = p.front(), d = p.back() - a;
    const double size = length(d);
    if (size < 1e-9) return -1;
    double worst = 0, reached = 0;
    for (std::size_t i = 1; i + 1 < p.size(); ++i) {
        const Vec2 v = p[i] - a;
        const double along = dot(v, d) / size;
        worst = std::max(worst, std::abs(cross(d, v)) / size);
        if (worst > tolerance || along < reached - tolerance || along > size + tolerance) return -1;
        reached = std::max(reached, along);
    }
    return worst;
}

Stand standFor(std::span<const Vec2> p, double tolerance) {
    Stand best;
    if (const double off = lineDeviation(p, tolerance); off >= 0) best = {Segment::line(p.back()), off};
    if (best.deviation >= 0 && best.deviation < 1e-9) return best;
    if (const auto arc = arcThrough(p, tolerance)) {
        const double radius = distance(p.back(), arc->a);
        double worst = 0;
        for (const Vec2 q : p) worst = std::max(worst, std::abs(distance(q, arc->a) - radius));
        if (best.deviation < 0 || worst < 0.5 * best.deviation) best = {*arc, worst};
    }
    return best;
}

struct Solved {
    std::vector<Segment> segments;
    std::vector<std::size_t> joints; ///< of the chain, ends included
};

Solved solve(std::span<const Vec2> p, double tolerance) {
    struct State {
        int count = std::numeric_limits<int>::max();
        double sum = 0; ///< of squared deviations
        std::size_t before = 0;
        Segment segment;
    };
    std::vector<State> best(p.size());
    best[0].count = 0;
    for (std::size_t i = 0; i + 1 < p.size(); ++i) {
        // Fitting is nearly hereditary: where a few lengths in a row are served by nothing, longer ones are not either.
        int failed = 0;
        for (std::size_t j = i + 1; j < p.size() && failed < 3; ++j) {
            const auto stand = standFor(p.subspan(i, j - i + 1), tolerance);
            if (stand.deviation < 0) {
                ++failed;
                continue;
            }
            failed = 0;
            const int count = best[i].count + 1;
            const double sum = best[i].sum + stand.deviation * stand.deviation;
            if (count < best[j].count || (count == best[j].count && sum < best[j].sum))
                best[j] = {count, sum, i, stand.segment};
        }
        // Two points are always served, by the line between them: every state is reached.
    }
    Solved out;
    for (std::size_t at = p.size() - 1; at > 0; at = best[at].before) {
        out.segments.push_back(best[at].segment);
        out.joints.push_back(at);
    }
    out.joints.push_back(0);
    std::reverse(out.segments.begin(), out.segments.end());
    std::reverse(out.joints.begin(), out.joints.end());
    return out;
}

bool isCorner(const Path& path, std::size_t after) {
    const std::size_t next = (after + 1) % path.segments.size();
    const Vec2 in = tangentAt(path.from(after), path.segments[after], 1),
               out = tangentAt(path.from(next), path.segments[next], 0);
    constexpr double turn = 20 * pi / 180;
    return dot(in, out) < std::cos(turn);
}

/// The points of some segments, no nearer together than they have to be.
Ring chainOf(const Path& path, std::size_t first, std::size_t count, double tolerance) {
    const std::size_t n = path.segments.size();
    Ring chain{path.from(first % n)};
    for (std::size_t k = first; k < first + count; ++k)
        flattenSegment(path.from(k % n), path.segments[k % n], tolerance / 8, [&](Vec2 p) {
            if (distance(chain.back(), p) > 1e-9) chain.push_back(p);
        });
    return thinned(chain, tolerance / 8, false);
}

} // namespace

Thinned thinnedPath(const Path& path, double tolerance) {
    const std::size_t n = path.segments.size();
    if (n < 2 || !(tolerance > 0)) return {path, 0};
    std::vector<std::size_t> starts; // segments before which the way turns
    for (std::size_t i = 0; i < n; ++i)
        if (path.closed ? isCorner(path, (i + n - 1) % n) : i == 0 || isCorner(path, i - 1)) starts.push_back(i);
    const double budget = tolerance * 3 / 4; // a quarter goes into the chain of points
    Thinned out{{{}, {}, path.closed}, 0};
    const auto take = [&](const Solved& solved) {
        out.path.segments.insert(out.path.segments.end(), solved.segments.begin(), solved.segments.end());
    };
    if (starts.empty()) {
        Ring chain = chainOf(path, 0, n, tolerance);
        if (chain.size() < 4) return {path, 0};
        const auto once = solve(chain, budget);
        const std::size_t joint = once.joints.size() > 2 ? once.joints[once.joints.size() / 2] : chain.size() / 2;
        chain.pop_back();
        std::rotate(chain.begin(), chain.begin() + static_cast<std::ptrdiff_t>(joint), chain.end());
        chain.push_back(chain.front());
        const auto again = solve(chain, budget);
        out.path.start = chain.front();
        take(again);
    } else {
        out.path.start = path.from(starts.front());
        for (std::size_t s = 0; s < starts.size(); ++s) {
            const std::size_t first = starts[s], last = s + 1 < starts.size() ? starts[s + 1]
                                                        : path.closed         ? starts[0] + n
                                                                              : n;
            const Ring chain = chainOf(path, first, last - first, tolerance);
            if (chain.size() >= 2) take(solve(chain, budget));
        }
    }
    if (out.path.segments.size() >= n) return {path, 0}; // it was as short as it gets
    const Ruler ruler(out.path);
    for (std::size_t i = 0; i < n; ++i)
        for (const double t : {0.5, 1.0}) {
            const Vec2 p = pointAt(path.from(i), path.segments[i], t);
            out.deviation = std::max(out.deviation, distance(p, ruler.at(ruler.nearest(p)).point));
        }
    return out;
}

} // namespace ferro

#include "trace/stroke_ending_internal.h"

#include <bit>
#include <map>
#include <tuple>

namespace ferro::trace {

namespace {

class Joiner {
public:
    explicit Joiner(const StrokeGraph& graph) : graph_(graph), cluster_(graph.junctions.size()) {
        for (std::size_t i = 0; i < cluster_.size(); ++i) cluster_[i] = static_cast<int>(i);
        inner_.assign(graph.branches.size(), false);
        partner_.resize(graph.branches.size());
    }

    std::vector<Stroke> run() {
        contract();
        crossings();
        contractWide();
        std::map<int, std::vector<std::size_t>> members;
        for (std::size_t j = 0; j < cluster_.size(); ++j) members[find(static_cast<int>(j))].push_back(j);
        for (const auto& [root, of] : members) settle(root, of);
        return strokes();
    }

private:
    using End = std::pair<int, int>; // branch, end
    int find(int j) {
        while (cluster_[static_cast<std::size_t>(j)] != j) j = cluster_[static_cast<std::size_t>(j)];
        return j;
    }
    [[nodiscard]] double lengthOf(const StrokeGraph::Branch& branch) const {
        double sum = 0;
        for (std::size_t i = 1; i < branch.line.size(); ++i) sum += distance(branch.line[i - 1].at, branch.line[i].at);
        return sum;
    }
    [[nodiscard]] double radiusAt(int junction) const {
        return graph_.junctions[static_cast<std::size_t>(junction)].radius;
    }

    /// Junctions whose discs hold each other's middle are one.
    void contract() {
        for (std::size_t b = 0; b < graph_.branches.size(); ++b) {
            const auto& [one, two] = graph_.branches[b].junction;
            if (one == StrokeGraph::none || two == StrokeGraph::none) continue;
            if (lengthOf(graph_.branches[b]) >= std::max(radiusAt(one), radiusAt(two))) continue;
            inner_[b] = true;
            const int p = find(one), q = find(two);
            cluster_[static_cast<std::size_t>(std::max(p, q))] = std::min(p, q);
        }
    }

    /// A branch wider than strokes are is where several run along each other: its two junctions are one.
    void contractWide() {
        const double typical = typicalRadius();
        for (std::size_t b = 0; b < graph_.branches.size(); ++b) {
            const auto& branch = graph_.branches[b];
            const auto& [one, two] = branch.junction;
            if (inner_[b] || one == StrokeGraph::none || two == StrokeGraph::none) continue;
            const int p = find(one), q = find(two);
            if (p == q || done_.contains(p) || done_.contains(q) || lengthOf(branch) > 12 * typical) continue;
            if (middleRadius(branch.line) < 1.15 * typical) continue;
            inner_[b] = true;
            cluster_[static_cast<std::size_t>(std::max(p, q))] = std::min(p, q);
        }
    }
    [[nodiscard]] static double middleRadius(const AxisLine& line) {
        std::vector<double> radii;
        for (const auto& p : line) radii.push_back(p.radius);
        const auto middle = radii.begin() + static_cast<std::ptrdiff_t>(radii.size() / 2);
        std::nth_element(radii.begin(), middle, radii.end());
        return *middle;
    }
    /// Half of how wide strokes are: the middle over all their length.
    [[nodiscard]] double typicalRadius() const {
        AxisLine all;
        for (const auto& branch : graph_.branches) all.insert(all.end(), branch.line.begin(), branch.line.end());
        return all.empty() ? 0 : middleRadius(all);
    }

    [[nodiscard]] std::vector<End> endsAt(int root) {
        std::vector<End> ends;
        for (std::size_t b = 0; b < graph_.branches.size(); ++b)
            for (const int end : {0, 1}) {
                const int j = graph_.branches[b].junction[static_cast<std::size_t>(end)];
                if (!inner_[b] && j != StrokeGraph::none && find(j) == root)
                    ends.emplace_back(static_cast<int>(b), end);
            }
        return ends;
    }

    /// Two strokes that cross at a small angle share a stretch: two junctions, a branch between them, and each of the
    /// two others at one goes on in one at the other.
    void crossings() {
        std::map<int, std::vector<End>> byRoot;
        for (std::size_t b = 0; b < graph_.branches.size(); ++b)
            for (const int end : {0, 1})
                if (const int j = graph_.branches[b].junction[static_cast<std::size_t>(end)];
                    !inner_[b] && j != StrokeGraph::none)
                    byRoot[find(j)].emplace_back(static_cast<int>(b), end);
        for (std::size_t b = 0; b < graph_.branches.size(); ++b) {
            const auto& branch = graph_.branches[b];
            if (inner_[b] || branch.junction[0] == StrokeGraph::none || branch.junction[1] == StrokeGraph::none)
                continue;
            const int one = find(branch.junction[0]), two = find(branch.junction[1]);
            const double radius = std::max(radiusAt(branch.junction[0]), radiusAt(branch.junction[1]));
            if (one == two || done_.contains(one) || done_.contains(two) || lengthOf(branch) > 12 * radius) continue;
            const auto others = [&](int root) {
                std::vector<Ending> out;
                for (const auto& [k, end] : byRoot[root])
                    if (k != static_cast<int>(b)) {
                        const auto& j = graph_.junctions[static_cast<std::size_t>(
                            graph_.branches[static_cast<std::size_t>(k)].junction[static_cast<std::size_t>(end)])];
                        out.push_back(endingOf(graph_, k, end, j.at, j.radius));
                    }
                return out;
            };
            const auto a = others(one), c = others(two);
            if (a.size() != 2 || c.size() != 2) continue;
            const auto worst = [&](std::size_t first) { // a[0] with c[first]
                return std::max(misfit(a[0], c[first], radius, true), misfit(a[1], c[1 - first], radius, true));
            };
            const std::size_t pick = worst(0) <= worst(1) ? 0 : 1;
            // Both have to be good: two legs on one bar turn back, they do not go on.
            if (worst(pick) > 0.7) continue;
            inner_[b] = true;
            cluster_[static_cast<std::size_t>(std::max(one, two))] = std::min(one, two);
            join(a[0], c[pick]);
            join(a[1], c[1 - pick]);
            for (const int root : {one, two}) done_[std::min(one, two)] = done_[root] = true;
        }
    }

    /// A short way from a junction back to it is no ring.
    [[nodiscard]] bool isBackOn(const Ending& a, const Ending& b) const {
        return a.branch == b.branch && lengthOf(graph_.branches[static_cast<std::size_t>(a.branch)]) < 8 * a.radius;
    }

    void join(const Ending& a, const Ending& b) {
        partner_[static_cast<std::size_t>(a.branch)][static_cast<std::size_t>(a.end)] = Partner{a, b.branch, b.end, {}};
        partner_[static_cast<std::size_t>(b.branch)][static_cast<std::size_t>(b.end)] = Partner{b, a.branch, a.end, {}};
    }

    /// Pairs up the endings at a junction, the straightest first; those left over are led to where the others run.
    void settle(int root, const std::vector<std::size_t>& members) {
        if (done_.contains(root)) return;
        Vec2 centre;
        double radius = 0;
        for (const auto j : members) {
            centre += graph_.junctions[j].at / static_cast<double>(members.size());
            radius = std::max(radius, graph_.junctions[j].radius);
        }
        std::vector<Ending> endings;
        for (const auto& [branch, end] : endsAt(root)) {
            const auto own = static_cast<std::size_t>(
                graph_.branches[static_cast<std::size_t>(branch)].junction[static_cast<std::size_t>(end)]);
            const bool several = members.size() > 1;
            endings.push_back(endingOf(graph_, branch, end, several ? graph_.junctions[own].at : centre,
                                       several ? graph_.junctions[own].radius : radius));
        }
        if (turnsBack(endings, radius)) return;
        const auto through = bestPairs(endings, radius);
        std::vector<bool> used(endings.size(), false);
        for (const auto& [a, b] : through) {
            used[a] = used[b] = true;
            join(endings[a], endings[b]);
        }
        std::vector<std::size_t> left;
        for (std::size_t i = 0; i < endings.size(); ++i)
            if (!used[i]) left.push_back(i);
        if (left.empty()) return;
        const Vec2 meeting = meetingOf(endings, left, centre, radius);
        for (const auto i : left) {
            const auto& e = endings[i];
            Vec2 to = meeting;
            double nearest = 4 * radius;
            for (const auto& [a, b] : through) { // onto the line that runs through, straight on
                const Vec2 p = endings[a].at, d = endings[b].at - p;
                const double sine = cross(e.way, d);
                if (std::abs(sine) < 0.1 * length(d)) continue;
                const double back = cross(p - e.at, d) / sine; // along the way; below 0 towards the junction
                const double share = cross(p - e.at, e.way) / sine;
                if (back < 0 && -back < nearest && share > -0.5 && share < 1.5)
                    nearest = -back, to = e.at + e.way * back;
            }
            if (nearest >= 4 * radius && !through.empty()) { // it runs along it: to the nearest place
                const Vec2 p = endings[through[0].first].at, d = endings[through[0].second].at - p;
                const double share = std::clamp(dot(meeting - p, d) / std::max(dot(d, d), 1e-12), 0.0, 1.0);
                to = p + d * share;
            }
            partner_[static_cast<std::size_t>(e.branch)][static_cast<std::size_t>(e.end)] =
                Partner{e, StrokeGraph::none, 0, to};
        }
    }

    /// A pointed turn, as of a V: two strokes run into a third way out that is the ink of their point and nothing else.
    /// They are one stroke, and its corner is where they would meet.
    bool turnsBack(const std::vector<Ending>& endings, double radius) {
        if (endings.size() != 3) return false;
        for (std::size_t c = 0; c < 3; ++c) {
            const auto& tip = endings[c];
            const auto &a = endings[(c + 1) % 3], &b = endings[(c + 2) % 3];
            const auto& branch = graph_.branches[static_cast<std::size_t>(tip.branch)];
            if (branch.junction[static_cast<std::size_t>(1 - tip.end)] != StrokeGraph::none || a.branch == b.branch)
                continue;
            if (a.stump || b.stump || dot(a.way, b.way) < 0.2) continue;
            const auto corner = cornerOf(a, b);
            if (!corner) continue;
            const auto& end = counted(branch.line, 1 - tip.end, 0);
            const Vec2 along = -unit(a.way + b.way);
            const double beyond = dot(end.at - *corner, along), beside = std::abs(cross(end.at - *corner, along));
            // The point's ink is round about the corner, or ends in nothing beyond it; a stroke would go on as wide as
            // it is.
            const double half = std::acos(std::clamp(dot(a.way, b.way), -1.0, 1.0)) / 2;
            const double reach = end.radius < 0.6 * radius ? 1.3 * radius / std::max(0.08, std::sin(half)) : radius;
            if (beside > 0.7 * radius || beyond > reach || beyond < -2.5 * radius) continue;
            inner_[static_cast<std::size_t>(tip.branch)] = true;
            join(a, b);
            for (const auto* e : {&a, &b})
                partner_[static_cast<std::size_t>(e->branch)][static_cast<std::size_t>(e->end)]->corner = *corner;
            return true;
        }
        return false;
    }
    using Pairs = std::vector<std::pair<std::size_t, std::size_t>>;

    /// Which endings go on in each other: as many as can, and of those ways the least ill.
    Pairs bestPairs(const std::vector<Ending>& endings, double radius) const {
        const std::size_t n = endings.size();
        std::vector<double> ill(n * n, 1);
        std::vector<std::tuple<double, std::size_t, std::size_t>> sorted;
        for (std::size_t a = 0; a < n; ++a)
            for (std::size_t b = a + 1; b < n; ++b)
                if (const double m = misfit(endings[a], endings[b], radius); m < 1 && !isBackOn(endings[a], endings[b]))
                    ill[a * n + b] = m, sorted.emplace_back(m, a, b);
        Pairs best, now;
        if (n > 8) { // too many ways to try them all: the straightest first
            std::sort(sorted.begin(), sorted.end());
            std::vector<bool> used(n, false);
            for (const auto& [m, a, b] : sorted)
                if (!used[a] && !used[b]) used[a] = used[b] = true, best.emplace_back(a, b);
            return best;
        }
        double least = 1e300;
        const auto pick = [&](auto&& self, unsigned free, double sum) -> void {
            if (sum >= least) return;
            if (free == 0) return void((least = sum, best = now));
            const auto a = static_cast<std::size_t>(std::countr_zero(free));
            const unsigned rest = free & (free - 1);
            for (std::size_t b = a + 1; b < n; ++b)
                if ((rest >> b & 1) && ill[a * n + b] < 1) {
                    now.emplace_back(a, b);
                    self(self, rest & ~(1u << b), sum + ill[a * n + b]);
                    now.pop_back();
                }
            self(self, rest, sum + 1); // it ends here
        };
        pick(pick, (1u << n) - 1, 0);
        return best;
    }

    /// The point nearest to all the lines by least squares, if it is near at all.
    static Vec2 meetingOf(const std::vector<Ending>& endings, const std::vector<std::size_t>& which, Vec2 centre,
                          double radius) {
        double xx = 0, xy = 0, yy = 0;
        Vec2 right;
        for (const auto i : which) {
            const Vec2 n = perpendicular(endings[i].way);
            const double c = dot(n, endings[i].at - centre);
            xx += n.x * n.x, xy += n.x * n.y, yy += n.y * n.y;
            right += n * c;
        }
        const double det = xx * yy - xy * xy;
        if (which.size() < 2 || det < 0.05) return centre;
        const Vec2 off{(right.x * yy - right.y * xy) / det, (right.y * xx - right.x * xy) / det};
        return length(off) < 1.5 * radius ? centre + off : centre;
    }

    struct Partner {
        Ending own;
        int branch = StrokeGraph::none, end = 0; // that it goes on in
        Vec2 to;                                 // or where it ends
        std::optional<Vec2> corner = {};         // that it goes on by
    };

    std::vector<Stroke> strokes() {
        std::vector<Stroke> out;
        std::vector<bool> taken(graph_.branches.size(), false);
        for (std::size_t b = 0; b < graph_.branches.size(); ++b) {
            if (inner_[b] || taken[b]) continue;
            if (graph_.branches[b].loop) {
                taken[b] = true;
                out.push_back({graph_.branches[b].line, true, {}});
                continue;
            }
            // Back to where this stroke begins; round a ring that is here again.
            int at = static_cast<int>(b), enter = 0;
            for (std::size_t steps = 0; steps <= graph_.branches.size(); ++steps) {
                const auto& p = partner(at, enter);
                if (!p || p->branch == StrokeGraph::none) break;
                at = p->branch, enter = 1 - p->end;
                if (at == static_cast<int>(b) && enter == 0) break;
            }
            out.push_back(walk(at, enter, taken));
        }
        return out;
    }
    const std::optional<Partner>& partner(int branch, int end) const {
        return partner_[static_cast<std::size_t>(branch)][static_cast<std::size_t>(end)];
    }

    Stroke walk(int first, int firstEnter, std::vector<bool>& taken) {
        Stroke stroke;
        int at = first, enter = firstEnter;
        const auto& begin = partner(at, enter);
        stroke.free[0] = !begin;
        const bool ring = begin && begin->branch != StrokeGraph::none;
        if (begin && !ring) stroke.line.push_back({begin->to, begin->own.radius});
        for (;;) {
            taken[static_cast<std::size_t>(at)] = true;
            const auto& line = graph_.branches[static_cast<std::size_t>(at)].line;
            const auto &in = partner(at, enter), &out = partner(at, 1 - enter);
            const std::size_t skip = in ? in->own.keep : 0, drop = out ? out->own.keep : 0;
            if (skip + drop < line.size())
                for (std::size_t i = skip; i + drop < line.size(); ++i) stroke.line.push_back(counted(line, enter, i));
            else if (!in || !out) // a stump: its far end is all there is of it
                stroke.line.push_back(counted(line, enter, in ? line.size() - 1 : 0));
            if (!out) {
                stroke.free[1] = true;
                return stroke;
            }
            if (out->branch == StrokeGraph::none) {
                stroke.line.push_back({out->to, out->own.radius});
                return stroke;
            }
            if (out->branch == first && out->end == firstEnter) {
                across(stroke.line, out->own, begin->own);
                stroke.closed = true;
                return stroke;
            }
            if (taken[static_cast<std::size_t>(out->branch)]) return stroke;
            const auto& next = partner(out->branch, out->end)->own;
            at = out->branch, enter = out->end;
            const auto& into = graph_.branches[static_cast<std::size_t>(at)].line;
            if (out->corner && next.keep < into.size())
                leadToCorner(stroke.line, *out->corner, counted(into, next.end, next.keep));
            else
                across(stroke.line, out->own, next);
        }
    }

    void across(AxisLine& line, const Ending& from, const Ending& to) const {
        leadOver(line, from, to, graph_.branches[static_cast<std::size_t>(to.branch)].line);
    }

    const StrokeGraph& graph_;
    std::vector<int> cluster_; // union-find over junctions
    std::vector<bool> inner_;  // branches that lie inside a junction
    std::map<int, bool> done_;
    std::vector<std::array<std::optional<Partner>, 2>> partner_;
};

} // namespace

std::vector<Stroke> strokesOf(const StrokeGraph& graph) { return Joiner(graph).run(); }

} // namespace ferro::trace

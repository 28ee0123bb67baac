#include "toolpath/even_load_internal.h"

#include "geometry/area_axis.h"
#include "toolpath/trails_internal.h"

#include <algorithm>
#include <queue>

namespace ferro::toolpath {

namespace {

constexpr double tolerance = 0.004; ///< mm, of the axis
constexpr double loose = 0.01;      ///< mm that discs stay off the walls
constexpr double sliver = 0.02;     ///< mm: what is left and thinner is the ways' own tolerance

/// Where the tool's axis may go round: all within `radius` of the centre is gone once it went there.
struct Disc {
    Vec2 at;
    double radius;
};

/// Where two discs' edges cross, seen from the first towards the second.
struct Crossings {
    Vec2 right, left;
};
std::optional<Crossings> crossingsOf(const Disc& from, const Disc& to) {
    const double d = distance(from.at, to.at);
    if (d < 1e-9 || d > from.radius + to.radius || d < std::abs(from.radius - to.radius)) return std::nullopt;
    const Vec2 along = (to.at - from.at) / d;
    const double x = (d * d + from.radius * from.radius - to.radius * to.radius) / (2 * d);
    const double y = std::sqrt(std::max(0.0, from.radius * from.radius - x * x));
    return Crossings{from.at + along * x - perpendicular(along) * y, from.at + along * x + perpendicular(along) * y};
}

/// What the tool meets and leaves on its way.
class Judge {
public:
    explicit Judge(const Load& load)
        : r_(load.radius), most_(load.engagement), ridge_(0.3 * r_ * (1 - std::cos(std::min(most_, pi / 2)))) {}

    /// mm of stock that may stay along a wall between two discs.
    [[nodiscard]] double ridge() const { return ridge_; }

    /// The next ring's radius round one, in stock that is gone up to the tool's outer rim there.
    [[nodiscard]] double next(double ring) const {
        const double angle = 0.95 * most_;
        return -r_ * std::cos(angle) + std::sqrt((ring + r_) * (ring + r_) - std::pow(r_ * std::sin(angle), 2));
    }

    /// Whether an arc round `to` can follow when all of `from` is gone; `off`: mm that the axis lies off the straight
    /// way between them.
    [[nodiscard]] bool allows(const Disc& from, const Disc& to, double off) const {
        if (!crossingsOf(from, to)) return distance(from.at, to.at) < 1e-9 || inside(from, to);
        const double d = distance(from.at, to.at), grown = to.radius - from.radius;
        const double roots = std::sqrt(from.radius + r_) + std::sqrt(to.radius + r_);
        const double ridge = (d * d - grown * grown) / (2 * roots * roots);
        return ridge + off <= ridge_ && engagement(from, to) <= most_;
    }
    /// mm of stock that `to` has beyond `from`.
    [[nodiscard]] static double beyond(const Disc& from, const Disc& to) {
        return distance(from.at, to.at) + to.radius - from.radius;
    }

private:
    [[nodiscard]] static bool inside(const Disc& from, const Disc& to) { return beyond(from, to) <= 0; }

    /// The greatest angle of contact on the arc round `to`. The stock begins where `from` ends; the tool's rim is in it
    /// from straight outwards, where the arc's own edge is, to ahead. On the first half of the arc it meets most.
    [[nodiscard]] double engagement(const Disc& from, const Disc& to) const {
        const double d = distance(from.at, to.at), gone = from.radius + r_;
        const double x =
            (d * d + to.radius * to.radius - from.radius * from.radius) / (2 * d); // crossing, seen from to
        const double half = std::acos(std::clamp(-x / std::max(to.radius, 1e-12), -1.0, 1.0));
        double worst = 0;
        constexpr int places = 10;
        for (int k = 0; k < places; ++k) {
            const double turn = half * k / places; // back from the front, to the right
            const Vec2 out{std::cos(turn), -std::sin(turn)}, ahead = perpendicular(out);
            const Vec2 off = Vec2{d, 0} + out * to.radius; // of the tool from the middle of what is gone
            const double far = length(off);
            const double cosine = (gone * gone - far * far - r_ * r_) / (2 * far * r_);
            if (cosine >= 1) continue;
            const double spread = std::acos(std::max(-1.0, cosine));
            const double lean = std::atan2(dot(off, ahead), dot(off, out));
            worst = std::max(worst, std::min(pi, lean + spread) - std::max(0.0, lean - spread));
        }
        return worst;
    }

    double r_, most_, ridge_;
};

/// The medial axis as a tree from the widest place of each of its parts, an edge that closes a loop being a branch by
/// itself.
class Tree {
public:
    struct Branch {
        std::uint32_t to;
        double length; ///< mm with all that follows
        bool closes;   ///< leads to a place that is reached otherwise
    };
    explicit Tree(const AreaAxis& axis) : axis_(axis), branches_(axis.nodes.size()) {
        std::vector<std::vector<std::uint32_t>> edges(axis.nodes.size());
        for (std::uint32_t e = 0; e < axis.edges.size(); ++e)
            edges[axis.edges[e].a].push_back(e), edges[axis.edges[e].b].push_back(e);
        std::vector<std::uint32_t> widest(axis.nodes.size());
        for (std::uint32_t n = 0; n < widest.size(); ++n) widest[n] = n;
        std::stable_sort(widest.begin(), widest.end(),
                         [&](auto a, auto b) { return axis.nodes[a].radius > axis.nodes[b].radius; });
        std::vector<char> reached(axis.nodes.size(), 0), used(axis.edges.size(), 0);
        for (const auto root : widest)
            if (!reached[root] && !edges[root].empty()) {
                roots_.push_back(root);
                grow(root, edges, reached, used);
            }
    }
    [[nodiscard]] const std::vector<std::uint32_t>& roots() const { return roots_; }
    /// Short ones first, so that the way goes on where most is left.
    [[nodiscard]] const std::vector<Branch>& from(std::uint32_t node) const { return branches_[node]; }

private:
    /// Nearest first along the axis (Dijkstra 1959): fronts round an island meet behind it.
    void grow(std::uint32_t root, const std::vector<std::vector<std::uint32_t>>& edges, std::vector<char>& reached,
              std::vector<char>& used) {
        using Entry = std::tuple<double, std::uint32_t, std::uint32_t, std::uint32_t>; // way, node, from, edge
        constexpr auto none = static_cast<std::uint32_t>(-1);
        std::priority_queue<Entry, std::vector<Entry>, std::greater<>> open;
        std::vector<std::pair<std::uint32_t, std::uint32_t>> order; // node, from
        open.emplace(0, root, none, none);
        while (!open.empty()) {
            const auto [way, node, from, edge] = open.top();
            open.pop();
            if (reached[node]) continue;
            reached[node] = 1;
            if (edge != none) used[edge] = 1;
            order.emplace_back(node, from);
            for (const auto e : edges[node]) {
                const auto to = axis_.edges[e].a == node ? axis_.edges[e].b : axis_.edges[e].a;
                if (!reached[to]) open.emplace(way + distance(axis_.nodes[node].at, axis_.nodes[to].at), to, node, e);
            }
        }
        for (auto it = order.rbegin(); it != order.rend(); ++it) {
            const auto [node, from] = *it;
            for (const auto e : edges[node])
                if (!used[e]) {
                    used[e] = 1;
                    const auto to = axis_.edges[e].a == node ? axis_.edges[e].b : axis_.edges[e].a;
                    branches_[node].push_back({to, distance(axis_.nodes[node].at, axis_.nodes[to].at), true});
                }
            auto& mine = branches_[node];
            std::stable_sort(mine.begin(), mine.end(), [](auto& a, auto& b) { return a.length < b.length; });
            if (from == none) continue;
            double length = distance(axis_.nodes[node].at, axis_.nodes[from].at);
            for (const auto& branch : mine) length += branch.length;
            branches_[from].push_back({node, length, false});
        }
    }
    const AreaAxis& axis_;
    std::vector<std::vector<Branch>> branches_;
    std::vector<std::uint32_t> roots_;
};

/// Goes along the tree, disc after disc.
class Walk {
public:
    Walk(const AreaAxis& axis, const Tree& tree, const Load& load, Sweeps& out)
        : axis_(axis), tree_(tree), load_(load), judge_(load), out_(out) {}

    void from(std::uint32_t root, Progress& progress) {
        begin(discAt(root));
        // By hand, for an axis is as deep as it is long.
        struct Open {
            std::uint32_t node;
            std::size_t branch, last; ///< which comes next, the disc that it goes on from
            std::vector<Disc> passed; ///< places of the axis since that
        };
        std::vector<Open> open{{root, 0, discs_.size() - 1, {}}};
        while (!open.empty() && !progress.cancelled()) {
            auto& top = open.back();
            const auto& branches = tree_.from(top.node);
            if (top.branch == branches.size()) {
                open.pop_back();
                continue;
            }
            const auto branch = branches[top.branch++];
            last_ = top.last;
            passed_ = top.passed;
            const bool ends = branch.closes || tree_.from(branch.to).empty();
            go(discAt(top.node), discAt(branch.to), ends);
            if (!ends) open.push_back({branch.to, 0, last_, passed_});
        }
    }

private:
    struct Placed {
        Disc disc;
        std::size_t parent; ///< itself, of the first
    };

    [[nodiscard]] Disc discAt(std::uint32_t node) const {
        const auto& [at, radius] = axis_.nodes[node];
        return {at, std::max(0.0, radius - loose)};
    }

    /// Into the stock and out to the rim of the first disc.
    void begin(const Disc& disc) {
        const double hole = std::min(0.8 * load_.radius, disc.radius);
        const Vec2 start = disc.at + Vec2{hole, 0};
        out_.sweeps.push_back({Sweep::Hole{disc.at, hole}, start, {}});
        at_ = start;
        discs_.assign(1, {disc, 0});
        onto_ = 0;
        // Half rounds about two centres in turn, so that the way out is even and each arc touches the next.
        double before = hole, ring = hole;
        for (double side = -1; ring < disc.radius - 1e-9; side = -side) {
            const double to = std::min({judge_.next(before), (ring + judge_.next(ring)) / 2, disc.radius});
            const Vec2 end = disc.at + Vec2{side * to, 0};
            arc((at_ + end) / 2, end);
            before = ring;
            ring = to;
        }
        if (disc.radius <= hole) return;
        const Vec2 from = at_, across = disc.at * 2 - at_;
        for (const Vec2 end : {across, from}) arc(disc.at, end);
    }

    /// Along one edge of the axis, the discs as far apart as they may be; at the end of a branch to its very end.
    void go(const Disc& a, const Disc& b, bool ends) {
        const auto at = [&](double t) { return Disc{lerp(a.at, b.at, t), a.radius + (b.radius - a.radius) * t}; };
        const auto allowed = [&](double t) {
            const Disc to = at(t);
            return judge_.allows(discs_[last_].disc, to, offOf(to));
        };
        const double whole = distance(a.at, b.at);
        const double least = std::min(0.02 * load_.radius, 0.02);
        double t = 0;
        while (!allowed(1)) {
            double low = t, high = 1;
            while ((high - low) * whole > 0.1 * least) {
                const double middle = (low + high) / 2;
                (allowed(middle) ? low : high) = middle;
            }
            const Disc next = at(low);
            if (distance(discs_[last_].disc.at, next.at) > least && crossingsOf(discs_[last_].disc, next)) {
                put(next);
                t = low;
            } else { // no arc so short as to keep it
                t = std::min(1.0, t + std::max(0.3 * load_.radius, least) / std::max(whole, 1e-9));
                slot(at(t));
                if (t >= 1) break;
            }
        }
        if (ends && Judge::beyond(discs_[last_].disc, b) > sliver) {
            if (crossingsOf(discs_[last_].disc, b)) put(b);
        } else {
            passed_.push_back(b);
        }
    }
    /// How far off the straight way to a disc the axis was since the last.
    [[nodiscard]] double offOf(const Disc& to) const {
        const Disc& from = discs_[last_].disc;
        const Vec2 way = to.at - from.at;
        const double size2 = dot(way, way);
        double off = 0;
        for (const auto& p : passed_) {
            const double t = size2 > 0 ? std::clamp(dot(p.at - from.at, way) / size2, 0.0, 1.0) : 0;
            const double even = from.radius + (to.radius - from.radius) * t;
            off = std::max(off, distance(lerp(from.at, to.at, t), p.at) + std::max(0.0, p.radius - even));
        }
        return off;
    }

    /// One arc round the stock in front of the last disc.
    void put(const Disc& disc) {
        const auto crossing = *crossingsOf(discs_[last_].disc, disc);
        const Vec2 begin = load_.climb ? crossing.right : crossing.left;
        const Vec2 end = load_.climb ? crossing.left : crossing.right;
        comeBack(begin);
        line(begin, Pace::back);
        if (disc.radius < 0.01 || distance(begin, end) < 1e-6)
            line(disc.at, Pace::cut);
        else
            arc(disc.at, end);
        place(disc);
    }
    /// Straight on, and once round.
    void slot(const Disc& disc) {
        const Vec2 from = discs_[last_].disc.at;
        comeBack(from);
        line(from, Pace::back);
        out_.tight += distance(from, disc.at);
        line(disc.at, Pace::slot);
        if (disc.radius > 0.01) {
            const Vec2 right = disc.at + Vec2{disc.radius, 0}, left = disc.at - Vec2{disc.radius, 0};
            line(right, Pace::slot);
            arc(disc.at, left, Pace::slot);
            arc(disc.at, right, Pace::slot);
        }
        place(disc);
    }
    void place(const Disc& disc) {
        discs_.push_back({disc, last_});
        last_ = onto_ = discs_.size() - 1;
        passed_.clear();
    }
    /// From wherever the tool is to where the way goes on from the last disc: down along the middles of the discs that
    /// lie between, or over what stands.
    void comeBack(Vec2 begin) {
        if (onto_ == last_) return;
        std::vector<std::size_t> down, up; // ancestors of where it is, of where it goes
        for (std::size_t k = onto_, m = last_; k != m;) {
            auto& later = k > m ? k : m; // parents come before their children
            (k > m ? down : up).push_back(later);
            later = discs_[later].parent;
            if (k == m) down.push_back(k);
        }
        down.insert(down.end(), up.rbegin(), up.rend());
        Vec2 from = at_;
        double way = 0;
        for (const auto k : down) way += distance(from, discs_[k].disc.at), from = discs_[k].disc.at;
        if (way > 20 * load_.radius) {
            out_.sweeps.push_back({std::nullopt, begin, {}});
            at_ = begin;
        } else {
            for (const auto k : down) line(discs_[k].disc.at, Pace::back);
        }
        onto_ = last_;
    }

    using Pace = Sweep::Stretch::Pace;
    void put(const Segment& segment, Pace pace) {
        auto& stretches = out_.sweeps.back().stretches;
        if (stretches.empty() || stretches.back().pace != pace) stretches.push_back({pace});
        stretches.back().segments.push_back(segment);
        at_ = segment.end;
    }
    void line(Vec2 to, Pace pace) {
        if (distance(at_, to) > 1e-6) put(Segment::line(to), pace);
    }
    void arc(Vec2 centre, Vec2 to, Pace pace = Pace::cut) { put(Segment::arc(centre, to, load_.climb), pace); }

    const AreaAxis& axis_;
    const Tree& tree_;
    const Load& load_;
    Judge judge_;
    Sweeps& out_;
    std::vector<Placed> discs_;
    std::size_t last_ = 0; ///< the disc that the next follows
    std::size_t onto_ = 0; ///< the disc that the tool is in
    std::vector<Disc> passed_;
    Vec2 at_;
};

} // namespace

Result<Sweeps> evenLoad(const std::vector<Path>& walls, const Load& load, Progress& progress) {
    auto axis = areaAxis(walls, tolerance / 2);
    if (!axis) return axis.problem();
    for (const auto spot : axis->spots) { // a round area: its middle, as a branch of no length
        const auto node = axis->nodes[spot];
        axis->nodes.push_back(node);
        axis->edges.push_back({spot, static_cast<std::uint32_t>(axis->nodes.size() - 1)});
    }
    axis->spots.clear();
    Sweeps out;
    const Tree tree(*axis);
    const double room = 0.25 * load.radius; // for a helix
    AreaAxis narrow{axis->nodes, {}, {}};
    for (const auto root : tree.roots()) {
        if (progress.cancelled()) return Problem::cancelled();
        if (axis->nodes[root].radius > room) {
            Walk(*axis, tree, load, out).from(root, progress);
            continue;
        }
        std::vector<std::uint32_t> open{root};
        while (!open.empty()) {
            const auto node = open.back();
            open.pop_back();
            for (const auto& branch : tree.from(node)) {
                narrow.edges.push_back({node, branch.to});
                if (!branch.closes) open.push_back(branch.to);
            }
        }
    }
    for (const auto& trail : trailsOf(narrow, 0, 2 * room, tolerance)) {
        Path path{trail.front().at, {}, false};
        for (std::size_t i = 1; i < trail.size(); ++i)
            if (distance(path.end(), trail[i].at) > 1e-6) path.segments.push_back(Segment::line(trail[i].at));
        if (path.segments.empty()) path.segments.push_back(Segment::line(path.start + Vec2{sliver, 0}));
        out.tight += lengthOf(path);
        out.narrow.push_back(std::move(path));
    }
    if (progress.cancelled()) return Problem::cancelled();
    return out;
}

} // namespace ferro::toolpath

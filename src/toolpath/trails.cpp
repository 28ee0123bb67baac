// The branches of a medial axis as runs of a tool.
#include "toolpath/trails_internal.h"

namespace ferro::toolpath {

namespace {

using Node = AreaAxis::Node;

/// A graph of places, each stretch to be gone over once.
class Walk {
public:
    Walk(const AreaAxis& axis, double least, double most) : nodes_(axis.nodes) {
        for (const auto& edge : axis.edges) add(edge.a, edge.b, least, most);
        first_.assign(nodes_.size() + 1, 0);
        for (const auto& [a, b] : edges_) ++first_[a + 1], ++first_[b + 1];
        for (std::size_t i = 1; i < first_.size(); ++i) first_[i] += first_[i - 1];
        at_.resize(2 * edges_.size());
        auto fill = first_;
        for (std::uint32_t e = 0; e < edges_.size(); ++e) at_[fill[edges_[e].a]++] = e, at_[fill[edges_[e].b]++] = e;
        gone_.assign(edges_.size(), 0);
    }

    std::vector<Trail> all() {
        std::vector<std::uint32_t> starts;
        for (std::uint32_t n = 0; n < nodes_.size(); ++n)
            if ((first_[n + 1] - first_[n]) % 2) starts.push_back(n);
        // The shallowest first: there the tool goes down least.
        std::stable_sort(starts.begin(), starts.end(),
                         [&](auto a, auto b) { return nodes_[a].radius < nodes_[b].radius; });
        std::vector<Trail> trails;
        const auto from = [&](std::uint32_t n) {
            if (auto trail = run(n); trail.size() > 1) trails.push_back(std::move(trail));
        };
        for (const auto n : starts) from(n);
        for (const auto& edge : edges_) // what is left are loops
            while (left(edge.a)) from(edge.a);
        return trails;
    }

private:
    struct Edge {
        std::uint32_t a, b;
    };
    /// The stretch of an edge that lies between the radii.
    void add(std::uint32_t a, std::uint32_t b, double least, double most) {
        if (nodes_[a].radius > nodes_[b].radius) std::swap(a, b);
        const double low = nodes_[a].radius, high = nodes_[b].radius;
        if (high <= least || low >= most || a == b) return;
        const auto cut = [&](double radius) {
            const double t = (radius - low) / (high - low);
            const Node p = nodes_[a], q = nodes_[b];
            nodes_.push_back({lerp(p.at, q.at, t), radius});
            return static_cast<std::uint32_t>(nodes_.size() - 1);
        };
        const auto from = low < least ? cut(least) : a, to = high > most ? cut(most) : b;
        edges_.push_back({from, to});
    }
    [[nodiscard]] bool left(std::uint32_t n) const {
        for (auto k = first_[n]; k < first_[n + 1]; ++k)
            if (!gone_[at_[k]]) return true;
        return false;
    }
    Trail run(std::uint32_t n) {
        Trail trail{nodes_[n]};
        Vec2 heading{};
        while (true) {
            std::optional<std::uint32_t> next;
            double best = -2;
            for (auto k = first_[n]; k < first_[n + 1]; ++k) {
                const auto e = at_[k];
                if (gone_[e]) continue;
                const auto to = edges_[e].a == n ? edges_[e].b : edges_[e].a;
                const double straight = dot(heading, unit(nodes_[to].at - nodes_[n].at));
                if (straight > best) best = straight, next = e;
            }
            if (!next) return trail;
            gone_[*next] = 1;
            const auto to = edges_[*next].a == n ? edges_[*next].b : edges_[*next].a;
            if (const Vec2 way = nodes_[to].at - nodes_[n].at; length(way) > 0) heading = unit(way);
            n = to;
            trail.push_back(nodes_[n]);
        }
    }

    std::vector<Node> nodes_;
    std::vector<Edge> edges_;
    std::vector<std::uint32_t> first_, at_; ///< edges at each node
    std::vector<char> gone_;
};

/// How far a place lies off the even way from one to another, in place and radius.
double offOf(const Node& a, const Node& b, const Node& p) {
    const Vec2 way = b.at - a.at;
    const double size2 = dot(way, way);
    const double t = size2 > 0 ? std::clamp(dot(p.at - a.at, way) / size2, 0.0, 1.0) : 0;
    return std::max(distance(lerp(a.at, b.at, t), p.at), std::abs(a.radius + (b.radius - a.radius) * t - p.radius));
}

/// Douglas & Peucker 1973, with the radius as a third measure.
Trail thinned(const Trail& trail, double tolerance) {
    std::vector<char> keep(trail.size(), 0);
    keep.front() = keep.back() = 1;
    std::vector<std::pair<std::size_t, std::size_t>> open{{0, trail.size() - 1}};
    while (!open.empty()) {
        const auto [from, to] = open.back();
        open.pop_back();
        double worst = tolerance;
        std::size_t at = from;
        for (std::size_t i = from + 1; i < to; ++i)
            if (const double off = offOf(trail[from], trail[to], trail[i]); off > worst) worst = off, at = i;
        if (at == from) continue;
        keep[at] = 1;
        open.emplace_back(from, at);
        open.emplace_back(at, to);
    }
    Trail out;
    for (std::size_t i = 0; i < trail.size(); ++i)
        if (keep[i]) out.push_back(trail[i]);
    return out;
}

} // namespace

std::vector<Trail> trailsOf(const AreaAxis& axis, double least, double most, double tolerance) {
    auto trails = Walk(axis, least, most).all();
    for (auto& trail : trails) trail = thinned(trail, tolerance);
    for (const auto spot : axis.spots)
        if (const auto& node = axis.nodes[spot]; node.radius > least && node.radius < most) trails.push_back({node});
    constexpr std::size_t window = 2000; // as voronoi diagrams are swept, neighbours in place are near in the list
    for (std::size_t i = 0; i + 1 < trails.size(); ++i) {
        const Vec2 at = i ? trails[i - 1].back().at : trails[0].front().at;
        std::size_t nearest = i;
        double far = std::numeric_limits<double>::infinity();
        bool turned = false;
        for (std::size_t k = i; k < std::min(trails.size(), i + window); ++k) {
            const auto &front = trails[k].front(), &back = trails[k].back();
            if (const double d = distance(at, front.at); d < far) far = d, nearest = k, turned = false;
            // Backwards only where it does not go down deeper for it.
            if (const double d = distance(at, back.at); d < far && back.radius <= front.radius + tolerance)
                far = d, nearest = k, turned = true;
        }
        if (turned) std::reverse(trails[nearest].begin(), trails[nearest].end());
        std::rotate(trails.begin() + static_cast<std::ptrdiff_t>(i),
                    trails.begin() + static_cast<std::ptrdiff_t>(nearest),
                    trails.begin() + static_cast<std::ptrdiff_t>(nearest) + 1);
    }
    return trails;
}

} // namespace ferro::toolpath

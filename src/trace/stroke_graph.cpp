#include "trace/stroke_graph_internal.h"

#include <map>

namespace ferro::trace {

namespace {

/// The axis with its edges by node, from which spurs are taken away.
class Net {
public:
    explicit Net(const MedialAxis& axis) : axis_(axis), at_(axis.nodes.size()), gone_(axis.edges.size(), false) {
        for (std::uint32_t e = 0; e < axis.edges.size(); ++e) {
            const auto& edge = axis.edges[e];
            if (edge.a == edge.b) {
                gone_[e] = true;
                continue;
            }
            at_[edge.a].push_back(e);
            at_[edge.b].push_back(e);
        }
    }

    /// A run of edges from `node` along `edge` to the next node that is no mere passing place.
    struct Run {
        std::vector<std::uint32_t> edges, nodes; // nodes: both ends included
    };
    [[nodiscard]] Run follow(std::uint32_t node, std::uint32_t edge) const {
        Run run{{edge}, {node, across(edge, node)}};
        while (degree(run.nodes.back()) == 2 && run.nodes.back() != node) {
            const auto here = run.nodes.back();
            const auto next = onward(here, run.edges.back());
            run.edges.push_back(next);
            run.nodes.push_back(across(next, here));
        }
        return run;
    }
    [[nodiscard]] std::vector<std::uint32_t> edgesAt(std::uint32_t node) const {
        std::vector<std::uint32_t> out;
        for (const auto e : at_[node])
            if (!gone_[e]) out.push_back(e);
        return out;
    }
    [[nodiscard]] std::size_t degree(std::uint32_t node) const {
        return static_cast<std::size_t>(
            std::count_if(at_[node].begin(), at_[node].end(), [&](auto e) { return !gone_[e]; }));
    }
    [[nodiscard]] const MedialAxis::Node& node(std::uint32_t n) const { return axis_.nodes[n]; }
    [[nodiscard]] std::uint32_t size() const { return static_cast<std::uint32_t>(at_.size()); }

    /// How far the ink at a run's free end reaches beyond the disc at the junction it comes from, as a share of that
    /// disc's radius; the drawn width of a stroke that merely has a corner there reaches less than one.
    [[nodiscard]] double reach(const Run& fromEnd) const {
        const auto &tip = node(fromEnd.nodes.front()), &root = node(fromEnd.nodes.back());
        return (distance(tip.at, root.at) + tip.radius - root.radius) / std::max(root.radius, 0.75);
    }

    /// Takes away spurs until none is left. All of a round go at once: the two that lead into the corners of a square
    /// end must not leave one of them as the end of the stroke.
    void prune() {
        for (bool taken = true; taken;) {
            taken = false;
            std::vector<std::uint32_t> spurs;
            for (std::uint32_t n = 0; n < size(); ++n) {
                if (degree(n) != 1) continue;
                const Run run = follow(n, edgesAt(n).front());
                // A line by itself, hardly longer than wide, is a dot.
                const bool isSpur =
                    degree(run.nodes.back()) == 1 ? lengthOf(run) < leastReach * widest(run) : reach(run) < leastReach;
                if (isSpur) spurs.insert(spurs.end(), run.edges.begin(), run.edges.end());
            }
            for (const auto e : spurs) taken |= !gone_[e], gone_[e] = true;
        }
    }

private:
    static constexpr double leastReach = 1.05;
    [[nodiscard]] double lengthOf(const Run& run) const {
        double sum = 0;
        for (std::size_t i = 1; i < run.nodes.size(); ++i)
            sum += distance(node(run.nodes[i - 1]).at, node(run.nodes[i]).at);
        return sum;
    }
    [[nodiscard]] double widest(const Run& run) const {
        double most = 0;
        for (const auto n : run.nodes) most = std::max(most, node(n).radius);
        return most;
    }
    [[nodiscard]] std::uint32_t across(std::uint32_t edge, std::uint32_t node) const {
        const auto& e = axis_.edges[edge];
        return e.a == node ? e.b : e.a;
    }
    [[nodiscard]] std::uint32_t onward(std::uint32_t node, std::uint32_t edge) const {
        for (const auto e : at_[node])
            if (!gone_[e] && e != edge) return e;
        return edge;
    }
    const MedialAxis& axis_;
    std::vector<std::vector<std::uint32_t>> at_;
    std::vector<bool> gone_;
};

} // namespace

StrokeGraph strokeGraph(const MedialAxis& axis) {
    Net net(axis);
    net.prune();
    StrokeGraph graph;
    std::map<std::uint32_t, int> junction; // by node
    for (std::uint32_t n = 0; n < net.size(); ++n)
        if (net.degree(n) >= 3) {
            junction[n] = static_cast<int>(graph.junctions.size());
            graph.junctions.push_back({net.node(n).at, net.node(n).radius});
        }
    std::vector<bool> walked(axis.edges.size(), false);
    const auto add = [&](const Net::Run& run, bool loop) {
        StrokeGraph::Branch branch;
        for (const auto n : run.nodes) branch.line.push_back({net.node(n).at, net.node(n).radius});
        const auto known = [&](std::uint32_t n) {
            const auto at = junction.find(n);
            return at == junction.end() ? StrokeGraph::none : at->second;
        };
        if (!loop) branch.junction = {known(run.nodes.front()), known(run.nodes.back())};
        branch.loop = loop;
        for (const auto e : run.edges) walked[e] = true;
        graph.branches.push_back(std::move(branch));
    };
    for (std::uint32_t n = 0; n < net.size(); ++n)
        if (const auto d = net.degree(n); d == 1 || d >= 3)
            for (const auto e : net.edgesAt(n))
                if (!walked[e]) add(net.follow(n, e), false);
    for (std::uint32_t n = 0; n < net.size(); ++n) // what is left runs in rings
        if (net.degree(n) == 2)
            if (const auto e = net.edgesAt(n).front(); !walked[e]) add(net.follow(n, e), true);
    return graph;
}

} // namespace ferro::trace

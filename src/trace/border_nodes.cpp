#include "geometry/parabola.h"
#include "trace/borders_internal.h"

#include <map>

// Where three patches meet, the pixels hold all three colours and tell little about any one border. What the borders
// do a little way off tells more: each is led on from there, two that make one smooth line as one, and the node is put
// where they come together.

namespace ferro::trace {

namespace {

constexpr double window = 14;    ///< px of a border that are looked at
constexpr std::size_t least = 6; ///< samples that tell how a border bends
constexpr double even = 0.25;    ///< px: how far a sample may lie off the curve that leads its border on
constexpr double farthest = 4;   ///< px that a node may lie from the corner of the pixels it was found at

/// A parabola y(x) in a frame of its own.
struct Lead {
    Vec2 origin, along;
    std::array<double, 3> y{};

    [[nodiscard]] double x(Vec2 p) const { return dot(p - origin, along); }
    [[nodiscard]] Vec2 at(double x) const {
        return origin + along * x + perpendicular(along) * (y[0] + x * (y[1] + x * y[2]));
    }
    [[nodiscard]] Vec2 normal(double x) const {
        return perpendicular(unit(along + perpendicular(along) * (y[1] + 2 * x * y[2])));
    }
    [[nodiscard]] double off(Vec2 p) const { return distance(p, at(x(p))); }
};

/// By least squares; none for less than six points, or if one lies off.
std::optional<Lead> leadThrough(std::span<const Vec2> points, Vec2 along) {
    if (points.size() < least || length(along) < 1) return std::nullopt;
    Lead lead{points.front(), unit(along), {}};
    Ring own;
    for (const Vec2 p : points) own.push_back({lead.x(p), cross(lead.along, p - lead.origin)});
    const auto parabola = parabolaThrough(own);
    if (!parabola) return std::nullopt;
    lead.y = *parabola;
    for (const Vec2 p : points)
        if (lead.off(p) > even) return std::nullopt;
    return lead;
}

/// One of the borders that come together at a node, seen from there.
struct Arm {
    std::size_t arc;
    bool front;
    Ring near;              ///< its samples within the window, the nearest first
    Ring trusted;           ///< those of two colours only, the same way
    std::size_t before = 0; ///< samples nearer than the first of these
    std::optional<Lead> lead;
    bool paired = false; ///< with the arm that goes on from it
};

Arm armOf(const Borders::Arc& arc, std::size_t number, bool front, Vec2 node) {
    Arm arm{number, front, {}, {}, 0, {}, false};
    const std::size_t n = arc.points.size();
    double out = 0;
    for (std::size_t k = 1; k + 1 < n; ++k) {
        const std::size_t i = front ? k : n - 1 - k;
        const Vec2 p = arc.points[i];
        if (distance(p, node) > window || distance(p, node) < out - 1) break; // far off, or on its way back
        out = std::max(out, distance(p, node));
        arm.near.push_back(p);
        const bool trusted = arc.sure[i] && distance(p, node) > 1;
        if (trusted)
            arm.trusted.push_back(p);
        else if (arm.trusted.empty())
            ++arm.before;
    }
    for (const std::size_t count : {14u, 9u, 6u}) {
        if (arm.trusted.size() < least) break;
        const std::span<const Vec2> first(arm.trusted.data(), std::min(arm.trusted.size(), count));
        if ((arm.lead = leadThrough(first, first.back() - first.front()))) break;
    }
    return arm;
}

/// Both arms as one smooth line, if they are one.
std::optional<Lead> leadAcross(const Arm& a, const Arm& b) {
    if (a.trusted.size() < 4 || b.trusted.size() < 4) return std::nullopt; // too short to tell its way
    Ring points;
    for (std::size_t i = std::min<std::size_t>(a.trusted.size(), 8); i-- > 0;) points.push_back(a.trusted[i]);
    const Vec2 in = a.trusted.front() - points.front();
    points.insert(points.end(), b.trusted.begin(),
                  b.trusted.begin() + static_cast<std::ptrdiff_t>(std::min<std::size_t>(b.trusted.size(), 8)));
    const Vec2 out = points.back() - b.trusted.front();
    if (dot(in, out) < 0.8 * length(in) * length(out)) return std::nullopt;
    return leadThrough(points, points.back() - points.front());
}

/// The arms that go on as one: the straightest pair, then what is left.
void pairUp(std::vector<Arm>& arms) {
    struct Pair {
        double bend;
        std::size_t a, b;
        Lead lead;
    };
    std::vector<Pair> pairs;
    for (std::size_t a = 0; a < arms.size(); ++a)
        for (std::size_t b = a + 1; b < arms.size(); ++b)
            if (const auto lead = leadAcross(arms[a], arms[b])) pairs.push_back({std::abs(lead->y[2]), a, b, *lead});
    std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& p, const Pair& q) { return p.bend < q.bend; });
    for (const auto& [bend, a, b, lead] : pairs) {
        if (arms[a].paired || arms[b].paired) continue;
        arms[a].paired = arms[b].paired = true;
        arms[a].lead = arms[b].lead = lead;
    }
}

/// Where the leads come together, by least squares; what they leave open stays as it was.
Vec2 meeting(const std::vector<Arm>& arms, Vec2 from) {
    Vec2 at = from;
    for (int round = 0; round < 6; ++round) {
        double xx = 0.01, xy = 0, yy = 0.01;
        Vec2 right = from * 0.01;
        for (const auto& arm : arms) {
            if (!arm.lead) continue;
            const double x = arm.lead->x(at);
            const Vec2 n = arm.lead->normal(x);
            const double away = dot(n, arm.lead->at(x));
            xx += n.x * n.x, xy += n.x * n.y, yy += n.y * n.y;
            right += n * away;
        }
        const double whole = xx * yy - xy * xy;
        at = {(right.x * yy - right.y * xy) / whole, (right.y * xx - right.x * xy) / whole};
    }
    return at;
}

/// What takes the place of the samples next to the node.
struct Approach {
    std::size_t dropped = 0; ///< samples next to the node that go
    Ring instead;            ///< what comes in, the nearest first
};

Approach approachOf(const Arm& arm, Vec2 node) {
    Approach approach;
    if (!arm.lead) { // not known well enough: only what lies behind the node goes
        if (arm.near.empty()) return approach;
        const Vec2 out = arm.near[std::min<std::size_t>(arm.near.size() - 1, 6)] - node;
        while (approach.dropped < arm.near.size() && approach.dropped < 6 &&
               dot(arm.near[approach.dropped] - node, out) < 0.5 * length(out))
            ++approach.dropped;
        return approach;
    }
    const double side =
        dot(arm.trusted[std::min<std::size_t>(arm.trusted.size() - 1, 3)] - node, arm.lead->along) < 0 ? -1 : 1;
    const double begin = side * arm.lead->x(node);
    const auto ahead = [&](Vec2 p) { return side * arm.lead->x(p) - begin; };
    approach.dropped = arm.before;
    while (approach.dropped < arm.near.size() && ahead(arm.near[approach.dropped]) < 0.5) ++approach.dropped;
    if (approach.dropped == arm.near.size()) return approach;
    const double gap = ahead(arm.near[approach.dropped]);
    for (double x = 1; x < gap - 0.5; ++x) approach.instead.push_back(arm.lead->at(side * (begin + x)));
    return approach;
}

} // namespace

void Borders::settleNodes() {
    std::map<std::uint32_t, std::vector<std::pair<std::size_t, bool>>> ends; // by node: arc, and whether it begins here
    for (std::size_t i = 0; i < arcs_.size(); ++i) {
        if (arcs_[i].ring) continue;
        ends[arcs_[i].first / 4].emplace_back(i, true);
        ends[target(arcs_[i].last)].emplace_back(i, false);
    }
    std::vector<std::array<Approach, 2>> approaches(arcs_.size());
    for (const auto& [corner, here] : ends) {
        const auto x = static_cast<int>(corner % across_), y = static_cast<int>(corner / across_);
        const Vec2 grid{static_cast<double>(x), height_ - static_cast<double>(y)};
        const bool atSide = x == 0 || x == width_, atEnd = y == 0 || y == height_;
        Vec2 sum;
        for (const auto& [i, front] : here)
            sum += front ? arcs_[i].points[1] : arcs_[i].points[arcs_[i].points.size() - 2];
        const Vec2 mean = sum / static_cast<double>(here.size());
        const auto onEdge = [&](Vec2 p) { return Vec2{atSide ? grid.x : p.x, atEnd ? grid.y : p.y}; };
        Vec2 node =
            onEdge({std::clamp(mean.x, grid.x - 0.5, grid.x + 0.5), std::clamp(mean.y, grid.y - 0.5, grid.y + 0.5)});
        std::vector<Arm> arms;
        for (const auto& [i, front] : here) arms.push_back(armOf(arcs_[i], i, front, node));
        pairUp(arms);
        if (std::count_if(arms.begin(), arms.end(), [](const Arm& a) { return a.lead.has_value(); }) >= 2) {
            const Vec2 better = onEdge(meeting(arms, node));
            const bool inside = better.x >= 0 && better.y >= 0 && better.x <= width_ && better.y <= height_;
            if (inside && distance(better, node) <= farthest) {
                node = better;
                for (const auto& arm : arms) approaches[arm.arc][arm.front ? 0 : 1] = approachOf(arm, node);
            }
        }
        for (const auto& [i, front] : here) (front ? arcs_[i].points.front() : arcs_[i].points.back()) = node;
    }
    for (std::size_t i = 0; i < arcs_.size(); ++i) {
        auto& points = arcs_[i].points;
        auto& [front, back] = approaches[i];
        if (arcs_[i].ring || front.dropped + back.dropped + 3 > points.size()) continue;
        Ring out{points.front()};
        out.insert(out.end(), front.instead.begin(), front.instead.end());
        out.insert(out.end(), points.begin() + 1 + static_cast<std::ptrdiff_t>(front.dropped),
                   points.end() - 1 - static_cast<std::ptrdiff_t>(back.dropped));
        out.insert(out.end(), back.instead.rbegin(), back.instead.rend());
        out.push_back(points.back());
        points = std::move(out);
    }
    for (auto& arc : arcs_) arc.sure.clear();
}

} // namespace ferro::trace

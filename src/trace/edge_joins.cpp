#include "trace/contrast_edges_internal.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <tuple>
#include <unordered_map>

namespace ferro::trace {

namespace {

// All lengths in px.
constexpr double meeting = 4;    // ends nearer than this may be one corner
constexpr double widestGap = 80; // under a drawn line
constexpr std::int64_t none = -1;

struct End {
    std::size_t line;
    bool last;    ///< of the line's two
    Vec2 at, way; ///< onwards
};

std::vector<End> endsOf(const std::vector<EdgeLine>& lines) {
    std::vector<End> ends;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const auto& r = lines[i].points;
        if (lines[i].closed || r.size() < 2) continue;
        // The last points lie where something else has begun to show.
        const std::size_t n = r.size(), skip = n > 12 ? 2 : 0, back = std::min(skip + 6, n - 1);
        ends.push_back({i, false, r[0], unit(r[skip] - r[back])});
        ends.push_back({i, true, r[n - 1], unit(r[n - 1 - skip] - r[n - 1 - back])});
    }
    return ends;
}

bool isHidden(Vec2 from, Vec2 to, const std::function<bool(Vec2)>& hidden) {
    const int steps = static_cast<int>(distance(from, to));
    for (int i = 2; i + 1 < steps; ++i)
        if (!hidden(lerp(from, to, static_cast<double>(i) / steps))) return false;
    return true;
}

/// For each end the one that it goes on to, the nearest first.
std::vector<std::int64_t> onwardOf(const std::vector<End>& ends, const std::function<bool(Vec2)>& hidden) {
    struct Pair {
        double far;
        std::size_t a, b;
    };
    std::vector<Pair> pairs;
    std::vector<std::size_t> order(ends.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::sort(order.begin(), order.end(), [&](auto a, auto b) {
        return std::tie(ends[a].at.x, ends[a].at.y, a) < std::tie(ends[b].at.x, ends[b].at.y, b);
    });
    for (std::size_t i = 0; i < order.size(); ++i)
        for (std::size_t k = i + 1; k < order.size(); ++k) {
            const End &p = ends[order[i]], &q = ends[order[k]];
            if (q.at.x - p.at.x > widestGap) break;
            // One goes on where the other came from, as the dark keeps to the left: an end and a beginning.
            const double far = distance(p.at, q.at);
            if (far > widestGap || p.last == q.last) continue;
            const double on = dot(p.way, q.at - p.at), back = dot(q.way, p.at - q.at);
            if (far > meeting && !(on > 0.9 * far && back > 0.9 * far && isHidden(p.at, q.at, hidden))) continue;
            // Onwards to each other, or both to the tip between them.
            if (far > 1.5 && on < -0.2 * far && back < -0.2 * far) continue;
            pairs.push_back({far, std::min(order[i], order[k]), std::max(order[i], order[k])});
        }
    std::sort(pairs.begin(), pairs.end(),
              [](const Pair& a, const Pair& b) { return std::tie(a.far, a.a, a.b) < std::tie(b.far, b.a, b.b); });
    std::vector<std::int64_t> onward(ends.size(), none);
    for (const auto& pair : pairs)
        if (onward[pair.a] == none && onward[pair.b] == none)
            onward[pair.a] = static_cast<std::int64_t>(pair.b), onward[pair.b] = static_cast<std::int64_t>(pair.a);
    return onward;
}

/// Goes on with more points, straight over what lies between.
void append(Ring& points, const Ring& more) {
    const Vec2 from = points.empty() ? more.front() : points.back();
    const double gap = distance(from, more.front());
    for (int i = 1; i < static_cast<int>(gap); ++i)
        if (gap > meeting) points.push_back(lerp(from, more.front(), i / gap));
    points.insert(points.end(), more.begin(), more.end());
}

/// The lines end to end, as `onward` says, in the order of their first ones.
std::vector<EdgeLine> chained(const std::vector<EdgeLine>& lines, const std::vector<End>& ends,
                              const std::vector<std::int64_t>& onward) {
    std::vector<std::array<std::int64_t, 2>> own(lines.size(), {none, none}); // a line's two ends
    for (std::size_t i = 0; i < ends.size(); ++i) own[ends[i].line][ends[i].last] = static_cast<std::int64_t>(i);
    const auto neighbour = [&](std::int64_t line, bool after) {
        const auto end = own[static_cast<std::size_t>(line)][after];
        const auto to = end == none ? none : onward[static_cast<std::size_t>(end)];
        return to == none ? none : static_cast<std::int64_t>(ends[static_cast<std::size_t>(to)].line);
    };
    std::vector<EdgeLine> out;
    std::vector<bool> taken(lines.size(), false);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (taken[i]) continue;
        const auto self = static_cast<std::int64_t>(i);
        auto first = self;
        bool round = false;
        for (auto before = neighbour(first, false); before != none && !round; before = neighbour(first, false))
            first = before, round = first == self;
        EdgeLine line{{}, lines[i].closed || round, 0, 0};
        double weight = 0;
        for (auto k = first; k != none && !taken[static_cast<std::size_t>(k)]; k = neighbour(k, true)) {
            const auto& part = lines[static_cast<std::size_t>(k)];
            taken[static_cast<std::size_t>(k)] = true;
            const auto size = static_cast<double>(part.points.size());
            append(line.points, part.points);
            line.step += part.step * size, line.slope += part.slope * size, weight += size;
        }
        if (round) append(line.points, Ring{line.points.front()}), line.points.pop_back();
        line.step /= weight, line.slope /= weight;
        out.push_back(std::move(line));
    }
    return out;
}

/// A line that runs across itself with its last few points ends where it does.
void trim(Ring& points) {
    constexpr std::size_t few = 8;
    const std::size_t n = points.size();
    for (std::size_t k = n > few + 1 ? n - few - 1 : 0; k + 1 < n; ++k)
        for (std::size_t i = 0; i + few < k; ++i) {
            const Vec2 a = points[k], u = points[k + 1] - a, b = points[i], v = points[i + 1] - b;
            const double sine = cross(u, v);
            if (sine == 0) continue;
            const double t = cross(b - a, v) / sine, s = cross(b - a, u) / sine;
            if (t < 0 || t > 1 || s < 0 || s > 1) continue;
            points.resize(k + 1);
            points.push_back(a + u * t);
            return;
        }
}

/// Ends that stop short of another line go up to its nearest point.
void lead(std::vector<EdgeLine>& lines) {
    struct Place {
        std::size_t line, point;
    };
    std::unordered_map<std::uint64_t, Place> places; // by pixel, the first that lies in it
    const auto pixel = [](Vec2 p) {
        return static_cast<std::uint64_t>(std::lround(p.y) + 8) << 32 |
               static_cast<std::uint64_t>(std::lround(p.x) + 8);
    };
    for (std::size_t i = 0; i < lines.size(); ++i)
        for (std::size_t k = 0; k < lines[i].points.size(); ++k)
            places.try_emplace(pixel(lines[i].points[k]), Place{i, k});
    const auto before = lines;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const auto& was = before[i].points;
        if (lines[i].closed || was.size() < 4) continue;
        for (const bool last : {false, true}) {
            const std::size_t n = was.size(), back = std::min<std::size_t>(6, n - 1);
            const Vec2 end = last ? was[n - 1] : was[0], way = unit(end - (last ? was[n - 1 - back] : was[back]));
            for (double t = 0.5; t <= meeting; t += 0.5) {
                const auto on = places.find(pixel(end + way * t));
                if (on == places.end() || on->second.line == i) continue;
                const auto& other = before[on->second.line].points;
                auto& points = lines[i].points;
                points.insert(last ? points.end() : points.begin(), other[on->second.point]);
                break;
            }
        }
    }
}

} // namespace

std::vector<EdgeLine> joinedEdges(std::vector<EdgeLine> lines, const std::function<bool(Vec2)>& hidden) {
    const auto ends = endsOf(lines);
    auto joined = chained(lines, ends, onwardOf(ends, hidden));
    for (auto& line : joined)
        for (int end = 0; end < 2 && !line.closed; ++end) {
            trim(line.points);
            std::reverse(line.points.begin(), line.points.end());
        }
    lead(joined);
    return joined;
}

} // namespace ferro::trace

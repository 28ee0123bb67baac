#include "toolpath/shared_edges_internal.h"

#include "geometry/flatten.h"
#include "geometry/polygons.h"

#include <map>
#include <set>

namespace ferro::toolpath {

namespace {

constexpr double same = 0.01;  // mm, of ways that are one
constexpr double shortest = 5; // mm, of a stretch that is worth it

struct Side {
    std::size_t way, segment;
    Vec2 a, b, along; ///< from a to b, of length 1
    double length;
};
/// What of a side is shared, mm from its beginning.
using Spans = std::map<std::pair<std::size_t, std::size_t>, std::vector<Stretch>>; // by way and segment

std::vector<Side> sidesOf(std::span<const WayRound> ways) {
    std::vector<Side> sides;
    for (std::size_t w = 0; w < ways.size(); ++w) {
        const Path& path = ways[w].second;
        for (std::size_t s = 0; s < path.segments.size(); ++s) {
            if (path.segments[s].kind != Segment::Kind::line) continue;
            const Vec2 a = path.from(s), b = path.segments[s].end;
            if (const double length = distance(a, b); length >= shortest)
                sides.push_back({w, s, a, b, (b - a) / length, length});
        }
    }
    return sides;
}

/// Joined where they meet or overlap.
std::vector<Stretch> joined(std::vector<Stretch> spans) {
    std::sort(spans.begin(), spans.end());
    std::vector<Stretch> out;
    for (const auto& span : spans)
        if (!out.empty() && span.first <= out.back().second + same)
            out.back().second = std::max(out.back().second, span.second);
        else
            out.push_back(span);
    return out;
}

/// The open ways that are left of a closed one when stretches of its sides are taken out.
std::vector<Path> restOf(const Path& way, std::size_t number, const Spans& spans) {
    std::vector<Path> runs;
    Path run{way.start, {}, false};
    const auto end = [&](Vec2 next) {
        if (!run.segments.empty()) runs.push_back(std::move(run));
        run = {next, {}, false};
    };
    bool cut = false, startsWhole = true;
    for (std::size_t s = 0; s < way.segments.size(); ++s) {
        const Vec2 a = way.from(s);
        const auto at = spans.find({number, s});
        if (at == spans.end()) {
            run.segments.push_back(way.segments[s]);
            continue;
        }
        const Vec2 b = way.segments[s].end, along = unit(b - a);
        double done = 0;
        for (const auto& [from, to] : at->second) {
            if (from > done + same) run.segments.push_back(Segment::line(a + along * from));
            if (!cut && s == 0 && from <= same) startsWhole = false;
            cut = true;
            end(a + along * to);
            done = to;
        }
        if (distance(a, b) > done + same)
            run.segments.push_back(Segment::line(b));
        else
            run.start = b;
    }
    if (!run.segments.empty()) {
        // What lies round the way's own start is one run.
        if (startsWhole && cut && !runs.empty() && runs.front().start == way.start) {
            run.segments.insert(run.segments.end(), runs.front().segments.begin(), runs.front().segments.end());
            runs.front() = std::move(run);
        } else {
            runs.push_back(std::move(run));
        }
    }
    return runs;
}

/// On beyond its ends, over a crossing, where that comes near to no part.
void lengthen(SharedEdges::Line& line, double width, const Keepout& keepout) {
    const Vec2 along = unit(line.to - line.from) * width;
    const double clear = width / 2 - same;
    if (keepout.allows(line.to, Segment::line(line.to + along), clear)) line.to += along;
    if (keepout.allows(line.from, Segment::line(line.from - along), clear)) line.from = line.from - along;
}

/// Those on one support that meet become one.
std::vector<SharedEdges::Line> merged(std::vector<SharedEdges::Line> lines) {
    const auto key = [](const SharedEdges::Line& line) {
        Vec2 along = unit(line.to - line.from);
        const bool turned = along.x < -1e-9 || (std::abs(along.x) <= 1e-9 && along.y < 0);
        if (turned) along = -along;
        return std::pair(along, turned);
    };
    for (auto& line : lines)
        if (key(line).second) std::swap(line.from, line.to);
    for (std::size_t i = 0; i < lines.size(); ++i)
        for (std::size_t k = i + 1; k < lines.size();) {
            const Vec2 along = unit(lines[i].to - lines[i].from);
            const double whole = distance(lines[i].from, lines[i].to);
            const Vec2 from = lines[k].from - lines[i].from, to = lines[k].to - lines[i].from;
            const double t0 = dot(from, along), t1 = dot(to, along);
            const bool meets = std::abs(cross(along, from)) < same && std::abs(cross(along, to)) < same &&
                               t0 < whole + same && t1 > -same;
            if (!meets) {
                ++k;
                continue;
            }
            if (t1 > whole) lines[i].to = lines[k].to;
            if (t0 < 0) lines[i].from = lines[k].from;
            lines[i].contours.insert(lines[i].contours.end(), lines[k].contours.begin(), lines[k].contours.end());
            lines.erase(lines.begin() + static_cast<std::ptrdiff_t>(k));
            k = i + 1; // it is longer now
        }
    for (auto& line : lines) {
        std::sort(line.contours.begin(), line.contours.end());
        line.contours.erase(std::unique(line.contours.begin(), line.contours.end()), line.contours.end());
    }
    return lines;
}

} // namespace

Result<SharedEdges> sharedEdges(std::span<const WayRound> ways, double width, const Keepout& keepout) {
    const auto sides = sidesOf(ways);
    std::vector<Box> boxes;
    for (const auto& side : sides) boxes.push_back(boundsOf(Path{side.a, {Segment::line(side.b)}, false}).grown(same));
    const SpatialIndex index(boxes);
    Spans spans;
    SharedEdges out;
    for (std::size_t i = 0; i < sides.size(); ++i)
        for (const auto k : index.meeting(boxes[i])) {
            if (k <= i || sides[k].way == sides[i].way) continue;
            const auto &one = sides[i], &other = sides[k];
            // The parts lie on either side, so that the ways run against each other.
            if (dot(one.along, other.along) > -0.9999) continue;
            if (std::abs(cross(one.along, other.a - one.a)) > same ||
                std::abs(cross(one.along, other.b - one.a)) > same)
                continue;
            const double from = std::max(0.0, dot(one.along, other.b - one.a)),
                         to = std::min(one.length, dot(one.along, other.a - one.a));
            if (to - from < shortest) continue;
            const Vec2 a = one.a + one.along * from, b = one.a + one.along * to;
            spans[{one.way, one.segment}].emplace_back(from, to);
            spans[{other.way, other.segment}].emplace_back(dot(other.along, b - other.a),
                                                           dot(other.along, a - other.a));
            out.lines.push_back({a, b, {ways[one.way].first, ways[other.way].first}});
        }
    if (out.lines.empty()) return out;
    for (auto& [where, list] : spans) list = joined(std::move(list));
    for (auto& line : out.lines) lengthen(line, width, keepout);
    out.lines = merged(std::move(out.lines));
    Rings lanes;
    for (const auto& line : out.lines) lanes.push_back({line.from, line.to});
    const auto gone = widened(lanes, false, width, Cap::round);
    if (!gone) return gone.problem();
    std::set<std::size_t> sharing;
    for (const auto& [where, list] : spans) sharing.insert(where.first);
    for (const auto w : sharing) {
        SharedEdges::Part part{ways[w].first, {}};
        for (auto& run : restOf(ways[w].second, w, spans)) {
            // Round a corner over a crossing the lanes have gone already.
            const auto swept = widened({flattened(run, 0.005)}, false, width, Cap::round);
            const auto left = swept ? combined(*swept, *gone, Combine::takeAway) : swept;
            if (!left) return left.problem();
            double area = 0;
            for (const auto& ring : *left) area += std::abs(areaOf(ring));
            if (area > 0.002 * width * lengthOf(run) + 0.002) part.rest.push_back(std::move(run));
        }
        out.parts.push_back(std::move(part));
    }
    return out;
}

} // namespace ferro::toolpath

#include "mend/chain.h"

#include "geometry/measure.h"
#include "geometry/spatial.h"

#include <array>
#include <tuple>

namespace ferro::mend {

namespace {

Vec2 endOf(const Path& path, int end) { return end ? path.end() : path.start; }

/// Two straight ends that would run back along each other: one line drawn twice, in part, and no outline.
bool foldsBack(const Path& a, int endA, const Path& b, int endB) {
    const auto straight = [](const Path& path, int end) -> Vec2 { // its way towards the end
        const std::size_t i = end ? path.segments.size() - 1 : 0;
        if (path.segments[i].kind != Segment::Kind::line) return {};
        return unit((path.segments[i].end - path.from(i)) * (end ? 1.0 : -1.0));
    };
    const Vec2 in = straight(a, endA), out = straight(b, endB);
    return dot(in, out) > 0.999999;
}

/// Where the last segment of one path and the first of the next cross, as parameters of both.
std::optional<std::pair<double, double>> crossingOf(Vec2 a, const Segment& s, Vec2 b, const Segment& t) {
    constexpr int parts = 48;
    const auto one = [&](int i) { return pointAt(a, s, static_cast<double>(i) / parts); };
    const auto two = [&](int i) { return pointAt(b, t, static_cast<double>(i) / parts); };
    // From the ends that nearly meet.
    for (int i = parts; i > 0; --i)
        for (int k = 0; k < parts; ++k) {
            const Vec2 p = one(i - 1), q = one(i), u = two(k), v = two(k + 1);
            const double bend = cross(q - p, v - u);
            if (bend == 0) continue;
            const double x = cross(u - p, v - u) / bend, y = cross(u - p, q - p) / bend;
            if (x < 0 || x > 1 || y < 0 || y > 1) continue;
            return crossingNear(a, s, (i - 1 + x) / parts, b, t, (k + y) / parts);
        }
    return std::nullopt;
}

/// Lets `path` end where `next` begins. What crosses is trimmed to the crossing, two lines are led to where they meet,
/// a gap of a hundredth of a millimetre becomes one point, any other gets a line. `reach`: how far an end may go.
void meet(Path& path, Path& next, double reach) {
    constexpr double snap = 0.01; // mm
    const double size = distance(path.end(), next.start);
    if (size < 1e-7) { // the same but for rounding
        next.start = path.end();
        return;
    }
    auto &last = path.segments.back(), &first = next.segments.front();
    const Vec2 from = path.from(path.segments.size() - 1);
    const bool lines = last.kind == Segment::Kind::line && first.kind == Segment::Kind::line;
    if (const auto at = crossingOf(from, last, next.start, first)) {
        const Vec2 tip = pointAt(from, last, at->first);
        if (distance(tip, last.end) <= reach && distance(tip, next.start) <= reach && at->first > 0 && at->second < 1) {
            first = cutOf(next.start, first, at->second, 1);
            last = cutOf(from, last, 0, at->first);
            last.end = next.start = tip;
            return;
        }
    } else if (lines) {
        const Vec2 d = last.end - from, e = first.end - next.start;
        if (const double bend = cross(d, e); std::abs(bend) > 0.05 * length(d) * length(e)) {
            const Vec2 tip = from + d * (cross(next.start - from, e) / bend);
            if (distance(tip, last.end) <= reach && distance(tip, next.start) <= reach) {
                last.end = next.start = tip;
                return;
            }
        }
    }
    // Ends that have run past each other along one line: the first gives way.
    if (dot(tangentAt(from, last, 1), next.start - last.end) < 0 &&
        dot(tangentAt(next.start, first, 0), last.end - next.start) > 0) {
        const double t = nearestOn(from, last, next.start);
        if (t > 0 && t < 1 && distance(pointAt(from, last, t), next.start) <= snap) {
            last = cutOf(from, last, 0, t);
            if (last.kind != Segment::Kind::arc)
                last.end = next.start;
            else if (first.kind != Segment::Kind::arc)
                next.start = last.end;
            else
                path.segments.push_back(Segment::line(next.start));
            return;
        }
    }
    if (size <= snap && last.kind != Segment::Kind::arc && first.kind != Segment::Kind::arc)
        last.end = next.start = (last.end + next.start) / 2;
    else
        path.segments.push_back(Segment::line(next.start));
}

void append(Path& path, Path next, double reach) {
    meet(path, next, reach);
    path.segments.insert(path.segments.end(), next.segments.begin(), next.segments.end());
}

void closeUp(Path& path, double reach) {
    if (path.segments.size() > 1) { // the first segment by itself is what the last one has to meet
        Path head{path.start, {path.segments.front()}, false};
        Path tail{path.from(1), {path.segments.begin() + 1, path.segments.end()}, false};
        meet(tail, head, reach);
        path = head;
        path.segments.insert(path.segments.end(), tail.segments.begin(), tail.segments.end());
    }
    if (path.end() != path.start) path.segments.push_back(Segment::line(path.start));
    path.closed = true;
}

} // namespace

std::vector<Gap> gapsBetween(const std::vector<Path>& paths, double reach) {
    std::vector<Box> boxes;
    std::vector<std::pair<std::size_t, int>> ends;
    for (std::size_t i = 0; i < paths.size(); ++i) {
        if (paths[i].closed || paths[i].segments.empty()) continue;
        for (const int end : {0, 1}) {
            Box box;
            box.take(endOf(paths[i], end));
            boxes.push_back(box);
            ends.emplace_back(i, end);
        }
    }
    const SpatialIndex index(boxes);
    std::vector<Gap> near;
    for (std::size_t a = 0; a < ends.size(); ++a) {
        const Vec2 at = boxes[a].low;
        for (const std::size_t b : index.meeting({at - Vec2{reach, reach}, at + Vec2{reach, reach}})) {
            if (b <= a) continue;
            const double size = distance(at, boxes[b].low);
            if (size > reach) continue;
            if (ends[a].first == ends[b].first && lengthOf(paths[ends[a].first]) <= 3 * size) continue;
            if (foldsBack(paths[ends[a].first], ends[a].second, paths[ends[b].first], ends[b].second)) continue;
            near.push_back(
                {ends[a].first, ends[b].first, ends[a].second, ends[b].second, size, (at + boxes[b].low) / 2});
        }
    }
    std::stable_sort(near.begin(), near.end(), [](const Gap& a, const Gap& b) { return a.size < b.size; });
    std::vector<std::array<bool, 2>> used(paths.size(), {false, false});
    std::erase_if(near, [&](const Gap& gap) {
        bool &one = used[gap.first][static_cast<std::size_t>(gap.firstEnd)],
             &two = used[gap.second][static_cast<std::size_t>(gap.secondEnd)];
        if (one || two) return true;
        one = two = true;
        return false;
    });
    return near;
}

std::vector<Chain> chained(const std::vector<Path>& paths, double reach) {
    // Whom each end leads to.
    struct To {
        std::size_t path = std::numeric_limits<std::size_t>::max();
        int end = 0;
    };
    constexpr auto nowhere = std::numeric_limits<std::size_t>::max();
    std::vector<std::array<To, 2>> next(paths.size());
    for (const auto& gap : gapsBetween(paths, reach)) {
        next[gap.first][static_cast<std::size_t>(gap.firstEnd)] = {gap.second, gap.secondEnd};
        next[gap.second][static_cast<std::size_t>(gap.secondEnd)] = {gap.first, gap.firstEnd};
    }
    std::vector<Chain> chains;
    std::vector<bool> taken(paths.size(), false);
    for (std::size_t i = 0; i < paths.size(); ++i) {
        if (taken[i] || paths[i].closed || paths[i].segments.empty()) continue;
        // Back to where the chain begins; round a loop that is here again.
        std::size_t at = i;
        int in = 0; // the end by which the path is entered
        for (To back = next[at][static_cast<std::size_t>(in)]; back.path != nowhere;
             back = next[at][static_cast<std::size_t>(in)]) {
            at = back.path;
            in = 1 - back.end;
            if (at == i && in == 0) break;
        }
        const std::size_t first = at;
        const int firstIn = in;
        Chain chain;
        for (;;) {
            taken[at] = true;
            chain.from.push_back(at);
            const Path path = in ? reversed(paths[at]) : paths[at];
            if (chain.path.segments.empty())
                chain.path = path;
            else
                append(chain.path, path, reach);
            const To on = next[at][static_cast<std::size_t>(1 - in)];
            if (on.path == nowhere) break;
            if (on.path == first && on.end == firstIn) {
                closeUp(chain.path, reach);
                break;
            }
            at = on.path;
            in = on.end;
        }
        chains.push_back(std::move(chain));
    }
    return chains;
}

} // namespace ferro::mend

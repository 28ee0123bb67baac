#include "mend/true_up.h"

#include "geometry/arc_fit.h"
#include "geometry/measure.h"

#include <set>

namespace ferro::mend {

namespace {

constexpr std::array<std::string_view, 6> words{"circle", "rectangle", "straight", "level", "size", "centre"};
constexpr double exact = 1e-7; // mm: what needs no truing up

/// The largest distance between two closed lines or two open ones, looked at from both.
double apart(const Path& a, const Path& b) {
    const Ruler one(a), two(b);
    double worst = 0;
    for (const auto& [from, to] : {std::pair{&one, &two}, {&two, &one}})
        for (int i = 0; i <= 96; ++i) {
            const Vec2 p = from->at(from->length() * i / 96).point;
            worst = std::max(worst, distance(p, to->at(to->nearest(p)).point));
        }
    return worst;
}

/// Points at even steps, so that no part of an outline counts more than another.
Ring evenly(const Path& path, int count) {
    const Ruler ruler(path);
    Ring out;
    for (int i = 0; i < count; ++i) out.push_back(ruler.at(ruler.length() * i / count).point);
    return out;
}

std::optional<Path> asCircle(const Path& path, double tolerance) {
    if (!path.closed || circleOf(path, exact)) return std::nullopt;
    const auto round = circleThrough(evenly(path, 128));
    // A square is no circle, however small: the tolerance may not be a large part of it.
    if (!round || round->radius < 3 * tolerance) return std::nullopt;
    Path becomes = circle(round->centre, round->radius);
    return apart(path, becomes) <= tolerance ? std::optional(wound(becomes, areaOf(path) > 0)) : std::nullopt;
}

/// Whether the two have the same points, wherever they begin.
bool hasCorners(const Path& path, const Path& of) {
    return path.segments.size() == of.segments.size() &&
           std::all_of(of.segments.begin(), of.segments.end(), [&](const Segment& s) {
               return std::any_of(path.segments.begin(), path.segments.end(),
                                  [&](const Segment& t) { return distance(s.end, t.end) < exact; });
           });
}

/// As upright as it nearly is, else turned as it is; corners as round as they are.
std::optional<Path> asRectangle(const Path& path, double tolerance) {
    if (!path.closed || path.segments.size() < 4) return std::nullopt;
    // The way its longest stretches run, folded into a quarter turn, weighted by their lengths.
    Vec2 sum;
    Vec2 from = path.start;
    for (const auto& s : path.segments) {
        const Vec2 d = s.end - from;
        if (s.kind == Segment::Kind::line) {
            const double four = 4 * std::atan2(d.y, d.x);
            sum += Vec2{std::cos(four), std::sin(four)} * length(d);
        }
        from = s.end;
    }
    if (length(sum) < 0.4 * lengthOf(path)) return std::nullopt;
    double turn = std::atan2(sum.y, sum.x) / 4;
    const Box box = boundsOf(path);
    if (std::abs(std::sin(turn)) * std::max(box.width(), box.height()) < tolerance) turn = 0;
    const Transform upright = Transform::rotated(-turn);
    const Path laid = transformed(path, upright);
    // Each side lies where the middle half of it does on average: corners may be round.
    const Ring points = evenly(laid, 256);
    const Box own = boundsOf(laid);
    const Vec2 quarter = Vec2{own.width(), own.height()} / 4, middle = own.centre();
    const auto side = [&](double Vec2::*member, double Vec2::*other, double at) {
        double total = 0;
        int n = 0;
        for (const Vec2 p : points)
            if (std::abs(p.*member - at) <= 4 * tolerance && std::abs(p.*other - middle.*other) <= quarter.*other)
                total += p.*member, ++n;
        return n ? total / n : at;
    };
    const Vec2 low{side(&Vec2::x, &Vec2::y, own.low.x), side(&Vec2::y, &Vec2::x, own.low.y)},
        high{side(&Vec2::x, &Vec2::y, own.high.x), side(&Vec2::y, &Vec2::x, own.high.y)};
    if (!(high.x - low.x > 4 * tolerance && high.y - low.y > 4 * tolerance)) return std::nullopt;
    // The corner's radius by the area that the corners leave out: (4 - π) r².
    const double missing = (high.x - low.x) * (high.y - low.y) - std::abs(areaOf(laid));
    const double radius = missing > 0 ? std::sqrt(missing / (4 - pi)) : 0;
    std::optional<Path> best;
    for (const double r : {0.0, radius}) {
        if (2 * r > std::min(high.x - low.x, high.y - low.y)) continue;
        const Path becomes = rectangle(low, high, r);
        // Sharp corners where they will do: round ones only when the outline is off without.
        if (!best && apart(laid, becomes) <= tolerance) best = becomes;
    }
    if (!best || hasCorners(laid, *best)) return std::nullopt; // it is one already
    return wound(transformed(*best, Transform::rotated(turn)), areaOf(path) > 0);
}

/// Runs of lines that are one line; ends stay where they are.
std::optional<Path> asStraight(const Path& path, double tolerance) {
    const std::size_t n = path.segments.size();
    if (n < 2) return std::nullopt;
    Path out{path.start, {}, path.closed};
    bool changed = false;
    for (std::size_t i = 0; i < n;) {
        if (path.segments[i].kind != Segment::Kind::line) {
            out.segments.push_back(path.segments[i++]);
            continue;
        }
        const Vec2 from = path.from(i);
        std::size_t last = i;
        for (std::size_t k = i + 1; k < n && path.segments[k].kind == Segment::Kind::line; ++k) {
            bool near = true;
            for (std::size_t m = i; m < k; ++m)
                near &= distanceToLine(path.segments[m].end, from, path.segments[k].end) <= tolerance;
            if (!near) break;
            last = k;
        }
        changed |= last > i;
        out.segments.push_back(Segment::line(path.segments[last].end));
        i = last + 1;
    }
    if (!changed || (out.closed && out.segments.size() < 3 && out.segments.front().kind == Segment::Kind::line))
        return std::nullopt;
    return out;
}

/// Lines that are nearly level or upright become so, where that moves no end farther than the tolerance.
std::optional<Path> asLevel(const Path& path, double tolerance) {
    if (std::any_of(path.segments.begin(), path.segments.end(),
                    [](const Segment& s) { return s.kind != Segment::Kind::line; }))
        return std::nullopt;
    Ring points{path.start};
    for (const auto& s : path.segments) points.push_back(s.end);
    if (path.closed) points.pop_back();
    const Ring before = points;
    const std::size_t n = points.size(), stretches = path.closed ? n : n - 1;
    for (std::size_t i = 0; i < stretches; ++i) {
        Vec2 &a = points[i], &b = points[(i + 1) % n];
        const double dx = std::abs(a.x - b.x), dy = std::abs(a.y - b.y);
        if (dy > 0 && dy <= tolerance && dx > 10 * dy) a.y = b.y = (a.y + b.y) / 2;
        if (dx > 0 && dx <= tolerance && dy > 10 * dx) a.x = b.x = (a.x + b.x) / 2;
    }
    // One line's move may have tilted the one before it again: a second round settles what can be.
    for (std::size_t i = 0; i < stretches; ++i) {
        Vec2 &a = points[i], &b = points[(i + 1) % n];
        if (std::abs(a.y - b.y) <= tolerance && std::abs(a.x - b.x) > 10 * std::abs(a.y - b.y)) b.y = a.y;
        if (std::abs(a.x - b.x) <= tolerance && std::abs(a.y - b.y) > 10 * std::abs(a.x - b.x)) b.x = a.x;
    }
    double moved = 0;
    for (std::size_t i = 0; i < n; ++i) moved = std::max(moved, distance(points[i], before[i]));
    if (moved < exact || moved > tolerance) return std::nullopt;
    return pathOf(points, path.closed);
}

struct Outline {
    const artwork::Item* item;
    int opening;
    Path path;
};

std::string called(const Outline& o) {
    return o.opening < 0 ? fmt::format("“{}”", o.item->name) : fmt::format("an opening of “{}”", o.item->name);
}

Proposal proposal(Truth truth, const Outline& o, Path becomes, std::string what) {
    const double off = apart(o.path, becomes);
    return {truth,     o.item->id,
            o.opening, std::move(becomes),
            off,       fmt::format("{} {}, off by {:.3f} mm", called(o), what, off)};
}

/// Circles of nearly one size and about nearly one middle.
void findAmongCircles(const std::vector<Outline>& outlines, double tolerance, std::vector<Proposal>& out) {
    struct Round {
        const Outline* outline;
        Circle circle;
    };
    std::vector<Round> rounds;
    for (const auto& o : outlines)
        if (const auto c = circleOf(o.path, exact); c && c->radius > 0) rounds.push_back({&o, *c});
    std::vector<std::size_t> order(rounds.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::stable_sort(order.begin(), order.end(),
                     [&](auto a, auto b) { return rounds[a].circle.radius < rounds[b].circle.radius; });
    for (std::size_t first = 0; first < order.size();) {
        std::size_t last = first;
        double sum = 0;
        while (last < order.size() &&
               rounds[order[last]].circle.radius - rounds[order[first]].circle.radius <= tolerance)
            sum += rounds[order[last++]].circle.radius;
        const double mean = sum / static_cast<double>(last - first);
        for (std::size_t k = first; k < last && last - first > 1; ++k) {
            const auto& r = rounds[order[k]];
            if (std::abs(r.circle.radius - mean) < exact) continue;
            out.push_back(proposal(Truth::size, *r.outline,
                                   wound(circle(r.circle.centre, mean), areaOf(r.outline->path) > 0),
                                   fmt::format("as large as {} others", last - first - 1)));
        }
        first = last;
    }
    for (std::size_t i = 0; i < rounds.size(); ++i)
        for (std::size_t k = 0; k < rounds.size(); ++k) {
            const double off = distance(rounds[i].circle.centre, rounds[k].circle.centre);
            // The smaller goes to the larger one's middle.
            if (rounds[k].circle.radius <= rounds[i].circle.radius || off < exact || off > tolerance) continue;
            out.push_back(proposal(
                Truth::centre, *rounds[i].outline,
                wound(circle(rounds[k].circle.centre, rounds[i].circle.radius), areaOf(rounds[i].outline->path) > 0),
                fmt::format("about the middle of {}", called(*rounds[k].outline))));
            break;
        }
}

} // namespace

std::string_view wordOf(Truth truth) { return words[static_cast<std::size_t>(truth)]; }
std::optional<Truth> truthFrom(std::string_view word) {
    const auto at = std::find(words.begin(), words.end(), word);
    if (at == words.end()) return std::nullopt;
    return static_cast<Truth>(at - words.begin());
}

std::vector<Proposal> proposals(const artwork::Artwork& artwork, std::span<const artwork::ItemId> items,
                                double tolerance) {
    if (!(tolerance > 0)) return {};
    const std::set<artwork::ItemId> wanted(items.begin(), items.end());
    std::vector<Outline> outlines;
    for (const auto& item : artwork.items) {
        if (!artwork::shapeOf(item) || artwork::isHidden(artwork, item) || artwork::isLocked(artwork, item)) continue;
        if (!wanted.empty() && !wanted.contains(item.id)) continue;
        Piece piece = artwork::placed(item);
        outlines.push_back({&item, -1, std::move(piece.outline)});
        for (std::size_t k = 0; k < piece.openings.size(); ++k)
            outlines.push_back({&item, static_cast<int>(k), std::move(piece.openings[k])});
    }
    std::vector<Proposal> out;
    for (const auto& o : outlines) {
        if (o.path.segments.empty()) continue;
        if (auto round = asCircle(o.path, tolerance))
            out.push_back(proposal(Truth::circle, o, std::move(*round), "a circle"));
        else if (auto square = asRectangle(o.path, tolerance))
            out.push_back(proposal(Truth::rectangle, o, std::move(*square), "a rectangle"));
        else if (auto straight = asStraight(o.path, tolerance))
            out.push_back(proposal(Truth::straight, o, std::move(*straight), "straight"));
        else if (auto level = asLevel(o.path, tolerance))
            out.push_back(proposal(Truth::level, o, std::move(*level), "level and upright"));
    }
    findAmongCircles(outlines, tolerance, out);
    return out;
}

artwork::Artwork withTruedUp(const artwork::Artwork& artwork, std::span<const Proposal> taken) {
    artwork::Artwork out = artwork;
    for (const auto& p : taken)
        for (auto& item : out.items) {
            if (item.id != p.item || !artwork::shapeOf(item)) continue;
            const auto back = item.place.inverse();
            if (!back) break;
            Piece piece = artwork::shapeOf(item)->piece;
            const Path own = transformed(p.becomes, *back);
            if (p.opening < 0)
                piece.outline = own;
            else if (p.opening < static_cast<int>(piece.openings.size()))
                piece.openings[static_cast<std::size_t>(p.opening)] = own;
            item.leaf = artwork::leafOf(std::move(piece));
        }
    return out;
}

} // namespace ferro::mend

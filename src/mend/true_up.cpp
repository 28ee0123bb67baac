#include "mend/true_up.h"

#include "mend/near_shapes_internal.h"

#include <set>

namespace ferro::mend {

namespace {

constexpr std::array<std::string_view, 9> words{"circle",   "rectangle", "arc",    "straight", "level",
                                                "symmetry", "size",      "centre", "joint"};
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

/// Exact rectangles with sharp corners that are nearly as wide and as high as others, whichever way they are turned.
void findAmongRectangles(const std::vector<Outline>& outlines, double tolerance, std::vector<Proposal>& out) {
    struct Plate {
        const Outline* outline;
        Vec2 centre, along; ///< the direction of its first side
        double first, second;
    };
    std::vector<Plate> plates;
    for (const auto& o : outlines) {
        const auto& s = o.path.segments;
        if (!o.path.closed || s.size() != 4) continue;
        const Vec2 a = s[0].end - o.path.start, b = s[1].end - s[0].end;
        const bool square =
            std::all_of(s.begin(), s.end(), [](const auto& x) { return x.kind == Segment::Kind::line; }) &&
            std::abs(dot(a, b)) <= exact * length(a) && distance(a, s[1].end - s[2].end) <= exact && length(a) > 0 &&
            length(b) > 0;
        if (square) plates.push_back({&o, (o.path.start + s[1].end) / 2, unit(a), length(a), length(b)});
    }
    const auto alike = [&](const Plate& p, const Plate& q) { // a quarter turn makes no difference
        const bool straight = std::abs(p.first - q.first) <= tolerance && std::abs(p.second - q.second) <= tolerance;
        const bool turned = std::abs(p.first - q.second) <= tolerance && std::abs(p.second - q.first) <= tolerance;
        return straight ? 1 : turned ? 2 : 0;
    };
    std::vector<bool> taken(plates.size(), false);
    for (std::size_t i = 0; i < plates.size(); ++i) {
        if (taken[i]) continue;
        std::vector<std::pair<std::size_t, int>> same{{i, 1}};
        for (std::size_t k = i + 1; k < plates.size(); ++k)
            if (const int how = taken[k] ? 0 : alike(plates[i], plates[k])) same.emplace_back(k, how), taken[k] = true;
        if (same.size() < 2) continue;
        double first = 0, second = 0;
        for (const auto& [k, how] : same)
            first += how == 1 ? plates[k].first : plates[k].second,
                second += how == 1 ? plates[k].second : plates[k].first;
        first /= static_cast<double>(same.size()), second /= static_cast<double>(same.size());
        for (const auto& [k, how] : same) {
            const Plate& p = plates[k];
            const double w = how == 1 ? first : second, h = how == 1 ? second : first;
            if (std::abs(p.first - w) < exact && std::abs(p.second - h) < exact) continue;
            const Vec2 half = p.along * (w / 2);
            const bool ccw = areaOf(p.outline->path) > 0;
            const Vec2 up = perpendicular(p.along) * ((ccw ? h : -h) / 2);
            out.push_back(proposal(
                Truth::size, *p.outline,
                pathOf({p.centre - half - up, p.centre + half - up, p.centre + half + up, p.centre - half + up}, true),
                fmt::format("as large as {} others", same.size() - 1)));
        }
    }
}

/// Openings of a piece whose outline is nearly the same on both sides: those on its axis become so too, of two that are
/// nearly each other's mirror image the one on the right becomes just that. Others have an axis of their own, if any.
/// What has a proposal has its reasons.
void findAmongOpenings(const std::vector<Outline>& outlines, double tolerance, std::vector<Proposal>& out) {
    std::set<std::pair<artwork::ItemId, int>> proposed;
    for (const auto& p : out) proposed.insert({p.item, p.opening});
    for (std::size_t i = 0, end = 0; i < outlines.size(); i = end) {
        for (end = i + 1; end < outlines.size() && outlines[end].opening >= 0; ++end) {}
        if (end == i + 1) continue;
        const auto whole = asSymmetric(outlines[i].path, tolerance);
        /// The opening that is nearly this one's image, and that image.
        const auto imageOf = [&](std::size_t k) -> std::optional<std::pair<std::size_t, Path>> {
            const auto side = [&](std::size_t n) { return whole->axis.side(boundsOf(outlines[n].path).centre()); };
            for (std::size_t other = i + 1; other < end; ++other) {
                if (side(other) * side(k) >= 0) continue;
                Path image =
                    wound(transformed(outlines[other].path, whole->axis.mirror()), areaOf(outlines[k].path) > 0);
                if (apart(outlines[k].path, image) <= tolerance) return std::pair{other, std::move(image)};
            }
            return std::nullopt;
        };
        for (std::size_t k = i + 1; k < end; ++k) {
            const auto& o = outlines[k];
            if (!o.path.closed || proposed.contains({o.item->id, o.opening})) continue;
            if (whole) {
                if (auto made = evenedAbout(o.path, whole->axis, tolerance)) {
                    out.push_back(proposal(Truth::symmetry, o, std::move(*made), "the same on both sides"));
                    continue;
                }
                if (auto image = imageOf(k)) {
                    if (whole->axis.side(boundsOf(o.path).centre()) < 0 && apart(o.path, image->second) > 1e-4)
                        out.push_back(
                            proposal(Truth::symmetry, o, std::move(image->second), "the mirror image of another"));
                    continue;
                }
            }
            if (auto own = asSymmetric(o.path, tolerance); own && own->becomes)
                out.push_back(proposal(Truth::symmetry, o, std::move(*own->becomes), "the same on both sides"));
        }
    }
}

} // namespace

std::string_view wordOf(Truth truth) { return words[static_cast<std::size_t>(truth)]; }
std::optional<Truth> truthFrom(std::string_view word) {
    const auto at = std::find(words.begin(), words.begin() + truths.size(), word);
    if (at == words.begin() + truths.size()) return std::nullopt;
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
        else if (auto arcs = withArcs(o.path, tolerance))
            out.push_back(proposal(Truth::arc, o, std::move(*arcs), "with true arcs"));
        else if (auto straight = asStraight(o.path, tolerance))
            out.push_back(proposal(Truth::straight, o, std::move(*straight), "straight"));
        else if (auto level = asLevel(o.path, tolerance))
            out.push_back(proposal(Truth::level, o, std::move(*level), "level and upright"));
        else if (auto even = o.opening < 0 ? asSymmetric(o.path, tolerance) : std::nullopt; even && even->becomes)
            out.push_back(proposal(Truth::symmetry, o, std::move(*even->becomes), "the same on both sides"));
    }
    findAmongCircles(outlines, tolerance, out);
    findAmongRectangles(outlines, tolerance, out);
    findAmongOpenings(outlines, tolerance, out);
    // What is hardly larger than the tolerance could become anything, or nothing.
    std::map<std::pair<artwork::ItemId, int>, double> areas;
    for (const auto& o : outlines)
        if (o.path.closed) areas[{o.item->id, o.opening}] = areaOf(o.path);
    std::erase_if(out, [&](const Proposal& p) {
        const auto at = areas.find({p.item, p.opening});
        if (at == areas.end()) return false;
        const double share = areaOf(p.becomes) / at->second;
        return !(share > 0.5 && share < 2);
    });
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
            if (p.opening >= static_cast<int>(piece.openings.size())) continue;
            Path& was = p.opening < 0 ? piece.outline : piece.openings[static_cast<std::size_t>(p.opening)];
            Path own = transformed(p.becomes, *back);
            // Of a mirrored item the sheet has it the other way round.
            was = own.closed ? wound(std::move(own), areaOf(was) > 0) : std::move(own);
            item.leaf = artwork::leafOf(std::move(piece));
        }
    return out;
}

} // namespace ferro::mend

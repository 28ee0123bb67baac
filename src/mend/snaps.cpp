#include "mend/snaps.h"

#include "geometry/measure.h"

#include <set>

namespace ferro::mend {

namespace {

template<class Take> void eachLine(const artwork::Item& item, Take take) {
    const auto* shape = artwork::shapeOf(item);
    if (!shape) return;
    take(-1, shape->piece.outline);
    for (std::size_t i = 0; i < shape->piece.openings.size(); ++i) take(static_cast<int>(i), shape->piece.openings[i]);
}

/// Whether a place on an arc's circle lies on the arc.
bool isOnArc(Vec2 from, const Segment& arc, Vec2 p) {
    const double sweep = sweepOf(from, arc), start = std::atan2(from.y - arc.a.y, from.x - arc.a.x),
                 angle = std::atan2(p.y - arc.a.y, p.x - arc.a.x);
    return positiveAngle(sweep > 0 ? angle - start : start - angle) <= std::abs(sweep) + 1e-9;
}

/// The nearest place on a line or an arc.
std::optional<Vec2> footOn(Vec2 from, const Segment& s, Vec2 at) {
    if (s.kind == Segment::Kind::line) {
        const Vec2 d = s.end - from;
        const double size = dot(d, d);
        if (!(size > 0)) return std::nullopt;
        const double t = dot(at - from, d) / size;
        return t >= 0 && t <= 1 ? std::optional(from + d * t) : std::nullopt;
    }
    if (s.kind != Segment::Kind::arc || at == s.a) return std::nullopt;
    const Vec2 foot = s.a + unit(at - s.a) * distance(from, s.a);
    return isOnArc(from, s, foot) ? std::optional(foot) : std::nullopt;
}

} // namespace

std::string_view wordOf(Snap::Kind kind) {
    constexpr std::array words{"point", "centre", "middle", "tangent", "on the line", "level", "upright", "square"};
    return words[static_cast<std::size_t>(kind)];
}

Snaps::Snaps(const Artwork& artwork, const PointRefs& dragged, const Ids& without) {
    const std::set<ItemId> left(without.begin(), without.end());
    const std::set<PointRef> own(dragged.begin(), dragged.end());
    for (const auto& item : artwork.items) {
        if (artwork::isHidden(artwork, item) || left.contains(item.id)) continue;
        eachLine(item, [&](int opening, const Path& line) {
            for (std::size_t i = 0; i < ferro::pointsOf(line); ++i)
                if (!own.contains({item.id, opening, i})) ends_.push_back(item.place(pointOf(line, i)));
            for (std::size_t i = 0; i < line.segments.size(); ++i) {
                const auto& s = line.segments[i];
                const std::size_t next = line.closed && i + 1 == line.segments.size() ? 0 : i + 1;
                if (own.contains({item.id, opening, i}) || own.contains({item.id, opening, next})) continue;
                if (s.kind == Segment::Kind::cubic) continue;
                if (s.kind == Segment::Kind::arc && !item.place.keepsCircles()) continue;
                const Path alone = transformed(Path{line.from(i), {s}, false}, item.place);
                stretches_.push_back({alone.start, alone.segments[0], boundsOf(alone)});
                if (s.kind == Segment::Kind::arc) centres_.push_back(alone.segments[0].a);
            }
        });
    }
}

std::optional<Snap> Snaps::near(Vec2 at, double reach, std::span<const Vec2> neighbours) const {
    std::optional<Snap> best;
    double off = reach;
    const auto offer = [&](Snap::Kind kind, Vec2 place, std::optional<Vec2> from = {}) {
        const double d = distance(at, place);
        if (d <= off) off = d, best = Snap{kind, place, from};
    };
    for (const Vec2 p : ends_) offer(Snap::Kind::end, p);
    if (best) return best;
    for (const Vec2 p : centres_) offer(Snap::Kind::centre, p);
    if (best) return best;
    const auto nearby = [&](const Stretch& s) { return s.bounds.grown(reach).contains(at); };
    for (const auto& s : stretches_) {
        if (s.segment.kind != Segment::Kind::arc || !nearby(s)) continue;
        for (const Vec2 from : neighbours) {
            // The two places where a line from there touches the circle.
            const Vec2 v = from - s.segment.a;
            const double d2 = dot(v, v), r = distance(s.from, s.segment.a), r2 = r * r;
            if (d2 <= r2) continue;
            for (const double side : {1.0, -1.0}) {
                const Vec2 touch =
                    s.segment.a + v * (r2 / d2) + perpendicular(v) * (side * r * std::sqrt(d2 - r2) / d2);
                if (isOnArc(s.from, s.segment, touch)) offer(Snap::Kind::tangent, touch, from);
            }
        }
    }
    if (best) return best;
    for (const auto& s : stretches_)
        if (nearby(s)) offer(Snap::Kind::middle, pointAt(s.from, s.segment, 0.5));
    if (best) return best;
    for (const auto& s : stretches_)
        if (nearby(s))
            if (const auto foot = footOn(s.from, s.segment, at)) offer(Snap::Kind::on, *foot);
    if (best) return best;
    for (const Vec2 a : neighbours)
        for (const Vec2 b : neighbours)
            if (a != b) offer(Snap::Kind::square, {a.x, b.y}, a);
    if (best) return best;
    for (const Vec2 n : neighbours) {
        offer(Snap::Kind::level, {at.x, n.y}, n);
        offer(Snap::Kind::upright, {n.x, at.y}, n);
    }
    return best;
}

std::vector<Vec2> neighboursOf(const Artwork& artwork, const PointRefs& dragged) {
    const std::set<PointRef> own(dragged.begin(), dragged.end());
    std::vector<Vec2> out;
    for (const auto& ref : dragged) {
        const auto* item = artwork::find(artwork, ref.item);
        if (!item) continue;
        eachLine(*item, [&](int opening, const Path& line) {
            if (opening != ref.opening) return;
            const auto take = [&](std::size_t point) {
                if (!own.contains({ref.item, opening, point})) out.push_back(item->place(pointOf(line, point)));
            };
            if (const auto before = segmentBefore(line, ref.point)) take(*before);
            if (const auto after = segmentAfter(line, ref.point))
                take(line.closed && *after + 1 == line.segments.size() ? 0 : *after + 1);
        });
    }
    return out;
}

} // namespace ferro::mend

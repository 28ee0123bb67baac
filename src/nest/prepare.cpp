// From parts and sheets as they are asked for to bodies and boards, and back.
#include "nest/prepare_internal.h"

#include "geometry/flatten.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"
#include "geometry/self_crossing.h"

namespace ferro::nest {

namespace {

/// Bodies are this much thinner than they should be, so that parts laid edge to edge do not count as touching.
constexpr double play = 0.0001;
constexpr std::size_t mostEdges = 240;

bool isStraight(const Path& path) {
    return std::all_of(path.segments.begin(), path.segments.end(),
                       [](const Segment& s) { return s.kind == Segment::Kind::line; });
}

struct Flat {
    Rings rings;
    double off = 0; ///< mm that they may lie within the true edge
};
bool isConvex(const Rings& rings) {
    if (rings.size() != 1) return false;
    const Ring& ring = rings.front();
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()], c = ring[(i + 2) % ring.size()];
        if (cross(unit(b - a), unit(c - b)) < -1e-9) return false;
    }
    return true;
}
/// As few corners as it can be told by without being off by more than a hair; cut work never needs more.
Flat flatOf(const std::vector<Piece>& pieces) {
    std::vector<Path> edges;
    Box box;
    for (const auto& piece : pieces) {
        edges.push_back(wound(piece.outline, true));
        for (const auto& opening : piece.openings) edges.push_back(wound(opening, false));
        box.take(boundsOf(piece));
    }
    const double size = std::hypot(box.width(), box.height());
    Flat exact;
    std::size_t count = 0;
    for (const auto& edge : edges) {
        exact.rings.push_back(flattened(edge, 0.001));
        count += exact.rings.back().size();
    }
    const bool straight = std::all_of(edges.begin(), edges.end(), isStraight);
    if (straight && count <= 60) return exact;
    Flat flat = exact;
    for (double off = std::clamp(size * 2e-4, 0.004, 0.05);; off *= 2) {
        flat = {{}, off + (straight ? 0 : 0.001)};
        std::size_t left = 0;
        for (const auto& ring : exact.rings) {
            flat.rings.push_back(thinned(ring, off, true));
            left += flat.rings.back().size();
        }
        if (left <= mostEdges || off > size / 50) break;
    }
    return flat;
}

/// Straight edges go out by exactly that, so that parts lie as near as they may; round corners by a hair more, so that
/// few points serve for them.
Result<Rings> grown(const Flat& flat, double by) {
    const double all = by + flat.off - play;
    auto edges = offset(flat.rings, all, {.tolerance = 0.0004, .corner = ferro::Corner::sharp});
    if (!edges || by <= 0.2) return edges;
    const double hair = 0.008 * by + 0.003;
    const auto corners = offset(flat.rings, all + hair, {.tolerance = hair, .corner = ferro::Corner::round});
    return corners ? combined(*edges, *corners, Combine::overlap) : corners;
}

/// Each outline and opening by itself: curved openings do not take from how near straight outlines may come.
Result<Rings> grown(const std::vector<Piece>& pieces, double by) {
    Rings all;
    for (const auto& piece : pieces) {
        auto one = grown(flatOf({{piece.outline, {}}}), by);
        Rings holes;
        for (const auto& opening : piece.openings) {
            const Flat flat = flatOf({{wound(opening, true), {}}});
            const auto left =
                offset(flat.rings, play - by - flat.off, {.tolerance = 0.0004, .corner = ferro::Corner::sharp});
            if (!left) return left.problem();
            holes.insert(holes.end(), left->begin(), left->end());
        }
        if (one && !holes.empty()) one = combined(*one, holes, Combine::takeAway);
        if (one && !all.empty()) one = combined(all, *one, Combine::join);
        if (!one) return one.problem();
        all = std::move(*one);
    }
    return all;
}

std::vector<Body> bodiesIn(const Rings& rings) {
    std::vector<Path> paths;
    for (const auto& ring : rings) paths.push_back(pathOf(ring, true));
    std::vector<Body> bodies;
    for (const auto& piece : nested(std::move(paths))) {
        Rings own{flattened(piece.outline, 0.001)};
        for (const auto& opening : piece.openings) own.push_back(flattened(opening, 0.001));
        if (auto body = bodyOf(own, 2 * pi, false)) bodies.push_back(std::move(*body));
    }
    return bodies;
}

} // namespace

World::World(const Settings& settings) {
    const bool right = settings.start == Corner::lowerRight || settings.start == Corner::upperRight;
    const bool upper = settings.start == Corner::upperLeft || settings.start == Corner::upperRight;
    turn_ = {right ? -1.0 : 1.0, 0, 0, upper ? -1.0 : 1.0, 0, 0};
    if (settings.keeps == Along::height) turn_ = Transform{0, 1, 1, 0, 0, 0} * turn_;
}

Result<Ground> groundOf(const Sheet& sheet, const Settings& settings, const World& world) {
    const Piece area = transformed(sheet.area, world.turn());
    const OffsetOptions exact{.tolerance = 0.0004, .corner = ferro::Corner::sharp};
    const double off = settings.spacing / 2 - settings.margin;
    // Grown parts may reach over a straight rim by what they are grown; at corners that turn inward, and at bad places,
    // that would let a corner of the sheet into a part.
    const Flat rim = flatOf({{area.outline, {}}});
    auto usable = offset(rim.rings, (off > 0 && !isConvex(rim.rings) ? 0 : off) - rim.off - play, exact);
    Rings bad;
    for (const auto& opening : area.openings) {
        const Flat flat = flatOf({{wound(opening, true), {}}});
        auto one = offset(flat.rings, std::max(0.0, -off) + flat.off - play, exact);
        if (!one) return one.problem();
        bad.insert(bad.end(), one->begin(), one->end());
    }
    if (usable && !bad.empty()) usable = combined(*usable, bad, Combine::takeAway);
    if (!usable) return usable.problem();
    Box box;
    Ground ground;
    for (const auto& ring : *usable) {
        ground.area += areaOf(ring);
        for (const Vec2 p : ring) box.take(p);
    }
    if (!(ground.area > 0))
        return Problem{.what = "A sheet has no room within its margin.",
                       .where = {},
                       .mend = "Use a smaller margin, or a larger sheet."};
    ground.whole = areaOf(area.outline);
    for (const auto& opening : area.openings) ground.whole -= std::abs(areaOf(opening));
    ground.whole = std::abs(ground.whole);
    const Transform shift = Transform::moved(-box.low);
    ground.back = *(shift * world.turn()).inverse();
    ground.empty.width = box.width();
    ground.empty.height = box.height();
    // What of the box is no sheet stands there for good, a bit thinner than it is for the same reason as parts are.
    const Box around = box.grown(1);
    const Ring frame{around.low, {around.high.x, around.low.y}, around.high, {around.low.x, around.high.y}};
    auto rest = combined({frame}, *usable, Combine::takeAway);
    const Ring inner{box.low, {box.high.x, box.low.y}, box.high, {box.low.x, box.high.y}};
    if (rest) rest = combined(*rest, {inner}, Combine::overlap);
    if (rest) rest = offset(*rest, -2 * play, {.tolerance = 0.0004, .corner = ferro::Corner::sharp});
    if (!rest) return rest.problem();
    Rings taken = std::move(*rest);
    for (const auto& piece : sheet.taken) {
        auto one = grown(std::vector<Piece>{transformed(piece, world.turn())}, settings.spacing / 2);
        if (!one) return one.problem();
        for (const auto& ring : *one) ground.area -= areaOf(ring);
        taken.insert(taken.end(), one->begin(), one->end());
    }
    for (auto& ring : taken)
        for (Vec2& p : ring) p = shift(p);
    if (auto bodies = bodiesIn(taken); !bodies.empty())
        ground.empty.fixed = std::make_shared<const std::vector<Body>>(std::move(bodies));
    return ground;
}

Result<Body> bodyOf(const Part& part, const Settings& settings, const World& world) {
    const auto no = [](std::string what, std::string mend) {
        return Problem{.what = std::move(what), .where = {}, .mend = std::move(mend)};
    };
    std::vector<Piece> pieces;
    for (const auto& piece : part.pieces) {
        if (!piece.outline.closed || piece.outline.segments.empty())
            return no("Its outline is open.", "Close it in Mend.");
        if (selfCrossing(piece.outline, 0.01)) return no("Its outline crosses itself.", "Untangle it in Mend.");
        for (const auto& opening : piece.openings)
            if (!opening.closed || selfCrossing(opening, 0.01))
                return no("An opening of it crosses itself.", "Untangle it in Mend.");
        const Box box = boundsOf(piece);
        if (box.empty() || !isFinite(box.low) || !isFinite(box.high) || std::abs(areaOf(piece.outline)) < 1e-3)
            return no("It has no area.", "Leave it out, or draw it anew.");
        pieces.push_back(transformed(piece, world.turn()));
    }
    if (pieces.empty()) return no("It has no outline.", "Leave it out, or draw one.");
    auto rings = grown(pieces, settings.spacing / 2);
    if (!rings) return rings.problem();
    return bodyOf(*rings, part.turnStep >= 2 * pi - 1e-9 ? 2 * pi : part.turnStep, part.mirror, world.isTransposed());
}

Transform placeOf(const Item& item, const Ground& ground, const World& world) {
    const Pose& pose = item.pose;
    const Transform flip =
        pose.mirrored ? world.isTransposed() ? Transform::scaled(1, -1) : Transform::scaled(-1, 1) : Transform{};
    return ground.back * Transform::moved(pose.at) * Transform::rotated(pose.angle) * flip *
           Transform::moved(-item.body->middle) * world.turn();
}

} // namespace ferro::nest

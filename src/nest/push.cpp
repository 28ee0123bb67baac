#include "nest/push.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/polygons.h"

#include <algorithm>
#include <set>

namespace ferro::nest {

namespace {

constexpr double fineness = 0.002;          ///< mm
constexpr double air = 2 * fineness + 1e-4; ///< mm more than has to be, for what fineness takes away
constexpr double touching = 2e-4;           ///< mm: nearer than this beyond the air it is a contact
constexpr int mostContacts = 60;            ///< along one push

Rings ringsOf(const std::vector<Piece>& pieces) {
    Rings rings;
    for (const auto& piece : pieces) {
        rings.push_back(flattened(piece.outline, fineness));
        for (const auto& opening : piece.openings) rings.push_back(flattened(opening, fineness));
    }
    return rings;
}

Vec2 nearestOn(Vec2 p, Vec2 a, Vec2 b) {
    const Vec2 along = b - a;
    const double squared = dot(along, along);
    const double t = squared > 0 ? std::clamp(dot(p - a, along) / squared, 0.0, 1.0) : 0;
    return a + along * t;
}

/// From the still edge (c, d) to the moving one (a, b), the shortest way; none where they cross.
std::optional<Vec2> gap(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
    if (distanceBetween(a, b, c, d) <= 0) return std::nullopt;
    Vec2 best;
    double least = 1e300;
    for (const auto& way :
         {a - nearestOn(a, c, d), b - nearestOn(b, c, d), nearestOn(c, a, b) - c, nearestOn(d, a, b) - d})
        if (const double size = dot(way, way); size < least) least = size, best = way;
    return best;
}

/// When a point that leaves `from` along the unit vector comes within `r` of a segment; infinity: never. Where it is as
/// near already: 0 if it comes nearer still, else never, for the distance to what is convex only grows from there.
double whenWithin(Vec2 from, Vec2 along, Vec2 a, Vec2 b, double r) {
    const double never = std::numeric_limits<double>::infinity();
    const Vec2 off = from - nearestOn(from, a, b);
    if (dot(off, off) <= r * r) return dot(off, along) < 0 ? 0 : never;
    double first = never;
    const auto take = [&](double t, bool fits) {
        if (t >= 0 && fits) first = std::min(first, t);
    };
    for (const Vec2 centre : {a, b}) { // the round ends
        const Vec2 m = from - centre;
        const double half = dot(m, along), root = half * half - dot(m, m) + r * r;
        if (root >= 0) take(-half - std::sqrt(root), true);
    }
    const Vec2 side = b - a;
    if (const double size = length(side); size > 1e-12) { // the straight flanks
        const Vec2 u = side / size, n = perpendicular(u);
        const double height = dot(from - a, n), speed = dot(along, n);
        for (const double at : {r, -r})
            if (std::abs(speed) > 1e-15) {
                const double t = (at - height) / speed, x = dot(from + along * t - a, u);
                take(t, x >= 0 && x <= size);
            }
    }
    return first;
}

/// When two edges come within `r` of each other: a point against their Minkowski difference, a parallelogram with round
/// corners.
double whenWithin(Vec2 a, Vec2 b, Vec2 along, Vec2 c, Vec2 d, double r) {
    const Vec2 p[4] = {c - a, d - a, d - b, c - b};
    double first = std::numeric_limits<double>::infinity();
    for (int i = 0; i < 4; ++i) first = std::min(first, whenWithin({}, along, p[i], p[(i + 1) % 4], r));
    return first;
}

} // namespace

Pushing::Pushing(const std::vector<Piece>& moving, const Sheet& sheet, const std::vector<std::vector<Piece>>& others,
                 double spacing, double margin)
    : widest_(std::max(spacing, margin) + air), movingRings_(ringsOf(moving)), sheetRings_(ringsOf({sheet.area})) {
    const auto add = [](std::vector<Edge>& into, const Rings& rings, double apart, std::size_t body) {
        for (const auto& ring : rings)
            for (std::size_t i = 0; i < ring.size(); ++i)
                into.push_back({ring[i], ring[(i + 1) % ring.size()], apart, body});
    };
    add(moving_, movingRings_, 0, 0);
    for (const auto& other : others) {
        stillRings_.push_back(ringsOf(other));
        add(still_, stillRings_.back(), spacing + air, stillRings_.size() - 1);
    }
    add(still_, sheetRings_, margin + air, others.size());
    // What lies on the sheet and stays, clamps say, is kept away from as its edge is.
    stillRings_.push_back(ringsOf(sheet.taken));
    add(still_, stillRings_.back(), margin + air, others.size());
    std::vector<Box> boxes;
    for (const auto& edge : still_) {
        Box box;
        box.take(edge.a), box.take(edge.b);
        boxes.push_back(box);
    }
    index_ = std::make_unique<SpatialIndex>(boxes);
}

template<class Visit>
void Pushing::forEachNear(const Edge& moving, Vec2 shift, Vec2 way, double more, const Visit& visit) const {
    Box box;
    for (const Vec2 p : {moving.a + shift, moving.b + shift, moving.a + shift + way, moving.b + shift + way})
        box.take(p);
    for (const std::size_t k : index_->meeting(box.grown(widest_ + more))) visit(still_[k]);
}

/// The directions of what is touched and in the way.
bool Pushing::blocks(Vec2 shift, Vec2 along, std::vector<Vec2>& normals) const {
    normals.clear();
    for (const auto& edge : moving_)
        forEachNear(edge, shift, {}, 2 * touching, [&](const Edge& other) {
            const auto way = gap(edge.a + shift, edge.b + shift, other.a, other.b);
            if (!way || length(*way) > other.apart + touching) return;
            const Vec2 normal = unit(*way);
            if (dot(normal, along) < -1e-9) normals.push_back(normal);
        });
    return !normals.empty();
}

Vec2 Pushing::pushed(Vec2 from, Vec2 to) const {
    Vec2 at = from;
    std::vector<Vec2> normals;
    for (int i = 0; i < mostContacts; ++i) {
        Vec2 rest = to - at;
        double far = length(rest);
        if (far < 1e-6) break;
        Vec2 along = rest / far;
        if (blocks(at, along, normals)) {
            // Along what is touched: of all that is in the way the one that turns the push aside most and frees it.
            Vec2 best;
            double most = 0;
            const auto touched = normals;
            for (const Vec2 normal : touched) {
                Vec2 slide = rest - normal * dot(rest, normal);
                const double size = length(slide);
                if (size < 1e-6 || size <= most) continue;
                if (!blocks(at, slide / size, normals)) best = slide, most = size;
            }
            if (most == 0) break; // wedged
            rest = best, far = most, along = best / most;
        }
        double step = far;
        for (const auto& edge : moving_)
            forEachNear(edge, at, along * std::min(step, far), 0, [&](const Edge& other) {
                const double when = whenWithin(edge.a + at, edge.b + at, along, other.a, other.b, other.apart);
                step = std::min(step, when);
            });
        if (step < far) step = std::max(0.0, step - touching / 4);
        at += along * step;
        if (step < 1e-7) break;
    }
    return at;
}

Rings Pushing::moved(const Transform& by) const {
    Rings rings = movingRings_;
    for (auto& ring : rings)
        for (Vec2& p : ring) p = by(p);
    return rings;
}

Pushing::Hits Pushing::hits(const Transform& by) const {
    std::set<std::size_t> found;
    const Rings rings = moved(by);
    const std::size_t sheet = stillRings_.size() - 1;
    for (const auto& ring : rings)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const Edge edge{ring[i], ring[(i + 1) % ring.size()], 0, 0};
            forEachNear(edge, {}, {}, 0, [&](const Edge& other) {
                if (distanceBetween(edge.a, edge.b, other.a, other.b) < other.apart - air + fineness / 2)
                    found.insert(other.body);
            });
        }
    // One within the other: no edge tells that.
    for (std::size_t k = 0; k < stillRings_.size(); ++k) {
        if (found.contains(k)) continue;
        const auto within = [](const Rings& inner, const Rings& outer) {
            return std::any_of(inner.begin(), inner.end(),
                               [&](const Ring& ring) { return !ring.empty() && contains(outer, ring[0]); });
        };
        if (within(rings, stillRings_[k]) || within(stillRings_[k], rings)) found.insert(k);
    }
    if (!rings.empty() && !rings[0].empty() && !contains(sheetRings_, rings[0][0])) found.insert(sheet);
    Hits hits;
    hits.beyond = found.erase(sheet) > 0;
    hits.others.assign(found.begin(), found.end());
    return hits;
}

Rings Pushing::overlap(const Transform& by, const Hits& hits) const {
    const Rings rings = moved(by);
    Rings on, out;
    for (const auto k : hits.others) on.insert(on.end(), stillRings_[k].begin(), stillRings_[k].end());
    if (hits.beyond) on.insert(on.end(), stillRings_.back().begin(), stillRings_.back().end());
    const auto take = [&](const Result<Rings>& more) {
        if (more) out.insert(out.end(), more->begin(), more->end());
    };
    if (!on.empty()) take(combined(rings, on, Combine::overlap));
    if (hits.beyond) take(combined(rings, sheetRings_, Combine::takeAway));
    return out;
}

} // namespace ferro::nest

#pragma once

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"
#include "toolpath/moves.h"

#include <tuple>

// What cuts mean to do with the edges that they run beside: shared by what is told of gouges and of what stands.
namespace ferro::proof {

inline Box boxOf(Vec2 a, Vec2 b) {
    Box box;
    box.take(a);
    box.take(b);
    return box;
}

/// A bit of a tool's way that cuts beside an outline: a line or arc, always a line where the radius changes.
struct Reach {
    Vec2 a;
    Segment way;
    double from, to;     ///< mm, radius of the tool at the stock's top, at both ends and evenly between them
    std::size_t contour; ///< that it is cut beside
    bool slanted;        ///< by a pointed tool
    bool relief;         ///< into a corner of the part on purpose
    friend auto operator<=>(const Reach& l, const Reach& r) {
        const auto key = [](const Reach& v) {
            return std::tie(v.a.x, v.a.y, v.way.end.x, v.way.end.y, v.way.kind, v.way.ccw, v.way.a.x, v.way.a.y, v.from,
                            v.to, v.contour, v.slanted, v.relief);
        };
        return key(l) <=> key(r);
    }
    friend bool operator==(const Reach& l, const Reach& r) { return (l <=> r) == 0; }
    [[nodiscard]] Box box() const { return boundsOf(a, way); }
    [[nodiscard]] double most() const { return std::max(from, to); }
    [[nodiscard]] double radiusAt(double t) const { return from + (to - from) * t; }

    /// How far a place is from what it cuts at the surface; below 0 within. The cone's nearest place is where the way
    /// there leaves it at a right angle.
    [[nodiscard]] double missOf(Vec2 p) const {
        if (from == to) return distanceTo(a, way, p) - from;
        const double size = distance(a, way.end);
        if (size < 1e-12) return distance(p, a) - most();
        const Vec2 along = (way.end - a) / size;
        const double foot = dot(p - a, along), off = std::abs(cross(along, p - a)), lean = (to - from) / size;
        const double best = std::abs(lean) < 1 ? foot + off * lean / std::sqrt(1 - lean * lean) : lean > 0 ? size : 0;
        const double s = std::clamp(best, 0.0, size);
        return distance(a + along * s, p) - radiusAt(s / size);
    }
};

/// What the cuts mean to do with each contour: upright walls and slanting ones are meant apart.
struct Meant {
    bool beside = false;
    bool ofArea = false; ///< with what lies in it, as one
    plan::Side side = plan::Side::on;
    double radius = 0;    ///< mm, of the thinnest tool that cuts beside it
    double allowance = 0; ///< mm, the least that one of them leaves; below 0: a bevel takes it off

    /// The disc that has to fit where it is to get to.
    [[nodiscard]] double unreachedBy() const { return std::max(0.0, radius + allowance); }
};
struct Meanings {
    std::vector<Meant> upright, slanted; ///< by contour

    [[nodiscard]] const Meant& of(std::size_t contour, bool slants) const {
        return (slants ? slanted : upright)[contour];
    }
    /// The one that says what is part and what waste.
    [[nodiscard]] const Meant& of(std::size_t contour) const { return of(contour, !upright[contour].beside); }
    /// How far off an edge another way has to stay; a bevel may take off what is its own.
    [[nodiscard]] double keptOff(const Reach& reach, std::size_t contour) const {
        const auto& own = of(contour, reach.slanted);
        const double allowance = (own.beside ? own : of(contour, !reach.slanted)).allowance;
        return reach.contour == contour ? (own.beside ? own.allowance : 0) : std::max(0.0, allowance);
    }
};

[[nodiscard]] Meanings meaningsOf(const toolpath::Toolpath& path);

/// The ways of all tools that cut beside outlines, at the height of the stock's top or below; each once, however many
/// passes go over it.
[[nodiscard]] std::vector<Reach> reaches(const toolpath::Toolpath& path);

/// The outlines of areas that are to be gone. The edge of a part that lies round one and that it is open to, and an
/// opening in its floor, are gone over on purpose; islands, and whatever else is to stand in it, are not.
class Areas {
public:
    Areas(const std::vector<plan::Contour>& contours, const Meanings& meant) : contours_(contours), meant_(meant) {
        std::vector<Box> boxes, edgeBoxes;
        for (std::size_t i = 0; i < contours.size(); ++i) {
            const auto& m = meant.of(i);
            if (!m.beside || !m.ofArea || m.side != plan::Side::inside || !contours[i].path.closed) continue;
            const Ring& ring = rings_.emplace_back(Ringed{flattened(wound(contours[i].path, true), 0.002), i}).ring;
            boxes.push_back(boundsOf(contours[i].path));
            for (std::size_t k = 0; k < ring.size(); ++k) {
                edges_.push_back({ring[k], ring[(k + 1) % ring.size()], i});
                edgeBoxes.push_back(boxOf(edges_.back().a, edges_.back().b));
            }
        }
        index_ = std::make_unique<SpatialIndex>(boxes);
        edgeIndex_ = std::make_unique<SpatialIndex>(edgeBoxes);
    }
    /// Which of them go over a place on the edge of a contour on purpose.
    [[nodiscard]] std::vector<std::size_t> goneOver(std::size_t contour, Vec2 p) const {
        if (rings_.empty() || meant_.of(contour).ofArea) return {};
        auto out = round(p);
        if (meant_.of(contour).side != plan::Side::inside)
            std::erase_if(out, [&](std::size_t area) { return !liesRound(contour, area); });
        return out;
    }
    /// Where on the way from `a` to `b` one of them may begin or end, 0 to 1.
    [[nodiscard]] std::vector<double> bounds(Vec2 a, Vec2 b) const {
        std::vector<double> out{0, 1};
        const Vec2 way = b - a;
        for (const std::size_t k : edgeIndex_->meeting(boxOf(a, b).grown(onEdge))) {
            const Vec2 c = edges_[k].a, d = edges_[k].b;
            if (distanceBetween(a, b, c, d) > onEdge) continue;
            if (const double bend = cross(way, d - c); std::abs(bend) > 1e-12)
                out.push_back(cross(c - a, d - c) / bend);
            out.push_back(dot(c - a, way) / std::max(1e-12, dot(way, way)));
        }
        std::erase_if(out, [](double t) { return !(t >= 0 && t <= 1); });
        std::sort(out.begin(), out.end());
        return out;
    }

private:
    /// Those that a place lies within, not on their edges.
    [[nodiscard]] std::vector<std::size_t> round(Vec2 p) const {
        std::vector<std::size_t> out;
        for (const std::size_t k : index_->meeting({p, p}))
            if (contains(rings_[k].ring, p)) out.push_back(rings_[k].contour);
        for (const std::size_t k : edgeIndex_->meeting(Box{p, p}.grown(onEdge)))
            if (distanceToLine(p, edges_[k].a, edges_[k].b) < onEdge) std::erase(out, edges_[k].contour);
        return out;
    }
    [[nodiscard]] bool liesRound(std::size_t outer, std::size_t inner) const {
        int up = static_cast<int>(inner);
        while (up >= 0 && up != static_cast<int>(outer)) up = contours_[static_cast<std::size_t>(up)].parent;
        return up >= 0;
    }
    static constexpr double onEdge = 0.003; // mm, what flattening and offsets come to
    struct Ringed {
        Ring ring;
        std::size_t contour;
    };
    struct Edge {
        Vec2 a, b;
        std::size_t contour;
    };
    const std::vector<plan::Contour>& contours_;
    const Meanings& meant_;
    std::vector<Ringed> rings_;
    std::vector<Edge> edges_;
    std::unique_ptr<SpatialIndex> index_, edgeIndex_;
};

/// Whether a place on a contour's path is an edge at all: what an open area was carried on by is none.
class Drawn {
public:
    explicit Drawn(const plan::Contour& contour) {
        if (!contour.drawn.segments.empty()) ruler_.emplace(contour.drawn);
    }
    [[nodiscard]] bool has(Vec2 p) const { return !ruler_ || distance(ruler_->at(ruler_->nearest(p)).point, p) < 0.01; }

private:
    std::optional<Ruler> ruler_;
};

} // namespace ferro::proof

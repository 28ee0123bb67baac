#include "proof/deviation.h"

#include "proof/slits_internal.h"

#include "base/parallel.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/polygons.h"
#include "geometry/spatial.h"

#include <tuple>

namespace ferro::proof {

namespace {

/// A straight bit of a tool's way that cuts beside an outline.
struct Reach {
    Vec2 a, b;
    double from, to;     ///< mm, radius of the tool at the stock's top, at both ends and evenly between them
    std::size_t contour; ///< that it is cut beside
    bool slanted;        ///< by a pointed tool
    bool relief;         ///< into a corner of the part on purpose
    friend auto operator<=>(const Reach& l, const Reach& r) {
        return std::tie(l.a.x, l.a.y, l.b.x, l.b.y, l.from, l.to, l.contour, l.slanted, l.relief) <=>
               std::tie(r.a.x, r.a.y, r.b.x, r.b.y, r.from, r.to, r.contour, r.slanted, r.relief);
    }
    friend bool operator==(const Reach& l, const Reach& r) { return (l <=> r) == 0; }
    [[nodiscard]] double most() const { return std::max(from, to); }
    [[nodiscard]] double radiusAt(double t) const { return from + (to - from) * t; }

    /// How far a place is from what it cuts at the surface; below 0 within. The cone's nearest place is where the way
    /// there leaves it at a right angle.
    [[nodiscard]] double missOf(Vec2 p) const {
        if (from == to) return distanceToLine(p, a, b) - from;
        const Vec2 way = b - a;
        const double size = length(way);
        if (size < 1e-12) return distance(p, a) - most();
        const Vec2 along = way / size;
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

Meanings meaningsOf(const toolpath::Toolpath& path) {
    const std::size_t count = path.pieces->contours.size();
    Meanings meant{std::vector<Meant>(count), std::vector<Meant>(count)};
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts) {
            if (!cut.intent.beside() || !cut.intent.contour) continue;
            const bool slants = step.tool.isPointed();
            auto& m = (slants ? meant.slanted : meant.upright)[*cut.intent.contour];
            // What slants up to the edge is as thin as the point; a bevel, as thick as where it meets the edge.
            const double slanted = cut.intent.allowance < 0 ? step.tool.radiusAt(cut.intent.bottom) : step.tool.tip / 2;
            const double radius = slants ? slanted : step.tool.radius();
            m.allowance = m.beside ? std::min(m.allowance, cut.intent.allowance) : cut.intent.allowance;
            m.radius = m.beside ? std::min(m.radius, radius) : radius;
            if (!m.beside) m.side = cut.intent.side;
            m.beside = true;
            m.ofArea = m.ofArea || (step.kind && step.kind->takes == plan::Takes::areas);
        }
    return meant;
}

/// The ways of all tools that cut beside outlines, at the height of the stock's top or below; each once, however many
/// passes go over it.
std::vector<Reach> reaches(const toolpath::Toolpath& path) {
    std::vector<Reach> list;
    toolpath::Vec3 at = path.start;
    for (const auto& step : path.steps) {
        std::size_t cut = 0;
        for (std::size_t i = 0; i < step.moves.size(); ++i) {
            const auto& move = step.moves[i];
            const auto from = std::exchange(at, move.to);
            while (cut < step.cuts.size() && i >= step.cuts[cut].end) ++cut;
            if (cut == step.cuts.size() || !step.cuts[cut].intent.beside() || !step.cuts[cut].intent.contour ||
                move.kind == toolpath::Move::Kind::rapid)
                continue;
            // Tabs are meant to stand: where the beam is off on a feed move, and where a cutter is lifted, counts as
            // reached.
            if (!path.byBeam() && std::min(from.z, move.to.z) >= 0) continue;
            const auto& tool = step.tool;
            const bool flat = !path.turns() || tool.kind == shop::ToolKind::endMill;
            const auto radiusAt = [&](double z) { return flat ? tool.radius() : tool.radiusAt(std::max(0.0, -z)); };
            const double whole = lengthOf(from.flat(), move.flat());
            Vec2 a = from.flat();
            const auto& reliefs = step.cuts[cut].intent.reliefs;
            const bool meant = std::any_of(reliefs.begin(), reliefs.end(), [&](const auto& relief) {
                return distanceToLine(a, relief.first, relief.second) < 1e-6 &&
                       distanceToLine(move.to.flat(), relief.first, relief.second) < 1e-6;
            });
            double radius = radiusAt(from.z), done = 0;
            flattenSegment(a, move.flat(), 0.0005, [&](Vec2 b) {
                done += distance(a, b);
                const double end = radiusAt(whole > 0 ? from.z + (move.to.z - from.z) * std::min(1.0, done / whole)
                                                      : std::min(from.z, move.to.z));
                list.push_back(
                    {a, b, whole > 0 ? radius : end, end, *step.cuts[cut].intent.contour, tool.isPointed(), meant});
                a = b;
                radius = end;
            });
        }
    }
    std::sort(list.begin(), list.end());
    list.erase(std::unique(list.begin(), list.end()), list.end());
    return list;
}

/// What is meant to be part and what waste: the innermost outline round a place that is cut beside says so.
class Material {
public:
    Material(const std::vector<plan::Contour>& contours, const Meanings& meant) : meant_(meant) {
        std::vector<Box> boxes;
        for (std::size_t i = 0; i < contours.size(); ++i) {
            if (!meant.of(i).beside || !contours[i].path.closed) continue;
            rings_.push_back({flattened(contours[i].path, 0.002), i, contours[i].depth});
            boxes.push_back(boundsOf(contours[i].path));
        }
        index_ = std::make_unique<SpatialIndex>(boxes);
    }
    /// The contour that makes this place part; none: it is waste.
    [[nodiscard]] std::optional<std::size_t> partAt(Vec2 p) const {
        const Ringed* innermost = nullptr;
        for (const std::size_t k : index_->meeting({p, p}))
            if ((!innermost || rings_[k].depth > innermost->depth) && contains(rings_[k].ring, p))
                innermost = &rings_[k];
        if (!innermost || meant_.of(innermost->contour).side != plan::Side::outside) return std::nullopt;
        return innermost->contour;
    }

private:
    struct Ringed {
        Ring ring;
        std::size_t contour;
        int depth;
    };
    const Meanings& meant_;
    std::vector<Ringed> rings_;
    std::unique_ptr<SpatialIndex> index_;
};

Box boxOf(Vec2 a, Vec2 b) {
    Box box;
    box.take(a);
    box.take(b);
    return box;
}

std::vector<Deviation::Sample> samplesOf(const Path& path) {
    std::vector<Deviation::Sample> samples;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const double size = lengthOf(path.from(i), path.segments[i]);
        const int parts = std::clamp(static_cast<int>(std::ceil(size / 0.5)), 2, 4000);
        for (int k = 0; k < parts; ++k)
            samples.push_back({pointAt(path.from(i), path.segments[i], static_cast<double>(k) / parts), 0});
    }
    return samples;
}

/// What of an opening (or of the outside of a part) no tool of this radius can reach.
struct Unreached {
    double area = 0;
    std::size_t places = 0;
    Vec2 at;
    std::vector<std::pair<Vec2, Vec2>> centres; // edges of where the tool's axis can go
    std::unique_ptr<SpatialIndex> index;

    /// Whether a tool of this radius can touch a point of the design's edge.
    [[nodiscard]] bool canReach(Vec2 p, double radius) const {
        if (!index) return true;
        for (const std::size_t k : index->meeting(Box{p, p}.grown(radius + 0.006)))
            if (distanceToLine(p, centres[k].first, centres[k].second) <= radius + 0.006) return true;
        return false;
    }
};
Unreached unreached(const Rings& own, bool opening, double radius, const Rings& relieved) {
    Unreached out;
    const OffsetOptions fine{.tolerance = 0.004};
    auto there = offset(own, opening ? -radius : radius, fine);
    if (!there) return out;
    std::vector<Box> boxes;
    for (const auto& ring : *there)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const auto& edge = out.centres.emplace_back(ring[i], ring[(i + 1) % ring.size()]);
            Box box;
            box.take(edge.first);
            box.take(edge.second);
            boxes.push_back(box);
        }
    out.index = std::make_unique<SpatialIndex>(boxes);
    auto back = offset(*there, opening ? radius : -radius, fine);
    if (!back) return out;
    auto rest = opening ? combined(own, *back, Combine::takeAway) : combined(*back, own, Combine::takeAway);
    if (rest && !relieved.empty()) rest = combined(*rest, relieved, Combine::takeAway);
    if (!rest) return out;
    double biggest = 0;
    for (const auto& ring : *rest) {
        const double area = std::abs(areaOf(ring));
        Box box;
        for (const Vec2 p : ring) box.take(p);
        // Slivers of a few microns along curves are the offsets' tolerance, not corners.
        if (area < 0.01 || area < 0.02 * std::hypot(box.width(), box.height())) continue;
        out.area += area;
        ++out.places;
        if (area > biggest) biggest = area, out.at = box.centre();
    }
    return out;
}

/// The edges of what is worked on as one: an outline alone, or an area with what stands in it.
Rings edgesRound(const std::vector<plan::Contour>& contours, const Meanings& meant, std::size_t which, bool slants) {
    const auto isArea = [&](std::size_t i) { return meant.of(i, slants).ofArea; };
    std::size_t outer = which;
    const int parent = contours[which].parent;
    if (!isArea(which)) return {flattened(wound(contours[which].path, true), 0.002)};
    if (meant.of(which, slants).side == plan::Side::outside && parent >= 0 && isArea(static_cast<std::size_t>(parent)))
        outer = static_cast<std::size_t>(parent);
    Rings rings{flattened(wound(contours[outer].path, true), 0.002)};
    for (std::size_t i = 0; i < contours.size(); ++i)
        if (contours[i].parent == static_cast<int>(outer) && contours[i].path.closed && isArea(i) &&
            meant.of(i, slants).side == plan::Side::outside)
            rings.push_back(flattened(wound(contours[i].path, false), 0.002));
    return rings;
}

/// The outlines of areas that are to be gone. What lies within one, and is no island of it, is gone over on purpose:
/// the edge of a part that it is open to, an opening in its floor.
class Areas {
public:
    Areas(const std::vector<plan::Contour>& contours, const Meanings& meant) {
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
    [[nodiscard]] bool empty() const { return rings_.empty(); }
    /// The contours of those that a place lies within, not on their edges.
    [[nodiscard]] std::vector<std::size_t> round(Vec2 p) const {
        std::vector<std::size_t> out;
        for (const std::size_t k : index_->meeting({p, p}))
            if (contains(rings_[k].ring, p)) out.push_back(rings_[k].contour);
        for (const std::size_t k : edgeIndex_->meeting(Box{p, p}.grown(onEdge)))
            if (distanceToLine(p, edges_[k].a, edges_[k].b) < onEdge) std::erase(out, edges_[k].contour);
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
    static constexpr double onEdge = 0.003; // mm, what flattening and offsets come to
    struct Ringed {
        Ring ring;
        std::size_t contour;
    };
    struct Edge {
        Vec2 a, b;
        std::size_t contour;
    };
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

/// The edges that are cut beside, as straight bits, to ask which of them a tool's way comes near to.
class Edges {
public:
    struct Bit {
        Vec2 a, b;
        std::size_t contour;
        std::vector<std::size_t> within = {}; ///< of which areas, that it is no island of
    };
    Edges(const std::vector<plan::Contour>& contours, const std::vector<std::size_t>& wanted, const Areas& areas,
          const Meanings& meant) {
        std::vector<Box> boxes;
        const auto put = [&](Bit bit) {
            boxes.push_back(boxOf(bit.a, bit.b));
            bits_.push_back(std::move(bit));
        };
        for (const std::size_t i : wanted) {
            const Ring ring = flattened(contours[i].path, 0.002);
            const bool island = meant.of(i).ofArea;
            const Drawn drawn(contours[i]);
            for (std::size_t k = 0; k < ring.size(); ++k) {
                const Vec2 a = ring[k], b = ring[(k + 1) % ring.size()];
                if (!drawn.has((a + b) / 2)) continue;
                if (island || areas.empty()) {
                    put({a, b, i});
                    continue;
                }
                const auto bounds = areas.bounds(a, b);
                for (std::size_t n = 0; n + 1 < bounds.size(); ++n)
                    if (bounds[n + 1] > bounds[n])
                        put({lerp(a, b, bounds[n]), lerp(a, b, bounds[n + 1]), i,
                             areas.round(lerp(a, b, (bounds[n] + bounds[n + 1]) / 2))});
            }
        }
        index_ = std::make_unique<SpatialIndex>(boxes);
    }
    template<class Visit> void near(const Box& area, Visit&& visit) const {
        for (const std::size_t k : index_->meeting(area)) visit(bits_[k]);
    }

private:
    std::vector<Bit> bits_;
    std::unique_ptr<SpatialIndex> index_;
};

struct Gouge {
    double depth = 0; ///< mm
    Vec2 at;
};

/// Whether a cut beside `cut` in the material of `part` was asked for: outside of an opening, that is.
bool wasAsked(const std::vector<plan::Contour>& contours, const Meanings& meant, std::size_t cut, std::size_t part) {
    return meant.of(cut).side == plan::Side::outside && contours[cut].role == plan::Role::openings &&
           contours[cut].parent == static_cast<int>(part);
}

/// The place on a bit of an edge that a place of a way is nearest to.
Vec2 nearestOn(const Edges::Bit& bit, Vec2 p) {
    const Vec2 along = bit.b - bit.a;
    const double size2 = dot(along, along);
    return size2 > 0 ? bit.a + along * std::clamp(dot(p - bit.a, along) / size2, 0.0, 1.0) : bit.a;
}

/// How far a bit of a way reaches over a bit of an edge at most, and where.
Gouge overEdge(const Reach& reach, const Edges::Bit& bit) {
    const double nearest = distanceBetween(reach.a, reach.b, bit.a, bit.b);
    const auto at = [&](double t) { return lerp(reach.a, reach.b, t); };
    const auto depth = [&](double t) { return reach.radiusAt(t) - distance(at(t), nearestOn(bit, at(t))); };
    // The distance to a line is convex along a way and the radius even: one summit, closed in on by golden sections.
    constexpr double golden = 0.618033988749895;
    double low = 0, high = 1;
    for (int k = 0; k < 40; ++k) {
        const double m = high - golden * (high - low), n = low + golden * (high - low);
        (depth(m) < depth(n) ? low : high) = depth(m) < depth(n) ? m : n;
    }
    const double t = (low + high) / 2;
    const double most = reach.from == reach.to ? reach.from - nearest : std::max({depth(t), depth(0), depth(1)});
    return {most, nearestOn(bit, at(t))};
}

/// How far one bit of a way cuts into parts over their edges, by what its radius is more than its distance; where the
/// tool's axis itself lies in the part, by what it reaches beyond.
Gouge gougeOf(const Reach& reach, const Edges& edges, const Material& material,
              const std::vector<plan::Contour>& contours, const Meanings& meant) {
    Gouge worst;
    if (reach.relief) return worst;
    edges.near(boxOf(reach.a, reach.b).grown(reach.most()), [&](const Edges::Bit& bit) {
        if (wasAsked(contours, meant, reach.contour, bit.contour)) return;
        if (std::find(bit.within.begin(), bit.within.end(), reach.contour) != bit.within.end()) return;
        const double kept = meant.keptOff(reach, bit.contour);
        // Most come nowhere near, or just touch.
        if (reach.most() - distanceBetween(reach.a, reach.b, bit.a, bit.b) + kept <= worst.depth) return;
        const auto over = overEdge(reach, bit);
        if (over.depth + kept > worst.depth) worst = {over.depth + kept, over.at};
    });
    if (worst.depth <= 0.01) return worst; // within what offsets are exact to: no need to ask where it lies
    const Vec2 middle = (reach.a + reach.b) / 2;
    if (const auto part = material.partAt(middle); part && !wasAsked(contours, meant, reach.contour, *part))
        worst.depth = std::max(worst.depth, std::min(2 * reach.most(), 2 * reach.most() - worst.depth));
    return worst;
}

/// The first cut that runs right through a part, without an edge near: a way is one piece, so one place on it tells.
Gouge slotThrough(const toolpath::Toolpath& path, const Material& material, const Meanings& meant) {
    const auto& contours = path.pieces->contours;
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts) {
            if (!cut.intent.beside() || !cut.intent.contour || cut.first == cut.end) continue;
            // Not its start: grooves begin in corners of their outline.
            const Ruler ruler(cut.centre);
            const Vec2 at = cut.centre.segments.empty() ? cut.centre.start : ruler.at(ruler.length() / 2).point;
            const auto part = material.partAt(at);
            if (part && !wasAsked(contours, meant, *cut.intent.contour, *part)) return {step.tool.diameter, at};
        }
    return {};
}

/// The move that goes furthest below what its cut is for.
Gouge tooDeep(const toolpath::Toolpath& path) {
    Gouge worst;
    if (path.byBeam()) return worst;
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts)
            for (std::size_t i = cut.first; i < cut.end; ++i)
                if (const double depth = -step.moves[i].to.z - cut.intent.bottom; depth > worst.depth)
                    worst = {depth, step.moves[i].to.flat()};
    return worst.depth > 1e-6 ? worst : Gouge{};
}

} // namespace

Result<Deviation> deviationOf(const toolpath::Toolpath& path, Progress& progress) {
    Deviation result;
    if (!path.pieces) return result;
    if (path.process == shop::Process::blade) followTips(path, result);
    const auto& contours = path.pieces->contours;
    const auto meant = meaningsOf(path);
    std::vector<std::size_t> wanted;
    for (std::size_t i = 0; i < contours.size(); ++i)
        if (contours[i].path.closed && meant.of(i).beside) wanted.push_back(i);
    const auto list = reaches(path);
    std::vector<Box> boxes;
    boxes.reserve(list.size());
    double most = 0;
    for (const auto& reach : list) {
        boxes.push_back(boxOf(reach.a, reach.b));
        most = std::max(most, reach.most());
    }
    const SpatialIndex index(boxes);
    const Areas areas(contours, meant);
    const Edges edges(contours, wanted, areas, meant);
    const Material material(contours, meant);

    std::vector<Gouge> gouges(list.size());
    parallelFor(list.size(), progress,
                [&](std::size_t i) { gouges[i] = gougeOf(list[i], edges, material, contours, meant); });
    if (progress.cancelled()) return Problem::cancelled();
    gouges.push_back(slotThrough(path, material, meant));
    gouges.push_back(tooDeep(path));
    for (const auto& gouge : gouges)
        if (gouge.depth > result.cutInto) result.cutInto = gouge.depth, result.cutIntoAt = gouge.at;

    // Each edge by the walls that are meant on it.
    std::vector<std::pair<std::size_t, bool>> walls;
    for (const std::size_t i : wanted)
        for (const bool slants : {false, true})
            if (meant.of(i, slants).beside) walls.emplace_back(i, slants);
    std::vector<Rings> relieved(contours.size()); // what the tool covers on each relief
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts)
            for (const auto& [from, to] : cut.intent.reliefs)
                if (const auto swept = widened({{from, to}}, false, step.tool.diameter, Cap::round))
                    relieved[*cut.intent.contour].insert(relieved[*cut.intent.contour].end(), swept->begin(),
                                                         swept->end());
    std::vector<Deviation::Edge> edgesOf(walls.size());
    std::vector<Unreached> rest(walls.size());
    parallelFor(walls.size(), progress, [&](std::size_t i) {
        const auto [which, slants] = walls[i];
        const auto& contour = contours[which];
        auto& edge = edgesOf[i];
        edge = {contour.item, contour.opening, samplesOf(contour.path)};
        std::erase_if(edge.samples, [drawn = Drawn(contour)](const auto& sample) { return !drawn.has(sample.at); });
        // What is cut on the inside is an opening, whatever it is drawn as: a stencil's areas fall out.
        // What stays by intent makes the tool wider.
        const auto& m = meant.of(which, slants);
        const Rings own = edgesRound(contours, meant, which, slants);
        rest[i] = unreached(own, m.side == plan::Side::inside || own.size() > 1, m.unreachedBy(), relieved[which]);
        for (auto& sample : edge.samples) {
            double nearest = 1e9;
            const auto gone = meant.of(which).ofArea ? std::vector<std::size_t>{} : areas.round(sample.at);
            for (const std::size_t k : index.meeting(Box{sample.at, sample.at}.grown(most * 2.5 + 0.5)))
                if (list[k].slanted == slants && std::find(gone.begin(), gone.end(), list[k].contour) == gone.end())
                    nearest = std::min(nearest, list[k].missOf(sample.at));
            sample.miss = static_cast<float>(nearest > 1e8 ? most : nearest);
        }
    });
    if (progress.cancelled()) return Problem::cancelled();
    double biggest = 0;
    for (std::size_t i = 0; i < walls.size(); ++i) {
        const auto& m = meant.of(walls[i].first, walls[i].second);
        // What is meant to stand in the end: not what another step leaves less of, or a bevel takes.
        const auto& other = meant.of(walls[i].first, !walls[i].second);
        const bool final = m.allowance >= 0 && (!other.beside || other.allowance < 0 || m.allowance <= other.allowance);
        const bool island = m.ofArea && m.side == plan::Side::outside; // told with the area that it stands in
        if (final && !island) {
            result.unreachedArea += rest[i].area;
            result.unreachedPlaces += rest[i].places;
            if (rest[i].area > biggest) biggest = rest[i].area, result.unreachedAt = rest[i].at;
        }
        for (const auto& sample : edgesOf[i].samples) {
            const double miss = static_cast<double>(sample.miss) - m.allowance;
            const bool corner = miss > 0.005 && !rest[i].canReach(sample.at, m.unreachedBy());
            (corner ? result.corners : result.leftStanding) =
                std::max(corner ? result.corners : result.leftStanding, miss);
        }
        if (final) result.edges.push_back(std::move(edgesOf[i]));
    }
    return result;
}

} // namespace ferro::proof

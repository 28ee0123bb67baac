#include "proof/deviation.h"

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
    double radius;
    std::size_t contour; ///< that it is cut beside
    friend auto operator<=>(const Reach& l, const Reach& r) {
        return std::tie(l.a.x, l.a.y, l.b.x, l.b.y, l.radius, l.contour) <=>
               std::tie(r.a.x, r.a.y, r.b.x, r.b.y, r.radius, r.contour);
    }
    friend bool operator==(const Reach& l, const Reach& r) { return (l <=> r) == 0; }
};

/// What the cuts mean to do with each contour.
struct Meant {
    bool beside = false;
    plan::Side side = plan::Side::on;
    double radius = 0;    ///< mm, of the thinnest tool that cuts beside it
    double allowance = 0; ///< mm, the least that one of them leaves
};

std::vector<Meant> meaningsOf(const toolpath::Toolpath& path) {
    std::vector<Meant> meant(path.pieces ? path.pieces->contours.size() : 0);
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts) {
            if (!cut.intent.beside() || !cut.intent.contour) continue;
            auto& m = meant[*cut.intent.contour];
            m.allowance = m.beside ? std::min(m.allowance, cut.intent.allowance) : cut.intent.allowance;
            m.radius = m.beside ? std::min(m.radius, step.tool.radius()) : step.tool.radius();
            if (!m.beside) m.side = cut.intent.side;
            m.beside = true;
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
            Vec2 a = from.flat();
            flattenSegment(a, move.flat(), 0.0005, [&](Vec2 b) {
                list.push_back({a, b, step.tool.radius(), *step.cuts[cut].intent.contour});
                a = b;
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
    Material(const std::vector<plan::Contour>& contours, const std::vector<Meant>& meant) : meant_(meant) {
        std::vector<Box> boxes;
        for (std::size_t i = 0; i < contours.size(); ++i) {
            if (!meant[i].beside || !contours[i].path.closed) continue;
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
        if (!innermost || meant_[innermost->contour].side != plan::Side::outside) return std::nullopt;
        return innermost->contour;
    }

private:
    struct Ringed {
        Ring ring;
        std::size_t contour;
        int depth;
    };
    const std::vector<Meant>& meant_;
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
Unreached unreached(const plan::Contour& contour, bool opening, double radius) {
    Unreached out;
    const Rings own{flattened(wound(contour.path, true), 0.002)};
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

/// The edges that are cut beside, as straight bits, to ask which of them a tool's way comes near to.
class Edges {
public:
    Edges(const std::vector<plan::Contour>& contours, const std::vector<std::size_t>& wanted) {
        std::vector<Box> boxes;
        for (const std::size_t i : wanted) {
            const Ring ring = flattened(contours[i].path, 0.002);
            for (std::size_t k = 0; k < ring.size(); ++k) {
                bits_.push_back({ring[k], ring[(k + 1) % ring.size()], i});
                boxes.push_back(boxOf(bits_.back().a, bits_.back().b));
            }
        }
        index_ = std::make_unique<SpatialIndex>(boxes);
    }
    struct Bit {
        Vec2 a, b;
        std::size_t contour;
    };
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
bool wasAsked(const std::vector<plan::Contour>& contours, const std::vector<Meant>& meant, std::size_t cut,
              std::size_t part) {
    return meant[cut].side == plan::Side::outside && contours[cut].role == plan::Role::openings &&
           contours[cut].parent == static_cast<int>(part);
}

/// The place on a bit of an edge that a bit of a way comes nearest to.
Vec2 nearestPlace(const Edges::Bit& bit, const Reach& reach) {
    const Vec2 along = bit.b - bit.a, way = reach.b - reach.a;
    const double size2 = dot(along, along), bend = cross(along, way);
    const auto on = [&](double t) { return bit.a + along * std::clamp(t, 0.0, 1.0); };
    std::vector<Vec2> places{bit.a, bit.b};
    if (size2 > 0)
        for (const Vec2 p : {reach.a, reach.b}) places.push_back(on(dot(p - bit.a, along) / size2));
    if (bend != 0) places.push_back(on(cross(reach.a - bit.a, way) / bend));
    return *std::min_element(places.begin(), places.end(), [&](Vec2 p, Vec2 q) {
        return distanceToLine(p, reach.a, reach.b) < distanceToLine(q, reach.a, reach.b);
    });
}

/// How far one bit of a way cuts into parts over their edges, by what its radius is more than its distance; where the
/// tool's axis itself lies in the part, by what it reaches beyond.
Gouge gougeOf(const Reach& reach, const Edges& edges, const Material& material,
              const std::vector<plan::Contour>& contours, const std::vector<Meant>& meant) {
    Gouge worst;
    edges.near(boxOf(reach.a, reach.b).grown(reach.radius), [&](const Edges::Bit& bit) {
        if (wasAsked(contours, meant, reach.contour, bit.contour)) return;
        const double depth =
            reach.radius - distanceBetween(reach.a, reach.b, bit.a, bit.b) + meant[bit.contour].allowance;
        if (depth > worst.depth) worst = {depth, nearestPlace(bit, reach)};
    });
    if (worst.depth <= 0.01) return worst; // within what offsets are exact to: no need to ask where it lies
    const Vec2 middle = (reach.a + reach.b) / 2;
    if (const auto part = material.partAt(middle); part && !wasAsked(contours, meant, reach.contour, *part))
        worst.depth = std::max(worst.depth, std::min(2 * reach.radius, 2 * reach.radius - worst.depth));
    return worst;
}

/// The first cut that runs right through a part, without an edge near: a way is one piece, so one place on it tells.
Gouge slotThrough(const toolpath::Toolpath& path, const Material& material, const std::vector<Meant>& meant) {
    const auto& contours = path.pieces->contours;
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts) {
            if (!cut.intent.beside() || !cut.intent.contour) continue;
            const auto part = material.partAt(cut.centre.start);
            if (part && !wasAsked(contours, meant, *cut.intent.contour, *part))
                return {step.tool.diameter, cut.centre.start};
        }
    return {};
}

} // namespace

Result<Deviation> deviationOf(const toolpath::Toolpath& path, Progress& progress) {
    Deviation result;
    if (!path.pieces) return result;
    const auto& contours = path.pieces->contours;
    const auto meant = meaningsOf(path);
    std::vector<std::size_t> wanted;
    for (std::size_t i = 0; i < contours.size(); ++i)
        if (contours[i].path.closed && meant[i].beside) wanted.push_back(i);
    const auto list = reaches(path);
    std::vector<Box> boxes;
    boxes.reserve(list.size());
    double most = 0;
    for (const auto& reach : list) {
        boxes.push_back(boxOf(reach.a, reach.b));
        most = std::max(most, reach.radius);
    }
    const SpatialIndex index(boxes);
    const Edges edges(contours, wanted);
    const Material material(contours, meant);

    std::vector<Gouge> gouges(list.size());
    parallelFor(list.size(), progress,
                [&](std::size_t i) { gouges[i] = gougeOf(list[i], edges, material, contours, meant); });
    if (progress.cancelled()) return Problem::cancelled();
    gouges.push_back(slotThrough(path, material, meant));
    for (const auto& gouge : gouges)
        if (gouge.depth > result.cutInto) result.cutInto = gouge.depth, result.cutIntoAt = gouge.at;

    result.edges.resize(wanted.size());
    std::vector<Unreached> rest(wanted.size());
    parallelFor(wanted.size(), progress, [&](std::size_t i) {
        const auto& contour = contours[wanted[i]];
        auto& edge = result.edges[i];
        edge = {contour.item, contour.opening, samplesOf(contour.path)};
        // What is cut on the inside is an opening, whatever it is drawn as: a stencil's areas fall out.
        // What stays by intent makes the tool wider.
        const auto& m = meant[wanted[i]];
        rest[i] = unreached(contour, m.side == plan::Side::inside, m.radius + std::max(0.0, m.allowance));
        for (auto& sample : edge.samples) {
            double nearest = 1e9;
            for (const std::size_t k : index.meeting(Box{sample.at, sample.at}.grown(most * 2.5 + 0.5)))
                nearest = std::min(nearest, distanceToLine(sample.at, list[k].a, list[k].b) - list[k].radius);
            sample.miss = static_cast<float>(nearest > 1e8 ? most : nearest);
        }
    });
    if (progress.cancelled()) return Problem::cancelled();
    double biggest = 0;
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        result.unreachedArea += rest[i].area;
        result.unreachedPlaces += rest[i].places;
        if (rest[i].area > biggest) biggest = rest[i].area, result.unreachedAt = rest[i].at;
        const auto& m = meant[wanted[i]];
        for (const auto& sample : result.edges[i].samples) {
            const double miss = static_cast<double>(sample.miss) - m.allowance;
            const bool corner = miss > 0.005 && !rest[i].canReach(sample.at, m.radius + std::max(0.0, m.allowance));
            (corner ? result.corners : result.leftStanding) =
                std::max(corner ? result.corners : result.leftStanding, miss);
        }
    }
    return result;
}

} // namespace ferro::proof

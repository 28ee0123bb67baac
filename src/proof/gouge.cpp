// How far cuts go into what is to stay.
#include "proof/gouge_internal.h"

#include "base/parallel.h"

namespace ferro::proof {

namespace {

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

/// The edges that are cut beside, as straight bits, to ask which of them a tool's way comes near to.
class Edges {
public:
    struct Bit {
        Vec2 a, b;
        std::size_t contour;
        std::vector<std::size_t> within = {}; ///< of which areas that go over it on purpose
    };
    Edges(const std::vector<plan::Contour>& contours, const std::vector<std::size_t>& wanted, const Areas& areas) {
        std::vector<Box> boxes;
        const auto put = [&](Bit bit) {
            boxes.push_back(boxOf(bit.a, bit.b));
            bits_.push_back(std::move(bit));
        };
        for (const std::size_t i : wanted) {
            const Ring ring = flattened(contours[i].path, 0.002);
            const Drawn drawn(contours[i]);
            for (std::size_t k = 0; k < ring.size(); ++k) {
                const Vec2 a = ring[k], b = ring[(k + 1) % ring.size()];
                if (!drawn.has((a + b) / 2)) continue;
                const auto bounds = areas.bounds(a, b);
                for (std::size_t n = 0; n + 1 < bounds.size(); ++n)
                    if (bounds[n + 1] > bounds[n])
                        put({lerp(a, b, bounds[n]), lerp(a, b, bounds[n + 1]), i,
                             areas.goneOver(i, lerp(a, b, (bounds[n] + bounds[n + 1]) / 2))});
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

/// How far a bit of a way that grows or shrinks evenly reaches over a bit of an edge at most, and where.
Gouge overEdge(const Reach& reach, const Edges::Bit& bit) {
    const auto at = [&](double t) { return lerp(reach.a, reach.way.end, t); };
    const auto depth = [&](double t) { return reach.radiusAt(t) - distance(at(t), nearestOn(bit, at(t))); };
    // The distance to a line is convex along a way and the radius even: one summit, closed in on by golden sections.
    constexpr double golden = 0.618033988749895;
    double low = 0, high = 1;
    for (int k = 0; k < 40; ++k) {
        const double m = high - golden * (high - low), n = low + golden * (high - low);
        (depth(m) < depth(n) ? low : high) = depth(m) < depth(n) ? m : n;
    }
    const double t = (low + high) / 2;
    return {std::max({depth(t), depth(0), depth(1)}), nearestOn(bit, at(t))};
}

/// How far one bit of a way cuts into parts over their edges, by what its radius is more than its distance; where the
/// tool's axis itself lies in the part, by what it reaches beyond.
Gouge gougeOf(const Reach& reach, const Edges& edges, const Material& material,
              const std::vector<plan::Contour>& contours, const Meanings& meant) {
    Gouge worst;
    if (reach.relief) return worst;
    edges.near(reach.box().grown(reach.most()), [&](const Edges::Bit& bit) {
        if (wasAsked(contours, meant, reach.contour, bit.contour)) return;
        if (std::find(bit.within.begin(), bit.within.end(), reach.contour) != bit.within.end()) return;
        const double kept = meant.keptOff(reach, bit.contour);
        // Most come nowhere near, or just touch.
        const auto nearest = approachOf(reach.a, reach.way, bit.a, bit.b);
        if (reach.most() - nearest.apart + kept <= worst.depth) return;
        const auto over =
            reach.from == reach.to ? Gouge{reach.from - nearest.apart, nearest.onSecond} : overEdge(reach, bit);
        if (over.depth + kept > worst.depth) worst = {over.depth + kept, over.at};
    });
    if (worst.depth <= 0.01) return worst; // within what offsets are exact to: no need to ask where it lies
    const Vec2 middle = pointAt(reach.a, reach.way, 0.5);
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

Result<Gouge> worstGouge(const toolpath::Toolpath& path, const Meanings& meant, const std::vector<Reach>& ways,
                         const std::vector<std::size_t>& wanted, const Areas& areas, Progress& progress) {
    const auto& contours = path.pieces->contours;
    const Edges edges(contours, wanted, areas);
    const Material material(contours, meant);
    std::vector<Gouge> gouges(ways.size());
    parallelFor(ways.size(), progress,
                [&](std::size_t i) { gouges[i] = gougeOf(ways[i], edges, material, contours, meant); });
    if (progress.cancelled()) return Problem::cancelled();
    gouges.push_back(slotThrough(path, material, meant));
    gouges.push_back(tooDeep(path));
    Gouge worst;
    for (const auto& gouge : gouges)
        if (gouge.depth > worst.depth) worst = gouge;
    return worst;
}

} // namespace ferro::proof

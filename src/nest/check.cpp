#include "nest/check.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"

namespace ferro::nest {

namespace {

constexpr double allowed = 0.001;     ///< mm
constexpr double flattening = 0.0002; ///< mm

struct Placed {
    std::size_t placement; ///< its index; none for what is taken
    Rings rings = {};
    Box box = {};
};
Placed placedOf(std::size_t placement, const std::vector<Piece>& pieces, const Transform& by) {
    Placed made{placement};
    for (const auto& piece : pieces) {
        made.rings.push_back(flattened(transformed(piece.outline, by), flattening));
        for (const auto& opening : piece.openings)
            made.rings.push_back(flattened(transformed(opening, by), flattening));
    }
    for (const auto& ring : made.rings)
        for (const Vec2 p : ring) made.box.take(p);
    return made;
}

template<class Visit> void forEachEdge(const Rings& rings, Visit&& visit) {
    for (const auto& ring : rings)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            Box box;
            box.take(ring[i]);
            box.take(ring[(i + 1) % ring.size()]);
            visit(ring[i], ring[(i + 1) % ring.size()], box);
        }
}

struct Edges {
    std::vector<std::pair<Vec2, Vec2>> list;
    std::unique_ptr<SpatialIndex> index;

    explicit Edges(const Rings& rings) {
        std::vector<Box> boxes;
        forEachEdge(rings, [&](Vec2 a, Vec2 b, const Box& box) {
            list.emplace_back(a, b);
            boxes.push_back(box);
        });
        index = std::make_unique<SpatialIndex>(boxes);
    }
    /// The least distance of any of the rings' edges, looked for within `reach`; more than that where there is none.
    [[nodiscard]] double nearest(const Rings& rings, double reach) const {
        double least = reach + 1;
        forEachEdge(rings, [&](Vec2 a, Vec2 b, const Box& box) {
            for (const std::size_t k : index->meeting(box.grown(reach)))
                least = std::min(least, distanceBetween(a, b, list[k].first, list[k].second));
        });
        return least;
    }
};

/// How deep the deepest point of one area's edge, or right behind it, lies within another; 0: none does.
double depthIn(const Rings& rings, const Rings& other, const Edges& edgesOfOther, bool behind) {
    double deepest = 0;
    forEachEdge(rings, [&](Vec2 a, Vec2 b, const Box&) {
        const Vec2 middle = lerp(a, b, 0.5), off = perpendicular(unit(b - a)) * (3 * allowed);
        for (const Vec2 p : {a, middle, middle + off, middle - off})
            if ((p == a || p == middle || (behind && contains(rings, p))) && contains(other, p))
                deepest = std::max(deepest, edgesOfOther.nearest({{p}}, 2));
    });
    return deepest;
}

} // namespace

std::vector<Fault> faultsOf(const std::vector<Part>& parts, const std::vector<Sheet>& sheets, const Settings& settings,
                            const Layout& layout) {
    std::vector<Fault> faults;
    std::vector<int> counts(parts.size(), 0);
    for (const auto& left : layout.left)
        if (left.part < parts.size()) counts[left.part] += left.count;
    std::vector<std::vector<Placed>> on(sheets.size());
    for (std::size_t i = 0; i < layout.placed.size(); ++i) {
        const auto& [part, sheet, t] = layout.placed[i];
        if (part >= parts.size() || sheet >= sheets.size()) {
            faults.push_back({"A placement names a part or a sheet that is not there.", sheet, {i}});
            continue;
        }
        ++counts[part];
        const double turned = t.a * t.d - t.b * t.c;
        if (std::abs(std::abs(turned) - 1) > 1e-9 || std::abs(t.a * t.a + t.b * t.b - 1) > 1e-9)
            faults.push_back({"A part is stretched.", sheet, {i}});
        if (turned < 0 && !parts[part].mirror) faults.push_back({"A part lies face down that may not.", sheet, {i}});
        if (const double step = parts[part].turnStep; step > 0) {
            // Face down it is turned as its mirror image is.
            const double angle = positiveAngle(turned < 0 ? std::atan2(-t.b, -t.a) : std::atan2(t.b, t.a));
            const double off = std::abs(angle - std::round(angle / std::min(step, 2 * pi)) * std::min(step, 2 * pi));
            if (off > 1e-6) faults.push_back({"A part is turned as it may not be.", sheet, {i}});
        }
        on[sheet].push_back(placedOf(i, parts[part].pieces, t));
    }
    for (std::size_t p = 0; p < parts.size(); ++p)
        if (counts[p] != parts[p].quantity)
            faults.push_back(
                {fmt::format("Part {} is there {} times and not {}.", p + 1, counts[p], parts[p].quantity), 0, {}});
    constexpr std::size_t none = ~std::size_t{0};
    for (std::size_t s = 0; s < sheets.size(); ++s) {
        Rings sheet{flattened(sheets[s].area.outline, flattening)};
        for (const auto& opening : sheets[s].area.openings) sheet.push_back(flattened(opening, flattening));
        const Edges sheetEdges(sheet);
        auto all = std::move(on[s]);
        const std::size_t placed = all.size();
        for (const auto& taken : sheets[s].taken) all.push_back(placedOf(none, {taken}, {}));
        std::vector<Edges> edges;
        for (const auto& one : all) edges.emplace_back(one.rings);
        for (std::size_t i = 0; i < placed; ++i) {
            const auto& one = all[i];
            const double reach = settings.margin + 1;
            const bool within =
                contains(sheet, one.rings[0][0]) || sheetEdges.nearest({{one.rings[0][0]}}, reach) < allowed;
            bool outside = !within || (settings.margin >= allowed &&
                                       sheetEdges.nearest(one.rings, reach) < settings.margin - allowed);
            if (settings.margin < allowed) { // edge to edge: its points decide, and the sheet's
                for (const auto& ring : one.rings)
                    for (const Vec2 p : ring) outside |= !contains(sheet, p) && sheetEdges.nearest({{p}}, 1) > allowed;
                outside |= depthIn(sheet, one.rings, edges[i], false) > allowed;
            }
            if (outside) faults.push_back({"A part lies beyond the sheet's margin.", s, {one.placement}});
            for (std::size_t j = i + 1; j < all.size(); ++j) {
                if (!one.box.grown(settings.spacing + allowed).meets(all[j].box)) continue;
                const double apart = edges[i].nearest(all[j].rings, settings.spacing + allowed);
                bool wrong = apart < settings.spacing - allowed;
                if (!wrong) // one within the other, or a hair into it
                    wrong = depthIn(all[j].rings, one.rings, edges[i], true) > allowed ||
                            depthIn(one.rings, all[j].rings, edges[j], true) > allowed;
                if (!wrong) continue;
                Fault fault{apart < settings.spacing - allowed && settings.spacing > 0
                                ? fmt::format("Parts lie {:.3f} mm apart and not {:.3f}.", apart, settings.spacing)
                                : "Parts overlap.",
                            s,
                            {one.placement}};
                if (j < placed) fault.placements.push_back(all[j].placement);
                faults.push_back(std::move(fault));
            }
        }
    }
    return faults;
}

} // namespace ferro::nest

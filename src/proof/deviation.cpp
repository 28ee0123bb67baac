// What stands beside the edges when all is cut, and what is reached of them.
#include "proof/deviation.h"

#include "base/kept.h"
#include "base/parallel.h"
#include "geometry/polygons.h"
#include "proof/gouge_internal.h"
#include "proof/slits_internal.h"

namespace ferro::proof {

namespace {

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

/// Where a tool of some radius can go with its axis beside an edge, and what it leaves in corners.
struct Unreached {
    Rings axes;
    double area = 0;
    std::size_t places = 0;
    Vec2 at;
};
Unreached unreached(const Rings& own, bool opening, double radius, const Rings& relieved) {
    Unreached out;
    const OffsetOptions fine{.tolerance = 0.004};
    auto there = offset(own, opening ? -radius : radius, fine);
    if (!there) return out;
    out.axes = std::move(*there);
    auto back = offset(out.axes, opening ? radius : -radius, fine);
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

/// Asks of places on an edge whether a tool can touch them, whose axis can go where it says.
class Touch {
public:
    explicit Touch(const Rings& axes) {
        std::vector<Box> boxes;
        for (const auto& ring : axes)
            for (std::size_t i = 0; i < ring.size(); ++i) {
                const auto& [a, b] = edges_.emplace_back(ring[i], ring[(i + 1) % ring.size()]);
                boxes.push_back(boxOf(a, b));
            }
        index_.emplace(boxes);
    }
    [[nodiscard]] bool touches(Vec2 p, double radius) const {
        for (const std::size_t k : index_->meeting(Box{p, p}.grown(radius + 0.006)))
            if (distanceToLine(p, edges_[k].first, edges_[k].second) <= radius + 0.006) return true;
        return false;
    }

private:
    std::vector<std::pair<Vec2, Vec2>> edges_;
    std::optional<SpatialIndex> index_;
};

/// One edge by one kind of walls.
struct Wall {
    std::size_t contour;
    bool slants;
    Deviation::Edge edge = {};
    std::shared_ptr<const Unreached> rest = {};
    double left = 0, corners = 0; ///< mm, largest where the tool can reach, and where it cannot
};

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

} // namespace

Result<Deviation> deviationOf(const toolpath::Toolpath& path, Progress& progress, Kept* kept) {
    if (!path.blanks.empty()) return deviationOf(toolpath::onFirstBlank(path), progress, kept); // the others are alike
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
        boxes.push_back(reach.box());
        most = std::max(most, reach.most());
    }
    const SpatialIndex index(boxes);
    const Areas areas(contours, meant);
    const auto gouge = worstGouge(path, meant, list, wanted, areas, progress);
    if (!gouge) return gouge.problem();
    result.cutInto = gouge->depth, result.cutIntoAt = gouge->at;

    std::vector<Wall> walls;
    for (const std::size_t i : wanted)
        for (const bool slants : {false, true})
            if (meant.of(i, slants).beside) walls.push_back({i, slants});
    std::vector<Rings> relieved(contours.size()); // what the tool covers on each relief
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts)
            for (const auto& [from, to] : cut.intent.reliefs)
                if (const auto swept = widened({{from, to}}, false, step.tool.diameter, Cap::round))
                    relieved[*cut.intent.contour].insert(relieved[*cut.intent.contour].end(), swept->begin(),
                                                         swept->end());
    parallelFor(walls.size(), progress, [&](std::size_t i) {
        auto& wall = walls[i];
        const auto& contour = contours[wall.contour];
        wall.edge = {contour.item, contour.opening, samplesOf(contour.path)};
        auto& samples = wall.edge.samples;
        std::erase_if(samples, [drawn = Drawn(contour)](const auto& sample) { return !drawn.has(sample.at); });
        // What is cut on the inside is an opening, whatever it is drawn as: a stencil's areas fall out.
        // What stays by intent makes the tool wider.
        const auto& m = meant.of(wall.contour, wall.slants);
        const Rings own = edgesRound(contours, meant, wall.contour, wall.slants);
        const bool opening = m.side == plan::Side::inside || own.size() > 1;
        const double radius = m.unreachedBy();
        wall.rest = Kept::of(kept, KeptKey(own, opening, radius, relieved[wall.contour]),
                             [&] { return unreached(own, opening, radius, relieved[wall.contour]); });
        std::optional<Touch> touch;
        for (auto& sample : samples) {
            const auto gone = areas.goneOver(wall.contour, sample.at);
            const auto nearestWithin = [&](double far) {
                double nearest = 1e9;
                for (const std::size_t k : index.meeting(Box{sample.at, sample.at}.grown(far)))
                    if (list[k].slanted == wall.slants &&
                        std::find(gone.begin(), gone.end(), list[k].contour) == gone.end())
                        nearest = std::min(nearest, list[k].missOf(sample.at));
                return nearest;
            };
            // What lies further off than the widest tool and a bit misses by more than that bit.
            constexpr double bit = 0.1;
            double nearest = nearestWithin(most + bit);
            if (nearest > bit) nearest = nearestWithin(most * 2.5 + 0.5);
            sample.miss = static_cast<float>(nearest > 1e8 ? most : nearest);
            const double miss = static_cast<double>(sample.miss) - m.allowance;
            if (miss > 0.005 && !touch && !wall.rest->axes.empty()) touch.emplace(wall.rest->axes);
            const bool corner = miss > 0.005 && touch && !touch->touches(sample.at, radius);
            auto& worst = corner ? wall.corners : wall.left;
            worst = std::max(worst, miss);
        }
    });
    if (progress.cancelled()) return Problem::cancelled();
    double biggest = 0;
    for (auto& wall : walls) {
        const auto& m = meant.of(wall.contour, wall.slants);
        // What is meant to stand in the end: not what another step leaves less of, or a bevel takes.
        const auto& other = meant.of(wall.contour, !wall.slants);
        const bool final = m.allowance >= 0 && (!other.beside || other.allowance < 0 || m.allowance <= other.allowance);
        const bool island = m.ofArea && m.side == plan::Side::outside; // told with the area that it stands in
        if (final && !island) {
            result.unreachedArea += wall.rest->area;
            result.unreachedPlaces += wall.rest->places;
            if (wall.rest->area > biggest) biggest = wall.rest->area, result.unreachedAt = wall.rest->at;
        }
        result.corners = std::max(result.corners, wall.corners);
        result.leftStanding = std::max(result.leftStanding, wall.left);
        if (final) result.edges.push_back(std::move(wall.edge));
    }
    return result;
}

} // namespace ferro::proof

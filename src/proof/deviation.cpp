#include "proof/deviation.h"

#include "base/parallel.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/polygons.h"
#include "geometry/spatial.h"

#include <set>

namespace ferro::proof {

namespace {

struct Reach {
    Vec2 a, b;
    double radius;
};

/// The ways of all tools that cut beside lines, at the height of the stock's top or below.
std::vector<Reach> reaches(const job::Job& job, const toolpath::Toolpath& path) {
    std::vector<Reach> list;
    toolpath::forEachMove(
        path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from, const toolpath::Move& move) {
            const auto* source = plan::find(job.plan, step.step);
            if (step.kind != plan::StepKind::outline || !source || source->side == plan::Side::on ||
                move.kind == toolpath::Move::Kind::rapid)
                return;
            // Tabs are meant to stand: where the beam is off on a feed move, and where a cutter is lifted, counts as
            // reached.
            if (!path.laser && std::min(from.z, move.to.z) >= 0) return;
            const double radius = step.tool.radiusAt(1e9) + 0;
            Vec2 a = from.flat();
            flattenSegment(a, move.flat(), 0.0005, [&](Vec2 b) {
                list.push_back({a, b, radius});
                a = b;
            });
        });
    return list;
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

} // namespace

Result<Deviation> deviationOf(const job::Job& job, const toolpath::Toolpath& path, Progress& progress) {
    Deviation result;
    const auto list = reaches(job, path);
    std::vector<Box> boxes;
    boxes.reserve(list.size());
    double most = 0;
    for (const auto& reach : list) {
        Box box;
        box.take(reach.a);
        box.take(reach.b);
        boxes.push_back(box);
        most = std::max(most, reach.radius);
    }
    const SpatialIndex index(boxes);
    const auto contours = plan::contoursOf(job.plan, *job.artwork);
    std::set<std::pair<artwork::ItemId, int>> cut;
    std::map<std::pair<artwork::ItemId, int>, double> radiusOf;
    std::map<std::pair<artwork::ItemId, int>, plan::Side> sideOf;
    for (const auto& step : path.steps) {
        const auto* source = plan::find(job.plan, step.step);
        if (step.kind != plan::StepKind::outline || !source || source->side == plan::Side::on) continue;
        for (const auto& c : step.cuts) {
            cut.insert({c.item, c.opening});
            sideOf[{c.item, c.opening}] = source->side;
            auto& r = radiusOf[{c.item, c.opening}];
            r = r == 0 ? step.tool.radius() : std::min(r, step.tool.radius());
        }
    }
    std::vector<const plan::Contour*> wanted;
    for (const auto& contour : contours)
        if (contour.path.closed && cut.contains({contour.item, contour.opening})) wanted.push_back(&contour);
    result.edges.resize(wanted.size());
    std::vector<Unreached> rest(wanted.size());
    parallelFor(wanted.size(), progress, [&](std::size_t i) {
        const auto& contour = *wanted[i];
        const Ring ring = flattened(contour.path, 0.002);
        auto& edge = result.edges[i];
        edge = {contour.item, contour.opening, samplesOf(contour.path)};
        // What is cut on the inside is an opening, whatever it is drawn as: a stencil's areas fall out.
        const plan::Side side = sideOf.at({contour.item, contour.opening});
        const bool opening =
            side == plan::Side::automatic ? contour.role == plan::Role::openings : side == plan::Side::inside;
        rest[i] = unreached(contour, opening, radiusOf.at({contour.item, contour.opening}));
        for (auto& sample : edge.samples) {
            double nearest = 1e9;
            bool inPart = false;
            for (const std::size_t k : index.meeting(Box{sample.at, sample.at}.grown(most * 2.5 + 0.5))) {
                const double d = distanceToLine(sample.at, list[k].a, list[k].b) - list[k].radius;
                if (d >= nearest) continue;
                nearest = d;
                // A tool whose axis is on the part's side has eaten its whole radius and more.
                inPart = contains(ring, (list[k].a + list[k].b) / 2) != opening;
                if (inPart && d + list[k].radius > 1e-6) nearest = -(d + 2 * list[k].radius);
            }
            sample.miss = static_cast<float>(nearest > 1e8 ? most : nearest);
        }
    });
    if (progress.cancelled()) return Problem::cancelled();
    double biggest = 0;
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        result.unreachedArea += rest[i].area;
        result.unreachedPlaces += rest[i].places;
        if (rest[i].area > biggest) biggest = rest[i].area, result.unreachedAt = rest[i].at;
        const double allowance = [&] {
            for (const auto& step : path.steps)
                for (const auto& c : step.cuts)
                    if (c.item == wanted[i]->item && c.opening == wanted[i]->opening) {
                        const auto* source = plan::find(job.plan, step.step);
                        return source ? source->allowance : 0.0;
                    }
            return 0.0;
        }();
        for (const auto& sample : result.edges[i].samples) {
            const double miss = static_cast<double>(sample.miss) - allowance;
            if (-miss > result.cutInto) result.cutInto = -miss, result.cutIntoAt = sample.at;
            const bool corner =
                miss > 0.005 && !rest[i].canReach(sample.at, radiusOf.at({wanted[i]->item, wanted[i]->opening}));
            (corner ? result.corners : result.leftStanding) =
                std::max(corner ? result.corners : result.leftStanding, miss);
        }
    }
    return result;
}

} // namespace ferro::proof

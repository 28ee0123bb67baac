#include "proof/meant_internal.h"

#include "base/hash.h"

#include <unordered_set>

namespace ferro::proof {

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

namespace {
struct PlaceHash {
    std::size_t operator()(const Reach& r) const {
        return static_cast<std::size_t>(Hash()(r.a.x)(r.a.y)(r.way.end.x)(r.way.end.y).value());
    }
};
} // namespace

std::vector<Reach> reaches(const toolpath::Toolpath& path) {
    std::vector<Reach> list;
    std::unordered_set<Reach, PlaceHash> ofCut; // its passes go the same way again
    toolpath::Vec3 at = path.start;
    for (const auto& step : path.steps) {
        std::size_t cut = 0;
        ofCut.clear();
        for (std::size_t i = 0; i < step.moves.size(); ++i) {
            const auto& move = step.moves[i];
            const auto from = std::exchange(at, move.to);
            for (; cut < step.cuts.size() && i >= step.cuts[cut].end; ++cut) ofCut.clear();
            if (cut == step.cuts.size() || !step.cuts[cut].intent.beside() || !step.cuts[cut].intent.contour ||
                move.kind == toolpath::Move::Kind::rapid)
                continue;
            // Tabs are meant to stand: where the beam is off on a feed move, and where a cutter is lifted, counts as
            // reached.
            if (!path.byBeam() && std::min(from.z, move.to.z) >= 0) continue;
            const auto& tool = step.tool;
            const bool flat = !path.turns() || tool.kind == shop::ToolKind::endMill;
            const auto radiusAt = [&](double z) { return flat ? tool.radius() : tool.radiusAt(std::max(0.0, -z)); };
            const Segment way = move.flat();
            const auto& reliefs = step.cuts[cut].intent.reliefs;
            const bool meant = std::any_of(reliefs.begin(), reliefs.end(), [&](const auto& relief) {
                return distanceToLine(from.flat(), relief.first, relief.second) < 1e-6 &&
                       distanceToLine(move.to.flat(), relief.first, relief.second) < 1e-6;
            });
            const auto put = [&](Vec2 a, const Segment& bit, double begin, double end) {
                const Reach reach{a, bit, begin, end, *step.cuts[cut].intent.contour, tool.isPointed(), meant};
                if (ofCut.insert(reach).second) list.push_back(reach);
            };
            const double begin = radiusAt(from.z), end = radiusAt(move.to.z);
            if (begin == end) {
                put(from.flat(), way, begin, end);
                continue;
            }
            Vec2 a = from.flat();
            const double whole = lengthOf(a, way);
            double radius = begin, done = 0;
            flattenSegment(a, way, 0.0005, [&](Vec2 b) {
                done += distance(a, b);
                const double there = radiusAt(whole > 0 ? from.z + (move.to.z - from.z) * std::min(1.0, done / whole)
                                                        : std::min(from.z, move.to.z));
                put(a, Segment::line(b), whole > 0 ? radius : there, there);
                a = b;
                radius = there;
            });
        }
    }
    std::sort(list.begin(), list.end());
    list.erase(std::unique(list.begin(), list.end()), list.end());
    return list;
}

} // namespace ferro::proof

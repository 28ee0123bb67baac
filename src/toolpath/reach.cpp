#include "toolpath/reach.h"

#include "base/parallel.h"
#include "geometry/area_axis.h"
#include "geometry/flatten.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"
#include "toolpath/open_sides_internal.h"

#include <set>

namespace ferro::toolpath {

namespace {

constexpr double hair = 0.01; ///< mm: half of what is too thin to be told of
constexpr OffsetOptions fine{.tolerance = 0.004};

/// What a step is to come up to, with what its tool gets to of it.
struct Aimed {
    std::size_t step = 0; ///< among those asked about
    Aim aim;
    double bottom = 0;
    std::vector<artwork::ItemId> of;
    Rings reached, left;
};

Result<void> work(Aimed& one) {
    Rings edges;
    for (const auto& edge : one.aim.edges) edges.push_back(flattened(edge, sampling));
    // Round a part the tool is outside of its edge; all else is the same with the signs the other way.
    const double off = one.aim.outside ? one.aim.keepsOff : -one.aim.keepsOff;
    const double wall = one.aim.outside ? one.aim.allowance : -one.aim.allowance;
    const auto asked = offset(edges, wall, fine);
    if (!asked) return asked.problem();
    const auto axis = offset(edges, off + wall, fine);
    if (!axis) return axis.problem();
    auto back = offset(*axis, -off, fine);
    if (!back) return back.problem();
    const auto rest =
        one.aim.outside ? combined(*back, *asked, Combine::takeAway) : combined(*asked, *back, Combine::takeAway);
    if (!rest) return rest.problem();
    // Slivers along curves are the offsets' tolerance.
    const auto thick = offset(*rest, -hair, fine);
    if (!thick) return thick.problem();
    auto left = offset(*thick, hair, fine);
    if (!left) return left.problem();
    one.left = std::move(*left);
    if (!one.aim.outside) one.reached = std::move(*back);
    return {};
}

std::vector<Unreached> placesOf(const Rings& left, const std::vector<artwork::ItemId>& of) {
    std::vector<Path> paths;
    for (const auto& ring : left) paths.push_back(pathOf(ring, true));
    std::vector<Unreached> places;
    for (const auto& piece : nested(std::move(paths))) {
        Unreached place;
        std::vector<Path> edges{wound(piece.outline, true)};
        for (const auto& opening : piece.openings) edges.push_back(wound(opening, false));
        for (const auto& edge : edges) {
            place.square += areaOf(edge);
            place.area.push_back(flattened(edge, hair));
        }
        const auto disc = largestDisc(edges);
        place.at = disc.centre, place.thickest = 2 * disc.radius;
        place.of = of;
        if (place.thickest >= 2 * hair) places.push_back(std::move(place));
    }
    return places;
}

std::vector<Aimed> aimsAt(const job::Job& job, const std::vector<plan::StepId>& steps, const plan::Pieces& pieces) {
    const Keepout nothing({}, {});
    const std::vector<StepMoves> none;
    std::vector<Aimed> all;
    for (std::size_t s = 0; s < job.plan.steps.size(); ++s) {
        const auto& step = job.plan.steps[s];
        const auto asked = std::find(steps.begin(), steps.end(), step.id);
        const auto* tool = job::toolOf(job, step);
        if (asked == steps.end() || !tool || tool->process() != shop::Process::rotary) continue;
        const StepWork work{job, step, *tool, pieces.contours, pieces.taken[s], nothing, none, 0};
        auto aims = std::visit([&](const auto& settings) { return aimsOf(work, settings); }, step.settings);
        const auto* depth = plan::depthIn(step);
        for (auto& aim : aims) {
            Aimed one;
            one.step = static_cast<std::size_t>(asked - steps.begin());
            for (const std::size_t c : aim.contours) one.of.push_back(pieces.contours[c].item);
            std::sort(one.of.begin(), one.of.end());
            one.of.erase(std::unique(one.of.begin(), one.of.end()), one.of.end());
            one.bottom = depth ? plan::bottomOf(*depth, job.sheet().stock.thickness) : 0;
            one.aim = std::move(aim);
            all.push_back(std::move(one));
        }
    }
    return all;
}

/// Takes away what other steps get to. Outlines leave no area to compare, and two of them on one edge are one place:
/// the one that leaves less of it is what counts.
Result<void> lessOthers(std::vector<Aimed>& all) {
    for (auto& one : all) {
        if (one.left.empty()) continue;
        Rings others;
        for (const auto& other : all)
            if (other.step != one.step && other.bottom >= one.bottom - 1e-6)
                others.insert(others.end(), other.reached.begin(), other.reached.end());
        if (others.empty()) continue;
        auto less = combined(one.left, others, Combine::takeAway);
        if (less) less = offset(*less, -hair, fine);
        if (less) less = offset(*less, hair, fine);
        if (!less) return less.problem();
        one.left = std::move(*less);
    }
    const auto squareOf = [](const Rings& rings) {
        double sum = 0;
        for (const auto& ring : rings) sum += areaOf(ring);
        return sum;
    };
    std::map<std::pair<std::vector<std::size_t>, bool>, std::size_t> best;
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto [seen, fresh] = best.try_emplace({all[i].aim.contours, all[i].aim.outside}, i);
        if (fresh) continue;
        auto& before = all[seen->second];
        const bool less = squareOf(all[i].left) < squareOf(before.left);
        (less ? before : all[i]).left.clear();
        if (less) seen->second = i;
    }
    return {};
}

} // namespace

Result<Reach> reachOf(const job::Job& job, const std::vector<plan::StepId>& steps, Progress& progress,
                      const std::vector<artwork::ItemId>& touching) {
    for (const auto id : steps)
        if (!plan::find(job.plan, id))
            return Problem{.what = fmt::format("There is no step {}.", id.value), .where = {}, .mend = {}};
    std::vector<Snag> told; // by the toolpath
    const auto pieces = opened(job, plan::piecesOf(job.plan, *job.artwork, job.tools), told);
    auto all = aimsAt(job, steps, pieces);
    if (!touching.empty()) {
        const std::set<artwork::ItemId> wanted(touching.begin(), touching.end());
        std::erase_if(all, [&](const Aimed& one) {
            return std::none_of(one.of.begin(), one.of.end(), [&](auto id) { return wanted.contains(id); });
        });
    }
    std::vector<std::optional<Problem>> problems(all.size());
    parallelFor(all.size(), progress, [&](std::size_t i) {
        if (auto done = work(all[i]); !done) problems[i] = done.problem();
    });
    if (progress.cancelled()) return Problem::cancelled();
    for (const auto& problem : problems)
        if (problem) return *problem;
    if (auto less = lessOthers(all); !less) return less.problem();
    std::vector<std::vector<Unreached>> each(all.size());
    parallelFor(all.size(), progress, [&](std::size_t i) { each[i] = placesOf(all[i].left, all[i].of); });
    if (progress.cancelled()) return Problem::cancelled();
    std::vector<Unreached> places;
    for (auto& some : each) std::move(some.begin(), some.end(), std::back_inserter(places));
    return reachOf(std::move(places));
}

Reach reachOf(std::vector<Unreached> places) {
    Reach reach;
    reach.places = std::move(places);
    std::stable_sort(reach.places.begin(), reach.places.end(),
                     [](const Unreached& a, const Unreached& b) { return a.thickest > b.thickest; });
    for (const auto& place : reach.places) {
        reach.square += place.square;
        reach.thickest = std::max(reach.thickest, place.thickest);
    }
    return reach;
}

} // namespace ferro::toolpath

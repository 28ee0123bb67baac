#include "toolpath/open_sides_internal.h"

#include "geometry/flatten.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"

namespace ferro::toolpath {

namespace {

constexpr double film = 0.1; ///< mm: what is as thin as twice this between an area and an edge is meant to go

/// How far beyond an edge an area goes on: the tool comes right off it, with room to go in.
double beyondFor(const shop::Tool& tool) { return 2.2 * tool.radius() + 1; }

double squareOf(const Rings& rings) {
    double sum = 0;
    for (const auto& ring : rings) sum += areaOf(ring);
    return sum;
}

class Opener {
public:
    Opener(const job::Job& job, const plan::Pieces& pieces) {
        const Piece blank = job::blankOf(job.sheet().stock);
        blank_.push_back(flattened(wound(blank.outline, true), sampling));
        for (const auto& opening : blank.openings) blank_.push_back(flattened(wound(opening, false), sampling));
        for (std::size_t s = 0; s < job.plan.steps.size(); ++s) {
            const auto& step = job.plan.steps[s];
            if (!step.enabled || !plan::kindOf(step).freesParts) continue;
            for (const std::size_t c : pieces.taken[s])
                if (const auto& contour = pieces.contours[c];
                    contour.path.closed && contour.role == plan::Role::outerEdges)
                    parts_.push_back(flattened(wound(contour.path, true), sampling));
        }
    }

    /// The outline carried on beyond the edges that it reaches; none: it reaches none.
    [[nodiscard]] Result<std::optional<Path>> outlineOf(const Path& path, double beyond, plan::Rim rim) const {
        const Rings area{flattened(wound(path, true), sampling)};
        const auto solid = rim == plan::Rim::part ? solidRound(area) : Result<Rings>(blank_);
        if (!solid) return solid.problem();
        auto grown = offset(area, beyond);
        auto air = grown ? combined(*grown, *solid, Combine::takeAway) : grown;
        auto all = air ? combined(area, *air, Combine::join) : air;
        if (all) all = withoutFilm(*all, *solid);
        if (!all) return all.problem();
        std::vector<Path> paths;
        for (const auto& ring : *all) paths.push_back(pathOf(ring, true));
        for (const auto& piece : nested(std::move(paths))) {
            const Rings own{flattened(wound(piece.outline, true), sampling)};
            const auto common = combined(own, area, Combine::overlap);
            if (!common) return common.problem();
            if (squareOf(*common) < 0.5 * squareOf(area)) continue;
            if (squareOf(own) < squareOf(area) + 1e-3) return std::optional<Path>{};
            if (!piece.openings.empty())
                return Problem{.what = "What lies beyond its open sides would close round something that stands: it is "
                                       "cleared with walls there.",
                               .where = {},
                               .mend = "Split the area, or set the blank's edge to a wall."};
            auto outline = offsetPaths(own, 0);
            if (!outline) return outline.problem();
            if (outline->size() == 1) return std::optional(wound(outline->front(), areaOf(path) > 0));
        }
        return std::optional<Path>{};
    }

private:
    /// All parts on the blank, for an area that lies in one of them: beyond is waste. One that lies in none is bounded
    /// by its own walls, and only the blank's edge is open.
    [[nodiscard]] Result<Rings> solidRound(const Rings& area) const {
        auto parts = parts_.empty() ? Result<Rings>(Rings{}) : combined(parts_, {}, Combine::join);
        const auto common = parts && !parts->empty() ? combined(*parts, area, Combine::overlap) : parts;
        if (!common) return common;
        if (squareOf(*common) < 0.5 * squareOf(area)) return blank_;
        return combined(*parts, blank_, Combine::overlap);
    }
    /// Joined over what is thinner than a film beside an edge, and only there.
    static Result<Rings> withoutFilm(const Rings& rings, const Rings& solid) {
        auto closed = offset(rings, film);
        if (closed) closed = offset(*closed, -film);
        if (closed) closed = combined(*closed, rings, Combine::takeAway);
        if (!closed) return closed;
        const auto inner = offset(solid, -1.5 * film);
        if (!inner) return inner;
        const auto rim = combined(solid, *inner, Combine::takeAway);
        const auto gaps = rim ? combined(*closed, *rim, Combine::overlap) : rim;
        return gaps ? combined(rings, *gaps, Combine::join) : gaps;
    }

    Rings blank_, parts_;
};

} // namespace

plan::Pieces opened(const job::Job& job, plan::Pieces pieces, std::vector<Snag>& snags) {
    std::vector<std::vector<std::size_t>> takers(pieces.contours.size()); // enabled steps
    bool any = false;
    for (std::size_t s = 0; s < job.plan.steps.size(); ++s) {
        const auto* clear = plan::as<plan::Clear>(job.plan.steps[s]);
        any = any || (clear && job.plan.steps[s].enabled && clear->rim != plan::Rim::wall);
        if (job.plan.steps[s].enabled)
            for (const std::size_t c : pieces.taken[s]) takers[c].push_back(s);
    }
    if (!any) return pieces;
    const Opener opener(job, pieces);
    auto out = pieces;
    for (std::size_t c = 0; c < pieces.contours.size(); ++c) {
        const auto& contour = pieces.contours[c];
        if (takers[c].empty() || !contour.path.closed) continue;
        plan::Rim rim = plan::Rim::wall;
        double beyond = 0;
        bool shared = false;
        const plan::Step* by = nullptr;
        for (const std::size_t s : takers[c]) {
            const auto& step = job.plan.steps[s];
            const auto* clear = plan::as<plan::Clear>(step);
            const auto* tool = job::toolOf(job, step);
            shared = shared || !clear || clear->rim == plan::Rim::wall || (by && clear->rim != rim);
            if (!clear || clear->rim == plan::Rim::wall || !tool) continue;
            const auto& mine = pieces.taken[s];
            int depth = 0; // what stands in an area is not one
            for (int up = contour.parent; up >= 0; up = pieces.contours[static_cast<std::size_t>(up)].parent)
                depth += std::binary_search(mine.begin(), mine.end(), static_cast<std::size_t>(up));
            if (depth % 2) continue;
            rim = clear->rim, by = &step;
            beyond = std::max(beyond, beyondFor(*tool));
        }
        if (!by) continue;
        const auto outline = opener.outlineOf(contour.path, beyond, rim);
        const auto tell = [&](const Problem& problem) {
            snags.push_back(
                {Verdict::look, by->id, contour.item, boundsOf(contour.path).centre(), problem.what, problem.mend});
        };
        if (!outline) {
            tell(outline.problem());
        } else if (*outline && shared) {
            tell({.what = "Another step follows the outline of this area, so it is not cleared beyond its open sides.",
                  .where = {},
                  .mend = "Give the other step another outline, or set the blank's edge to a wall."});
        } else if (*outline) {
            out.contours[c].drawn = std::exchange(out.contours[c].path, **outline);
        }
    }
    return out;
}

} // namespace ferro::toolpath

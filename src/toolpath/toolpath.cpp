#include "toolpath/toolpath.h"

#include "base/parallel.h"
#include "toolpath/work_internal.h"

namespace ferro::toolpath {

namespace {

/// Drills, then lines, then outlines with the deepest nesting first; otherwise as listed. By hand: as listed.
std::vector<std::size_t> stepOrder(const plan::Plan& plan, const std::vector<plan::Contour>& contours,
                                   const std::vector<std::vector<std::size_t>>& taken) {
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < plan.steps.size(); ++i)
        if (plan.steps[i].enabled) order.push_back(i);
    if (plan.order == plan::Order::byHand) return order;
    const auto key = [&](std::size_t i) {
        if (plan.steps[i].kind == plan::StepKind::drill) return -2'000'000;
        if (plan.steps[i].kind == plan::StepKind::scribe) return -1'000'000;
        int shallowest = 1'000'000;
        for (const std::size_t c : taken[i]) shallowest = std::min(shallowest, contours[c].depth);
        return -shallowest;
    };
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return key(a) < key(b); });
    return order;
}

} // namespace

Result<Toolpath> toolpathOf(const job::Job& job, Progress& progress) {
    Toolpath path;
    path.laser = job.machine.kind == shop::MachineKind::laser;
    path.travel = job::travelHeight(job);
    path.start = {job::zeroOf(job.stock).at.x, job::zeroOf(job.stock).at.y, path.laser ? 0 : path.travel};
    const auto contours = plan::contoursOf(job.plan, *job.artwork);
    const auto taken = plan::takenBy(job.plan, contours, job.tools);
    const auto order = stepOrder(job.plan, contours, taken);
    std::vector<char> edges(contours.size(), 0);
    for (std::size_t s = 0; s < taken.size(); ++s)
        if (job.plan.steps[s].kind == plan::StepKind::outline)
            for (const std::size_t c : taken[s]) edges[c] = contours[c].path.closed;
    const Keepout keepout(contours, edges);

    // Planning an outline (offsets, tabs, leads) is independent of the others; only linking them needs an order.
    Vec2 at = path.start.flat();
    const shop::Tool* last = nullptr;
    for (std::size_t n = 0; n < order.size(); ++n) {
        const auto& step = job.plan.steps[order[n]];
        const auto* tool = job::toolOf(job, step);
        if (!tool) {
            path.snags.push_back({Snag::Weight::noGo,
                                  step.id,
                                  {},
                                  {},
                                  fmt::format("Step “{}” has no tool.", step.name),
                                  "Choose one in Cuts."});
            continue;
        }
        const StepWork work{job, step, *tool, contours, keepout, path.travel, path.laser};
        if (!canDo(work, path.snags)) continue;
        const auto& mine = taken[order[n]];
        std::vector<Planned> planned(mine.size());
        parallelFor(mine.size(), progress, [&](std::size_t i) { planned[i] = plannedCut(work, contours[mine[i]]); });
        if (progress.cancelled()) return Problem::cancelled();
        StepMoves moves{.step = step.id,
                        .name = step.name,
                        .kind = step.kind,
                        .tool = *tool,
                        .spindle = path.laser ? 0 : step.spindle,
                        .spinUp = path.laser ? 0.0 : 2.0,
                        .toolChange = last && last->key != tool->key,
                        .moves = {},
                        .cuts = {}};
        for (auto& p : planned)
            for (auto& snag : p.snags) path.snags.push_back(std::move(snag));
        std::vector<Loop> loops;
        for (auto& p : planned)
            for (auto& loop : p.loops) loops.push_back(std::move(loop));
        for (const std::size_t i : workOrder(loops, at)) {
            writeLoop(work, loops[i], moves);
            if (!moves.moves.empty()) at = moves.moves.back().to.flat();
        }
        if (mine.empty())
            path.snags.push_back({Snag::Weight::look,
                                  step.id,
                                  {},
                                  {},
                                  fmt::format("Step “{}” takes no piece.", step.name),
                                  "Change its rule, or remove it."});
        if (!moves.moves.empty()) {
            path.steps.push_back(std::move(moves));
            last = tool;
        }
        progress.at(n + 1, order.size());
    }
    return path;
}

} // namespace ferro::toolpath

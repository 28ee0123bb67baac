#include "proof/advice.h"

#include "job/edits.h"

namespace ferro::proof {

namespace {

/// The steps that a choice of tools makes of one.
std::vector<plan::StepId> stepsOf(const job::Job& job, plan::StepId first, std::size_t count) {
    const auto& steps = job.plan.steps;
    const auto at = std::find_if(steps.begin(), steps.end(), [&](const auto& s) { return s.id == first; });
    std::vector<plan::StepId> ids;
    for (auto it = at; it != steps.end() && ids.size() < count; ++it) ids.push_back(it->id);
    return ids;
}

Result<Choice> judged(const job::Job& job, plan::StepId step, std::vector<std::string> tools, Progress& progress) {
    Choice choice;
    auto made = job::withStepTools(job, step, tools);
    if (!made) return made.problem();
    const auto steps = stepsOf(*made, step, tools.size());
    for (auto& one : made->plan.steps)
        if (std::find(steps.begin(), steps.end(), one.id) != steps.end()) one.enabled = true;
    choice.tools = std::move(tools);
    const auto path = toolpath::toolpathOf(*made, progress, steps);
    if (!path) return path.problem();
    for (const auto& snag : path->snags)
        if (snag.verdict == Verdict::noGo && choice.cannot.empty()) choice.cannot = snag.what;
    const auto timing = timingOf(*path, made->machine, progress, job::zeroOf(made->sheet().stock).z);
    if (!timing) return timing.problem();
    choice.seconds = timing->total;
    const auto reach = toolpath::reachOf(*made, steps, progress);
    if (!reach) return reach.problem();
    choice.left = reach->square;
    choice.thickest = reach->thickest;
    return choice;
}

} // namespace

Result<std::vector<Choice>> choicesFor(const job::Job& job, plan::StepId id, Progress& progress) {
    const auto* step = plan::find(job.plan, id);
    if (!step) return Problem{.what = fmt::format("There is no step {}.", id.value), .where = {}, .mend = {}};
    const auto& kind = plan::kindOf(*step);
    std::vector<const shop::Tool*> tools;
    for (const auto& tool : job.tools)
        if (job.machine.does(tool.process()) && kind.processes.has(tool.process()) &&
            std::find(kind.tools.begin(), kind.tools.end(), tool.kind) != kind.tools.end())
            tools.push_back(&tool);
    std::stable_sort(tools.begin(), tools.end(), [](auto* a, auto* b) { return a->diameter > b->diameter; });
    std::vector<std::vector<std::string>> asked;
    for (const auto* tool : tools) asked.push_back({tool->key});
    const std::size_t alone = asked.size();
    plan::Step own = *step;
    const bool splits = kind.rest && !kind.rest(own);
    for (std::size_t a = 0; splits && a < tools.size(); ++a)
        for (std::size_t b = a + 1; b < tools.size(); ++b) {
            if (tools[b]->diameter >= tools[a]->diameter) continue;
            asked.push_back({tools[a]->key, tools[b]->key});
            for (std::size_t c = b + 1; c < tools.size() && tools.size() <= 6; ++c)
                if (tools[c]->diameter < tools[b]->diameter)
                    asked.push_back({tools[a]->key, tools[b]->key, tools[c]->key});
        }
    std::vector<Choice> all;
    for (std::size_t i = 0; i < asked.size(); ++i) {
        progress.stage(static_cast<double>(i) / static_cast<double>(asked.size()),
                       static_cast<double>(i + 1) / static_cast<double>(asked.size()));
        auto choice = judged(job, id, asked[i], progress);
        if (progress.cancelled()) return Problem::cancelled();
        if (!choice) return choice.problem();
        all.push_back(std::move(*choice));
    }
    // Several tools are worth it where they are quicker than the last of them, and the quickest that ends with it.
    std::vector<Choice> kept(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(alone));
    for (std::size_t t = 0; t < alone; ++t) {
        const Choice* best = nullptr;
        for (std::size_t i = alone; i < all.size(); ++i)
            if (all[i].tools.back() == asked[t].front() && all[i].cannot.empty() &&
                (!best || all[i].seconds < best->seconds))
                best = &all[i];
        if (best && (best->seconds < all[t].seconds || !all[t].cannot.empty())) kept.push_back(*best);
    }
    std::stable_sort(kept.begin(), kept.end(), [](const Choice& a, const Choice& b) {
        if (a.cannot.empty() != b.cannot.empty()) return a.cannot.empty();
        if (std::abs(a.left - b.left) > 0.01) return a.left < b.left;
        return a.seconds < b.seconds;
    });
    return kept;
}

} // namespace ferro::proof

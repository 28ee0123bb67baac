#include "proof/checks_internal.h"

namespace ferro::proof {

Finding& Checker::add(Verdict verdict, std::string what, std::string mend) {
    auto& finding = found.emplace_back();
    finding.verdict = verdict;
    finding.what = std::move(what);
    finding.mend = std::move(mend);
    return finding;
}

Finding::Place Checker::placeOf(const toolpath::StepMoves& step, std::size_t move) const {
    for (std::size_t s = 0, ofBlank = 0; s < onTray.steps.size(); ++s) {
        const bool isOf = &onTray.steps[s] == &step;
        if (isOf || (onTray.steps[s].blank <= 1 && ofBlank < path.steps.size() && &path.steps[ofBlank++] == &step))
            return {s, move};
    }
    return {0, move};
}

void Checker::setting(Finding& finding, plan::StepId step, std::string label, std::string name,
                      std::string value) const {
    finding.step = step;
    finding.fix =
        Finding::Fix{std::move(label), [step, name = std::move(name), value = std::move(value)](const job::Job& j) {
                         return job::withStepSetting(j, step, name, value);
                     }};
}

namespace {

std::vector<Finding> worstFirst(std::vector<Finding> findings) {
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.verdict > b.verdict; });
    return findings;
}

} // namespace

std::vector<Finding> findingsOf(const job::Job& job, const toolpath::Toolpath& path, const Deviation& deviation,
                                Kept* kept) {
    const auto first = path.blanks.empty() ? std::nullopt : std::optional(toolpath::onFirstBlank(path));
    Checker check{.job = job, .path = first ? *first : path, .onTray = path, .kept = kept};
    check.snags();
    check.rapids();
    check.bounds();
    check.tray();
    check.steps();
    check.clamps();
    check.holders();
    check.order();
    check.pieces();
    check.edges(deviation);
    check.cleared();
    check.loose();
    check.depths();
    check.uneven();
    check.tabs();
    check.burns();
    check.joints();
    check.sides();
    check.takenTwice();
    check.tops();
    check.holes();
    check.parts();
    check.chips();
    check.webs();
    check.weakTabs();
    check.smallParts();
    check.untried();
    return worstFirst(std::move(check.found));
}

std::vector<Finding> findingsOfMoves(const job::Job& job, const toolpath::Toolpath& path) {
    Checker check{.job = job, .path = path, .onTray = path};
    check.rapids();
    check.bounds();
    check.clamps();
    check.holders();
    check.spindles();
    check.process();
    return worstFirst(std::move(check.found));
}

} // namespace ferro::proof

#pragma once

#include "base/quantity.h"
#include "job/edits.h"
#include "proof/proof.h"

namespace ferro::proof {

[[nodiscard]] inline std::string counted(std::size_t count, std::string_view one, std::string_view many) {
    return fmt::format("{} {}", count, count == 1 ? one : many);
}

/// Collects findings; one file for each group of checks.
struct Checker {
    const job::Job& job;
    const toolpath::Toolpath& path;   ///< on one blank
    const toolpath::Toolpath& onTray; ///< on all blanks of a tray
    std::vector<Finding> found = {};
    Kept* kept = nullptr; ///< of earlier proofs

    Finding& add(Verdict verdict, std::string what, std::string mend);
    /// What one click would do about it: one setting of the step.
    void setting(Finding& finding, plan::StepId step, std::string label, std::string name, std::string value) const;
    /// On the tray, of a step in either.
    [[nodiscard]] Finding::Place placeOf(const toolpath::StepMoves& step, std::size_t move) const;

    /// How the blank was measured to lie, if the moves are to follow it.
    [[nodiscard]] const job::Lie* lie() const;

    // Of moves alone, whoever made them.
    void rapids();
    void bounds();
    void clamps();
    void holders();
    void tray();
    void spindles();
    void process();
    // Of the plan and what it came to.
    void snags();
    void steps();
    void loose();
    void order();
    void pieces();
    void edges(const Deviation& deviation);
    // Of the stock as it stands at each cut.
    void cleared();
    // What a shop would ask about before it cuts.
    void depths();
    void uneven();
    void tabs();
    void burns();
    void power(const plan::Step& step, const plan::Beam& beam);
    void sides();
    void takenTwice();
    void tops();
    void holes();
    void parts();
    void joints();
    // What may break or fly off, and what was never tried.
    void chips();
    void webs();
    void weakTabs();
    void smallParts();
    void untried();
};

} // namespace ferro::proof

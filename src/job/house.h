#pragma once

#include "job/job.h"
#include "plan/house.h"

namespace ferro::job {

/// What came of the house rules. Pieces are counted by their outlines, on all sheets.
struct HouseReport {
    struct Row {
        std::size_t outlines = 0; ///< that it has
        std::vector<std::string> steps;
        std::string trouble; ///< why it could not be done; empty: it could
    };
    std::vector<Row> rows;
    struct Some {
        std::string layer;
        std::size_t outlines = 0;
        std::size_t first = 0, second = 0; ///< rows; the first has them
    };
    std::vector<Some> unmatched; ///< that no row fits, by layer
    std::vector<Some> twice;     ///< that two rows fit
    std::size_t replaced = 0;    ///< steps that went
};
/// All of it as a person is told, a line each; the first says what was done.
[[nodiscard]] std::vector<std::string> linesOf(const HouseReport& report, const plan::House& house);

struct Housed {
    Job job;
    HouseReport report;
};
/// The steps of the house rules in place of those that were there. What a recipe leaves to the book is the book's for
/// its tool, and the job's material and machine; tools that the job has not are taken from the book. A problem where no
/// row could be done.
[[nodiscard]] Result<Housed> withHouseRules(const Job& job, const plan::House& house, const shop::Book& book);

/// For a job without steps: those of the house rules, or where there are none, or none that can be done, those that
/// fit. What the rules came to is added to `told`.
[[nodiscard]] Result<Job> withUsualSteps(const Job& job, const plan::House& house, const shop::Book& book,
                                         std::vector<std::string>& told);
/// After a drawing has come in: the steps of the house rules where those are for arriving drawings and the job has no
/// steps yet, else the job as it is.
[[nodiscard]] Job withArrivalSteps(const Job& job, const plan::House& house, const shop::Book& book,
                                   std::vector<std::string>& told);

/// A step by a recipe, behind the others.
[[nodiscard]] Result<Job> withStepByRecipe(const Job& job, const plan::Recipe& recipe, const shop::Book& book);

/// A step of the job as a recipe.
[[nodiscard]] Result<plan::Recipe> recipeOf(const Job& job, plan::StepId step, std::string_view name);

} // namespace ferro::job

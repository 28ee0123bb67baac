#pragma once

#include "job/job.h"
#include "plan/fields.h"

// What steps get from the shop book.
namespace ferro::job {

/// What a step of the job by this tool begins with.
[[nodiscard]] plan::Beginning beginningOf(const Job& job, const shop::Tool& tool);
/// The book's value for every number that is from it and that nobody typed.
void takeBookValues(const Job& job, plan::Step& step);
/// Of the job's tools that the machine can hold, the one that suits the kind best; none: empty.
[[nodiscard]] std::string fittingTool(const Job& job, const plan::Kind& kind);

} // namespace ferro::job

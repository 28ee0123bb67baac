#pragma once

#include "job/job.h"
#include "plan/kind.h"

namespace ferro::job {

/// Why a number of a step is what it is: how the book reckons it, or when it was proven; empty for what was typed or is
/// nobody's.
[[nodiscard]] std::string reasonOf(const Job& job, const plan::Step& step, const plan::Field& field);

} // namespace ferro::job

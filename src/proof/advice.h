#pragma once

#include "proof/timing.h"
#include "toolpath/reach.h"

namespace ferro::proof {

/// One way to do a step: by one tool, or by several, each for what the ones before have left (need CU9).
struct Choice {
    std::vector<std::string> tools; ///< keys, the widest first
    double seconds = 0;             ///< of moving, spinning up and changing between them
    double left = 0;                ///< mm² that none of them gets to
    double thickest = 0;            ///< mm, of that
    std::string cannot = {};        ///< why it cannot be done so; empty: it can
};

/// The tools on hand that can do a step's kind, each alone, and those pairs and threes that are quicker than their
/// last tool alone; from real plans. Ordered by what is left, then by time; what cannot be done comes last. A step that
/// only takes what others left is asked about as it is.
[[nodiscard]] Result<std::vector<Choice>> choicesFor(const job::Job& job, plan::StepId step, Progress& progress);

} // namespace ferro::proof

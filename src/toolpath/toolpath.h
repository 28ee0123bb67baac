#pragma once

#include "base/progress.h"
#include "plan/selection.h"
#include "toolpath/moves.h"

namespace ferro {
class Kept;
}
namespace ferro::toolpath {

/// The moves of all enabled steps. Pure: the same job gives the same moves on any machine and number of threads.
/// Promises: every rapid ends at `travel` height or above and moves sideways only there; no move goes deeper than its
/// step asks; a part's openings are cut before its outer edge; a beam is off on rapids. What a step cannot do is a
/// snag. `only`: of these steps alone, with the pieces that each has beside all the others; none: of all. `kept`: what
/// earlier ones came to, of a job that has changed a little; the moves are the same without.
[[nodiscard]] Result<Toolpath> toolpathOf(const job::Job& job, Progress& progress,
                                          const std::vector<plan::StepId>& only = {}, Kept* kept = nullptr);

} // namespace ferro::toolpath

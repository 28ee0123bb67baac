#pragma once

#include "base/progress.h"
#include "toolpath/toolpath.h"

namespace ferro::toolpath {

/// A place that a step is for and that its tool does not get to (needs CU10, B1).
struct Unreached {
    Rings area;                      ///< an outline, counter-clockwise, and what is reached within it
    double square = 0;               ///< mm²
    double thickest = 0;             ///< mm, the largest disc that stands there
    Vec2 at;                         ///< its middle
    std::vector<artwork::ItemId> of; ///< the pieces whose edges bound what was to be cut, ascending
};
struct Reach {
    std::vector<Unreached> places;   ///< the thickest first
    double square = 0, thickest = 0; ///< of all of them
};
[[nodiscard]] Reach reachOf(std::vector<Unreached> places);

/// What the tools of steps do not get to of areas that are to be cleared and beside edges that are to be followed: the
/// area less its opening by the disc of the tool, outside of a part the closing of the part less the part (Serra 1982).
/// What another of the steps gets to at least as deep does not count. Within 0.01 mm; what is thinner than 0.02 is not
/// told. Kinds that stay on lines, go down in places or are pointed leave nothing here, nor does a beam. `steps`: those
/// to be asked about, enabled or not; a step that is not there is a problem. `touching`: only what these pieces bound;
/// none: all.
[[nodiscard]] Result<Reach> reachOf(const job::Job& job, const std::vector<plan::StepId>& steps, Progress& progress,
                                    const std::vector<artwork::ItemId>& touching = {});

} // namespace ferro::toolpath

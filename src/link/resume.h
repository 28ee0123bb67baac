#pragma once

#include "link/run.h"

namespace ferro::link {

/// The rest of a run from where it was broken off, made safe to start: retract, the machine's state as it was at that
/// line (units, plane, offset, tool, spindle or beam, air, feed), over to where the last finished move began, down at
/// that step's plunge feed, and on with that move. A problem when nothing is left to do.
struct Resumption {
    std::string text;
    long fromLine = 0;    ///< the first line of the run's program that is run again
    long head = 0;        ///< lines of `text` before it
    toolpath::Vec3 entry; ///< program coordinates, mm
    int tool = 0;         ///< that has to be in the spindle; 0: none
};
/// `doneLine` is the last line known to be carried out (from the log).
[[nodiscard]] Result<Resumption> resumed(const Run& run, long doneLine);
/// The run from a step on, by its place in the line map: what comes before is taken as done, or not wanted, and nothing
/// of it is cut again. A problem when there is no such step.
[[nodiscard]] Result<Resumption> beginningAt(const Run& run, std::size_t step);

} // namespace ferro::link

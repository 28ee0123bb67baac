#pragma once

#include "program/for_job.h"

namespace ferro::link {

/// The rest of a program from where it was broken off, made safe to start: retract, spindle or beam as it was, over to
/// where the last finished move began, down at plunge feed, and on with that move. `doneLine` is the last line known to
/// be carried out (from the log). A problem when nothing is left to do.
struct Resumption {
    std::string text;
    long fromLine = 0;    ///< the first line of the old program that is run again
    toolpath::Vec3 entry; ///< program coordinates, mm
};
[[nodiscard]] Result<Resumption> resumed(std::string_view program, long doneLine, const program::Dialect& dialect,
                                         const program::ReadOptions& options, double plunge);

/// The last line done according to a run log, 0 when none.
[[nodiscard]] long doneLineOf(std::string_view log);

} // namespace ferro::link

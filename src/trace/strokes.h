#pragma once

#include "trace/level_lines.h"
#include "trace/trace.h"

namespace ferro::trace {

/// The centre lines of what the level lines enclose, px in and out: the medial axis of each patch of ink without the
/// spurs that reach no farther than half a stroke's width beyond the stroke they sit on; where strokes cross, each goes
/// on in its own direction; where one ends on another it is led up to it; free ends are led to the edge of the ink.
/// What has no direction is a dot: a piece without segments. Closed lines stay closed. `traced` gets pieces, widths and
/// the largest distance of a line from its axis. Order: by patch, from the top row down.
void traceStrokes(const std::vector<LevelLine>& lines, const Settings& settings, Traced& traced, Progress& progress);

} // namespace ferro::trace

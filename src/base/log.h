#pragma once

#include <string>

namespace ferro::log {

/// A line with its time in `ferrograph/runs.log` of the user's state folder (XDG base directories): what was run and
/// how it ended, for whoever has to find out later. Where it cannot be written, work goes on without it.
void record(const std::string& text);

} // namespace ferro::log

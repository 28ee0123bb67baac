#pragma once

#include <string>

namespace ferro::log {

/// Diagnostics for us, on standard error; a person gets a `Problem` or a `Notice` instead. Quiet below `warning`
/// unless FERROGRAPH_LOG=debug is set.
void debug(const std::string& text);
void warning(const std::string& text);

} // namespace ferro::log

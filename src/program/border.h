#pragma once

#include "toolpath/toolpath.h"

namespace ferro::program {

/// Blocks that lead the machine round everything that is cut, and never into anything: at travel height, with spindle
/// and beam off, by rapids. Round its box, or as near as a tight string would go round it. Nothing is cut: none.
enum class Border { box, string };
[[nodiscard]] std::vector<std::string> borderWalk(const job::Job& job, const toolpath::Toolpath& path, Border by);

} // namespace ferro::program

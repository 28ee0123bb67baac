#pragma once

#include "toolpath/work_internal.h"

namespace ferro::toolpath {

/// Carries the outlines of areas that are open on beyond the edges that they reach: the blank's, or also those of parts
/// that are cut out, over what is waste there. Then a tool clears them right through, and may go in beside them. What
/// lies in another part stays as it is. An area stays closed, and that is told, where another step follows its outline
/// too, or where what lies beyond would close round something that stands.
[[nodiscard]] plan::Pieces opened(const job::Job& job, plan::Pieces pieces, std::vector<Snag>& snags);

} // namespace ferro::toolpath

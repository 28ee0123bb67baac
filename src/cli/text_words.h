#pragma once

#include "artwork/text.h"
#include "job/edits.h"

#include <span>

namespace ferro::cli {

/// A text's settings from words: face=, height=, tracking=, spacing=, align=, along=ITEM of the job, layer=.
[[nodiscard]] Result<artwork::Lettering> letteringFrom(const job::Job& job, std::span<const std::string> words,
                                                       artwork::Lettering lettering, std::string& layer);

} // namespace ferro::cli

#pragma once

#include "job/job.h"

namespace ferro::cli {

/// Today as the book writes it: "2026-12-01".
[[nodiscard]] std::string today();
/// Puts what was proven into the material that the job's sheet is of, in the book as it lies on disk, while nobody else
/// changes it. What was kept, in words.
[[nodiscard]] Result<std::string> keptProven(const job::Job& job, const shop::Proven& proven);

} // namespace ferro::cli

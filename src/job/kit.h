#pragma once

#include "job/job.h"

namespace ferro::job {

/// Sheets for all materials and thicknesses that parts ask for: where there is none of a kind, one as large as the
/// sheet at hand is added behind the others; a lone sheet that no part could lie on becomes the first of them. Names of
/// sheets say what they are of. A material that the book has not is a problem.
[[nodiscard]] Result<Job> withSheetsForParts(const Job& job, const shop::Book& book);

} // namespace ferro::job

#pragma once

#include "job/job.h"
#include "plan/fields.h"

namespace ferro::job {

/// Where a picture lies in the job file: by content, so that the same picture placed twice is kept once.
[[nodiscard]] std::string pictureName(const artwork::PictureLeaf& leaf);

} // namespace ferro::job

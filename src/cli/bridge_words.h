#pragma once

#include "job/job.h"
#include "mend/bridges.h"

namespace ferro::cli {

/// "width=2", "number=2", "areas=stay", "lie=across".
[[nodiscard]] Result<mend::BridgeSettings> bridgeSettingsFrom(const job::Job& job, std::span<const std::string> words);

} // namespace ferro::cli

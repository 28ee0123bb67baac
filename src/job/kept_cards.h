#pragma once

#include "base/disk.h"
#include "job/job.h"

namespace ferro::job {

/// A swatch card that the shop book keeps with its plan, so that what a cell was cut with is known when its picture is
/// taken weeks later. A job file of its own in the data folder.
struct KeptCard {
    std::string key;  ///< "2026-12-01-hatch-poplar"
    std::string name; ///< the job's
    std::string date; ///< "2026-12-01"
};
/// Keeps a card under a key made of the date, its kind and its material; the same card is not kept twice. The key.
[[nodiscard]] Result<std::string> keepCard(Disk& disk, const Job& card, std::string_view date);
/// Those that are kept, the newest first; what cannot be read is passed over.
[[nodiscard]] std::vector<KeptCard> keptCards(Disk& disk);
[[nodiscard]] Result<Job> keptCard(Disk& disk, std::string_view key);
[[nodiscard]] Result<void> forgetCard(Disk& disk, std::string_view key);

} // namespace ferro::job

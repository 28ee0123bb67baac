#pragma once

#include "base/disk.h"
#include "job/job.h"

namespace ferro::job {

/// The job file: a zip with `job.json` (schema in docs/job-file.md) and the pictures as they came in.
inline constexpr int schemaVersion = 15;

[[nodiscard]] Result<std::string> toBytes(const Job& job);
/// Refuses files of a newer schema, damaged ones and those that would fill the memory; never half a job.
[[nodiscard]] Result<Job> fromBytes(std::string_view bytes);

[[nodiscard]] Result<void> save(Disk& disk, const Job& job, const std::filesystem::path& file);
[[nodiscard]] Result<Job> load(Disk& disk, const std::filesystem::path& file);

/// The middle layer, also for the fuzzers: pictures are looked up by their name in the zip.
using PictureBytes = std::map<std::string, std::shared_ptr<const std::string>>;
[[nodiscard]] std::string jsonOf(const Job& job);
[[nodiscard]] Result<Job> jobFromJson(std::string_view text, const PictureBytes& pictures);

} // namespace ferro::job

#pragma once

#include "base/disk.h"

#include <string>
#include <vector>

namespace ferro::link {

/// A run that came to its end: what was proofed of it and what it took.
struct RunTime {
    std::string when;    ///< "2026-11-30 21:05"
    std::string machine; ///< its key
    double proofed = 0;  ///< s of moving, as the proof says
    double taken = 0;    ///< s, on the machine's clock where it has one, else while it was not waiting for a person
    std::string job;     ///< its name
    friend bool operator==(const RunTime&, const RunTime&) = default;
};

/// Kept in one file of lines, the last two thousand; what cannot be read is passed over.
[[nodiscard]] Result<void> keepRunTime(Disk& disk, const std::filesystem::path& file, const RunTime& run);
[[nodiscard]] std::vector<RunTime> runTimes(Disk& disk, const std::filesystem::path& file);
/// Where that file lies.
[[nodiscard]] std::filesystem::path runTimesFile();

/// How much longer than proofed the last runs on a machine took, all together; 0 where none is known.
struct RunsOn {
    std::size_t runs = 0; ///< 20 at most
    double share = 0;
};
[[nodiscard]] RunsOn runsOn(const std::vector<RunTime>& runs, std::string_view machine);

/// Now, here, as `RunTime::when` has it.
[[nodiscard]] std::string timeNow();

} // namespace ferro::link

#pragma once

#include "base/disk.h"
#include "job/job.h"

namespace ferro::link {

/// What is to be run of a job, sheet after sheet, so many times each, and how far that has come. It outlives the window
/// and a power cut: it is kept beside the run's log.
struct Queue {
    struct Entry {
        job::SheetId sheet;
        std::string name; ///< of the sheet
        int copies = 1;   ///< 0: none of it
        int done = 0;
        double seconds = 0; ///< that one took, the last time; 0: not known
        friend bool operator==(const Entry&, const Entry&) = default;
    };
    std::vector<Entry> entries; ///< in the job's order
    friend bool operator==(const Queue&, const Queue&) = default;

    /// What comes next: the first of which some are left; none: all is done.
    [[nodiscard]] const Entry* next() const;
    [[nodiscard]] int left() const; ///< runs
    [[nodiscard]] int done() const;
    /// s, of what is left, by what one of each took; none: not known of all.
    [[nodiscard]] std::optional<double> secondsLeft() const;
};
/// Each sheet that is cut once. Of a queue that was kept the counts are taken over for sheets that are still there.
[[nodiscard]] Queue queueFor(const job::Job& job, const Queue& before = {});
/// One run of a sheet has come to its end.
[[nodiscard]] Queue withDone(Queue queue, job::SheetId sheet, double seconds);

/// 1 to 999 of a sheet, or 0.
[[nodiscard]] Result<Queue> withCopies(Queue queue, job::SheetId sheet, int copies);

/// Where the queue of a run's log is kept.
[[nodiscard]] std::filesystem::path queueFile(const std::filesystem::path& log);
/// What is kept there; an empty one where nothing is. What cannot be read is a problem.
[[nodiscard]] Result<Queue> keptQueue(Disk& disk, const std::filesystem::path& file);
[[nodiscard]] Result<void> keepQueue(Disk& disk, const std::filesystem::path& file, const Queue& queue);

} // namespace ferro::link

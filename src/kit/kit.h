#pragma once

#include "base/disk.h"
#include "base/progress.h"
#include "base/verdict.h"
#include "job/job.h"
#include "plan/house.h"

#include <filesystem>
#include <map>

namespace ferro::kit {

/// What a kit is made of: a cut list, whose drawings lie beside it, and a job whose machine, sheets and steps are used;
/// without steps it gets those of the house.
struct Wish {
    std::filesystem::path list;
    job::Job bench;
    shop::Book book;
    plan::House house;
    std::optional<double> mmPerUnit = {}; ///< of drawings that do not say theirs
    double effort = 20;                   ///< million places that laying out tries
};
/// A job of before as a bench: its machine, tools, material, layers, sheet at hand and steps, without pieces and what
/// was said of single ones. Steps that took chosen pieces only are gone.
[[nodiscard]] job::Job benchFrom(const job::Job& job);
/// Of files: one of the words that drawings' units have, or a problem that lists them; empty: none.
[[nodiscard]] Result<std::optional<double>> unitFrom(std::string_view word);

/// "7 parts of 2 drawings".
[[nodiscard]] std::string countWords(std::size_t parts, std::size_t drawings);

/// The parts of the list beside each other on the bench's sheets, and those that they need beside these, not laid out.
struct Taken {
    job::Job job;
    std::size_t drawings = 0, parts = 0;
    std::vector<std::string> notices = {}; ///< what a person must look at
};
[[nodiscard]] Result<Taken> takenFrom(const Wish& wish, Disk& disk, Progress& progress);

/// The whole of it: laid out, proofed and written.
struct Made {
    job::Job job;
    std::size_t drawings = 0, parts = 0, sheets = 0, left = 0; ///< left: parts that lie on no sheet
    double share = 0;                                          ///< of the sheets in use that is parts, 0 to 1
    bool go = true;                                            ///< no sheet has a no-go
    std::vector<std::pair<Verdict, std::string>> look = {};    ///< what a person must look at, in the order of work
    std::map<std::string, std::string> files = {}; ///< programs, setup sheets, map, labels, what lies where; by name
};
/// A sheet with a no-go keeps the programs of all from being among the files, as if all were well.
[[nodiscard]] Result<Made> made(const Wish& wish, Disk& disk, Progress& progress);
/// Its files and the job as kit.ferro, into a folder that is made where there is none; what was written, the job first.
/// A kit that was written there before leaves nothing that this one has not: an old program must not be taken for one
/// of these. Which files were its own stands in kit-files.txt; no others are touched.
[[nodiscard]] Result<std::vector<std::filesystem::path>> written(const Made& made, const std::filesystem::path& folder,
                                                                 Disk& disk);

} // namespace ferro::kit

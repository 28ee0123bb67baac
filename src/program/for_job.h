#pragma once

#include "program/reader.h"
#include "toolpath/toolpath.h"

namespace ferro::program {

/// Whether the checks have passed. Given by whoever made the proof; a program is not written without it.
enum class Clearance { refused, passed };

[[nodiscard]] Frame frameOf(const job::Job& job);
/// What the job's program works by: the process of its first step.
[[nodiscard]] shop::Process processOf(const job::Job& job);
[[nodiscard]] Result<Dialect> dialectOf(Disk& disk, const job::Job& job);
/// Whether a program in it can be sent line by line and answered: a plotter's file is sent as a whole, by other ways.
[[nodiscard]] Result<void> mayStream(const Dialect& dialect);
/// What of the moves a dialect has no words for, as a person should know before the program is used.
[[nodiscard]] std::vector<Problem> unsaidBy(const Dialect& dialect, const toolpath::Toolpath& path);
/// How to read a program back that was written for this job, or one that is to run on its stock.
[[nodiscard]] ReadOptions readOptionsFor(const job::Job& job, const Dialect& dialect);

/// The job's program. It is read back and compared with the moves before it is given out: a program that says anything
/// else by more than the dialect's last digit is a problem. Where the blank was measured its depths follow how it lies.
/// Never gives one while a no-go stands.
[[nodiscard]] Result<Program> programFor(const job::Job& job, const toolpath::Toolpath& path, const Dialect& dialect,
                                         Clearance clearance);

/// A little program in a dialect, of two tools (a beam: of two powers), with a stop, a hole, a ramp and an arc; and
/// what reading it back says against the dialect, if anything. For looking at, nothing to be run.
struct Sample {
    std::string text;
    std::optional<Problem> problem;
};
[[nodiscard]] Sample sampleOf(const Dialect& dialect);

/// A file of a program: some of its steps.
struct ProgramFile {
    std::string name; ///< of the file, with its ending
    std::string what; ///< the steps it is of
    Program program;
};
/// The job's program as the files that it wants. Each begins at the zero and ends there, is checked for itself, and
/// puts its tool in. Two that would be called the same are a problem.
[[nodiscard]] Result<std::vector<ProgramFile>> programFilesFor(const job::Job& job, const toolpath::Toolpath& path,
                                                               const Dialect& dialect, Clearance clearance);

/// What they would be called, without an ending.
[[nodiscard]] std::vector<std::string> fileNamesFor(const job::Job& job, const toolpath::Toolpath& path);

/// "proscenium.nc": the job's name made fit for a file, with the dialect's ending.
[[nodiscard]] std::string fileNameFor(const job::Job& job, const Program& program);

} // namespace ferro::program

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
/// How to read a program back that was written for this job, or one that is to run on its stock.
[[nodiscard]] ReadOptions readOptionsFor(const job::Job& job, const Dialect& dialect);

/// The job's program. It is read back and compared with the moves before it is given out: a program that says anything
/// else by more than the dialect's last digit is a problem. Never gives one while a no-go stands.
[[nodiscard]] Result<Program> programFor(const job::Job& job, const toolpath::Toolpath& path, const Dialect& dialect,
                                         Clearance clearance);

/// "proscenium.nc": the job's name made fit for a file, with the dialect's ending.
[[nodiscard]] std::string fileNameFor(const job::Job& job, const Program& program);

} // namespace ferro::program

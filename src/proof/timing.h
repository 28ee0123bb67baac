#pragma once

#include "base/progress.h"
#include "toolpath/motion.h"
#include "toolpath/toolpath.h"

namespace ferro::proof {

/// How long everything takes, from the same motion planning as a controller's.
struct StepTime {
    double begin = 0;         ///< s from the start of the job
    double change = 0;        ///< s for the tool change and spin-up before its first move
    double motion = 0;        ///< s of moving
    std::vector<double> ends; ///< s from the start of the job at the end of each move
    [[nodiscard]] double end() const { return begin + change + motion; }
};
struct Timing {
    std::vector<StepTime> steps;
    double wayOut = 0;  ///< s from the zero up to where rapids travel, before the first step
    double wayHome = 0; ///< s from the last step's end back to the zero
    double motion = 0;  ///< s of moving in all, ways out and home included
    double spinUps = 0; ///< s of waiting for the spindle
    double total = 0;   ///< with tool changes and spin-up
    double length = 0;  ///< mm of feed moves
    /// What a machine's own clock shows: all but what waits for a person.
    [[nodiscard]] double running() const { return motion + spinUps; }
};

/// The machine is thought to stand at the program's zero before, and goes back there at the end, as the dialects have
/// it; `zeroHeight`: of the program's zero above the stock's top, 0 or below.
[[nodiscard]] Result<Timing> timingOf(const toolpath::Toolpath& path, const shop::Machine& machine, Progress& progress,
                                      double zeroHeight = 0);

/// What each step of the plan takes, on all blanks of a tray together, in the order of work.
struct StepSum {
    std::string name;
    double change = 0, motion = 0; ///< s
};
[[nodiscard]] std::vector<StepSum> sumsOf(const toolpath::Toolpath& path, const Timing& timing);

/// Where a machine is on the time line, s, by its own clock, which counts all but what waits for a person: tool changes
/// lie between.
[[nodiscard]] double onTimeLine(const Timing& timing, const toolpath::Toolpath& path, double machineClock);

/// Where a tool is at a moment, s, in the middle of a move too: before a step's first move where the step before ended.
struct AtWork {
    std::size_t step = 0; ///< index into the toolpath
    toolpath::Vec3 at;
};
/// None when all is done.
[[nodiscard]] std::optional<AtWork> atWork(const toolpath::Toolpath& path, const Timing& timing, double seconds);

/// What an edit does to the machine's time, for a person: "the machine moves for 41.0 s, before for 46.2 s". Empty
/// where neither cuts anything, or one of them cannot be planned.
[[nodiscard]] std::string timeBeforeAndAfter(const job::Job& before, const job::Job& after, Progress& progress);

} // namespace ferro::proof

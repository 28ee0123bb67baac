#pragma once

#include "base/options.h"
#include "link/streamer.h"

namespace ferro::cli {

/// Which machine is meant, how it is spoken to and how its zero is found: what all commands that move one ask for.
struct MachineAsked {
    std::string device, speaks;
    bool home = false, lastZero = false;
    std::vector<double> zero;
    double plate = 0; ///< mm, of a touch-off; 0: none

    void declare(Options& command);
};

/// Ctrl+C was pressed: the machine is to be stopped.
[[nodiscard]] bool isInterrupted();
void watchForInterrupt();

/// The machine, spoken to as it is told to or by `conversation`. What that cannot promise is said.
[[nodiscard]] Result<std::unique_ptr<link::Streamer>> connected(const MachineAsked& asked,
                                                                const std::string& conversation);
/// Homes it and finds the zero as was asked. `zero`: of the program on the sheet, `zeroZ` its height above the stock.
[[nodiscard]] Result<void> prepare(const MachineAsked& asked, link::Streamer& machine, std::string_view machineKey,
                                   Vec2 zero, double zeroZ);
/// Where the machine stands once it moves no more, in its own coordinates.
[[nodiscard]] Result<toolpath::Vec3> restingAt(link::Streamer& machine);

} // namespace ferro::cli

#pragma once

#include "program/reader.h"

namespace ferro::program {

/// The largest distance, in mm, between the way that was meant and what the text says, all along both and in order. A
/// problem where the text does what nobody meant: another kind of move, another power or feed, a move of its templates
/// that is no rapid or goes below travel height. `lineOf`: of what was meant, as the writer tells it.
[[nodiscard]] Result<double> largestMiss(const toolpath::Toolpath& meant,
                                         const std::vector<std::vector<std::uint32_t>>& lineOf, const ReadProgram& said,
                                         const Dialect& dialect);

/// Whether the machine is set as was meant wherever the text cuts, and left off at its end: spindle (on, direction,
/// speed), tool, dwell, plane, units, offsets, stops. The problem says the line and the word.
[[nodiscard]] Result<void> sameStates(const toolpath::Toolpath& meant,
                                      const std::vector<std::vector<std::uint32_t>>& lineOf, const ReadProgram& said,
                                      const Dialect& dialect);

} // namespace ferro::program

#pragma once

#include "program/writer.h"

namespace ferro::program {

/// Writes moves for a plotter (HPGL): pen down where the blade is below the stock's top, up where it is not; tool,
/// force and speed as words. Arcs become chords within half a step. Depths are a matter of force there.
[[nodiscard]] Program writtenForPlotter(const toolpath::Toolpath& path, const Dialect& dialect, const Frame& frame);

/// Whether a plotter that follows the text draws what was meant and nothing else, in its order: each line within a
/// step and a half, by its tool, with its force and speed, and the pen up at the end.
[[nodiscard]] Result<void> plotterAgrees(const Program& program, const toolpath::Toolpath& path, const Dialect& dialect,
                                         const Frame& frame);

} // namespace ferro::program

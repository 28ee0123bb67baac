#pragma once

#include "program/dialect.h"
#include "toolpath/moves.h"

namespace ferro::program {

/// A finished program: its text, the ending its file wants, and for each move the line (from 1) it is on; 0 for moves
/// that are too short to show in the dialect's decimals.
struct Program {
    std::string text, ending;
    std::vector<std::vector<std::uint32_t>> lineOf; ///< per step, per move
    std::size_t lines = 0;
};

/// Where program coordinates come from: program = sheet − zero.
struct Frame {
    Vec2 zero;
    double z = 0;
};

/// Writes moves in a dialect. Only numbers, words and templates: no checks, so that it can be tested by itself.
[[nodiscard]] Program written(const toolpath::Toolpath& path, const Dialect& dialect, const Frame& frame,
                              std::string_view name);

/// A number as programs want it: fixed decimals without trailing zeros, never "-0".
void appendNumber(std::string& out, double value, int decimals);

} // namespace ferro::program

#pragma once

#include "formats/drawing.h"

namespace ferro::formats {

/// The lines of a plotter's file (HPGL, 0.025 mm a step): PA PR PU PD PE AA AR CI EA ER, a layer for each pen ("pen
/// 1"). Lines that end where they begin, within two steps, are closed. Labels, fills and what scales or turns the paper
/// are told and left out; so is what cannot be understood of a known kind.
[[nodiscard]] Result<Drawing> drawingFromHpgl(std::string_view bytes);

} // namespace ferro::formats

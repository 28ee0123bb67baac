#pragma once

#include "formats/drawing.h"

namespace ferro::cli {

/// A drawing file; its notices, and what a guessed unit would mean, go to standard error. `unit`: a word or empty.
[[nodiscard]] Result<formats::Drawing> readDrawing(const std::string& file, const std::string& unit,
                                                   bool strokesAsOutlines = false);
/// All of a drawing, its loose lines joined where their ends are within `join` mm.
[[nodiscard]] artwork::Added addedTo(const artwork::Artwork& art, const formats::Drawing& drawing, double join = 0.01);

} // namespace ferro::cli

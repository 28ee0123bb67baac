#pragma once

#include "formats/drawing.h"

namespace ferro::cli {

/// How a drawing file is read, as far as that is said.
struct DrawingWords {
    std::string unit; ///< a word or empty
    bool strokesAsOutlines = false, dropStrays = false;
    Vec2 sheet = {}, bed = {}; ///< mm: what it is for, if that is known
};
/// A drawing file; its notices, and what a guessed unit would mean, go to standard error.
[[nodiscard]] Result<formats::Drawing> readDrawing(const std::string& file, const DrawingWords& words);
/// All of a drawing, its loose lines joined where their ends are within `join` mm.
[[nodiscard]] artwork::Added addedTo(const artwork::Artwork& art, const formats::Drawing& drawing, double join = 0.01);

} // namespace ferro::cli

#pragma once

#include "job/job.h"

namespace ferro::job {

/// One setting of a step from cell to cell of a swatch card.
struct SwatchAxis {
    std::string setting; ///< its name in the table of kinds
    double from = 0, to = 0;
    int count = 1; ///< of cells
};
/// A material test: cells that are alike but for one setting in each direction.
struct SwatchCard {
    std::string kind;
    std::string tool; ///< key; empty: the one that suits best
    SwatchAxis rows, columns;
    double cell = 8, gap = 3;                                     ///< mm; a cell of 0: as large as the sheet takes
    std::vector<std::pair<std::string, std::string>> others = {}; ///< settings of all cells, by name as typed
};
/// A fresh job for a card of them on the sheet of `bench`, with its machine, material and tools: a step for each cell,
/// its settings typed, and labels scribed beside rows and columns, with marks at the corners. A kind that works on what
/// cells are: outlines, areas or lines; what cannot be is a problem that names it.
[[nodiscard]] Result<Job> swatchCard(const Job& bench, const SwatchCard& card);

/// The settings of a step as what was proven on its material: those of the book and those that were typed.
[[nodiscard]] Result<shop::Proven> provenOf(const Job& job, plan::StepId step, std::string date, std::string note);
/// The step that takes a piece, the first of several; none: no step does.
[[nodiscard]] plan::StepId stepOn(const Job& job, artwork::ItemId item);

} // namespace ferro::job

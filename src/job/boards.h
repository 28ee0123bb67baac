#pragma once

#include "job/job.h"

namespace ferro::job {

/// The board as a blank: its outline, or the rectangle. A problem when its outline cannot be read.
[[nodiscard]] Result<Stock> stockOf(const shop::Board& board, const Stock& otherwise);
/// The sheet at hand cut from a board of the shelf: its size, outline and material, with what lies on the sheet where
/// it is. A problem when none is left, or its material is not in the book.
[[nodiscard]] Result<Job> withBoard(const Job& job, const shop::Book& book, std::string_view key);

/// The boards of a material and thickness (within a twentieth) of which there are some, in the order to take them:
/// off-cuts with outlines of their own, then the smallest.
[[nodiscard]] std::vector<shop::Board> boardsFor(const shop::Book& book, std::string_view material, double thickness);

/// What is left of the sheet at hand when all closed outlines on it are cut out, as wide as the widest tool: the
/// largest stretch, as a board of its own, without slivers under 2 mm, and how much is left beside that. A problem when
/// nothing worth keeping is.
struct Rest {
    shop::Board board;
    double area = 0;       ///< mm²
    double otherAreas = 0; ///< mm², in smaller bits
};
[[nodiscard]] Result<Rest> restOf(const Job& job);

} // namespace ferro::job

#pragma once

#include "geometry/place_fit.h"
#include "job/swatch.h"
#include "picture/round_marks.h"

#include <span>

namespace ferro::job {

/// A cell of a swatch card as a picture shows it.
struct CellRead {
    artwork::ItemId item;
    std::string name;  ///< "cell 2-3"
    plan::StepId step; ///< that made it
    Path outline;      ///< on the card's sheet
    double dark = 0;   ///< share of the bare material's light that is missing, 0 to 1
    double uneven = 0; ///< standard deviation of that over the cell
};
struct SwatchReading {
    Viewed view; ///< from the picture to the card's sheet
    std::vector<CellRead> cells;
    std::optional<std::size_t> best; ///< the darkest of those that are even
};

/// Where the corner marks of a card are on its sheet, from the lower left counter-clockwise; empty: it is none.
[[nodiscard]] std::vector<Vec2> cornerMarksOf(const Job& card);
/// Where they are in a picture that was taken with the card upright, px: the four outermost of its round marks. None:
/// not seen.
[[nodiscard]] std::optional<std::vector<Vec2>> cornerMarksIn(std::span<const picture::RoundMark> round);
/// The picture straightened by its four corner marks (px, in the order of `cornerMarksOf`), and each cell measured
/// against the bare material beside it, so that light from one side counts for nothing. A problem when the job is no
/// card, or the corners do not lie as its own do.
[[nodiscard]] Result<SwatchReading> swatchRead(const Job& card, const picture::Grey& picture,
                                               std::span<const Vec2> corners);

} // namespace ferro::job

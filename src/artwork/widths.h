#pragma once

#include "artwork/artwork.h"

#include <span>

namespace ferro::artwork {

/// A line whose ink's width is known at its start and at each of its segments' ends.
struct Inked {
    Path line;
    std::vector<double> widths; ///< empty: not told
};
/// A traced stroke's line and widths as they lie on the sheet.
[[nodiscard]] Inked inkedOnSheet(const Item& item);
/// The widths at the points of a line that stands for others now: those of the nearest place on any of them, between
/// whose points they change evenly. Empty where none tells its own.
[[nodiscard]] std::vector<double> widthsFor(const Path& now, std::span<const Inked> from);

} // namespace ferro::artwork

#pragma once

#include "geometry/path.h"
#include "geometry/polygons.h"

namespace ferro {

/// Sorts closed outlines into pieces with openings. Even-odd: every second level of nesting is an opening. Non-zero:
/// an outline is an opening where the windings of those round it and its own come to nothing. Open paths become pieces
/// of their own, at the end. Outlines must not cross one another. Order follows the input, by outer outline.
[[nodiscard]] std::vector<Piece> nested(std::vector<Path> paths, FillRule rule = FillRule::evenOdd);

/// For each closed path the index of the smallest one round it, -1 for none; open paths neither lie round nor in one.
[[nodiscard]] std::vector<int> parentsOf(const std::vector<Path>& paths);

} // namespace ferro

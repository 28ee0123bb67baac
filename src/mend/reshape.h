#pragma once

#include "artwork/edits.h"
#include "base/progress.h"
#include "geometry/combine.h"

namespace ferro::mend {

using artwork::Artwork;
using artwork::Ids;

/// Edits that make other shapes of the chosen ones. Places, layer and name come from the first chosen; locked pieces
/// are a problem, and so is a result of nothing.
enum class Together {
    join,     ///< one area of all
    takeAway, ///< the first without the others
    overlap,  ///< what all have in common
    split     ///< cut apart where they cross: each part a piece of its own
};
[[nodiscard]] Result<Artwork> withCombined(const Artwork& artwork, const Ids& items, Together how);

/// Outlines `by` mm outside (above 0) or inside (below 0) of the chosen areas, as new pieces on the same layers;
/// overlapping ones become one. Arcs stay arcs.
[[nodiscard]] Result<artwork::Added> withOffset(const Artwork& artwork, const Ids& items, double by, Corner corner);

/// Lines become the area that a pen of `width` mm covers along them.
[[nodiscard]] Result<Artwork> withLinesWidened(const Artwork& artwork, const Ids& items, double width, Cap cap);

/// The space around the chosen areas: a border `margin` mm round all of them, less the areas, in their place.
[[nodiscard]] Result<Artwork> withNegative(const Artwork& artwork, const Ids& items, double margin,
                                           double cornerRadius = 0);

} // namespace ferro::mend

#pragma once

#include "artwork/edits.h"

namespace ferro::artwork {

enum class Edge { left, centre, right, bottom, middle, top };
/// Brings an edge or the middle of each unit onto that of `to`. Pieces of one group are one unit and keep their places
/// among themselves.
[[nodiscard]] Result<Artwork> withAligned(const Artwork& artwork, const Ids& items, Edge edge, const Box& to);

enum class Along { across, upward };
/// Even spaces between the units, the outermost staying where they are; or, with `gap`, that many mm between them, the
/// first staying. Three units at least, two with a gap.
[[nodiscard]] Result<Artwork> withSpaced(const Artwork& artwork, const Ids& items, Along along,
                                         std::optional<double> gap = {});

} // namespace ferro::artwork

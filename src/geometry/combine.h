#pragma once

#include "geometry/path.h"
#include "geometry/polygons.h"

namespace ferro {

/// Areas joined, taken away, overlapped: the outlines that come out are stretches of those that went in, so that lines
/// stay lines, arcs arcs and cubics cubics; they meet where the curves themselves cross (to 1e-9 mm; where two only
/// touch, within 0.002 mm). An outline that nothing meets comes out as it is, bit by bit. Open lines are left out.
/// What crosses itself is read by the non-zero rule. Order: by outline, outermost first. Far-off coordinates are a
/// problem, as in `combined`, and so are more than 50 000 crossings.
[[nodiscard]] Result<std::vector<Piece>> combinedPieces(const std::vector<Piece>& first,
                                                        const std::vector<Piece>& second, Combine how);

/// What closed paths fill together by a rule, as pieces. Where they cross themselves or one another the outlines are
/// stretches of theirs, as above; paths that only touch, or lie in one another, come out as they are, bit by bit. Open
/// paths become pieces of their own, at the end. Those that cross more than 50 000 times are left as they are. Far-off
/// coordinates of paths that meet are a problem, as above.
[[nodiscard]] Result<std::vector<Piece>> filledPieces(std::vector<Path> paths, FillRule rule);

/// The stretches of a line that lie inside an area, each a stretch of the line itself; a closed line that lies in it
/// altogether stays closed. Places where it crosses are found to 0.001 mm.
[[nodiscard]] std::vector<Path> insideOf(const Path& line, const std::vector<Piece>& area);

} // namespace ferro

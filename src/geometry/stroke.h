#pragma once

#include "geometry/polygons.h"

#include <vector>

namespace ferro {

/// A line cut into the dashes of a pattern (SVG 2, 13.5.6): lengths drawn and left by turns, in mm, taken twice where
/// their number is odd; `start` says how far into the pattern the line begins. A pattern with nothing in it, or with a
/// negative length, leaves the line whole; so does one that would make more than `most` dashes.
[[nodiscard]] Rings dashed(const Ring& line, bool closed, std::vector<double> pattern, double start = 0,
                           std::size_t most = 100'000);

/// The strips, wedges and ends that a line of a width is made of, each a ring of its own, counter-clockwise; their
/// union is what it covers. Corners: flat ones are cut from edge to edge, sharp ones beyond the limit too (SVG
/// 2, 13.5.5).
[[nodiscard]] Rings strokeParts(const Ring& line, bool closed, double width, Cap cap, const OffsetOptions& options);

} // namespace ferro

#pragma once

#include "trace/trace_internal.h"

namespace ferro::trace {

/// What edges are sought in: the drawn lines, dark, and the picture.
struct EdgeFields {
    picture::Grey lines, picture;
    std::vector<std::uint8_t> least; ///< see `contrastEdges`
};

/// Drawn lines as one line each, and the edges of what is left, px in and out; closed ones are pieces with an inside,
/// counter-clockwise. Open ones shorter than a speck is wide are specks too. `traced` gets pieces, widths (of drawn
/// lines) and the largest distance from the edge.
void traceEdges(const EdgeFields& fields, const PixelSettings& settings, Traced& traced, Progress& progress);

} // namespace ferro::trace

#pragma once

#include "artwork/artwork.h"

#include <span>

namespace ferro::formats {

/// One layer as it leaves for another program.
struct Hairlines {
    std::string layer;
    std::string colour = "#000000"; ///< "#rrggbb"
    std::vector<Piece> pieces;
};

/// What an artwork shows as outlines, a set per layer in its order, in the layer's colour or black; hidden items and
/// pictures are left out, and notes unless their layer is named. `layers`: only these; empty for all. A name without
/// pieces is a problem.
[[nodiscard]] Result<std::vector<Hairlines>> hairlinesOf(const artwork::Artwork& artwork,
                                                         std::span<const std::string> layers = {});
/// "LAYER=#rrggbb": the colour a cutting bureau asks for.
[[nodiscard]] Result<void> recolour(std::vector<Hairlines>& layers, std::string_view assignment);
/// Curves as straight lines within `tolerance` mm, for machines that know no arcs.
void straighten(std::vector<Hairlines>& layers, double tolerance);

/// An SVG drawing at exact size: user unit 1 mm, y turned down, hairlines of 0.01 mm, a group per layer. Coordinates
/// have six decimals, eleven beside arcs of about half a turn, so that pieces come back within a micron.
[[nodiscard]] std::string svgOf(const std::vector<Hairlines>& layers, const Box& page);

/// A DXF drawing in mm, R12 entities: circles, arcs as bulges, lines, points; layers with the nearest of the format's
/// plain colours. Cubics become lines and arcs within 0.0005 mm; coordinates have six decimals. Read back and chained
/// it gives the same pieces.
[[nodiscard]] std::string dxfOf(const std::vector<Hairlines>& layers);

} // namespace ferro::formats

#pragma once

#include "artwork/artwork.h"

namespace ferro::formats {

struct Hairlines {
    std::string layer;
    std::string colour = "#000000";
    std::vector<Piece> pieces;
};
/// What an artwork shows as outlines, a group per layer in its order; hidden items and pictures are left out.
[[nodiscard]] std::vector<Hairlines> hairlinesOf(const artwork::Artwork& artwork);
/// An SVG drawing at exact size: user unit 1 mm, y turned down, hairlines of 0.01 mm, a group per layer. Coordinates
/// have six decimals, so that pieces come back within a micron.
[[nodiscard]] std::string svgOf(const std::vector<Hairlines>& layers, const Box& page);

/// SVG path data (SVG 1.1, 8.3): all commands, absolute and relative, compact numbers. y is taken upwards as it stands.
/// Circular arcs stay arcs, elliptical ones become cubics (within 1e-6 of their radius).
[[nodiscard]] Result<std::vector<Path>> pathsFromSvgData(std::string_view data);

} // namespace ferro::formats

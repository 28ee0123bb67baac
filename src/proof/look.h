#pragma once

#include "proof/removal.h"

namespace ferro::proof {

/// How the stock looks.
struct Look {
    using Colour = std::array<std::uint8_t, 3>; ///< red, green, blue
    Colour stock{0xE8, 0xD7, 0xB4}, through{0xD5, 0xCE, 0xBF};
    bool grain = true;
    bool beam = false; ///< edges are charred
    double ply = 0;    ///< mm; 0: what is cut shows no plies
};
[[nodiscard]] Look lookOf(const shop::Material& material, bool byBeam);

/// What is shown as a picture. Rows from the top.
struct Lit {
    int width = 0, height = 0;
    std::vector<std::uint8_t> rgb; ///< red, green, blue
};
/// The grid seen from above, lit from the upper left: wood where uncut, darker with depth, `through` colour where
/// nothing is left. `dark`: on a grid alike, 0 to 1, how dark a beam has burnt what is left, in place of its depth.
[[nodiscard]] Lit lit(const HeightGrid& grid, double thickness, const Look& look, const HeightGrid* dark = nullptr);
/// PNG bytes of a picture.
[[nodiscard]] std::string pngOf(const Lit& picture);

/// The grain of wood at a place of the sheet: by how much, about, it is darker or lighter there; within 0.035.
[[nodiscard]] double grainAt(Vec2 p);

} // namespace ferro::proof

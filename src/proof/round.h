#pragma once

#include "proof/look.h"

namespace ferro::proof {

/// The stock as a solid: between its underside and a surface over a grid. Where nothing is left there is no solid.
struct Solid {
    HeightGrid grid; ///< none below the underside
    double thickness = 0;
    struct Cell {
        float z = 0;
        std::int8_t x = 0, y = 0; ///< of the surface's normal, in parts of 127
        std::uint8_t shade = 0;   ///< what stands around keeps the light off
        std::int8_t grain = 0;    ///< as `grainAt`, in parts of 1/2000
    };
    /// Of the sheet, and of what hangs on nothing any more, the other being nothing; the second is empty where nothing
    /// is loose. In blocks of 16 × 16, so that a way in any direction stays near in memory.
    std::vector<Cell> stays, lifted;
    Box looseArea; ///< that loose parts lie in

    /// Where a column or a row begins among the cells: the sum of both is a cell's index.
    [[nodiscard]] std::size_t columnAt(int c) const {
        const auto n = static_cast<std::size_t>(c);
        return (n / 16) * 256 + n % 16;
    }
    [[nodiscard]] std::size_t rowAt(int r) const {
        const auto n = static_cast<std::size_t>(r);
        return (n / 16) * ((static_cast<std::size_t>(grid.columns) + 15) / 16) * 256 + n % 16 * 16;
    }
    [[nodiscard]] bool isLoose(Vec2 p) const;
};
/// What hangs together is found by cells that share a side. The largest of it is the sheet, all else is loose; of a
/// grid over a part of the sheet, what is loose is what is so in the `whole`.
[[nodiscard]] Result<Solid> solidOf(HeightGrid grid, double thickness, Progress& progress,
                                    const Solid* whole = nullptr);

/// Strokes as a grid shows them: a kerf or a point is never so thin that it falls between the cells.
[[nodiscard]] Strokes shownOn(const HeightGrid& grid, Strokes strokes);

/// From where a solid is looked at: parallel rays, so that lengths along one direction stay true.
struct RoundView {
    double turn = 0;   ///< rad that the one who looks has gone round counter-clockwise; 0: at the sheet's lower edge
    double tilt = 0.8; ///< rad above level, 0.1 to π/2, which is straight down
    Vec2 centre;       ///< of the sheet's top, in the middle of the picture
    double scale = 1;  ///< px per mm
    int width = 0, height = 0;
    double section = 0; ///< mm below the top: what lies above is taken away
    double lift = 0;    ///< mm that loose parts are lifted by

    [[nodiscard]] Vec2 project(Vec2 at, double z) const;    ///< px from the picture's upper left
    [[nodiscard]] Vec2 placeAt(Vec2 pixel, double z) const; ///< where a ray passes a height
    /// Of the sheet, all that can be seen, for stock so thick.
    [[nodiscard]] Box seen(double thickness) const;
    /// The same picture in fewer pixels, no more than `most` of them.
    [[nodiscard]] RoundView reduced(double most) const;
    /// The same direction, with a sheet of that size filling the picture but for `margin` px.
    [[nodiscard]] RoundView fitted(const Box& sheet, double thickness, double margin) const;
};

/// By how much loose parts are lifted so that one sees that they are, mm.
[[nodiscard]] inline double liftFor(double thickness) { return std::clamp(0.8 * thickness, 1.5, 12.0); }

/// A tool as it is to be seen, its lowest point at a place.
struct ShownTool {
    shop::Tool tool;
    toolpath::Vec3 tip;
    double holder = 0; ///< mm wide; 0: none
};

struct RoundPicture {
    int width = 0, height = 0;
    std::vector<std::uint8_t> rgba; ///< premultiplied, rows from the top; clear where nothing is
    std::vector<float> heights;     ///< z of what is seen; NaN where that is nothing, or a tool
};
/// Every column of the picture looks along one line over the grid: followed from near to far, what reaches higher than
/// all before is seen, and a ray that finds no solid down to the underside goes through (Anderson 1982, floating
/// horizons). Heights between cells are bilinear. Lit from the upper left of the one who looks, with soft shade.
/// `fine` takes four samples a pixel. The picture does not depend on the number of threads.
[[nodiscard]] RoundPicture rounded(const Solid& solid, const Look& look, const RoundView& view,
                                   const std::optional<ShownTool>& tool, bool fine);
/// On a ground of one colour, for a file.
[[nodiscard]] Lit onGround(const RoundPicture& picture, Look::Colour ground);

} // namespace ferro::proof

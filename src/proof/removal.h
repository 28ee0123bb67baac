#pragma once

#include "proof/timing.h"
#include "toolpath/moves.h"

namespace ferro::proof {

/// The stock's surface as heights over a grid of square cells, sampled at their middles. 0 is the top of the stock.
struct HeightGrid {
    Box area;
    double cell = 0.1; ///< mm
    int columns = 0, rows = 0;
    std::vector<float> heights; ///< row by row from the lower left

    [[nodiscard]] static HeightGrid over(const Box& area, double cell);
    /// A grid of about `cells` cells, none smaller than 0.02 mm.
    [[nodiscard]] static HeightGrid sized(const Box& area, std::size_t cells);
    /// Of a blank before anything is cut: where it is not, there is nothing down to below its thickness.
    [[nodiscard]] static HeightGrid of(const job::Stock& stock, std::size_t cells);
    [[nodiscard]] float at(Vec2 p) const;
    [[nodiscard]] Vec2 middle(int column, int row) const {
        return {area.low.x + (column + 0.5) * cell, area.low.y + (row + 0.5) * cell};
    }
};

/// One straight bit of a tool's way with a level point, as the sweep takes it: arcs and ramps are cut up into these.
struct Stroke {
    Vec2 from, to;
    float z = 0;
    std::uint32_t tool = 0;      ///< index into Strokes::tools
    bool joined = false;         ///< begins where the one before ended, with the same tool and no higher
    double begins = 0, ends = 0; ///< s into the job, when timing was given
};
struct Strokes {
    std::vector<Stroke> list;
    std::vector<shop::Tool> tools;
};
/// Feed moves below the top (for a laser: with the beam on, as deep as it burns). Arcs within `tolerance` mm, and as
/// many level moves in one stroke as lie within it of their chord, so that finely divided outlines cost no more than
/// long moves; ramps in level bits of at most 0.02 mm, each at its lower end, so that nothing is shown as standing that
/// was cut.
[[nodiscard]] Strokes strokesOf(const toolpath::Toolpath& path, double thickness, double tolerance,
                                const Timing* timing = nullptr);

/// Sweeps the tools' true shapes along the strokes as far as the job has come at `until` seconds (all by default). The
/// cost grows with the area newly swept plus the rows touched: what the stroke before has covered is not visited again.
/// Works on bands of rows in parallel; the result does not depend on their number. Answers how many cells were visited.
[[nodiscard]] Result<std::size_t> sweep(HeightGrid& grid, const Strokes& strokes, Progress& progress,
                                        double until = 1e300);

} // namespace ferro::proof

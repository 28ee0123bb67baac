#pragma once

#include "base/result.h"
#include "geometry/vec.h"

#include <string_view>
#include <vector>

namespace ferro::job {

/// How a blank lies: the height of its top over a grid, mm, counted from where its zero was touched off; between the
/// grid's places evenly (bilinear), beyond them as at the nearest of its edge.
struct Lie {
    std::vector<double> xs, ys;  ///< mm on the sheet, ascending, two of each at least
    std::vector<double> heights; ///< row by row, the lowest y first; one for each place
    friend bool operator==(const Lie&, const Lie&) = default;

    [[nodiscard]] double at(Vec2 p) const;
    [[nodiscard]] double lowest() const;
    [[nodiscard]] double highest() const;
    /// How far outside of what was measured a place is, mm; 0 within.
    [[nodiscard]] double beyond(Vec2 p) const;
};

/// Whether it is a grid, of 10 000 places at most, none of them further than 50 mm up or down; says what is not.
[[nodiscard]] Result<void> checked(const Lie& lie);

/// Reads measured places, one a line as x, y, z in mm from the job's zero, with commas, semicolons, tabs or spaces
/// between; a first line of words is passed over. They may come in any order, but make up a grid: what is there twice
/// or missing is a problem with its line or place.
[[nodiscard]] Result<Lie> lieFrom(std::string_view text, Vec2 zero);
/// The same places as text that it reads again.
[[nodiscard]] std::string lieText(const Lie& lie, Vec2 zero);

} // namespace ferro::job

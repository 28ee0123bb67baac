#pragma once

#include "base/result.h"
#include "geometry/vec.h"

#include <array>
#include <optional>
#include <span>
#include <vector>

namespace ferro {

/// Which map best takes places to others, by least squares.
struct PlaceFit {
    Transform map;
    std::vector<double> off; ///< of each, mm
    [[nodiscard]] double worst() const;
};
/// Of one place a shift, of two a shift, turn and size, of three that lie in no line, or more, also a skew and a size
/// for each way. `from` and `to` are equally many, at least one, no two of `from` the same.
[[nodiscard]] PlaceFit fittedMap(std::span<const Vec2> from, std::span<const Vec2> to);

/// Which of the places found are which of those expected, when all that lies between is a shift, a turn and a size
/// between 0.85 and 1.18, and each may be off by `tolerance`, mm, beside that: the way that explains most, of those the
/// one with the least off, of those the one that turns least (two of each are tried against each other, Fischler &
/// Bolles 1981, all of them, so that nothing is left to chance). None: not found. Up to 400 each.
[[nodiscard]] std::vector<std::optional<std::size_t>> matchedPlaces(std::span<const Vec2> expected,
                                                                    std::span<const Vec2> found, double tolerance);

/// How a camera sees a plane: a perspective, and a lens that bends what is far from the middle (Brown 1966, the radial
/// terms, from the picture to the plane).
struct Viewed {
    std::array<double, 9> plane{1, 0, 0, 0, 1, 0, 0, 0, 1}; ///< of the plane by the straightened picture, row by row
    std::array<double, 3> bend{};                           ///< of the lens, by the 2nd, 4th and 6th power
    Vec2 middle;                                            ///< px, where the lens looks straight through
    double reach = 1;                                       ///< px, that `bend` is told by, above 0
    int width = 0, height = 0;                              ///< px of the pictures it holds for
    friend bool operator==(const Viewed&, const Viewed&) = default;

    /// mm on the plane of a place in the picture, px from the upper left, y down.
    [[nodiscard]] Vec2 operator()(Vec2 px) const;
    /// Where that place is seen.
    [[nodiscard]] Vec2 seen(Vec2 mm) const;
};
struct ViewFit {
    Viewed view;
    std::vector<double> off; ///< of each place, mm
    [[nodiscard]] double worst() const;
};
/// From places in a picture of this size and where they are on the plane: four or more, no three of the first four
/// corners in a line. From 8 on the lens counts by one term, from 14 by two, from 24 by three and by its own middle
/// (Levenberg 1944, Marquardt 1963).
[[nodiscard]] Result<ViewFit> fittedView(std::span<const Vec2> px, std::span<const Vec2> mm, int width, int height);

/// Which places in a picture are which of a field of marks, whose four outermost are the picture's four outermost too,
/// however the camera stands and is turned, when the field is seen from above. Found with all of it; a problem when it
/// cannot be told.
[[nodiscard]] Result<std::vector<std::optional<std::size_t>>>
matchedField(std::span<const Vec2> field, std::span<const Vec2> px, int width, int height);

} // namespace ferro

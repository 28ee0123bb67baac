#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

enum class HatchBy { lines, rings };
/// In which order lines are burnt: each area for itself, or rows over all areas at once.
enum class HatchRows { areaByArea, overAll };

/// Fills areas by a beam: lines or rings close to each other.
struct Hatch {
    Beam beam;
    Rates rates;
    HatchBy by = HatchBy::lines;
    double spacing = 0.1; ///< mm from line to line
    double angle = 0;     ///< degrees from level, of lines
    bool bothWays = true; ///< every second line comes back; else all are burnt in one direction
    bool crossed = false; ///< once more, square to the first
    HatchRows rows = HatchRows::areaByArea;
    bool edged = false; ///< the edge of each area is followed afterwards

    static const Kind& kind();
    friend bool operator==(const Hatch&, const Hatch&) = default;
};

} // namespace ferro::plan

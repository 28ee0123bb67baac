#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// Takes the upper edge of parts and openings off, at the angle of a pointed tool.
struct Bevel {
    double width = 1;   ///< mm on the part, seen from above
    double below = 0.5; ///< mm that the tool's point runs below the bevel, so that its flank cuts
    double perPass = 3; ///< mm of depth at most
    Rates rates;
    Side side = Side::automatic; ///< of the outline where the tool runs; the part lies on the other
    Direction direction = Direction::climb;

    static const Kind& kind();
    friend bool operator==(const Bevel&, const Bevel&) = default;
};

} // namespace ferro::plan

#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// Goes straight down at points and at the middles of circles; a mill also round in holes wider than itself.
struct Drill {
    Depth depth;
    Rates rates;
    double peck = 4;     ///< mm: lifts after each; 0: in one go
    bool breaks = false; ///< lifts only as far as breaks the chip
    double dwell = 0;    ///< s at the bottom
    double feedOut = 0;  ///< mm/min on the way out; 0: as fast as the machine is
    bool bores = true;   ///< goes round in holes that are wider than a mill
    double perTurn = 1;  ///< mm that it goes down a turn

    static const Kind& kind();
    friend bool operator==(const Drill&, const Drill&) = default;
};

} // namespace ferro::plan

#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// Goes straight down at points and at the middles of circles.
struct Drill {
    Depth depth;
    Rates rates;
    double peck = 4; ///< mm: lifts out after each; 0: in one go

    static const Kind& kind();
    friend bool operator==(const Drill&, const Drill&) = default;
};

} // namespace ferro::plan

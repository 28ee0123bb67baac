#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// Cuts beside or along outlines: what parts are cut out with.
struct Outline {
    Depth depth;
    Rates rates;
    Beam beam;
    Side side = Side::automatic;
    Direction direction = Direction::climb;
    Entry entry = Entry::ramp;
    double rampAngle = 5; ///< degrees
    double lead = 2;      ///< mm, radius of the arcs into and out of the cut; 0: none
    double allowance = 0; ///< mm left on the part
    Hold hold = Hold::tabs;
    double tabWidth = 8, tabHeight = 2.5, tabSpacing = 180;
    std::vector<TabPlace> tabs; ///< outlines with a tab here have only these

    static const Kind& kind();
    friend bool operator==(const Outline&, const Outline&) = default;
};

} // namespace ferro::plan

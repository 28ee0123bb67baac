#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

enum class ClearBy { rings, lines, evenLoad };

/// Which edges an area goes on beyond where it reaches them: none, the blank's, or also those of parts.
enum class Rim { wall, blank, part };

/// Clears areas, with what lies in them left standing, down to a depth.
struct Clear {
    Depth depth;
    Rates rates;
    bool rest = false; ///< only what steps before have left that cleared as deep
    ClearBy by = ClearBy::rings;
    Direction direction = Direction::climb;
    Entry entry = Entry::ramp;
    double rampAngle = 4;
    double overlap = 55;    ///< % of the tool's width that a way goes over the one before
    double allowance = 0;   ///< mm left on the walls
    double floor = 0;       ///< mm left on the floor, where it does not go through
    double engagement = 60; ///< degrees of the tool's rim in the stock at most, by even load
    Rim rim = Rim::wall;
    double slant = 0; ///< degrees that the walls lean out from upright: it stays as far off them as they need
    double angle = 0; ///< degrees from level, of lines

    static const Kind& kind();
    friend bool operator==(const Clear&, const Clear&) = default;
};

} // namespace ferro::plan

#pragma once

#include "artwork/artwork.h"
#include "shop/shop.h"

namespace ferro::plan {

// What several kinds of step have in common. Lengths mm, depths below the top of the stock and positive, feeds mm/min.

struct Depth {
    double start = 0; ///< what lies above was cut before
    bool through = true;
    double depth = 3;   ///< counts unless `through`
    double extra = 0.3; ///< below the stock when `through`
    double perPass = 3; ///< at most; passes come out equal
    friend bool operator==(const Depth&, const Depth&) = default;
};
struct Rates {
    double feed = 1000, plunge = 300, spindle = 16000;
    friend bool operator==(const Rates&, const Rates&) = default;
};
struct Beam {
    double power = 50;    ///< %
    double passes = 1;    ///< a whole number
    bool air = true;      ///< blown on where it burns, by dialects that have words for it
    double pierce = 0;    ///< s that it stands lit where it begins, before it goes on
    double focusStep = 0; ///< mm that the head goes down from pass to pass
    double still = 100;   ///< % of the power where the machine stands, in between by its speed
    friend bool operator==(const Beam&, const Beam&) = default;
};

enum class Side { automatic, outside, inside, on, left, right }; ///< left and right of an open line, as it was drawn
enum class Entry { ramp, plunge, helix, hole };                  ///< hole: where a step before has drilled one
enum class Direction { climb, conventional };
enum class Hold { none, tabs, skin };

/// A place that a person has chosen: on which outline of which item, and where along it, 0 to 1.
struct EdgePlace {
    artwork::ItemId item;
    int opening = -1; ///< -1: the outline itself
    double along = 0;
    friend bool operator==(const EdgePlace&, const EdgePlace&) = default;
};

} // namespace ferro::plan

#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// What is cut round and between the pieces so that what is not wanted comes off easily.
enum class Weeding { none, border, lines };

/// Follows lines by a blade that trails behind its axis, or goes through them.
struct Slit {
    Depth depth{.through = true, .depth = 0.1, .extra = 0.1};
    Rates rates;
    double force = 80;     ///< g, for plotters that press instead of going down
    double passes = 1;     ///< a whole number; each goes deeper by its share
    double overcut = 1;    ///< mm that a closed line goes on past where it began
    double turnsOver = 12; ///< degrees: flatter corners are dragged round
    double turnDepth = 0;  ///< mm below the top that the blade turns at in corners; 0: as deep as it cuts
    double dash = 0;       ///< mm cut at a time, of a perforated line; 0: all of it
    double gap = 1;        ///< mm left between
    Weeding weeding = Weeding::none;
    double border = 5;  ///< mm from the pieces to the border round them
    double pitch = 40;  ///< mm from weeding line to weeding line
    double spare = 1.5; ///< mm that a weeding line keeps off the pieces

    static const Kind& kind();
    friend bool operator==(const Slit&, const Slit&) = default;
};

} // namespace ferro::plan

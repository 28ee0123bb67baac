#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// Lines of the drawing, or the witness outline: that of the blank, on the scrap board before the blank lies there.
enum class ScribeOf { lines, blank };

/// As deep all along, or, by a tool that gets narrower downwards, so deep that each line becomes as wide as its ink was
/// in the picture that it was traced from.
enum class ScribeDeep { even, ink };

/// Follows lines at a depth; frees nothing.
struct Scribe {
    ScribeOf of = ScribeOf::lines;
    ScribeDeep deep = ScribeDeep::even;
    Depth depth; ///< at most, where it follows the ink
    Rates rates;
    Beam beam;
    Entry entry = Entry::ramp;
    double rampAngle = 5; ///< degrees
    double dash = 0;      ///< mm that a beam burns at a time; 0: all of a line
    double gap = 1;       ///< mm that it leaves between

    static const Kind& kind();
    friend bool operator==(const Scribe&, const Scribe&) = default;
};

} // namespace ferro::plan

#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// Follows lines at a depth; frees nothing.
struct Scribe {
    Depth depth;
    Rates rates;
    Beam beam;
    Entry entry = Entry::ramp;
    double rampAngle = 5; ///< degrees

    static const Kind& kind();
    friend bool operator==(const Scribe&, const Scribe&) = default;
};

} // namespace ferro::plan

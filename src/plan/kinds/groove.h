#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// Cuts areas as V grooves: so deep that a pointed tool touches both edges, up to the surface in sharp corners. Where
/// that would be deeper than it may go, its floor is flat.
struct Groove {
    Depth depth; ///< at most
    Rates rates;
    double ridge = 0.05; ///< mm, of the ridges that the point may leave on a flat floor
    bool rest = false;   ///< only what is too narrow for the flat tips of the grooves before

    static const Kind& kind();
    friend bool operator==(const Groove&, const Groove&) = default;
};

} // namespace ferro::plan

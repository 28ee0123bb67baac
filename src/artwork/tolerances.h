#pragma once

namespace ferro::artwork {

/// How near is meant to be the same: what the audit of a drawing goes by. A job remembers its own.
struct Tolerances {
    double gap = 0.5;      ///< mm between two ends that are meant to meet
    double doubled = 0.05; ///< mm between two lines that are meant to be one
    double speck = 0.4;    ///< mm²; for an open line the side of a square of that size
    double thin = 0.02;    ///< mm that fewer points may change an outline
    friend bool operator==(const Tolerances&, const Tolerances&) = default;
};

} // namespace ferro::artwork

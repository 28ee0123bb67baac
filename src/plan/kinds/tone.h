#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// How grey is made by a beam: by its power, or by dots of one power, set by diffusing the error, by an ordered matrix
/// or as a screen of round dots that grow.
enum class ToneBy { power, dots, ordered, screen };

/// Burns pictures in lines, as dark as they are.
struct Tone {
    Beam beam; ///< its power where the picture is black
    Rates rates;
    ToneBy by = ToneBy::power;
    double spacing = 0.1; ///< mm from line to line, and from dot to dot
    double angle = 0;     ///< degrees from level, of lines
    bool bothWays = true;
    bool inverted = false; ///< light becomes dark
    double least = 0;      ///< %, power of what is just not white
    double gamma = 1;      ///< above 1: middle greys lighter
    double white = 3;      ///< %: what is less dark is left out
    double cell = 0.8;     ///< mm from dot to dot of a screen
    double tilt = 45;      ///< degrees, of a screen

    static const Kind& kind();
    friend bool operator==(const Tone&, const Tone&) = default;
};

} // namespace ferro::plan

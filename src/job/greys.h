#pragma once

#include "job/swatch_reading.h"

namespace ferro::job {

/// How a beam makes even greys on a material, reckoned from cells of a card that are alike but for their power.
struct Greys {
    double power = 0;    ///< %, the least that makes it as dark as it gets
    double least = 0;    ///< %, the most that leaves no mark yet
    double gamma = 1;    ///< of the step: middle greys come out even by it
    double off = 0;      ///< the farthest that a grey is from what it should be then, 0 to 1
    double offPlain = 0; ///< the same if power simply rose with darkness
    std::vector<std::pair<double, double>> measured; ///< power, %, and darkness, 0 to 1; by power
};

/// From the cells of a read card whose settings are those of this step but for the power; four different powers at
/// least, which get darker. What lies between two cells is taken to change evenly. A problem says what is missing.
[[nodiscard]] Result<Greys> greysFrom(const Job& card, const SwatchReading& read, plan::StepId like);

/// The greys as what was proven for pictures by tone.
[[nodiscard]] Result<shop::Proven> provenGreys(const Job& card, const Greys& greys, plan::StepId like, std::string date,
                                               std::string note);

} // namespace ferro::job

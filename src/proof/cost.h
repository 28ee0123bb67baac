#pragma once

#include "proof/timing.h"

namespace ferro::proof {

/// What a sheet costs to make, in the shop's own money (need PR6); what the shop book does not know is 0.
struct Cost {
    double machine = 0;               ///< its time, tool changes and waits with it
    double sheet = 0;                 ///< the whole of it
    double tools = 0;                 ///< their wear by the metres they cut
    std::vector<std::string> unknown; ///< what is not reckoned, for a person
    [[nodiscard]] double total() const { return machine + sheet + tools; }
    /// "14.20 in all: machine 10.00, sheet 3.80, tools 0.40", and what it leaves out; empty when nothing is known.
    [[nodiscard]] std::string words() const;
};
[[nodiscard]] Cost costOf(const job::Job& job, const toolpath::Toolpath& path, const Timing& timing);

} // namespace ferro::proof

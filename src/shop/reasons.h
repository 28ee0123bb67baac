#pragma once

#include "shop/shop.h"

#include <map>

namespace ferro::shop {

/// Why starting values are what they are: by a step's setting ("feed", "spindle" …) how it is reckoned from tool,
/// material and machine, and what it is held to. In mm and minutes.
[[nodiscard]] std::map<std::string, std::string> reasonsFor(const Tool& tool, const Material& material,
                                                            const Machine& machine, Work work, double thickness);

} // namespace ferro::shop

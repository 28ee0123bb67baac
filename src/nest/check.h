#pragma once

#include "nest/nest.h"

namespace ferro::nest {

/// What is wrong with a layout, by exact edges and not by the bodies it was made with.
struct Fault {
    std::string what;
    std::size_t sheet = 0;
    std::vector<std::size_t> placements; ///< indices into the layout's
};
/// Parts that overlap, lie nearer than the spacing less 0.001 mm, beyond the margin or on what is taken; turned or
/// mirrored as they may not be; too many or too few of them, those that are told as left counted. Nothing: it is sound.
[[nodiscard]] std::vector<Fault> faultsOf(const std::vector<Part>& parts, const std::vector<Sheet>& sheets,
                                          const Settings& settings, const Layout& layout);

} // namespace ferro::nest

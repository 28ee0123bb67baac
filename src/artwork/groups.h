#pragma once

#include "artwork/artwork.h"

namespace ferro::artwork {

/// The outermost group round each group, itself where it lies in none. Chains of any depth take their length once.
[[nodiscard]] std::map<GroupId, GroupId> outermostGroups(const Artwork& artwork);

} // namespace ferro::artwork

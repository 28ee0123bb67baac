#pragma once

#include "artwork/edits.h"

namespace ferro::artwork {

/// These items alone, with the layers and groups they lie in: what is carried from one job to another. A copy whose
/// original does not come along takes its shape and facts with it.
[[nodiscard]] Artwork excerptOf(const Artwork& artwork, const Ids& items);
/// All of another artwork comes in on the sheet at hand, moved `by`, unlocked and in sight, with ids of its own. A
/// layer that is here already, by its name, takes what lies on its namesake; others come along as they are.
[[nodiscard]] Added withExcerpt(const Artwork& artwork, const Artwork& excerpt, Vec2 by);

} // namespace ferro::artwork

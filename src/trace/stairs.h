#pragma once

#include "geometry/path.h"

namespace ferro::trace {

/// Where the edge ran that a picture without greys has made stairs of. Its closed level line, px, crosses between the
/// middle of a dark pixel and that of a light one: that the edge passes there is all that is known. As far as one
/// parabola passes all of those crossings they are taken for one stretch of edge; each point lies where the stretches
/// over it say, the longest most and each most about its middle, as in the λ-MST estimator of Lachaud, Vialard & de
/// Vieilleville 2007. As many points as before.
struct Evened {
    Ring line;
    std::vector<std::size_t> corners; ///< which of its points are tips of corners
};
[[nodiscard]] Evened withoutStairs(const Ring& line);

} // namespace ferro::trace

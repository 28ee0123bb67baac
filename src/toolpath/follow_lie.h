#pragma once

#include "job/lie.h"
#include "toolpath/moves.h"

namespace ferro::toolpath {

/// The same moves on a blank that lies unevenly: each feed move ends as much higher or lower as the blank's top does
/// there, and is parted so often that nowhere between it is off by more than 0.01 mm. Rapids stay where they are, which
/// is above all of it where `path.travel` is. `origin` says which move of the old path each of the new ones is of.
/// A rotary tool's or a blade's; a beam stays at its height.
struct OnLie {
    Toolpath path;
    std::vector<std::vector<std::uint32_t>> origin; ///< per step, per move
};
[[nodiscard]] OnLie onLie(const Toolpath& path, const job::Lie& lie);

} // namespace ferro::toolpath

#pragma once

#include "base/progress.h"
#include "base/result.h"
#include "geometry/path.h"

namespace ferro::toolpath {

/// How much a tool may bear at a time.
struct Load {
    double radius = 3;          ///< mm, of the tool, above 0
    double engagement = pi / 3; ///< radians of its rim in the stock at most, 0.1 to 2.2
    bool climb = true;          ///< the stock lies on the tool's right
};

/// A way of the tool's axis at one depth, without being lifted.
struct Sweep {
    struct Hole {
        Vec2 centre;
        double radius; ///< mm, of the axis' way round it, above 0
    };
    struct Stretch {
        enum class Pace {
            cut,
            back, ///< nothing stands there any more
            slot  ///< hardly wider than the tool: what is asked cannot be kept
        } pace = Pace::cut;
        std::vector<Segment> segments = {};
    };
    std::optional<Hole>
        hole; ///< it goes in by a helix round this and begins at its right; none: all is gone at `start`
    Vec2 start;
    std::vector<Stretch> stretches;
};

struct Sweeps {
    std::vector<Sweep> sweeps;
    std::vector<Path> narrow; ///< parts hardly wider than the tool by themselves: to be ramped into and slotted
    double tight = 0;         ///< mm of way on which the load is not kept, `narrow` included
};

/// Ways that clear all that the axis may pass but a ridge along the walls, which one round along them takes with less
/// load than is asked. From a helix in the widest place of each part of the area a spiral to the largest disc, from
/// there disc after disc along the medial axis, each by one arc round the stock in front of the last and straight back
/// through what is gone (Elber, Cohen & Drake 2005, "MATHSM: medial axis transform toward high speed machining of
/// pockets"; the step from disc to disc as large as the tool's contact with the stock allows, which is known exactly
/// from two circles). `walls`: the edges of where the axis may be, the area on their left, none touching another.
[[nodiscard]] Result<Sweeps> evenLoad(const std::vector<Path>& walls, const Load& load, Progress& progress);

} // namespace ferro::toolpath

#pragma once

#include "base/progress.h"
#include "base/result.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"

#include <memory>

namespace ferro::toolpath {

/// One way of the tool's axis in the plane: a ring, or a line.
struct Way {
    Path path;
    Ring flat; ///< within 0.005 mm
};

/// How an area is to be covered by ways.
struct Covering {
    double radius = 3;                                   ///< mm, of the tool, above 0
    double allowance = 0;                                ///< mm left on the walls
    double step = 2;                                     ///< mm from way to way, above 0, at most the tool's width
    enum class In { rings, lines, none } in = In::rings; ///< lines are parallel; none: only round along the walls
    double angle = 0;                                    ///< radians from level, of lines
    bool climb = true;                                   ///< rings have the wall on their right
    const Rings* done = nullptr; ///< cleared before: only ways for the rest stay; none: all is to be covered
};

/// The ways of a tool over an area, none of which takes it over a wall.
struct Ways {
    Rings axis;             ///< where the tool's axis may be
    Rings goal;             ///< what is to be gone: all that the tool gets to from there, or what is left of that
    std::vector<Way> inner; ///< in the order of work: from the inside out, or line by line
    std::vector<Way> walls; ///< after them, along the walls
    std::vector<Way> edge;  ///< the whole rings along all walls, to stay down along; empty: the tool does not fit
};

/// Where the axis of a tool may go on from one way to the next without being lifted.
class Crossing {
public:
    Crossing(const Ways& ways, double radius);
    /// Straight, or along a wall, within what the axis may pass; none if that is further than three radii.
    [[nodiscard]] std::optional<std::vector<Segment>> between(Vec2 from, Vec2 to) const;
    /// The same however far it is, but straight only.
    [[nodiscard]] bool isStraightOn(Vec2 from, Vec2 to) const { return isClear(from, to); }
    /// Whether a circle round a place lies where the axis may be.
    [[nodiscard]] bool hasRoom(Vec2 centre, double radius) const;

private:
    [[nodiscard]] bool isClear(Vec2 from, Vec2 to) const;

    struct Wall {
        Box box;
        Ruler ahead, back;
    };
    struct Edge {
        Vec2 a, b;
    };
    Rings axis_;
    double radius_;
    std::vector<Wall> walls_;
    std::vector<Edge> edges_;
    std::unique_ptr<SpatialIndex> index_;
};

/// Rings are exact offsets of the area, each component after those that lie in it; what they leave of all that the tool
/// gets to (the opening of the area by the tool's disc, Serra 1982), sharp corners and middles, gets ways along the
/// area's medial axis. Lines leave nothing. `area`: outlines and islands, even-odd. All within 0.004 mm. A cancelled
/// one is a problem.
[[nodiscard]] Result<Ways> waysOver(const Rings& area, const Covering& how, Progress& progress);

} // namespace ferro::toolpath

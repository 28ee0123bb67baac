#pragma once

#include "geometry/measure.h"
#include "geometry/spatial.h"
#include "toolpath/toolpath.h"

namespace ferro::toolpath {

/// The edges of all parts, to ask how near a move comes to any of them.
class Keepout {
public:
    Keepout(const std::vector<plan::Contour>& contours, const std::vector<char>& counts);
    /// Whether every point of the segment stays `clear` mm from every edge.
    [[nodiscard]] bool allows(Vec2 from, const Segment& segment, double clear) const;

private:
    std::vector<std::pair<Vec2, Vec2>> edges_;
    std::unique_ptr<SpatialIndex> index_;
};

/// What one step is done with.
struct StepWork {
    const job::Job& job;
    const plan::Step& step;
    const shop::Tool& tool;
    const std::vector<plan::Contour>& contours;
    const Keepout& keepout;
    double travel;
    bool laser;
};

/// One closed loop, open line or hole, ready to be written as moves.
struct Loop {
    artwork::ItemId item;
    int opening = -1;
    plan::Role role = plan::Role::outerEdges;
    int depth = 0;
    double size = 0;
    Path centre;                                    ///< the tool's way; starts where the cut starts
    std::vector<double> tabs;                       ///< mm along `centre`
    std::optional<std::pair<Vec2, Segment>> leadIn; ///< start and arc onto the loop
    std::optional<Segment> leadOut;
    bool isHole = false; ///< drill at centre.start

    [[nodiscard]] Vec2 entry() const { return leadIn ? leadIn->first : centre.start; }
};
struct Planned {
    std::vector<Loop> loops;
    std::vector<Snag> snags;
};

/// Whether tool and depth fit at all; says why not.
[[nodiscard]] bool canDo(const StepWork& work, std::vector<Snag>& snags);
[[nodiscard]] Planned plannedCut(const StepWork& work, const plan::Contour& contour);
/// The order to cut loops in: innermost first, small before large, then nearest next from `at`.
[[nodiscard]] std::vector<std::size_t> workOrder(const std::vector<Loop>& loops, Vec2 at);
void writeLoop(const StepWork& work, const Loop& loop, StepMoves& out);

/// Middles of tabs along a loop, at about `spacing`, at least two, each on a straight stretch if there is one in reach.
[[nodiscard]] std::vector<double> tabPlaces(const Ruler& loop, double spacing, double footprint);

inline constexpr double sampling = 0.0005; ///< mm, flattening of outlines before they are offset

} // namespace ferro::toolpath

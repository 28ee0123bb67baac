#pragma once

#include "toolpath/work_internal.h"

namespace ferro::toolpath {

/// A line to follow in the plane, with how the tool gets into it, what holds the part, and in which depths.
struct Follow {
    Path centre;              ///< the tool's way; where it is closed it starts where the cut starts
    std::vector<double> tabs; ///< mm along `centre`, middles; none lies where the cut starts
    double tabWidth = 0, tabHeight = 0;
    std::optional<std::pair<Vec2, Segment>> leadIn = {}; ///< start and arc onto the loop
    std::optional<Segment> leadOut = {};                 ///< off it, `overlap` beyond its start
    double overlap = 0;                                  ///< mm that it goes on past where it started, in the end
    bool oneWay = false;     ///< an open line is cut from its start to its end in every pass, not to and fro
    bool tabsSloped = false; ///< up and down at 30° beside the tabs, or at the ramp's angle if that is more
    plan::Depth depth;
    plan::Rates rates;
    plan::Beam beam;
    plan::Entry entry = plan::Entry::ramp;
    double rampAngle = 5;              ///< degrees
    std::optional<bool> wearLeft = {}; ///< the controller makes up for wear, with the tool on the part's left, or right
    double dash = 0, gap = 0; ///< mm that a beam burns at a time and leaves between; no dash: all, but for the tabs

    [[nodiscard]] Vec2 begins() const { return leadIn ? leadIn->first : centre.start; }
};

/// The task of following it: in passes with ramps or plunges, round and round or to and fro, over the tabs; by a beam
/// as often as asked, dark where a tab is.
[[nodiscard]] Task followed(const StepWork& work, Intent intent, double size, Follow follow);

/// How far along the way a tab reaches to either side of its middle for the tool's axis.
[[nodiscard]] double tabReach(const StepWork& work, double tabWidth);

} // namespace ferro::toolpath

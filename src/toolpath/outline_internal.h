#pragma once

#include "plan/kinds/outline.h"
#include "toolpath/follow_internal.h"

#include <set>

namespace ferro::toolpath {

/// What of an outline lies beside the tool's way: loops offset by the radius and what is left, or the line itself.
[[nodiscard]] Result<std::vector<Path>> centres(const StepWork& work, const plan::Contour& contour, plan::Side side,
                                                double off);

/// Leads onto the way at its start and off it at its end, on the side away from the part; both halved until they keep
/// clear of `keepouts`.
void addLeads(std::initializer_list<const Keepout*> keepouts, const plan::Outline& outline, Follow& way,
              bool wasteOnLeft, double clear);

/// A closed loop with the tabs that a person has placed, as lengths along it, and how far each keeps other things off.
struct Held {
    Ruler loop;
    std::vector<double> tabs;
    double reach;
    std::optional<double> asked = {}; ///< where a person wants it to begin

    /// Whether it may begin at `start`, with leads as long as `lead`, lowers none of them.
    [[nodiscard]] bool allows(double start, double lead) const;
    /// The middles of the stretches between tabs, the longest first.
    [[nodiscard]] std::vector<double> between() const;
};
enum class Part { left, right, none }; ///< on which side of the way it lies

/// The loop begun where leads have room and no placed tab is lowered; false: its tabs leave no such place.
[[nodiscard]] bool begin(const StepWork& work, const plan::Outline& outline, const Held& held, Part part,
                         Follow& follow);
/// Where a person wants this outline begun, as a length along the tool's way.
[[nodiscard]] std::optional<double> startOn(const plan::Outline& outline, const plan::Contour& contour,
                                            const Path& way);
/// Tabs on a loop that is about to be begun. What is placed by hand decides where it may begin; automatic ones keep
/// away from where it does.
void hold(const StepWork& work, const plan::Outline& outline, const plan::Contour& contour, Part part, Follow& follow,
          std::vector<Snag>& snags);

struct SharedOutlines {
    Planned planned;
    std::set<std::size_t> contours; ///< that are cut so
};
/// Parts whose straight edges lie as far apart as the tool is wide: the lines between them first, each once, while all
/// of them hang on their sheet; then what is left round each, the last of it letting it go.
[[nodiscard]] SharedOutlines sharedOutlines(const StepWork& work, const plan::Outline& outline);

} // namespace ferro::toolpath

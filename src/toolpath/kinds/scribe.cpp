#include "plan/kinds/scribe.h"

#include "geometry/arc_fit.h"
#include "toolpath/follow_internal.h"

namespace ferro::toolpath {

template<> Planned planned(const StepWork& work, const plan::Scribe& scribe, Progress& progress) {
    return plannedEach(work, progress, [&](const plan::Contour& contour) {
        Planned planned;
        Follow follow{.centre = withoutCubics(contour.path, 0.002),
                      .tabs = {},
                      .depth = scribe.depth,
                      .rates = scribe.rates,
                      .beam = scribe.beam,
                      .entry = scribe.entry,
                      .rampAngle = scribe.rampAngle};
        if (!follow.centre.segments.empty())
            planned.tasks.push_back(followed(work, intentOn(work, contour), contour.size, std::move(follow)));
        return planned;
    });
}

} // namespace ferro::toolpath

#include "plan/kinds/drill.h"

#include "toolpath/work_internal.h"

namespace ferro::toolpath {

namespace {

/// Straight down in pecks; between them out of the hole, and back into it through what is air by then.
void drilled(Pen& pen, Vec2 at, const plan::Drill& drill, double thickness, double backFeed) {
    const double bottom = plan::bottomOf(drill.depth, thickness);
    const double peck = drill.peck > 0 ? drill.peck : bottom;
    double z = -drill.depth.start;
    pen.goOver(at);
    pen.sinkTo(z, 0);
    while (z > -bottom + 1e-9) {
        z = std::max(-bottom, z - peck);
        pen.feed({at.x, at.y, z}, drill.rates.plunge);
        pen.lift();
        if (z > -bottom + 1e-9) pen.feed({at.x, at.y, z + 0.5}, backFeed);
    }
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Drill& drill, Progress& progress) {
    return plannedEach(work, progress, [&](const plan::Contour& contour) {
        Planned planned;
        Task task;
        task.intent = intentOn(work, contour);
        task.centre = {contour.circle->centre, {}, false};
        task.entry = task.exit = contour.circle->centre;
        task.write = [at = contour.circle->centre, drill, thickness = work.thickness(),
                      backFeed = work.job.machine.maxFeedZ](Pen& pen) { drilled(pen, at, drill, thickness, backFeed); };
        planned.tasks.push_back(std::move(task));
        return planned;
    });
}

} // namespace ferro::toolpath

#include "plan/kinds/scribe.h"

#include "geometry/arc_fit.h"
#include "toolpath/follow_internal.h"

namespace ferro::toolpath {

namespace {

/// A dot by a beam: a ring so small that its light is one spot. A beam at rest would be dark where its power follows
/// the speed.
Path dotRing(Vec2 at) {
    constexpr double radius = 0.05; // mm
    return {at + Vec2{radius, 0},
            {Segment::arc(at, at - Vec2{radius, 0}, true), Segment::arc(at, at + Vec2{radius, 0}, true)},
            true};
}

/// A dot by a tip: straight down and up again.
Task pricked(const StepWork& work, const plan::Contour& contour, const plan::Scribe& scribe) {
    const Vec2 at = contour.path.start;
    Task task;
    task.intent = intentOn(work, contour);
    task.centre = {at, {}, false};
    task.entry = task.exit = at;
    const double bottom = plan::bottomOf(scribe.depth, work.thickness());
    task.write = [at, bottom, start = scribe.depth.start, plunge = scribe.rates.plunge](Pen& pen) {
        pen.goOver(at);
        pen.sinkTo(-start, 0);
        pen.feed({at.x, at.y, -bottom}, plunge);
        pen.lift();
    };
    return task;
}

/// Round the blank, its inner side on the blank's edge, as deep in the board below as lines are in the stock.
Planned witness(const StepWork& work, const plan::Scribe& scribe) {
    plan::Depth depth = scribe.depth;
    depth.through = false;
    depth.start = work.byBeam() ? 0 : work.thickness();
    depth.depth += depth.start;
    const double outside = work.byBeam() ? work.tool.radius() : work.tool.radiusAt(scribe.depth.depth);
    const Box box = job::sheetOf(work.job.sheet().stock).grown(outside);
    Follow follow{.centre = rectangle(box.low, box.high),
                  .tabs = {},
                  .depth = depth,
                  .rates = scribe.rates,
                  .beam = scribe.beam,
                  .entry = plan::Entry::plunge};
    Intent intent;
    intent.bottom = work.byBeam() ? work.thickness() : depth.depth;
    Planned planned;
    planned.tasks.push_back(followed(work, std::move(intent), box.width(), std::move(follow)));
    return planned;
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Scribe& scribe, Progress& progress) {
    if (scribe.of == plan::ScribeOf::blank) return witness(work, scribe);
    return plannedEach(work, progress, [&](const plan::Contour& contour) {
        Planned planned;
        const bool dot = contour.path.segments.empty();
        if (dot && !work.byBeam()) return planned.tasks.push_back(pricked(work, contour, scribe)), planned;
        Follow follow{.centre = dot ? dotRing(contour.path.start) : withoutCubics(contour.path, 0.002),
                      .tabs = {},
                      .depth = scribe.depth,
                      .rates = scribe.rates,
                      .beam = scribe.beam,
                      .entry = scribe.entry,
                      .rampAngle = scribe.rampAngle,
                      .dash = dot ? 0 : scribe.dash,
                      .gap = scribe.gap};
        planned.tasks.push_back(followed(work, intentOn(work, contour), contour.size, std::move(follow)));
        return planned;
    });
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Scribe&) { return {}; }

} // namespace ferro::toolpath

#include "plan/kinds/drill.h"

#include "toolpath/work_internal.h"

namespace ferro::toolpath {

namespace {

struct Hole {
    Vec2 at;
    double bottom, wide; ///< mm; `wide` more than the tool is bored round, 0 or less is drilled
    double backFeed;     ///< mm/min, down again through air
};

void up(Pen& pen, const plan::Drill& drill) {
    if (drill.feedOut > 0) pen.feed({pen.at().x, pen.at().y, 0}, drill.feedOut);
    pen.lift();
}

/// Straight down in pecks; between them out of the hole and back into it through what is air by then, or up a little
/// so that the chip breaks.
void drilled(Pen& pen, const Hole& hole, const plan::Drill& drill) {
    constexpr double air = 0.5, little = 0.3; // mm
    const double peck = drill.peck > 0 ? drill.peck : hole.bottom;
    double z = -drill.depth.start;
    pen.goOver(hole.at);
    const std::size_t first = pen.count();
    pen.sinkTo(z, 0);
    while (z > -hole.bottom + 1e-9) {
        z = std::max(-hole.bottom, z - peck);
        pen.feed({hole.at.x, hole.at.y, z}, drill.rates.plunge);
        if (z <= -hole.bottom + 1e-9) break;
        if (drill.breaks) {
            pen.feed({hole.at.x, hole.at.y, std::min(0.0, z + little)}, hole.backFeed);
        } else {
            up(pen, drill);
            pen.feed({hole.at.x, hole.at.y, z + air}, hole.backFeed);
        }
    }
    if (drill.dwell > 0) pen.wait(drill.dwell);
    up(pen, drill);
    // What begins below the top, waits or comes out slowly no one word says alike on all controllers.
    if (drill.dwell > 0 || drill.feedOut > 0 || drill.depth.start > 0) return;
    pen.drilled({.at = hole.at,
                 .from = air,
                 .bottom = -hole.bottom,
                 .peck = peck < hole.bottom ? peck : 0,
                 .breaks = drill.breaks,
                 .feed = drill.rates.plunge},
                first);
}

/// Round and round down in a hole wider than the tool, once round at the bottom; with the spindle turning clockwise
/// counter-clockwise is climb.
void bored(Pen& pen, const Hole& hole, const plan::Drill& drill) {
    const double radius = hole.wide / 2;
    const Vec2 begin = hole.at + Vec2{radius, 0}, across = hole.at - Vec2{radius, 0};
    const double top = -drill.depth.start, deep = hole.bottom - drill.depth.start;
    const int turns = std::max(1, static_cast<int>(std::ceil(deep / drill.perTurn - 1e-9)));
    const double around = 2 * pi * radius, down = deep / turns;
    const double feed = std::min(drill.rates.feed, drill.rates.plunge * std::hypot(around, down) / down);
    const auto round = [&](double z, double rate) {
        pen.along({Segment::arc(hole.at, across, true), Segment::arc(hole.at, begin, true)}, z, rate);
    };
    pen.goOver(begin);
    pen.sinkTo(top, 0);
    for (int k = 1; k <= turns; ++k) round(top - deep * k / turns, feed);
    round(-hole.bottom, drill.rates.feed);
    if (drill.dwell > 0) pen.wait(drill.dwell);
    pen.feed({hole.at.x, hole.at.y, pen.at().z}, drill.rates.feed); // off the wall, then out
    up(pen, drill);
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Drill& drill, Progress& progress) {
    return plannedEach(work, progress, [&](const plan::Contour& contour) {
        Planned planned;
        const auto& circle = *contour.circle;
        const Hole hole{circle.centre, plan::bottomOf(drill.depth, work.thickness()),
                        2 * circle.radius - work.tool.diameter, work.job.machine.maxFeedZ};
        // A tenth of a mm is a drill that fits.
        const bool bores = drill.bores && work.tool.kind == shop::ToolKind::endMill && hole.wide > 0.1;
        // Beyond twice its width the tool leaves a core standing: an area to clear, or a part to cut out.
        if (bores && hole.wide > work.tool.diameter + 1e-9) {
            planned.snags.push_back(snagOn(
                work, contour, Verdict::noGo,
                fmt::format("“{}” going round leaves a core in a hole of {}.", work.tool.name, mm(2 * circle.radius)),
                "Clear it, cut it as an opening, or use a thicker tool."));
            return planned;
        }
        Task task;
        task.intent = intentOn(work, contour);
        task.size = contour.size;
        task.centre = {circle.centre, {}, false};
        task.entry = task.exit = circle.centre;
        if (bores) {
            task.centre = wound(ferro::circle(circle.centre, hole.wide / 2), true);
            task.intent.side = plan::Side::inside;
            task.write = [hole, drill](Pen& pen) { bored(pen, hole, drill); };
        } else {
            task.write = [hole, drill](Pen& pen) { drilled(pen, hole, drill); };
        }
        planned.tasks.push_back(std::move(task));
        return planned;
    });
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Drill&) { return {}; }

} // namespace ferro::toolpath

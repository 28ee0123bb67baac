#include "plan/kinds/scribe.h"

#include "artwork/widths.h"
#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "toolpath/carve_internal.h"
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

/// A line with the half of its ink's width at its places, within 0.002 mm.
Trail inkAlong(const Path& line, const std::vector<double>& widths) {
    Trail trail{{line.start, widths.front() / 2}};
    for (std::size_t i = 0; i < line.segments.size(); ++i) {
        const Path one{line.from(i), {line.segments[i]}, false};
        const auto points = flattened(one, 0.002);
        const Ruler ruler(one);
        double along = 0;
        for (std::size_t k = 1; k < points.size(); ++k) {
            along += distance(points[k - 1], points[k]);
            const double t = ruler.length() > 0 ? std::min(1.0, along / ruler.length()) : 1;
            trail.push_back({points[k], std::lerp(widths[i], widths[i + 1], k + 1 == points.size() ? 1 : t) / 2});
        }
    }
    return trail;
}

/// Nowhere thinner than `least`, and else as it was: with places where that begins and ends.
Trail notThinner(const Trail& trail, double least) {
    Trail out;
    for (std::size_t i = 0; i < trail.size(); ++i) {
        if (i > 0 && (trail[i - 1].radius < least) != (trail[i].radius < least)) {
            const double t = (least - trail[i - 1].radius) / (trail[i].radius - trail[i - 1].radius);
            out.push_back({lerp(trail[i - 1].at, trail[i].at, t), least});
        }
        out.push_back({trail[i].at, std::max(trail[i].radius, least)});
    }
    return out;
}

/// As wide as its ink was.
Planned inked(const StepWork& work, const plan::Contour& contour, const plan::Scribe& scribe) {
    Planned planned;
    const auto* item = artwork::find(*work.job.artwork, contour.item);
    const auto ink = item && contour.opening < 0 ? artwork::inkedOnSheet(*item) : artwork::Inked{};
    const auto widths = artwork::widthsFor(contour.path, {&ink, 1});
    if (widths.empty()) {
        planned.snags.push_back(snagOn(work, contour, Verdict::look, "It is not known how wide the ink of a line was.",
                                       "Trace it as strokes, or scribe it as deep all along: it is left out here."));
        return planned;
    }
    const Tip tip(work.tool, plan::bottomOf(scribe.depth, work.thickness()));
    const double least = tip.radiusAt(std::min(0.02, tip.most())); // mm: what is thinner is still to be seen
    Trail trail = inkAlong(contour.path, widths);
    double thinnest = trail.front().radius, widest = thinnest;
    for (const auto& node : trail) thinnest = std::min(thinnest, node.radius), widest = std::max(widest, node.radius);
    // Said alike of every line, so that they are told together.
    const auto rounded = [](double value) { return mm(std::round(value * 100) / 100); };
    if (widest > tip.widest() + 0.005) {
        const bool deeper = tip.most() < std::min(work.tool.profile(work.tool.radius()), work.thickness()) - 0.005;
        planned.snags.push_back(
            snagOn(work, contour, Verdict::look,
                   fmt::format("Ink is wider than the line of {} that “{}” makes {} deep.", rounded(2 * tip.widest()),
                               work.tool.name, mm(tip.most())),
                   deeper ? "Let it go deeper, or use a tool with a wider angle." : "Use a wider tool."));
    }
    if (thinnest < tip.flat() - 0.005)
        planned.snags.push_back(snagOn(work, contour, Verdict::look,
                                       fmt::format("Ink is thinner than “{}” at its end: it becomes a line of {}.",
                                                   work.tool.name, rounded(2 * least)),
                                       "Use a sharper tool."));
    trail = tip.evened(notThinner(trail, least), 0.001);
    double deepest = 0;
    for (const auto& node : trail) deepest = std::max(deepest, tip.depthAt(node.radius));
    Task task;
    task.intent = intentOn(work, contour);
    task.intent.bottom = deepest;
    task.size = contour.size;
    task.centre = {trail.front().at, {}, contour.path.closed};
    for (std::size_t i = 1; i < trail.size(); ++i) task.centre.segments.push_back(Segment::line(trail[i].at));
    task.entry = trail.front().at, task.exit = trail.back().at;
    const Carver carver(scribe.rates, tip,
                        plan::passDepths({.through = false, .depth = deepest, .perPass = scribe.depth.perPass}, 0));
    task.write = [carver, trail = std::move(trail)](Pen& pen) {
        carver.carve(pen, trail);
        if (pen.at().z < 0) pen.lift();
    };
    planned.tasks.push_back(std::move(task));
    return planned;
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
    const bool byInk = scribe.deep == plan::ScribeDeep::ink && !work.byBeam();
    if (byInk && !work.tool.isPointed() && work.tool.kind != shop::ToolKind::ball)
        return {.tasks = {},
                .snags = {
                    {Verdict::noGo,
                     work.step.id,
                     {},
                     {},
                     fmt::format("“{}” cuts as wide at every depth: it cannot follow the ink's width.", work.tool.name),
                     "Take an engraver, a V-bit or a ball, or scribe as deep all along."}}};
    return plannedEach(work, progress, [&](const plan::Contour& contour) {
        if (byInk && !contour.path.segments.empty()) return inked(work, contour, scribe);
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

// What the planners of all kinds share: what may be done, where tabs lie.
#include "toolpath/work_internal.h"

#include "base/parallel.h"
#include "geometry/flatten.h"

namespace ferro::toolpath {

namespace {
std::vector<Box> boxesOf(const std::vector<std::pair<Vec2, Vec2>>& edges) {
    std::vector<Box> boxes;
    boxes.reserve(edges.size());
    for (const auto& [a, b] : edges) {
        Box box;
        box.take(a);
        box.take(b);
        boxes.push_back(box);
    }
    return boxes;
}
} // namespace

Keepout::Keepout(const std::vector<plan::Contour>& contours, const std::vector<char>& counts) {
    for (std::size_t i = 0; i < contours.size(); ++i) {
        if (!counts[i]) continue;
        const Ring ring = flattened(contours[i].path, 0.005);
        const bool closed = contours[i].path.closed;
        for (std::size_t k = 0; k + (closed ? 0 : 1) < ring.size(); ++k)
            edges_.emplace_back(ring[k], ring[(k + 1) % ring.size()]);
    }
    index_ = std::make_unique<SpatialIndex>(boxesOf(edges_));
}

bool Keepout::allows(Vec2 from, const Segment& lineOrArc, double clear) const {
    const auto near = index_->meeting(boundsOf(from, lineOrArc).grown(clear));
    return std::none_of(near.begin(), near.end(), [&](std::size_t k) {
        return approachOf(from, lineOrArc, edges_[k].first, edges_[k].second).apart < clear;
    });
}

bool canDo(const StepWork& work, std::vector<Snag>& snags) {
    const auto& [job, step, tool] = std::tie(work.job, work.step, work.tool);
    const auto no = [&](std::string what, std::string mend) {
        snags.push_back({Verdict::noGo, work.step.id, {}, {}, std::move(what), std::move(mend)});
        return false;
    };
    const auto& kind = plan::kindOf(step);
    if (!job.machine.does(tool.process()))
        return no(fmt::format("“{}” does not fit the machine “{}”.", tool.name, job.machine.name),
                  job.machine.does(shop::Process::beam)    ? "Choose a beam as the tool."
                  : job.machine.does(shop::Process::blade) ? "Choose a blade as the tool."
                                                           : "Choose a cutter as the tool.");
    if (!kind.processes.has(tool.process()) ||
        std::find(kind.tools.begin(), kind.tools.end(), tool.kind) == kind.tools.end())
        return no(fmt::format("“{}” cannot do a step of kind {}.", tool.name, kind.name), "Choose another tool.");
    const auto* depth = plan::depthIn(step);
    if (!depth || work.byBeam()) return true;
    const double bottom = plan::bottomOf(*depth, job.sheet().stock.thickness);
    if (!(bottom > depth->start))
        return no(fmt::format("Step “{}” has no depth.", step.name), "Give a depth below its start depth.");
    if (bottom > tool.fluteLength + 1e-9)
        return no(fmt::format("Step “{}” goes {} deep, the flutes of “{}” are only {} long.", step.name, mm(bottom),
                              tool.name, mm(tool.fluteLength)),
                  "Use a longer tool or a smaller depth.");
    return true;
}

Planned plannedEach(const StepWork& work, Progress& progress,
                    const std::function<Planned(const plan::Contour&)>& plan) {
    std::vector<Planned> each(work.taken.size());
    parallelFor(each.size(), progress, [&](std::size_t i) { each[i] = plan(work.contours[work.taken[i]]); });
    Planned all;
    for (auto& one : each) {
        for (auto& task : one.tasks) all.tasks.push_back(std::move(task));
        for (auto& snag : one.snags) all.snags.push_back(std::move(snag));
    }
    return all;
}

Intent intentOn(const StepWork& work, const plan::Contour& contour) {
    Intent intent;
    intent.item = contour.item;
    intent.opening = contour.opening;
    intent.contour = static_cast<std::size_t>(&contour - work.contours.data());
    intent.role = contour.role;
    intent.nesting = contour.depth;
    const auto* depth = plan::depthIn(work.step);
    if (work.byBeam()) {
        intent.bottom = work.thickness();
    } else if (depth) {
        intent.top = depth->start;
        intent.bottom = plan::bottomOf(*depth, work.thickness());
    }
    // A beam's depth is not planned: what only scribes is not meant to go through, however strong it is.
    intent.through = work.byBeam() ? plan::kindOf(work.step).freesParts : intent.bottom >= work.thickness() - 1e-9;
    intent.frees = intent.through && contour.path.closed && plan::kindOf(work.step).freesParts;
    return intent;
}

plan::Side sideOn(const plan::Contour& contour, plan::Side asked) {
    if (asked != plan::Side::automatic) return asked;
    return contour.role == plan::Role::openings ? plan::Side::inside : plan::Side::outside;
}

Snag snagOn(const StepWork& work, const plan::Contour& contour, Verdict verdict, std::string what, std::string mend) {
    return {verdict, work.step.id, contour.item, boundsOf(contour.path).centre(), std::move(what), std::move(mend)};
}

Path begunAt(const Ruler& ruler, double along) {
    Path path{ruler.at(along).point, ruler.stretch(along, along + ruler.length()), true};
    if (!path.segments.empty()) path.segments.back().end = path.start;
    return path;
}

double rampFeed(const plan::Rates& rates, double angle) {
    return std::min(rates.feed, rates.plunge / std::sin(angle * pi / 180));
}

namespace {
/// Whether another stretch of the loop runs by this place nearer than `apart`, as in a slot that something is to fit.
bool isInSlot(const Ruler& loop, double along, double apart) {
    const Path& path = loop.path();
    const Vec2 at = loop.at(along).point;
    double begin = 0;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const Vec2 from = path.from(i);
        const auto& s = path.segments[i];
        const double size = lengthOf(from, s), t = nearestOn(from, s, at), far = distance(pointAt(from, s, t), at);
        const double way = std::abs(begin + t * size - along);
        // Round a corner it is near too, but no nearer than the way there is long.
        if (far < apart && std::min(way, loop.length() - way) > 3 * far + 1e-6) return true;
        begin += size;
    }
    return false;
}
} // namespace

std::vector<double> tabPlaces(const Ruler& loop, std::size_t count, double footprint, double clear, double slot) {
    const double whole = loop.length();
    // Room for two tabs and as much again of cut between them; below that a tab would be all there is.
    if (whole < std::max(4 * footprint, 2 * clear + footprint)) return {};
    std::vector<std::pair<double, double>> flats; // allowed middles
    double begin = 0;
    for (std::size_t i = 0; i < loop.path().segments.size(); ++i) {
        const auto& s = loop.path().segments[i];
        const double size = lengthOf(loop.path().from(i), s);
        const bool flat = s.kind == Segment::Kind::line || distance(s.end, s.a) > 6 * footprint;
        const double low = std::max(clear, begin + footprint / 2),
                     high = std::min(whole - clear, begin + size - footprint / 2);
        if (flat && size >= footprint && low <= high) flats.emplace_back(low, high);
        begin += size;
    }
    std::vector<double> places;
    for (std::size_t i = 0; i < count; ++i) {
        const double ideal = whole * (static_cast<double>(i) + 0.5) / static_cast<double>(count);
        double best = std::clamp(ideal, clear, whole - clear),
               far = flats.empty() ? 0 : whole / static_cast<double>(count) * 0.45;
        for (const auto& [low, high] : flats) {
            const double at = std::clamp(ideal, low, high);
            if (std::abs(at - ideal) < far && !isInSlot(loop, at, slot)) best = at, far = std::abs(at - ideal);
        }
        if (places.empty() ||
            (best - places.back() > 1.5 * footprint && whole - best + places.front() > 1.5 * footprint))
            places.push_back(best);
    }
    return places;
}

std::vector<Stretch> dashesOf(double whole, bool closed, double dash, double gap) {
    std::vector<Stretch> out;
    const double both = dash + gap;
    const auto dashes =
        std::clamp(static_cast<long>(std::lround(closed ? whole / both : (whole + gap) / both)), 1L, 100'000L);
    const double asked = static_cast<double>(dashes) * both - (closed ? 0 : gap), fit = whole / asked;
    for (long i = 0; i < dashes; ++i) {
        const double begin = static_cast<double>(i) * both * fit;
        out.emplace_back(begin, std::min(whole, begin + dash * fit));
    }
    return out;
}

} // namespace ferro::toolpath

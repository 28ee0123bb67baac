// From contours to loops: offsets, tabs, leads, and in which order they are cut.
#include "toolpath/work_internal.h"

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"

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
        for (std::size_t k = 0; k < ring.size(); ++k) edges_.emplace_back(ring[k], ring[(k + 1) % ring.size()]);
    }
    index_ = std::make_unique<SpatialIndex>(boxesOf(edges_));
}

bool Keepout::allows(Vec2 from, const Segment& segment, double clear) const {
    bool fine = true;
    Vec2 a = from;
    flattenSegment(from, segment, 0.005, [&](Vec2 b) {
        Box box;
        box.take(a);
        box.take(b);
        if (fine)
            for (const std::size_t k : index_->meeting(box.grown(clear)))
                if (distanceBetween(a, b, edges_[k].first, edges_[k].second) < clear) fine = false;
        a = b;
    });
    return fine;
}

bool canDo(const StepWork& work, std::vector<Snag>& snags) {
    const auto& [job, step, tool, contours, keepout, travel, laser] = work;
    const auto no = [&](std::string what, std::string mend) {
        snags.push_back({Snag::Weight::noGo, work.step.id, {}, {}, std::move(what), std::move(mend)});
        return false;
    };
    if (laser != (tool.kind == shop::ToolKind::laser))
        return no(fmt::format("“{}” does not fit the machine “{}”.", tool.name, job.machine.name),
                  laser ? "Choose a beam as the tool." : "Choose a cutter as the tool.");
    if (laser)
        return step.kind == plan::StepKind::drill ? no("A laser cannot drill.", "Cut the holes with an outline step.")
                                                  : true;
    const double depth = plan::depthOf(step, job.stock.thickness);
    if (!(depth > step.startDepth))
        return no(fmt::format("Step “{}” has no depth.", step.name), "Give a depth below its start depth.");
    if (depth > tool.fluteLength + 1e-9)
        return no(fmt::format("Step “{}” goes {} deep, the flutes of “{}” are only {} long.", step.name, mm(depth),
                              tool.name, mm(tool.fluteLength)),
                  "Use a longer tool or a smaller depth.");
    if (step.kind == plan::StepKind::outline && step.side != plan::Side::on && tool.kind != shop::ToolKind::endMill &&
        tool.kind != shop::ToolKind::ball)
        return no(fmt::format("“{}” is pointed: beside a line it would not cut a straight wall.", tool.name),
                  "Use an end mill, or cut on the line.");
    if (step.kind == plan::StepKind::drill && tool.kind != shop::ToolKind::drill &&
        tool.kind != shop::ToolKind::endMill)
        return no(fmt::format("“{}” cannot drill.", tool.name), "Use a drill or an end mill.");
    return true;
}

std::vector<double> tabPlaces(const Ruler& loop, double spacing, double footprint) {
    const double whole = loop.length();
    // Room for two tabs and as much again of cut between them; below that a tab would be all there is.
    if (whole < 4 * footprint) return {};
    const auto count = static_cast<std::size_t>(std::max(2.0, std::round(whole / spacing)));
    std::vector<std::pair<double, double>> flats; // allowed middles
    double begin = 0;
    for (std::size_t i = 0; i < loop.path().segments.size(); ++i) {
        const auto& s = loop.path().segments[i];
        const double size = lengthOf(loop.path().from(i), s);
        const bool flat = s.kind == Segment::Kind::line || distance(s.end, s.a) > 6 * footprint;
        if (flat && size >= footprint) flats.emplace_back(begin + footprint / 2, begin + size - footprint / 2);
        begin += size;
    }
    std::vector<double> places;
    for (std::size_t i = 0; i < count; ++i) {
        const double ideal = whole * (static_cast<double>(i) + 0.5) / static_cast<double>(count);
        double best = ideal, far = flats.empty() ? 0 : whole / static_cast<double>(count) * 0.45;
        for (const auto& [low, high] : flats) {
            const double at = std::clamp(ideal, low, high);
            if (flats.empty() || std::abs(at - ideal) < far) best = at, far = std::abs(at - ideal);
        }
        if (places.empty() ||
            (best - places.back() > 1.5 * footprint && whole - best + places.front() > 1.5 * footprint))
            places.push_back(best);
    }
    return places;
}

namespace {

Snag snagFor(const StepWork& work, const plan::Contour& contour, Snag::Weight weight, std::string what,
             std::string mend) {
    return {weight, work.step.id, contour.item, boundsOf(contour.path).centre(), std::move(what), std::move(mend)};
}

/// A closed path begun at another length along it.
Path begunAt(const Ruler& ruler, double along) {
    Path path{ruler.at(along).point, ruler.stretch(along, along + ruler.length()), true};
    if (!path.segments.empty()) path.segments.back().end = path.start;
    return path;
}

/// Quarter arcs onto and off the loop at its start, on the side away from the part; halved until they keep clear.
void addLeads(const StepWork& work, Loop& loop, bool wasteOnLeft, double clear) {
    const Vec2 at = loop.centre.start;
    const Vec2 along = tangentAt(at, loop.centre.segments.front(), 0);
    const Vec2 arriving = tangentAt(loop.centre.from(loop.centre.segments.size() - 1), loop.centre.segments.back(), 1);
    const auto toWaste = [&](Vec2 tangent) { return wasteOnLeft ? perpendicular(tangent) : -perpendicular(tangent); };
    // A start in a corner has no one tangent: cut straight in.
    if (dot(along, arriving) < 0.99) return;
    for (double r = work.step.lead; r >= 0.2 && r >= work.step.lead / 8; r /= 2) {
        const Vec2 centre = at + toWaste(along) * r;
        const Vec2 from = centre - along * r, to = centre + arriving * r;
        const Segment in = Segment::arc(centre, at, wasteOnLeft),
                      out = Segment::arc(at + toWaste(arriving) * r, to, wasteOnLeft);
        if (!work.keepout.allows(from, in, clear) || !work.keepout.allows(at, out, clear)) continue;
        loop.leadIn = {from, in};
        loop.leadOut = out;
        return;
    }
}

/// Where to begin: the middle of a long straight stretch; each is tried for room for the leads.
Loop begun(const StepWork& work, Loop loop, bool wasteOnLeft, double clear) {
    const Ruler ruler(loop.centre);
    std::vector<std::pair<double, double>> middles; // -length, along
    double begin = 0;
    for (std::size_t i = 0; i < loop.centre.segments.size(); ++i) {
        const double size = lengthOf(loop.centre.from(i), loop.centre.segments[i]);
        middles.emplace_back(-size, begin + size / 2);
        begin += size;
    }
    std::sort(middles.begin(), middles.end());
    const Path whole = loop.centre;
    for (std::size_t k = 0; k < std::min<std::size_t>(middles.size(), 8); ++k) {
        loop.centre = begunAt(ruler, middles[k].second);
        if (work.step.lead > 0) addLeads(work, loop, wasteOnLeft, clear);
        if (work.step.lead <= 0 || loop.leadIn) return loop;
    }
    loop.centre = middles.empty() ? whole : begunAt(ruler, middles.front().second);
    return loop;
}

void addTabs(const StepWork& work, const plan::Contour& contour, Loop& loop, std::vector<Snag>& snags) {
    const auto& step = work.step;
    if (step.hold != plan::Hold::tabs || !loop.centre.closed) return;
    const double footprint = step.tabWidth + work.tool.diameter;
    const Ruler ruler(loop.centre);
    bool placed = false;
    for (const auto& tab : step.tabs) {
        if (tab.item != contour.item || tab.opening != contour.opening) continue;
        const Ruler own(contour.path);
        loop.tabs.push_back(ruler.nearest(own.at(tab.along * own.length()).point));
        placed = true;
    }
    if (!placed) loop.tabs = tabPlaces(ruler, step.tabSpacing, footprint);
    std::sort(loop.tabs.begin(), loop.tabs.end());
    if (loop.tabs.empty()) {
        const auto weight = plan::depthOf(step, work.job.stock.thickness) >= work.job.stock.thickness
                                ? Snag::Weight::look
                                : Snag::Weight::note;
        snags.push_back(snagFor(work, contour, weight,
                                fmt::format("An outline {} long is too short for tabs.", mm(ruler.length())),
                                "Make the tabs narrower, or let it fall."));
    }
}

/// What of the outline lies beside the tool's way: loops offset by the radius, or the line itself.
Result<std::vector<Path>> centres(const StepWork& work, const plan::Contour& contour, plan::Side side) {
    if (side == plan::Side::on || !contour.path.closed) return std::vector<Path>{withoutCubics(contour.path, 0.002)};
    const double by = work.tool.radius() + work.step.allowance;
    const Rings rings{flattened(wound(contour.path, true), sampling)};
    return offsetPaths(rings, side == plan::Side::outside ? by : -by, {.tolerance = 0.004});
}

plan::Side sideOf(const StepWork& work, const plan::Contour& contour) {
    if (work.step.kind == plan::StepKind::scribe || !contour.path.closed) return plan::Side::on;
    if (work.step.side != plan::Side::automatic) return work.step.side;
    return contour.role == plan::Role::openings ? plan::Side::inside : plan::Side::outside;
}

Planned plannedHole(const StepWork& work, const plan::Contour& contour) {
    Planned planned;
    if (!contour.circle) {
        planned.snags.push_back(snagFor(work, contour, Snag::Weight::look,
                                        "This outline is no circle and is not drilled.",
                                        "Cut it with an outline step."));
        return planned;
    }
    const double hole = 2 * contour.circle->radius;
    if (hole > 0 && std::abs(hole - work.tool.diameter) > 0.1)
        planned.snags.push_back(
            snagFor(work, contour, hole < work.tool.diameter ? Snag::Weight::noGo : Snag::Weight::look,
                    fmt::format("“{}” makes {}, the hole is {}.", work.tool.name, mm(work.tool.diameter), mm(hole)),
                    "Choose a drill of the hole's size, or cut it as an opening."));
    Loop loop{.item = contour.item,
              .opening = contour.opening,
              .role = contour.role,
              .depth = contour.depth,
              .size = contour.size,
              .centre = {contour.circle->centre, {}, false},
              .tabs = {},
              .leadIn = {},
              .leadOut = {},
              .isHole = true};
    planned.loops.push_back(std::move(loop));
    return planned;
}

} // namespace

Planned plannedCut(const StepWork& work, const plan::Contour& contour) {
    if (work.step.kind == plan::StepKind::drill) return plannedHole(work, contour);
    Planned planned;
    const plan::Side side = sideOf(work, contour);
    auto paths = centres(work, contour, side);
    if (!paths) {
        planned.snags.push_back(snagFor(work, contour, Snag::Weight::noGo, paths.problem().what, paths.problem().mend));
        return planned;
    }
    if (paths->empty())
        planned.snags.push_back(snagFor(work, contour, Snag::Weight::noGo,
                                        fmt::format("“{}” is {} wide and does not fit into an opening of {}.",
                                                    work.tool.name, mm(work.tool.diameter), mm(contour.size)),
                                        "Choose a thinner tool for it."));
    for (auto& path : *paths) {
        if (path.segments.empty()) continue;
        Loop loop{.item = contour.item,
                  .opening = contour.opening,
                  .role = contour.role,
                  .depth = contour.depth,
                  .size = contour.size,
                  .centre = std::move(path),
                  .tabs = {},
                  .leadIn = {},
                  .leadOut = {}};
        if (loop.centre.closed && side != plan::Side::on) {
            // The library leaves the offset area on the left. Outside, the part is in it: part left is conventional;
            // inside, the area is what is cut away: part right is climb (spindle turning clockwise).
            const bool partOnLeft = side == plan::Side::outside;
            const bool wantPartOnLeft = work.step.direction == plan::Direction::conventional;
            const bool turn = partOnLeft != wantPartOnLeft && !work.laser;
            if (turn) loop.centre = reversed(loop.centre);
            const bool wasteOnLeft = turn ? partOnLeft : !partOnLeft;
            loop = begun(work, std::move(loop), wasteOnLeft,
                         work.tool.radius() + std::max(0.0, work.step.allowance) - 0.002);
        }
        if (work.step.kind == plan::StepKind::outline) addTabs(work, contour, loop, planned.snags);
        planned.loops.push_back(std::move(loop));
    }
    return planned;
}

std::vector<std::size_t> workOrder(const std::vector<Loop>& loops, Vec2 at) {
    const auto key = [&](std::size_t i) {
        // Deeper in the nesting first; within that by size in steps of ten, so that nearness still has a say.
        return std::pair(-loops[i].depth,
                         loops[i].isHole ? 0
                                         : static_cast<int>(std::floor(std::log10(std::max(loops[i].size, 1e-3)) * 2)));
    };
    std::vector<std::size_t> order(loops.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return key(a) < key(b); });
    constexpr std::size_t window = 2000; // nearest-next among this many: keeps 20 000 pieces from being quadratic
    for (std::size_t begin = 0; begin < order.size();) {
        std::size_t end = begin;
        while (end < order.size() && key(order[end]) == key(order[begin])) ++end;
        if (end - begin > window) // far too many for one look round: go by strips first
            std::stable_sort(order.begin() + static_cast<std::ptrdiff_t>(begin),
                             order.begin() + static_cast<std::ptrdiff_t>(end), [&](std::size_t a, std::size_t b) {
                                 const auto strip = [&](std::size_t i) { return std::floor(loops[i].entry().y / 20); };
                                 return std::pair(strip(a), loops[a].entry().x) <
                                        std::pair(strip(b), loops[b].entry().x);
                             });
        for (std::size_t i = begin; i < end; ++i) {
            std::size_t nearest = i;
            double far = std::numeric_limits<double>::infinity();
            for (std::size_t k = i; k < std::min(end, i + window); ++k)
                if (const double d = distance(at, loops[order[k]].entry()); d < far) far = d, nearest = k;
            std::rotate(order.begin() + static_cast<std::ptrdiff_t>(i),
                        order.begin() + static_cast<std::ptrdiff_t>(nearest),
                        order.begin() + static_cast<std::ptrdiff_t>(nearest) + 1);
            at = loops[order[i]].centre.closed ? loops[order[i]].entry() : loops[order[i]].centre.end();
        }
        begin = end;
    }
    return order;
}

} // namespace ferro::toolpath

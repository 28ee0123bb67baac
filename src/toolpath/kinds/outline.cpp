#include "plan/kinds/outline.h"

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "toolpath/follow_internal.h"

namespace ferro::toolpath {

namespace {

/// Quarter arcs onto and off the loop at its start, on the side away from the part; halved until they keep clear.
void addLeads(const StepWork& work, double lead, Follow& loop, bool wasteOnLeft, double clear) {
    const Vec2 at = loop.centre.start;
    const Vec2 along = tangentAt(at, loop.centre.segments.front(), 0);
    const Vec2 arriving = tangentAt(loop.centre.from(loop.centre.segments.size() - 1), loop.centre.segments.back(), 1);
    const auto toWaste = [&](Vec2 tangent) { return wasteOnLeft ? perpendicular(tangent) : -perpendicular(tangent); };
    // A start in a corner has no one tangent: cut straight in.
    if (dot(along, arriving) < 0.99) return;
    for (double r = lead; r >= 0.2 && r >= lead / 8; r /= 2) {
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

/// A closed loop with the tabs that a person has placed, as lengths along it, and how far each keeps other things off.
struct Held {
    Ruler loop;
    std::vector<double> tabs;
    double reach;

    /// Whether it may begin at `start`, with leads as long as `lead`, lowers none of them.
    [[nodiscard]] bool allows(double start, double lead) const {
        return std::all_of(tabs.begin(), tabs.end(), [&](double tab) {
            const double off = std::fmod(std::abs(tab - start), loop.length());
            return std::min(off, loop.length() - off) > reach + lead + 0.01;
        });
    }
    /// The middles of the stretches between tabs, the longest first.
    [[nodiscard]] std::vector<double> between() const {
        std::vector<std::pair<double, double>> gaps; // -length, middle
        for (std::size_t i = 0; i < tabs.size(); ++i) {
            const double next = i + 1 < tabs.size() ? tabs[i + 1] : tabs.front() + loop.length();
            gaps.emplace_back(tabs[i] - next, std::fmod((tabs[i] + next) / 2, loop.length()));
        }
        std::sort(gaps.begin(), gaps.end());
        std::vector<double> middles;
        for (const auto& gap : gaps) middles.push_back(gap.second);
        return middles;
    }
};

/// Where a loop may begin, the best first: the middles of its longest straight stretches, then those between tabs.
std::vector<double> startsOf(const Held& held, bool alongStraights) {
    std::vector<double> starts;
    if (alongStraights) {
        std::vector<std::pair<double, double>> middles; // -length, along
        double begin = 0;
        const Path& path = held.loop.path();
        for (std::size_t i = 0; i < path.segments.size(); ++i) {
            const double size = lengthOf(path.from(i), path.segments[i]);
            middles.emplace_back(-size, begin + size / 2);
            begin += size;
        }
        std::sort(middles.begin(), middles.end());
        if (middles.size() > 8) middles.resize(8);
        for (const auto& middle : middles) starts.push_back(middle.second);
    } else {
        starts.push_back(0);
    }
    for (const double gap : held.between()) starts.push_back(gap);
    return starts;
}

enum class Part { left, right, none }; ///< on which side of the way it lies

/// The loop begun where leads have room and no placed tab is lowered; false: its tabs leave no such place.
bool begin(const StepWork& work, const plan::Outline& outline, const Held& held, Part part, Follow& follow) {
    const auto starts = startsOf(held, part != Part::none);
    const double clear = work.tool.radius() + std::max(0.0, outline.allowance) - 0.002;
    if (part != Part::none && outline.lead > 0)
        for (const double start : starts) {
            if (!held.allows(start, outline.lead)) continue;
            follow.centre = begunAt(held.loop, start);
            addLeads(work, outline.lead, follow, part == Part::right, clear);
            if (follow.leadIn) return true;
        }
    for (const double start : starts)
        if (held.allows(start, 0)) {
            if (start > 0) follow.centre = begunAt(held.loop, start);
            return true;
        }
    return false;
}

/// Tabs on a loop that is about to be begun. What is placed by hand decides where it may begin; automatic ones keep
/// away from where it does.
void hold(const StepWork& work, const plan::Outline& outline, const plan::Contour& contour, Part part, Follow& follow,
          std::vector<Snag>& snags) {
    Held held{Ruler(follow.centre), {}, tabReach(work, outline.tabWidth)};
    // What goes not through frees nothing, and needs no tabs.
    const bool tabs = outline.hold == plan::Hold::tabs && intentOn(work, contour).frees;
    if (tabs)
        for (const auto& tab : outline.tabs) {
            if (tab.item != contour.item || tab.opening != contour.opening) continue;
            const Ruler own(contour.path);
            held.tabs.push_back(held.loop.nearest(own.at(tab.along * own.length()).point));
        }
    std::sort(held.tabs.begin(), held.tabs.end());
    const bool placed = !held.tabs.empty();
    if (!begin(work, outline, held, part, follow))
        snags.push_back(snagOn(work, contour, Verdict::noGo,
                               "The tabs leave no place on this outline to begin cutting.",
                               "Take a tab away, or make them narrower."));
    if (!tabs) return;
    const Ruler begun(follow.centre);
    follow.tabWidth = outline.tabWidth;
    follow.tabHeight = outline.tabHeight;
    if (placed) {
        for (const double tab : held.tabs) follow.tabs.push_back(begun.nearest(held.loop.at(tab).point));
    } else {
        const double lead = follow.leadIn ? distance(follow.leadIn->first, follow.centre.start) : 0;
        follow.tabs = tabPlaces(begun, outline.tabSpacing, outline.tabWidth + work.tool.diameter,
                                tabReach(work, outline.tabWidth) + lead + 0.01);
    }
    std::sort(follow.tabs.begin(), follow.tabs.end());
    if (follow.tabs.empty())
        snags.push_back(snagOn(work, contour, Verdict::look,
                               fmt::format("An outline {} long is too short for tabs.", mm(begun.length())),
                               "Make the tabs narrower, or let it fall."));
}

/// What of the outline lies beside the tool's way: loops offset by the radius, or the line itself.
Result<std::vector<Path>> centres(const StepWork& work, const plan::Outline& outline, const plan::Contour& contour,
                                  plan::Side side) {
    if (side == plan::Side::on) return std::vector<Path>{withoutCubics(contour.path, 0.002)};
    const double by = work.tool.radius() + outline.allowance;
    const Rings rings{flattened(wound(contour.path, true), sampling)};
    return offsetPaths(rings, side == plan::Side::outside ? by : -by, {.tolerance = 0.004});
}

plan::Side sideOf(const plan::Outline& outline, const plan::Contour& contour) {
    if (!contour.path.closed) return plan::Side::on;
    if (outline.side != plan::Side::automatic) return outline.side;
    return contour.role == plan::Role::openings ? plan::Side::inside : plan::Side::outside;
}

Planned plannedOutline(const StepWork& work, const plan::Outline& outline, const plan::Contour& contour) {
    Planned planned;
    const plan::Side side = sideOf(outline, contour);
    if (!contour.path.closed && (outline.side == plan::Side::outside || outline.side == plan::Side::inside))
        planned.snags.push_back(snagOn(work, contour, Verdict::look,
                                       "An open line has no inside or outside; it is cut on the line.",
                                       "Close it, or set the side to “on line”."));
    auto paths = centres(work, outline, contour, side);
    if (!paths) {
        planned.snags.push_back(snagOn(work, contour, Verdict::noGo, paths.problem().what, paths.problem().mend));
        return planned;
    }
    if (paths->empty())
        planned.snags.push_back(snagOn(work, contour, Verdict::noGo,
                                       fmt::format("“{}” is {} wide and does not fit into an opening of {}.",
                                                   work.tool.name, mm(work.tool.diameter), mm(contour.size)),
                                       "Choose a thinner tool for it."));
    for (auto& path : *paths) {
        if (path.segments.empty()) continue;
        Follow follow{.centre = std::move(path),
                      .tabs = {},
                      .depth = outline.depth,
                      .rates = outline.rates,
                      .beam = outline.beam,
                      .entry = outline.entry,
                      .rampAngle = outline.rampAngle};
        Part part = Part::none;
        if (side != plan::Side::on) {
            // The library leaves the offset area on the left. Outside, the part is in it: part left is conventional;
            // inside, the area is what is cut away: part right is climb (spindle turning clockwise).
            const bool partOnLeft = side == plan::Side::outside;
            const bool wantPartOnLeft = outline.direction == plan::Direction::conventional;
            const bool turn = partOnLeft != wantPartOnLeft && !work.byBeam();
            if (turn) follow.centre = reversed(follow.centre);
            part = turn == partOnLeft ? Part::right : Part::left;
        }
        if (follow.centre.closed) hold(work, outline, contour, part, follow, planned.snags);
        Intent intent = intentOn(work, contour);
        intent.side = side;
        intent.allowance = side == plan::Side::on ? 0 : outline.allowance;
        planned.tasks.push_back(followed(work, std::move(intent), contour.size, std::move(follow)));
    }
    return planned;
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Outline& outline, Progress& progress) {
    const bool pointed =
        !work.byBeam() && work.tool.kind != shop::ToolKind::endMill && work.tool.kind != shop::ToolKind::ball;
    if (pointed && outline.side != plan::Side::on)
        return {{},
                {{Verdict::noGo,
                  work.step.id,
                  {},
                  {},
                  fmt::format("“{}” is pointed: beside a line it would not cut a straight wall.", work.tool.name),
                  "Use an end mill, or cut on the line."}}};
    return plannedEach(work, progress,
                       [&](const plan::Contour& contour) { return plannedOutline(work, outline, contour); });
}

} // namespace ferro::toolpath

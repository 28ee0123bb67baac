// Where an outline is begun, how the tool comes onto it, and what holds it.
#include "toolpath/outline_internal.h"

namespace ferro::toolpath {

namespace {

/// A way onto a line at a place, or off it, from the side of the waste: round by a quarter circle, or straight at 45°.
struct Lead {
    Vec2 far; ///< where it begins, or ends
    Segment segment;
};
Lead leadAt(plan::LeadBy by, double size, Vec2 at, Vec2 along, bool wasteOnLeft, bool onto) {
    const Vec2 waste = wasteOnLeft ? perpendicular(along) : -perpendicular(along), away = onto ? -along : along;
    if (by == plan::LeadBy::straight) {
        const Vec2 far = at + unit(waste + away) * size;
        return {far, Segment::line(onto ? at : far)};
    }
    const Vec2 centre = at + waste * size, far = centre + away * size;
    return {far, Segment::arc(centre, onto ? at : far, wasteOnLeft)};
}

/// Where a loop may begin, the best first: where a person has said, the middles of its longest straight stretches, then
/// those between tabs.
std::vector<double> startsOf(const Held& held, bool alongStraights) {
    std::vector<double> starts;
    if (held.asked) {
        starts.push_back(*held.asked);
    } else if (alongStraights) {
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

} // namespace

void addLeads(std::initializer_list<const Keepout*> keepouts, const plan::Outline& outline, Follow& way,
              bool wasteOnLeft, double clear) {
    const Path& path = way.centre;
    const Vec2 begin = path.start, along = tangentAt(begin, path.segments.front(), 0);
    const Vec2 arriving = tangentAt(path.from(path.segments.size() - 1), path.segments.back(), 1);
    // A start in a corner has no one tangent: cut straight in.
    if (path.closed && dot(along, arriving) < 0.99) return;
    const bool past = path.closed && way.overlap > 0;
    const auto off = past ? Ruler(path).at(way.overlap) : Station{}; // where it leaves
    const Vec2 leaving = past ? off.point : path.closed ? begin : path.end(), onwards = past ? off.tangent : arriving;
    const double size = outline.lead, sizeOut = outline.leadOut > 0 ? outline.leadOut : size;
    for (double share = 1; size * share >= 0.2 && share >= 0.125; share /= 2) {
        const auto in = leadAt(outline.leadBy, size * share, begin, along, wasteOnLeft, true);
        const auto out = leadAt(outline.leadBy, sizeOut * share, leaving, onwards, wasteOnLeft, false);
        if (!std::all_of(keepouts.begin(), keepouts.end(), [&](const Keepout* keepout) {
                return keepout->allows(in.far, in.segment, clear) &&
                       (!outline.leadsOut || keepout->allows(leaving, out.segment, clear));
            }))
            continue;
        way.leadIn = {in.far, in.segment};
        if (outline.leadsOut) way.leadOut = out.segment;
        return;
    }
}

bool Held::allows(double start, double lead) const {
    return std::all_of(tabs.begin(), tabs.end(), [&](double tab) {
        const double off = std::fmod(std::abs(tab - start), loop.length());
        return std::min(off, loop.length() - off) > reach + lead + 0.01;
    });
}

std::vector<double> Held::between() const {
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

bool begin(const StepWork& work, const plan::Outline& outline, const Held& held, Part part, Follow& follow) {
    const auto starts = startsOf(held, part != Part::none);
    const double clear = work.tool.radius() + std::max(0.0, outline.allowance) - 0.002;
    // A start that was placed counts for more than a lead.
    const bool placed = held.asked && held.allows(*held.asked, 0);
    const double most = outline.lead > 0 ? std::max(outline.lead, outline.leadsOut ? outline.leadOut : 0) : 0;
    if (part != Part::none && outline.lead > 0)
        for (const double start : starts) {
            if (placed && start != *held.asked) break;
            if (!held.allows(start, most)) continue;
            follow.centre = begunAt(held.loop, start);
            addLeads({&work.keepout}, outline, follow, part == Part::right, clear);
            if (follow.leadIn) return true;
        }
    for (const double start : starts)
        if (held.allows(start, 0)) {
            if (start > 0) follow.centre = begunAt(held.loop, start);
            return true;
        }
    return false;
}

std::optional<double> startOn(const plan::Outline& outline, const plan::Contour& contour, const Path& way) {
    for (const auto& start : outline.starts) {
        if (start.item != contour.item || start.opening != contour.opening) continue;
        const Ruler own(contour.path);
        return Ruler(way).nearest(own.at(start.along * own.length()).point);
    }
    return std::nullopt;
}

void hold(const StepWork& work, const plan::Outline& outline, const plan::Contour& contour, Part part, Follow& follow,
          std::vector<Snag>& snags) {
    Held held{Ruler(follow.centre), {}, tabReach(work, outline.tabWidth), startOn(outline, contour, follow.centre)};
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
    if (held.asked && !held.allows(*held.asked, 0))
        snags.push_back(snagOn(work, contour, Verdict::look, "Where it is to begin a tab lies: it begins elsewhere.",
                               "Move the start, or the tab."));
    else if (held.asked && part != Part::none && outline.lead > 0 && !follow.leadIn)
        snags.push_back(snagOn(work, contour, Verdict::note, "Where it is to begin there is no room for a lead.",
                               "Move the start, or make the lead shorter."));
    if (!tabs) return;
    const Ruler begun(follow.centre);
    follow.tabWidth = outline.tabWidth;
    follow.tabHeight = outline.tabHeight;
    if (placed) {
        for (const double tab : held.tabs) follow.tabs.push_back(begun.nearest(held.loop.at(tab).point));
    } else {
        const double lead = follow.leadIn ? distance(follow.leadIn->first, follow.centre.start) : 0;
        const double count =
            outline.tabCount > 0 ? outline.tabCount : std::max(2.0, std::round(begun.length() / outline.tabSpacing));
        follow.tabs = tabPlaces(begun, static_cast<std::size_t>(count), outline.tabWidth + work.tool.diameter,
                                tabReach(work, outline.tabWidth) + lead + 0.01, 1.5 * work.tool.diameter);
    }
    std::sort(follow.tabs.begin(), follow.tabs.end());
    if (follow.tabs.empty())
        snags.push_back(snagOn(work, contour, Verdict::look,
                               fmt::format("An outline {} long is too short for tabs.", mm(begun.length())),
                               "Make the tabs narrower, or let it fall."));
}

} // namespace ferro::toolpath

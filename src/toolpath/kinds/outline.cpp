#include "plan/kinds/outline.h"

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "toolpath/follow_internal.h"
#include "toolpath/shared_edges_internal.h"

#include <map>
#include <set>

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

/// Leads onto the way at its start and off it at its end, on the side away from the part; both halved until they keep
/// clear of `keepouts`.
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

/// A closed loop with the tabs that a person has placed, as lengths along it, and how far each keeps other things off.
struct Held {
    Ruler loop;
    std::vector<double> tabs;
    double reach;
    std::optional<double> asked = {}; ///< where a person wants it to begin

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

enum class Part { left, right, none }; ///< on which side of the way it lies

/// The loop begun where leads have room and no placed tab is lowered; false: its tabs leave no such place.
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

/// Where a person wants this outline begun, as a length along the tool's way.
std::optional<double> startOn(const plan::Outline& outline, const plan::Contour& contour, const Path& way) {
    for (const auto& start : outline.starts) {
        if (start.item != contour.item || start.opening != contour.opening) continue;
        const Ruler own(contour.path);
        return Ruler(way).nearest(own.at(start.along * own.length()).point);
    }
    return std::nullopt;
}

/// Tabs on a loop that is about to be begun. What is placed by hand decides where it may begin; automatic ones keep
/// away from where it does.
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
                                tabReach(work, outline.tabWidth) + lead + 0.01);
    }
    std::sort(follow.tabs.begin(), follow.tabs.end());
    if (follow.tabs.empty())
        snags.push_back(snagOn(work, contour, Verdict::look,
                               fmt::format("An outline {} long is too short for tabs.", mm(begun.length())),
                               "Make the tabs narrower, or let it fall."));
}

/// What of the outline lies beside the tool's way: loops offset by the radius and what is left, or the line itself.
Result<std::vector<Path>> centres(const plan::Contour& contour, plan::Side side, double off) {
    if (side == plan::Side::on) return std::vector<Path>{withoutCubics(contour.path, 0.002)};
    if (!contour.path.closed) {
        auto beside = besideLine(contour.path, off, side == plan::Side::left);
        if (!beside) return beside.problem();
        return std::vector<Path>{std::move(*beside)};
    }
    const Rings rings{flattened(wound(contour.path, true), sampling)};
    return offsetPaths(rings, side == plan::Side::outside ? off : -off, {.tolerance = 0.004});
}

/// Where a loop's way has a sharp corner, and so the part one that the tool's radius leaves round: out to where the
/// tool's rim touches the part's corner, and back. `off`: mm from the way to the part.
struct Reliefs {
    Path path;
    std::vector<std::pair<Vec2, Vec2>> stretches;
};
Reliefs relieved(const Path& loop, plan::Relief relief, double off, double radius) {
    Reliefs out{{loop.start, {}, true}, {}};
    const std::size_t count = loop.segments.size();
    for (std::size_t i = 0; i < count; ++i) {
        const auto &in = loop.segments[i], &next = loop.segments[(i + 1) % count];
        out.path.segments.push_back(in);
        const Vec2 from = loop.from(i), at = in.end;
        if (in.kind != Segment::Kind::line || next.kind != Segment::Kind::line) continue;
        const double before = distance(from, at), after = distance(at, next.end);
        const Vec2 u = unit(at - from), v = unit(next.end - at);
        const double turn = std::acos(std::clamp(dot(u, v), -1.0, 1.0));
        // What mates is square, or nearly, and longer than the tool is wide.
        if (turn < pi / 3 || turn > 2 * pi / 3 || std::min(before, after) < radius) continue;
        const Vec2 outwards = unit(u - v);
        const Vec2 corner = outwards * (off / std::cos(turn / 2)); // from the way's
        Vec2 way = outwards;
        if (relief != plan::Relief::corner) way = (before >= after) == (relief == plan::Relief::longer) ? u : -v;
        const double ahead = dot(corner, way), beside2 = dot(corner, corner) - ahead * ahead;
        const double reach = ahead - std::sqrt(std::max(0.0, radius * radius - beside2));
        if (reach <= 0.01) continue;
        out.stretches.emplace_back(at, at + way * reach);
        out.path.segments.push_back(Segment::line(at + way * reach));
        out.path.segments.push_back(Segment::line(at));
    }
    return out;
}

/// Outlines of one contour, as they are asked for: what is cut beside it, how deep, and what holds it.
class Outliner {
public:
    Outliner(const StepWork& work, const plan::Outline& outline, const plan::Contour& contour)
        : work_(work), outline_(outline), contour_(contour), side_(sideOf(contour, outline.side)) {
        const bool frees = intentOn(work, contour).frees && !work.byBeam();
        skin_ = frees && (outline.hold == plan::Hold::skin || contour.size < outline.skinUnder);
        if (skin_) outline_.hold = plan::Hold::none;
    }

    Planned run() {
        if (contour_.path.closed && isOfLine(outline_.side))
            snag(Verdict::look, "A closed outline has no left or right; its side is taken by nesting.",
                 "Set the side to “outside” or “inside”.");
        if (!contour_.path.closed && (outline_.side == plan::Side::outside || outline_.side == plan::Side::inside))
            snag(Verdict::look, "An open line has no inside or outside; it is cut on the line.",
                 "Close it, or set the side to “left”, “right” or “on line”.");
        if (work_.byBeam() && outline_.hold == plan::Hold::skin)
            snag(Verdict::look, "A beam leaves no skin: what is cut out lies loose.", "Hold by tabs, or by none.");
        const double foot = work_.byBeam() ? 0 : work_.tool.kind == shop::ToolKind::bullNose ? work_.tool.corner : 0;
        if (outline_.depth.through && !skin_ && outline_.depth.extra < foot - 1e-9)
            snag(
                Verdict::look,
                fmt::format("The edge of “{}” is rounded by {}: going {} below the stock it leaves a foot on the part.",
                            work_.tool.name, mm(foot), mm(outline_.depth.extra)),
                "Go as much below it, or use an end mill.");
        plan::Depth depth = outline_.depth;
        if (skin_) {
            const double left = std::min(outline_.skin, work_.thickness());
            depth = {.start = depth.start,
                     .through = false,
                     .depth = work_.thickness() - left,
                     .extra = 0,
                     .perPass = depth.perPass};
            if (!(depth.depth > depth.start)) {
                snag(Verdict::noGo, "Its skin is as thick as the stock.", "Make the skin thinner.");
                return std::move(planned_);
            }
        } else if (!depth.through && !work_.byBeam()) {
            depth.depth -= outline_.floor;
            if (!(depth.depth > depth.start)) {
                snag(Verdict::noGo, "What is left on the floor is all of its depth.", "Leave less, or go deeper.");
                return std::move(planned_);
            }
        }
        auto exact = loops(outline_.allowance);
        auto wider = outline_.finish > 0 && side_ != plan::Side::on && !work_.byBeam()
                         ? centres(contour_, side_, work_.tool.radius() + outline_.allowance + outline_.finish)
                         : Result<std::vector<Path>>(std::vector<Path>{});
        const bool finishes = wider && !wider->empty() && !exact.empty() && liesAlong(exact, *wider);
        if (outline_.finish > 0 && side_ != plan::Side::on && !work_.byBeam() && !finishes && !exact.empty())
            snag(Verdict::note,
                 "It is too narrow in places for passes before a finish pass: it is cut to size at once.",
                 "Use a thinner tool, or leave less for the finish.");
        std::vector<Task> tasks;
        std::vector<Follow> last;
        for (auto& path : exact) last.push_back(heldOn(std::move(path), outline_.allowance, depth, nullptr));
        if (finishes)
            for (auto& path : *wider) {
                if (path.segments.empty()) continue;
                auto rough = heldOn(std::move(path), outline_.allowance + outline_.finish, depth, &last);
                tasks.push_back(taskOf(std::move(rough), outline_.allowance + outline_.finish, depth));
            }
        for (auto& follow : last) {
            if (finishes) { // in one go, down where the passes before have been
                follow.depth.perPass = 1e9;
                follow.entry = plan::Entry::plunge;
                if (outline_.finishFeed > 0) follow.rates.feed = outline_.finishFeed;
            }
            const auto through = skin_ && outline_.skinFeed > 0 ? std::optional(follow) : std::nullopt;
            tasks.push_back(taskOf(std::move(follow), outline_.allowance, depth));
            if (finishes && tasks.size() > 1) tasks.back().intent.frees = false; // it is free by then, or held
            if (through) cutThrough(*through, depth);
        }
        if (finishes && tasks.size() > 1) { // without anything else between
            Task whole = std::move(tasks.front());
            whole.then.assign(std::make_move_iterator(tasks.begin() + 1), std::make_move_iterator(tasks.end()));
            planned_.tasks.insert(planned_.tasks.begin(), std::move(whole));
        } else {
            for (auto& task : tasks) planned_.tasks.push_back(std::move(task));
        }
        return std::move(planned_);
    }

private:
    static bool isOfLine(plan::Side side) { return side == plan::Side::left || side == plan::Side::right; }
    static plan::Side sideOf(const plan::Contour& contour, plan::Side asked) {
        if (contour.path.closed) return sideOn(contour, isOfLine(asked) ? plan::Side::automatic : asked);
        return isOfLine(asked) ? asked : plan::Side::on;
    }
    void snag(Verdict verdict, std::string what, std::string mend) {
        planned_.snags.push_back(snagOn(work_, contour_, verdict, std::move(what), std::move(mend)));
    }
    /// Whether the passes that leave a finish come by everywhere: where they do not, it would go full depth into stock.
    [[nodiscard]] bool liesAlong(const std::vector<Path>& exact, const std::vector<Path>& wider) const {
        std::vector<Ruler> rulers;
        for (const auto& path : wider) rulers.emplace_back(path);
        const double most = 4 * outline_.finish + 0.05; // sharp corners of its own
        for (const auto& path : exact) {
            const Ruler ruler(path);
            const int parts = std::max(8, static_cast<int>(std::ceil(ruler.length() / 0.5)));
            for (int k = 0; k < parts; ++k) {
                const Vec2 p = ruler.at(ruler.length() * k / parts).point;
                if (std::none_of(rulers.begin(), rulers.end(), [&](const Ruler& other) {
                        return distance(other.at(other.nearest(p)).point, p) <= most;
                    }))
                    return false;
            }
        }
        return true;
    }
    std::vector<Path> loops(double allowance) {
        auto paths = centres(contour_, side_, work_.tool.radius() + allowance);
        if (!paths) {
            snag(Verdict::noGo, paths.problem().what, paths.problem().mend);
            return {};
        }
        if (paths->empty())
            snag(Verdict::noGo,
                 fmt::format("“{}” is {} wide and does not fit into an opening of {}.", work_.tool.name,
                             mm(work_.tool.diameter), mm(contour_.size)),
                 "Choose a thinner tool for it.");
        std::erase_if(*paths, [](const Path& path) { return path.segments.empty(); });
        return std::move(*paths);
    }
    /// A loop the right way round, begun and held. `as`: tabs where these have theirs.
    Follow heldOn(Path path, double allowance, const plan::Depth& depth, const std::vector<Follow>* as) {
        Follow follow{.centre = std::move(path),
                      .tabs = {},
                      .depth = depth,
                      .rates = outline_.rates,
                      .beam = outline_.beam,
                      .entry = outline_.entry,
                      .rampAngle = outline_.rampAngle};
        follow.tabsSloped = outline_.tabsSloped && !work_.byBeam();
        Part part = Part::none;
        if (!follow.centre.closed) {
            if (side_ != plan::Side::on) besideOpen(follow, allowance);
            return follow;
        }
        if (side_ != plan::Side::on) {
            // The library leaves the offset area on the left. Outside, the part is in it: part left is conventional;
            // inside, the area is what is cut away: part right is climb (spindle turning clockwise).
            const bool partOnLeft = side_ == plan::Side::outside;
            const bool wantPartOnLeft = outline_.direction == plan::Direction::conventional;
            const bool turn = partOnLeft != wantPartOnLeft && !work_.byBeam();
            if (turn) follow.centre = reversed(follow.centre);
            part = turn == partOnLeft ? Part::right : Part::left;
        }
        if (!as) follow.overlap = std::min(outline_.overlap, lengthOf(follow.centre) / 2);
        auto outline = outline_;
        outline.allowance = allowance;
        if (!as) {
            hold(work_, outline, contour_, part, follow, planned_.snags);
            return follow;
        }
        Held held{
            Ruler(follow.centre), {}, tabReach(work_, outline.tabWidth), startOn(outline, contour_, follow.centre)};
        for (const auto& other : *as) {
            const Ruler ruler(other.centre);
            follow.tabWidth = other.tabWidth, follow.tabHeight = other.tabHeight;
            for (const double tab : other.tabs) {
                const Vec2 p = ruler.at(tab).point;
                const double along = held.loop.nearest(p);
                if (distance(held.loop.at(along).point, p) < 3 * work_.tool.radius()) held.tabs.push_back(along);
            }
        }
        std::sort(held.tabs.begin(), held.tabs.end());
        if (!begin(work_, outline, held, part, follow))
            snag(Verdict::noGo, "The tabs leave no place on this outline to begin cutting.",
                 "Take a tab away, or make them narrower.");
        const Ruler begun(follow.centre);
        for (const double tab : held.tabs) follow.tabs.push_back(begun.nearest(held.loop.at(tab).point));
        std::sort(follow.tabs.begin(), follow.tabs.end());
        return follow;
    }
    /// Beside an open line the part lies on the line's other side; every pass goes the way that was asked for.
    void besideOpen(Follow& follow, double allowance) {
        bool partOnLeft = side_ == plan::Side::right;
        if (partOnLeft != (outline_.direction == plan::Direction::conventional) && !work_.byBeam()) {
            follow.centre = reversed(follow.centre);
            partOnLeft = !partOnLeft;
        }
        follow.oneWay = !work_.byBeam();
        const Keepout line({contour_}, {1}); // the work's is of closed outlines
        if (outline_.lead > 0)
            addLeads({&work_.keepout, &line}, outline_, follow, !partOnLeft,
                     work_.tool.radius() + std::max(0.0, allowance) - 0.006);
        if (follow.leadIn && outline_.entry == plan::Entry::ramp && !work_.byBeam()) {
            follow.leadIn.reset();
            snag(Verdict::note, "It ramps down on the way beside the line, without the lead in.",
                 "Set the entry to a plunge to come in by the lead.");
        }
    }
    Task taskOf(Follow follow, double allowance, const plan::Depth& depth) {
        Intent intent = intentOn(work_, contour_);
        intent.side = side_;
        intent.allowance = side_ == plan::Side::on ? 0 : allowance;
        if (!work_.byBeam()) intent.bottom = plan::bottomOf(depth, work_.thickness());
        if (skin_) intent.through = intent.frees = false;
        if (outline_.relief != plan::Relief::none && side_ != plan::Side::on && follow.centre.closed) {
            auto reliefs =
                relieved(follow.centre, outline_.relief, work_.tool.radius() + allowance, work_.tool.radius());
            const Ruler before(follow.centre), after(reliefs.path);
            for (double& tab : follow.tabs) tab = after.nearest(before.at(tab).point);
            if (follow.overlap > 0) follow.overlap = after.nearest(before.at(follow.overlap).point); // where it leaves
            follow.centre = std::move(reliefs.path);
            intent.reliefs = std::move(reliefs.stretches);
        }
        return followed(work_, std::move(intent), contour_.size, std::move(follow));
    }
    /// What the skin is, gently, when all else is done.
    void cutThrough(Follow follow, const plan::Depth& depth) {
        follow.depth = outline_.depth;
        follow.depth.start = depth.depth;
        follow.depth.perPass = 1e9;
        follow.rates.feed = outline_.skinFeed;
        follow.entry = outline_.entry;
        Task task = taskOf(std::move(follow), outline_.allowance, outline_.depth);
        const auto whole = intentOn(work_, contour_);
        task.intent.through = whole.through;
        task.intent.frees = whole.frees;
        task.intent.top = depth.depth;
        task.last = true;
        planned_.tasks.push_back(std::move(task));
    }

    const StepWork& work_;
    plan::Outline outline_;
    const plan::Contour& contour_;
    plan::Side side_;
    bool skin_ = false;
    Planned planned_;
};

struct Shared {
    Planned planned;
    std::set<std::size_t> contours; ///< that are cut so
};

/// Parts whose straight edges lie as far apart as the tool is wide: the lines between them first, each once, while all
/// of them hang on their sheet; then what is left round each, the last of it letting it go.
Shared plannedShared(const StepWork& work, const plan::Outline& outline) {
    Shared out;
    const auto snag = [&](Verdict verdict, std::string what, std::string mend) {
        out.planned.snags.push_back({verdict, work.step.id, {}, {}, std::move(what), std::move(mend)});
    };
    const bool held = outline.hold != plan::Hold::none || outline.skinUnder > 0;
    if (held || outline.allowance != 0 || outline.finish > 0 || outline.relief != plan::Relief::none) {
        snag(Verdict::look,
             "Edges of two parts are cut once only where they are held by nothing, without allowance, finish pass and "
             "corner relief: they are cut twice.",
             "Hold by none, or let them be cut twice.");
        return out;
    }
    std::map<int, std::vector<WayRound>> ways; // by how deep they lie in others
    for (const auto c : work.taken) {
        const auto& contour = work.contours[c];
        if (!contour.path.closed || contour.role != plan::Role::outerEdges ||
            sideOn(contour, outline.side) != plan::Side::outside)
            continue;
        auto loops = centres(contour, plan::Side::outside, work.tool.radius());
        if (loops && loops->size() == 1) ways[contour.depth].emplace_back(c, std::move(loops->front()));
    }
    const auto follow = [&](Path path) {
        return Follow{.centre = std::move(path),
                      .tabs = {},
                      .depth = outline.depth,
                      .rates = outline.rates,
                      .beam = outline.beam,
                      .entry = outline.entry,
                      .rampAngle = outline.rampAngle};
    };
    const auto intentFor = [&](std::size_t c, bool frees) {
        Intent intent = intentOn(work, work.contours[c]);
        intent.side = plan::Side::outside;
        intent.frees = intent.frees && frees;
        return intent;
    };
    const auto chained = [](std::vector<Task> tasks) {
        Task whole = std::move(tasks.front());
        whole.then.assign(std::make_move_iterator(tasks.begin() + 1), std::make_move_iterator(tasks.end()));
        whole.exit = whole.then.empty() ? whole.exit : whole.then.back().exit;
        return whole;
    };
    std::size_t lines = 0;
    for (const auto& [depth, round] : ways) {
        auto edges = sharedEdges(round, work.tool.diameter, work.keepout);
        if (!edges) {
            snag(Verdict::look, edges.problem().what, "Edges of two parts are cut twice.");
            continue;
        }
        if (edges->lines.empty()) continue;
        lines += edges->lines.size();
        std::vector<Task> first;
        Vec2 at = edges->lines.front().from;
        while (!edges->lines.empty()) { // nearest next, either way round
            auto best = edges->lines.begin();
            double near = std::numeric_limits<double>::infinity();
            bool turned = false;
            for (auto line = edges->lines.begin(); line != edges->lines.end(); ++line)
                for (const bool turn : {false, true})
                    if (const double d = distance(at, turn ? line->to : line->from); d < near - 1e-9)
                        near = d, best = line, turned = turn;
            const Vec2 from = turned ? best->to : best->from, to = turned ? best->from : best->to;
            first.push_back(followed(work, intentFor(best->contours.front(), false), 0,
                                     follow({from, {Segment::line(to)}, false})));
            at = to;
            edges->lines.erase(best);
        }
        const double last = at.x; // a part that has nothing left of its own is loose when the lines are done
        for (const auto& part : edges->parts) {
            out.contours.insert(part.contour);
            if (!part.rest.empty()) continue;
            Task loose;
            loose.intent = intentFor(part.contour, true);
            loose.centre = {{last, at.y}, {}, false};
            loose.entry = loose.exit = at;
            first.push_back(std::move(loose));
        }
        out.planned.tasks.push_back(chained(std::move(first)));
        for (auto& part : edges->parts) {
            if (part.rest.empty()) continue;
            std::vector<Task> tasks;
            for (auto& run : part.rest)
                tasks.push_back(followed(work, intentFor(part.contour, &run == &part.rest.back()),
                                         work.contours[part.contour].size, follow(std::move(run))));
            out.planned.tasks.push_back(chained(std::move(tasks)));
        }
    }
    if (lines == 0)
        snag(Verdict::note,
             fmt::format("No two parts have straight edges {} apart: none is cut once for both.",
                         mm(work.tool.diameter)),
             "Lay the parts out as far apart as the tool is wide.");
    return out;
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Outline& outline, Progress& progress) {
    const bool pointed = !work.byBeam() && !work.tool.isUpright();
    if (pointed && outline.side != plan::Side::on)
        return {{},
                {{Verdict::noGo,
                  work.step.id,
                  {},
                  {},
                  fmt::format("“{}” is pointed: beside a line it would not cut a straight wall.", work.tool.name),
                  "Use an end mill, or cut on the line."}}};
    const auto each = [&](const StepWork& those) {
        return plannedEach(those, progress,
                           [&](const plan::Contour& contour) { return Outliner(those, outline, contour).run(); });
    };
    if (!outline.shared) return each(work);
    auto shared = plannedShared(work, outline);
    // All others as ever.
    std::vector<std::size_t> others;
    for (const auto c : work.taken)
        if (!shared.contours.contains(c)) others.push_back(c);
    const StepWork rest{work.job, work.step, work.tool, work.contours, others, work.keepout, work.before, work.travel};
    auto planned = each(rest);
    std::move(shared.planned.tasks.begin(), shared.planned.tasks.end(), std::back_inserter(planned.tasks));
    std::move(shared.planned.snags.begin(), shared.planned.snags.end(), std::back_inserter(planned.snags));
    return planned;
}

template<> std::vector<Aim> aimsOf(const StepWork& work, const plan::Outline& outline) {
    std::vector<Aim> aims;
    for (const std::size_t c : work.taken) {
        const auto& contour = work.contours[c];
        const auto side = sideOn(contour, outline.side);
        if (!contour.path.closed || (side != plan::Side::outside && side != plan::Side::inside)) continue;
        aims.push_back({.contours = {c},
                        .edges = {wound(contour.path, true)},
                        .outside = side == plan::Side::outside,
                        .keepsOff = work.tool.radius(),
                        .allowance = outline.allowance});
    }
    return aims;
}

} // namespace ferro::toolpath

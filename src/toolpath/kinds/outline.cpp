#include "plan/kinds/outline.h"

#include "base/kept.h"
#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "toolpath/outline_internal.h"

namespace ferro::toolpath {

Result<std::vector<Path>> centres(const StepWork& work, const plan::Contour& contour, plan::Side side, double off) {
    if (side == plan::Side::on) return std::vector<Path>{withoutCubics(contour.path, 0.002)};
    if (!contour.path.closed) {
        auto beside = besideLine(contour.path, off, side == plan::Side::left);
        if (!beside) return beside.problem();
        return std::vector<Path>{std::move(*beside)};
    }
    const double by = side == plan::Side::outside ? off : -off;
    return *Kept::of(work.kept, KeptKey(contour.path, by), [&] {
        return offsetPaths({flattened(wound(contour.path, true), sampling)}, by, {.tolerance = 0.004});
    });
}

namespace {

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
                         ? centres(work_, contour_, side_, work_.tool.radius() + outline_.allowance + outline_.finish)
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
        auto paths = centres(work_, contour_, side_, work_.tool.radius() + allowance);
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
        if (outline_.wear && side_ != plan::Side::on && !work_.byBeam()) leaveWear(follow);
        return followed(work_, std::move(intent), contour_.size, std::move(follow));
    }
    /// To the controller, which can do that from one straight line to another.
    void leaveWear(Follow& follow) {
        const bool leads = outline_.leadBy == plan::LeadBy::straight && follow.leadIn && follow.leadOut;
        if (!leads || !follow.centre.closed || outline_.relief != plan::Relief::none) {
            snag(Verdict::look, "The controller cannot make up for wear here; it is cut as the path has it.",
                 outline_.relief != plan::Relief::none ? "Take the corner relief out."
                                                       : "Lead in and out in straight lines, where there is room.");
            return;
        }
        // Outside the part lies on the left of a way counter-clockwise, inside on its right.
        const bool turnsLeft = areaOf(follow.centre) > 0;
        follow.wearLeft = turnsLeft != (side_ == plan::Side::outside);
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
    auto shared = sharedOutlines(work, outline);
    // All others as ever.
    std::vector<std::size_t> others;
    for (const auto c : work.taken)
        if (!shared.contours.contains(c)) others.push_back(c);
    const StepWork rest{work.job,     work.step,   work.tool,   work.contours, others,
                        work.keepout, work.before, work.travel, work.kept};
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

#pragma once

#include "geometry/measure.h"
#include "geometry/spatial.h"
#include "toolpath/toolpath.h"

namespace ferro::toolpath {

/// The edges of all parts, to ask how near a move comes to any of them.
class Keepout {
public:
    Keepout(const std::vector<plan::Contour>& contours, const std::vector<char>& counts);
    /// Whether every point of it stays `clear` mm from every edge.
    [[nodiscard]] bool allows(Vec2 from, const Segment& lineOrArc, double clear) const;

private:
    std::vector<std::pair<Vec2, Vec2>> edges_;
    std::unique_ptr<SpatialIndex> index_;
};

/// What one step is planned with.
struct StepWork {
    const job::Job& job;
    const plan::Step& step;
    const shop::Tool& tool;
    const std::vector<plan::Contour>& contours; ///< of the whole drawing
    const std::vector<std::size_t>& taken;      ///< those that the step takes
    const Keepout& keepout;
    const std::vector<StepMoves>& before; ///< what was cut by then
    double travel;
    Kept* kept = nullptr; ///< of earlier plannings

    [[nodiscard]] bool byBeam() const { return tool.process() == shop::Process::beam; }
    [[nodiscard]] double thickness() const { return job.sheet().stock.thickness; }
};

/// Puts down the moves of one step, one after the other.
class Pen {
public:
    Pen(const StepWork& work, StepMoves& out) : work_(work), out_(out) {}

    Vec2 heading{1, 0}; ///< of a blade that trails behind its axis
    double turned = 0;  ///< ° that a knife points to which the machine turns

    [[nodiscard]] Vec3 at() const { return at_; }
    [[nodiscard]] bool isAt(Vec3 p) const { return !out_.moves.empty() && distance(out_.moves.back().to, p) < 1e-9; }
    void rapid(Vec3 to) { put(Move::rapid(to)); }
    void feed(Vec3 to, double rate) {
        if (distance(at_, to) > 1e-9) put(Move::line(to, rate));
    }
    /// One stretch of the plane path while z goes evenly to `z`.
    void along(const std::vector<Segment>& segments, double z, double rate, double power = 0);
    /// A line by a beam, its power as the runs say; none of them above `greatest`, 0 to 1.
    void scan(Vec3 to, double rate, double greatest, const std::vector<Run>& runs);
    /// At travel height to a place above where cutting begins.
    void goOver(Vec2 p);
    /// Straight down: in air to a hair above `surface`, the highest that may stand here, from there at plunge feed;
    /// rapids stay at travel height.
    void sinkTo(double z, double surface);
    /// Stands still here.
    void wait(double seconds) { out_.waits.push_back({out_.moves.size(), seconds}); }
    /// What it has done since `first`, the count of moves then, was to drill this hole.
    void drilled(Drilling hole, std::size_t first) {
        hole.first = first, hole.end = out_.moves.size();
        out_.drillings.push_back(hole);
    }
    [[nodiscard]] std::size_t count() const { return out_.moves.size(); }
    void lift() { rapid({at_.x, at_.y, work_.travel}); }
    /// For what it has done since `first`, the count of moves then, the controller makes up for wear.
    void worn(std::size_t first, bool left) { out_.worn.push_back({first, out_.moves.size(), left}); }
    /// mm/min straight up.
    [[nodiscard]] double climbFeed() const { return work_.job.machine.maxFeedZ; }
    /// Turns the knife into this direction, the short way round.
    void turn(Vec2 into);
    /// Stands here with the beam lit.
    void pierce(double seconds, double power) {
        if (seconds > 0 && power > 0) out_.waits.push_back({out_.moves.size(), seconds, power});
    }
    /// Where a beam begins, without light; `z`: of its focus.
    void jumpTo(Vec2 p, double z = 0) {
        at_ = {p.x, p.y, z};
        if (!isAt(at_)) rapid(at_);
    }

private:
    void put(const Move& move) {
        at_ = move.to;
        out_.moves.push_back(move);
    }
    const StepWork& work_;
    StepMoves& out_;
    Vec3 at_;
};

/// One thing to cut without leaving it, ready to be put in order and written.
struct Task {
    Intent intent;
    double size = 1; ///< mm: small ones are cut before large ones
    Path centre;     ///< the tool's way in the plane, without leads
    std::vector<double> tabs;
    double tabWidth = 0, tabTop = 0;
    Vec2 entry, exit; ///< where the tool goes down and comes up
    std::function<void(Pen&)> write;
    bool last = false;           ///< when all else of the step is done
    std::vector<Task> then = {}; ///< without leaving it: what is cut next, each with an intent of its own
};
struct Planned {
    std::vector<Task> tasks;
    std::vector<Snag> snags;
};

/// What a step of a kind comes to, by its settings. Specialised once for each kind, in toolpath/kinds, and called for
/// whichever the variant holds: a kind without a planner does not link.
template<class Settings>
[[nodiscard]] Planned planned(const StepWork& work, const Settings& settings, Progress& progress);

/// What a step is to come up to with the side of its tool.
struct Aim {
    std::vector<std::size_t> contours; ///< that it is of
    std::vector<Path> edges;           ///< the part, or else the area that is to be gone, on their left
    bool outside = false;              ///< it is the part
    double keepsOff = 0;               ///< mm from tool's axis to wall: its radius at the surface
    double allowance = 0;              ///< mm left on the walls
};
/// Specialised once for each kind, like `planned`; empty where the side of the tool makes no wall.
template<class Settings> [[nodiscard]] std::vector<Aim> aimsOf(const StepWork& work, const Settings& settings);

/// Plans each taken outline by itself, in parallel, and puts the results together in their order.
[[nodiscard]] Planned plannedEach(const StepWork& work, Progress& progress,
                                  const std::function<Planned(const plan::Contour&)>& plan);

/// What a task of this step on this outline is for, as far as all kinds have it alike.
[[nodiscard]] Intent intentOn(const StepWork& work, const plan::Contour& contour);
/// The side that is asked for, or by nesting: openings inside, all else outside.
[[nodiscard]] plan::Side sideOn(const plan::Contour& contour, plan::Side asked);
[[nodiscard]] Snag snagOn(const StepWork& work, const plan::Contour& contour, Verdict verdict, std::string what,
                          std::string mend);

/// Whether tool and depth fit at all; says why not.
[[nodiscard]] bool canDo(const StepWork& work, std::vector<Snag>& snags);
/// The order to cut in: innermost first, small before large, then nearest next from `at`.
[[nodiscard]] std::vector<std::size_t> workOrder(const std::vector<Task>& tasks, Vec2 at);

using Stretch = std::pair<double, double>; ///< mm along a line
/// A line of so many mm in dashes with gaps between, each a little longer or shorter so that they come out evenly: an
/// open line ends with a dash, a closed one goes on into its first. `dash` and `gap` above 0.
[[nodiscard]] std::vector<Stretch> dashesOf(double whole, bool closed, double dash, double gap);

/// A closed path begun at another length along it.
[[nodiscard]] Path begunAt(const Ruler& ruler, double along);
/// Middles of `count` tabs along a closed loop, evenly, each on a straight stretch if there is one in reach, none
/// within `clear` mm of its start, fewer where there is no room; rather not where another stretch of the loop runs
/// within `slot` mm, for it would be in the way of what goes into the slot. `footprint`: how long a tab is with the
/// tool's width.
[[nodiscard]] std::vector<double> tabPlaces(const Ruler& loop, std::size_t count, double footprint, double clear,
                                            double slot);
/// Weakens a beam where the machine goes slower than asked, in corners and where it begins: from `still`, 0 to 1, of
/// its power at a standstill evenly up to all of it at the feed. Lines and arcs are parted for that where they lie, so
/// that no part's power is more than a twentieth off; the way and its time stay what they are. `from`: where the first
/// of the moves begins.
void ease(StepMoves& step, Vec3 from, const shop::Machine& machine, double still);
/// So slow that a tool going down at this angle sinks no quicker than it may plunge.
[[nodiscard]] double rampFeed(const plan::Rates& rates, double angle);

inline constexpr double sampling = 0.0005; ///< mm, flattening of outlines before they are offset

} // namespace ferro::toolpath

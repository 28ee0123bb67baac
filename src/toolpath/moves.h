#pragma once

#include "base/verdict.h"
#include "job/job.h"
#include "plan/selection.h"

namespace ferro::toolpath {

struct Vec3 {
    double x = 0, y = 0, z = 0;
    [[nodiscard]] Vec2 flat() const { return {x, y}; }
    friend bool operator==(const Vec3&, const Vec3&) = default;
};
[[nodiscard]] inline double distance(Vec3 a, Vec3 b) { return std::hypot(b.x - a.x, b.y - a.y, b.z - a.z); }

/// Power of a beam, 0 to 1, in steps of 1/50 000: every hundredth of a percent is exact, in two bytes.
class Power {
public:
    constexpr Power() = default;
    constexpr Power(double share) : steps_(static_cast<std::uint16_t>(std::clamp(share, 0.0, 1.0) * full + 0.5)) {}
    constexpr operator double() const { return steps_ / full; }

private:
    static constexpr double full = 50'000;
    std::uint16_t steps_ = 0;
};

/// One motion of the tool's lowest point, in sheet coordinates: z = 0 is the top of the stock. Pictures become tens of
/// millions of dots: a move is kept within 48 bytes, and a line of dots is one move, a scan.
struct Move {
    enum class Kind : std::uint8_t {
        rapid,
        line,
        arc,
        scan ///< a line on which the power changes: its runs are in StepMoves::runs
    };
    /// Where a scan's runs lie.
    struct Runs {
        std::uint32_t first, count;
        friend bool operator==(const Runs&, const Runs&) = default;
    };

    Kind kind = Kind::rapid;
    bool ccw = true; ///< arcs
    Power power;     ///< beam; always 0 on a rapid; of a scan the greatest
    float feed = 0;  ///< mm/min; 0 for rapids
    Vec3 to;
    union {
        Vec2 centre{}; ///< arcs, in the plane; z climbs evenly along the arc
        Runs runs;     ///< scans
    };

    Move() = default;
    Move(Kind k, bool turnsLeft, Vec3 end, Vec2 middle, double mmPerMin, double share)
        : kind(k), ccw(turnsLeft), power(share), feed(static_cast<float>(mmPerMin)), to(end), centre(middle) {}
    [[nodiscard]] static Move rapid(Vec3 to) { return {Kind::rapid, true, to, {}, 0, 0}; }
    [[nodiscard]] static Move line(Vec3 to, double feed, double power = 0) {
        return {Kind::line, true, to, {}, feed, power};
    }
    [[nodiscard]] static Move arc(Vec3 to, Vec2 centre, bool ccw, double feed, double power = 0) {
        return {Kind::arc, ccw, to, centre, feed, power};
    }
    [[nodiscard]] static Move scan(Vec3 to, double feed, double greatest, Runs runs) {
        Move move{Kind::scan, true, to, {}, feed, greatest};
        move.runs = runs;
        return move;
    }

    [[nodiscard]] Segment flat() const {
        return kind == Kind::arc ? Segment::arc(centre, to.flat(), ccw) : Segment::line(to.flat());
    }
    friend bool operator==(const Move& a, const Move& b) {
        const bool same = a.kind == b.kind && a.ccw == b.ccw && a.power == b.power && a.feed == b.feed && a.to == b.to;
        return same && (a.kind == Kind::scan ? a.runs == b.runs : a.centre == b.centre);
    }
};
static_assert(sizeof(Move) <= 48);

/// A stretch of a scan with one power, up to `end` of its length, 0 to 1.
struct Run {
    float end = 1;
    Power power;
    friend bool operator==(const Run&, const Run&) = default;
};

/// What a cut is for. Deviation, leftovers and safety are judged from this, for all kinds alike.
struct Intent {
    artwork::ItemId item; ///< what it is of; none: of the sheet itself
    int opening = -1;
    std::optional<std::size_t> contour; ///< its index among the pieces' contours
    plan::Role role = plan::Role::outerEdges;
    int nesting = 0;                  ///< how many outlines lie round it
    plan::Side side = plan::Side::on; ///< where the tool stays: outside or inside of the outline, or on the line
    double allowance = 0;             ///< mm left on the part beside it
    double top = 0;                   ///< mm below the stock's top: what lies above was taken to be cleared
    double bottom = 0;                ///< mm below the top
    double ridge = 0;                 ///< mm that its ways may leave standing on the floor
    bool through = false;
    bool frees = false; ///< a part may come loose by it
    /// Where the tool leaves its way into a corner of the part and comes back, so that a mating part fits: on purpose.
    std::vector<std::pair<Vec2, Vec2>> reliefs = {};
    std::vector<Ring> area; ///< what it is to clear down to `bottom`; empty: a line only
    /// Judged by the edge beside it: what stands there is left over, what is missing was cut into.
    [[nodiscard]] bool beside() const { return side == plan::Side::outside || side == plan::Side::inside; }
};

/// One outline (or hole, or line, or area) as it is cut: what for, which moves do it, where its tabs lie.
struct Cut {
    Intent intent;
    std::size_t first = 0, end = 0;  ///< moves [first, end)
    Path centre;                     ///< the tool's way in the plane, without leads
    std::vector<double> tabs;        ///< mm along `centre`, middles
    double tabWidth = 0, tabTop = 0; ///< mm along; height of their top, 0 is the stock's
};

/// Where the tool stands still for a while.
struct Wait {
    std::size_t before = 0; ///< index of the move after it
    double seconds = 0;
    double power = 0; ///< of a beam that stands lit, 0 to 1
    friend bool operator==(const Wait&, const Wait&) = default;
};

/// A knife that the machine turns is turned on the spot. In between it turns with the arcs.
struct Turn {
    std::size_t before = 0; ///< index of the move after it
    double to = 0;          ///< ° from the sheet's x axis, counter-clockwise, beyond a whole turn too
    double by = 0;          ///< °
    double seconds = 0;
    friend bool operator==(const Turn&, const Turn&) = default;
};

/// Moves that the controller may shift to the side by what its table says of the tool's wear: the first comes onto the
/// way in a straight line, the last leaves it so.
struct Worn {
    std::size_t first = 0, end = 0; ///< moves [first, end)
    bool left = false;              ///< the tool is on the left of the part's edge, looking along
    friend bool operator==(const Worn&, const Worn&) = default;
};

/// A hole drilled straight down, in moves as written out, which a dialect may say in one word: from over the hole at
/// travel height and back up there.
struct Drilling {
    std::size_t first = 0, end = 0; ///< moves [first, end)
    Vec2 at;
    double from = 0.5;   ///< mm above the stock's top, where feeding begins
    double bottom = 0;   ///< mm above the stock's top, below 0
    double peck = 0;     ///< mm at a time; 0: in one go
    bool breaks = false; ///< between pecks only the chip is broken
    double feed = 0;     ///< mm/min
    friend bool operator==(const Drilling&, const Drilling&) = default;
};

struct StepMoves {
    plan::StepId step;
    std::string name;
    const plan::Kind* kind = nullptr; ///< none: of a program from elsewhere
    shop::Tool tool;
    double spindle = 0;      ///< rpm
    double spinUp = 0;       ///< s to wait after the spindle was started
    double plunge = 0;       ///< mm/min at which it may go down into stock
    double force = 0;        ///< g, of a blade that is pressed
    bool air = false;        ///< blown on where a beam burns
    bool toolChange = false; ///< another tool than the step before
    bool stopBefore = false; ///< the machine waits for the person
    bool onBoard = false;    ///< the blank does not lie there yet: it is marked on the scrap board
    std::uint32_t blank = 0; ///< of a tray's, from 1, that it is cut on; 0: there is no tray
    std::string note;        ///< for the person, before it begins
    std::vector<Move> moves;
    std::vector<Run> runs;                ///< of all scans
    std::vector<Wait> waits;              ///< in the order of the moves
    std::vector<Turn> turns = {};         ///< likewise, of a knife that the machine turns
    std::vector<Worn> worn = {};          ///< likewise
    bool eased = false;                   ///< a beam is weakened where the machine is slower than asked
    std::vector<Drilling> drillings = {}; ///< likewise
    std::vector<Cut> cuts;

    /// Its name, with the blank's number on a tray.
    [[nodiscard]] std::string title() const { return blank ? name + ", blank " + std::to_string(blank) : name; }
};

/// Something a step could not do, or not as asked.
struct Snag {
    Verdict verdict = Verdict::look;
    plan::StepId step;
    artwork::ItemId item;
    Vec2 at;
    std::string what, mend;
};

/// All motions of a job, in order. All of one process: another head is another program.
struct Toolpath {
    shop::Process process = shop::Process::rotary;
    double travel = 5; ///< mm above the stock: the height of rapids
    Vec3 start;        ///< where the tool waits before the first move
    std::vector<StepMoves> steps;
    std::vector<Vec2> blanks = {}; ///< of a tray: how far each lies from the one that is drawn, that first
    std::vector<Snag> snags = {};
    std::shared_ptr<const plan::Pieces> pieces; ///< what it was planned from; none: of a program from elsewhere

    [[nodiscard]] bool byBeam() const { return process == shop::Process::beam; }
    [[nodiscard]] bool turns() const { return process == shop::Process::rotary; } ///< has a spindle
    [[nodiscard]] std::size_t count() const {
        std::size_t sum = 0;
        for (const auto& step : steps) sum += step.moves.size();
        return sum;
    }
};

/// The same moves elsewhere on the sheet.
void shift(StepMoves& step, Vec2 by);
/// Of what is cut on a tray, the first blank alone; the others have the same moves.
[[nodiscard]] Toolpath onFirstBlank(const Toolpath& path);

/// Calls `visit(step, index, from, move)` for every move in order.
template<class Visit> void forEachMove(const Toolpath& path, Visit&& visit) {
    Vec3 at = path.start;
    for (const auto& step : path.steps)
        for (std::size_t i = 0; i < step.moves.size(); ++i) {
            visit(step, i, at, step.moves[i]);
            at = step.moves[i].to;
        }
}

} // namespace ferro::toolpath

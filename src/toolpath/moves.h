#pragma once

#include "job/job.h"

namespace ferro::toolpath {

struct Vec3 {
    double x = 0, y = 0, z = 0;
    [[nodiscard]] Vec2 flat() const { return {x, y}; }
    friend bool operator==(const Vec3&, const Vec3&) = default;
};
[[nodiscard]] inline double distance(Vec3 a, Vec3 b) { return std::hypot(b.x - a.x, b.y - a.y, b.z - a.z); }

/// One motion of the tool's lowest point, in sheet coordinates: z = 0 is the top of the stock.
struct Move {
    enum class Kind : std::uint8_t { rapid, line, arc };
    Kind kind = Kind::rapid;
    bool ccw = true; ///< arcs
    Vec3 to;
    Vec2 centre;      ///< arcs, in the plane; z climbs evenly along the arc
    double feed = 0;  ///< mm/min; 0 for rapids
    double power = 0; ///< beam, 0 to 1; always 0 on a rapid

    [[nodiscard]] Segment flat() const {
        return kind == Kind::arc ? Segment::arc(centre, to.flat(), ccw) : Segment::line(to.flat());
    }
    friend bool operator==(const Move&, const Move&) = default;
};

/// One outline (or hole, or line) as it is cut: what it is of, which moves do it, where its tabs lie.
struct Cut {
    artwork::ItemId item;
    int opening = -1;
    plan::Role role = plan::Role::outerEdges;
    int depth = 0;     ///< nesting
    double bottom = 0; ///< mm below the top, positive
    bool through = false;
    std::size_t first = 0, end = 0; ///< moves [first, end)
    Path centre;                    ///< the tool's way in the plane, without leads
    std::vector<double> tabs;       ///< mm along `centre`, middles
};

struct StepMoves {
    plan::StepId step;
    std::string name;
    plan::StepKind kind = plan::StepKind::outline;
    shop::Tool tool;
    double spindle = 0;      ///< rpm
    double spinUp = 0;       ///< s to wait after the spindle was started
    bool toolChange = false; ///< another tool than the step before
    std::vector<Move> moves;
    std::vector<Cut> cuts;
};

/// Something a step could not do, or not as asked.
struct Snag {
    enum class Weight { note, look, noGo } weight = Weight::look;
    plan::StepId step;
    artwork::ItemId item;
    Vec2 at;
    std::string what, mend;
};

/// All motions of a job, in order.
struct Toolpath {
    bool laser = false;
    double travel = 5; ///< mm above the stock: the height of rapids
    Vec3 start;        ///< where the tool waits before the first move
    std::vector<StepMoves> steps;
    std::vector<Snag> snags;

    [[nodiscard]] std::size_t count() const {
        std::size_t sum = 0;
        for (const auto& step : steps) sum += step.moves.size();
        return sum;
    }
};

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

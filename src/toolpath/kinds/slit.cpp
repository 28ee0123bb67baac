#include "plan/kinds/slit.h"

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "toolpath/blade.h"
#include "toolpath/regions_internal.h"

namespace ferro::toolpath {

namespace {

/// A closed line begun at its sharpest corner, where a join shows least; without one as it is.
Path begunAtCorner(const Path& path) {
    constexpr double sharp = 20 * pi / 180;
    double most = sharp;
    std::size_t best = 0;
    Vec2 at = path.start;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const auto& before = path.segments[(i + path.segments.size() - 1) % path.segments.size()];
        const Vec2 in = tangentAt(path.from((i + path.segments.size() - 1) % path.segments.size()), before, 1),
                   out = tangentAt(at, path.segments[i], 0);
        if (const double turn = std::abs(std::atan2(cross(in, out), dot(in, out))); turn > most + 1e-9)
            most = turn, best = i;
        at = path.segments[i].end;
    }
    if (best == 0) return path;
    Path out = path;
    out.start = path.from(best);
    std::rotate(out.segments.begin(), out.segments.begin() + static_cast<std::ptrdiff_t>(best), out.segments.end());
    return out;
}

/// What is cut of a line without lifting: all of it, closed ones and a little more, or a dash at a time.
std::vector<Stretch> stretchesOf(double whole, bool closed, const plan::Slit& slit) {
    if (!(slit.dash > 0)) return {{0, whole + (closed ? slit.overcut : 0)}};
    return dashesOf(whole, closed, slit.dash, slit.gap);
}

/// Slits stretches of a line, as often as asked, each time deeper by its share.
struct Slitting {
    Ruler line;
    std::vector<Stretch> stretches;
    plan::Slit slit;
    double bottom, trail;
    bool turned;                        ///< by the machine
    static constexpr double over = 0.5; ///< mm above the stock, where it turns in corners

    void operator()(Pen& pen) const {
        const int passes = std::max(1, static_cast<int>(std::lround(slit.passes)));
        for (int pass = 1; pass <= passes; ++pass)
            for (const auto& [from, to] : stretches)
                turned ? byTurning(pen, from, to, bottom * pass / passes) : one(pen, from, to, bottom * pass / passes);
    }

private:
    /// By a knife that is turned: it is lifted over corners, and turned there.
    void byTurning(Pen& pen, double from, double to, double depth) const {
        const bool higher = slit.turnDepth > 0 && slit.turnDepth < depth;
        Vec2 at = line.at(from).point;
        pen.goOver(at);
        bool down = false;
        for (const auto& way : line.stretch(from, to)) {
            if (lengthOf(at, way) < 1e-9) continue;
            const Vec2 begins = tangentAt(at, way, 0);
            const double turn = std::remainder(std::atan2(begins.y, begins.x) - pen.turned * pi / 180, 2 * pi);
            const bool lifts = down && std::abs(turn) > slit.turnsOver * pi / 180;
            if (lifts) pen.feed({at.x, at.y, higher ? -slit.turnDepth : over}, pen.climbFeed());
            pen.turn(begins);
            if (!down) pen.sinkTo(-depth, 0);
            if (lifts) pen.feed({at.x, at.y, -depth}, slit.rates.plunge);
            down = true;
            pen.along({way}, -depth, slit.rates.feed);
            if (way.kind == Segment::Kind::arc) pen.turned += sweepOf(at, way) * 180 / pi;
            at = way.end;
        }
        pen.lift();
    }
    void one(Pen& pen, double from, double to, double depth) const {
        const auto way =
            axisOver(line.at(from).point, line.stretch(from, to), trail, slit.turnsOver * pi / 180, pen.heading);
        pen.goOver(way.start);
        const bool higher = slit.turnDepth > 0 && slit.turnDepth < depth;
        const bool turnsFirst = !way.bits.empty() && way.bits.front().turns;
        pen.sinkTo(higher && turnsFirst ? -slit.turnDepth : -depth, 0);
        for (const auto& bit : way.bits) {
            const double z = higher && bit.turns ? -slit.turnDepth : -depth;
            pen.feed({pen.at().x, pen.at().y, z}, slit.rates.plunge);
            pen.along({bit.way}, z, slit.rates.feed);
        }
        pen.lift();
    }
};

Task slitting(const StepWork& work, const plan::Slit& slit, const Path& path, Intent intent, double size) {
    const Ruler ruler(path);
    auto stretches = stretchesOf(ruler.length(), path.closed, slit);
    Task task;
    task.intent = std::move(intent);
    task.intent.side = plan::Side::on;
    task.intent.frees = task.intent.frees && !(slit.dash > 0);
    task.size = size;
    task.centre = path;
    task.entry = path.start;
    task.exit = ruler.at(std::min(stretches.back().second, ruler.length())).point;
    task.write = Slitting{ruler,           std::move(stretches), slit, plan::bottomOf(slit.depth, work.thickness()),
                          work.tool.trail, work.tool.isTurned()};
    return task;
}

/// The border round all that is slit, and lines across what lies between: what is not wanted comes off in bits.
void weed(const StepWork& work, const plan::Slit& slit, Planned& planned) {
    Box box;
    Rings pieces;
    for (const std::size_t c : work.taken) box.take(boundsOf(work.contours[c].path));
    for (const auto& region : regionsOf(work))
        pieces.push_back(flattened(wound(work.contours[region.outer].path, true), 0.01));
    if (box.empty()) return;
    const Box asked = box.grown(slit.border), sheet = job::sheetOf(work.job.sheet().stock).grown(-1);
    const Box border{{std::max(asked.low.x, sheet.low.x), std::max(asked.low.y, sheet.low.y)},
                     {std::min(asked.high.x, sheet.high.x), std::min(asked.high.y, sheet.high.y)}};
    std::vector<Task> cuts; // in their order: to and fro, and the border last
    const auto put = [&](const Path& path) {
        Intent intent;
        intent.role = path.closed ? plan::Role::outerEdges : plan::Role::openLines;
        intent.bottom = plan::bottomOf(slit.depth, work.thickness());
        intent.through = slit.depth.through;
        plan::Slit whole = slit;
        whole.dash = 0;
        Task task = slitting(work, whole, path, std::move(intent), 1e6);
        task.last = true;
        cuts.push_back(std::move(task));
    };
    if (border.low.x > box.low.x + 1e-9 || border.low.y > box.low.y + 1e-9 || border.high.x < box.high.x - 1e-9 ||
        border.high.y < box.high.y - 1e-9) {
        planned.snags.push_back({Verdict::look,
                                 work.step.id,
                                 {},
                                 box.centre(),
                                 "The pieces leave no room for a border: it would lie beside the sheet.",
                                 "Move the pieces in, or use a larger sheet."});
        return;
    }
    if (slit.weeding == plan::Weeding::lines) {
        const auto grown = offset(pieces, slit.spare, {.tolerance = 0.01});
        const Rings none;
        const Rings& off = grown ? *grown : none;
        const double height = border.height();
        const int lines = std::max(0, static_cast<int>(std::ceil(height / slit.pitch - 1e-9)) - 1);
        bool ahead = true;
        for (int i = 1; i <= lines; ++i) {
            const double y = border.low.y + height * i / (lines + 1);
            std::vector<Stretch> free;
            double x = border.low.x;
            for (const auto& [a, b] : insideAt(off, y)) {
                if (a > x) free.emplace_back(x, std::min(a, border.high.x));
                x = std::max(x, b);
            }
            if (x < border.high.x) free.emplace_back(x, border.high.x);
            if (!ahead) std::reverse(free.begin(), free.end());
            for (const auto& [a, b] : free)
                if (b - a > 2) { // shorter ones are no help
                    const Vec2 one{ahead ? a : b, y}, other{ahead ? b : a, y};
                    put({one, {Segment::line(other)}, false});
                }
            ahead = !ahead;
        }
    }
    put({border.low,
         {Segment::line({border.high.x, border.low.y}), Segment::line(border.high),
          Segment::line({border.low.x, border.high.y}), Segment::line(border.low)},
         true});
    Task first = std::move(cuts.front());
    first.then.assign(std::make_move_iterator(cuts.begin() + 1), std::make_move_iterator(cuts.end()));
    planned.tasks.push_back(std::move(first));
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Slit& slit, Progress& progress) {
    auto planned = plannedEach(work, progress, [&](const plan::Contour& contour) {
        Planned one;
        if (contour.path.segments.empty()) return one;
        Path path = withoutCubics(contour.path, 0.002);
        if (path.closed) path = begunAtCorner(path);
        one.tasks.push_back(slitting(work, slit, path, intentOn(work, contour), contour.size));
        return one;
    });
    if (slit.weeding != plan::Weeding::none) weed(work, slit, planned);
    return planned;
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Slit&) { return {}; }

} // namespace ferro::toolpath

// Checks against the stock as it stands when a cut begins.
#include "geometry/measure.h"
#include "proof/checks_internal.h"

namespace ferro::proof {

namespace {

using toolpath::Cut;
using toolpath::StepMoves;
using toolpath::Toolpath;

/// The moves of a cut as a path of their own.
Toolpath excerpt(const Toolpath& path, const StepMoves& step, std::size_t first, std::size_t end,
                 toolpath::Vec3 start) {
    Toolpath out;
    out.process = path.process;
    out.travel = path.travel;
    out.start = start;
    StepMoves moves;
    moves.tool = step.tool;
    moves.moves.assign(step.moves.begin() + static_cast<std::ptrdiff_t>(first),
                       step.moves.begin() + static_cast<std::ptrdiff_t>(end));
    out.steps.push_back(std::move(moves));
    return out;
}

struct Standing {
    double height = 0; ///< mm above what was taken to be cleared
    Vec2 at;
};

/// What stands higher than `top` in the way of strokes, a little within the tool's rim: cells at the edge of what was
/// cleared are cut in part only.
Standing standingIn(const HeightGrid& grid, const Strokes& strokes, double top) {
    constexpr double slack = 0.05;
    Standing worst;
    if (strokes.list.empty()) return worst;
    const auto& tool = strokes.tools.front();
    for (const auto& s : strokes.list) {
        const double reach = std::max(0.0, tool.radiusAt(-top - static_cast<double>(s.z)) - 1.5 * grid.cell);
        const Vec2 d = s.to - s.from;
        const double size = length(d);
        if (size < 1e-9) continue; // straight down: that is what a plunge is for
        const int parts = std::max(1, static_cast<int>(std::ceil(size / grid.cell)));
        const int cells = static_cast<int>(std::floor(reach / grid.cell));
        for (int k = 0; k <= parts; ++k) {
            const Vec2 p = lerp(s.from, s.to, static_cast<double>(k) / parts);
            for (int r = -cells; r <= cells; ++r)
                for (int c = -cells; c <= cells; ++c) {
                    const Vec2 q = p + Vec2{c * grid.cell, r * grid.cell};
                    if (length(q - p) > reach || !grid.area.contains(q)) continue;
                    const double here = static_cast<double>(grid.at(q));
                    const double edge = static_cast<double>(s.z) + tool.profile(length(q - p));
                    if (here < top + slack || here < edge + slack) continue;
                    if (here - top > worst.height) worst = {here - top, q};
                }
        }
    }
    return worst;
}

} // namespace

namespace {

/// Area of what stands above `bottom` within an area that was to be cleared, a cell in from its border, mm².
double leftIn(const HeightGrid& grid, const Rings& area, double bottom, Vec2& at) {
    double left = 0;
    Box box;
    for (const auto& ring : area)
        for (const Vec2 p : ring) box.take(p);
    for (int r = 0; r < grid.rows; ++r)
        for (int c = 0; c < grid.columns; ++c) {
            const Vec2 p = grid.middle(c, r);
            if (!box.contains(p) || static_cast<double>(grid.at(p)) <= bottom + 0.05) continue;
            const double m = grid.cell;
            const Vec2 round[] = {p, p + Vec2{m, m}, p + Vec2{-m, m}, p + Vec2{m, -m}, p + Vec2{-m, -m}};
            if (!std::all_of(std::begin(round), std::end(round), [&](Vec2 q) { return contains(area, q); })) continue;
            left += m * m;
            at = p;
        }
    return left;
}

} // namespace

/// The job's cuts one after the other against the stock as it stands then. A start depth says that what lies above was
/// cut before: where it was not, the tool would go through it at full feed. What an area was to be cleared of has to be
/// gone afterwards.
void Checker::cleared() {
    if (path.byBeam()) return;
    std::pair<std::size_t, std::size_t> last{0, 0}; // step and cut, one behind the last that is asked about
    for (std::size_t s = 0; s < path.steps.size(); ++s)
        for (std::size_t c = 0; c < path.steps[s].cuts.size(); ++c)
            if (const auto& intent = path.steps[s].cuts[c].intent; intent.top > 0 || !intent.area.empty())
                last = {s, c + 1};
    if (last.second == 0) return;
    auto grid = HeightGrid::of(job.sheet().stock, 1'000'000);
    Progress progress;
    toolpath::Vec3 at = path.start;
    for (std::size_t s = 0; s <= last.first; ++s) {
        const auto& step = path.steps[s];
        if (step.onBoard) continue;
        const std::size_t cuts = s == last.first ? last.second : step.cuts.size();
        Standing worst;
        double top = 0, left = 0;
        Vec2 leftAt;
        for (std::size_t c = 0; c < cuts; ++c) {
            const auto& cut = step.cuts[c];
            const auto part = excerpt(path, step, cut.first, cut.end, at);
            const auto strokes = strokesOf(part, job.sheet().stock.thickness, grid.cell / 10);
            if (cut.intent.top > 0) {
                auto quick = part; // at plunge feed it may go through anything
                for (auto& move : quick.steps[0].moves)
                    if (static_cast<double>(move.feed) <= step.plunge * 1.001) move.kind = toolpath::Move::Kind::rapid;
                const auto standing =
                    standingIn(grid, strokesOf(quick, job.sheet().stock.thickness, grid.cell / 10), -cut.intent.top);
                if (standing.height > worst.height) worst = standing, top = cut.intent.top;
            }
            if (!sweep(grid, strokes, progress)) return;
            if (!cut.intent.area.empty())
                left += leftIn(grid, cut.intent.area, cut.intent.ridge - cut.intent.bottom, leftAt);
            if (cut.end > cut.first) at = step.moves[cut.end - 1].to;
        }
        if (left > 1) {
            auto& f =
                add(Verdict::look, fmt::format("“{}” leaves {:.2f} cm² of its area standing.", step.name, left / 100),
                    "Use a thinner tool, or more overlap.");
            f.step = step.step, f.at = leftAt;
        }
        if (worst.height <= 0) continue;
        auto& f =
            add(Verdict::noGo,
                fmt::format("“{}” starts {} deep, but {} of stock stand there: feed into stock that was taken to be "
                            "cleared.",
                            step.name, mm(top), mm(std::round(worst.height * 100) / 100)),
                "Begin at the top, or clear it by a step before.");
        f.at = worst.at;
        setting(f, step.step, "Start depth: 0", "startDepth", "0");
    }
}

/// Stock is cut only while the spindle turns. In a program from elsewhere it may never have been started.
void Checker::spindles() {
    if (!path.turns()) return;
    const Box sheet = job::sheetOf(job.sheet().stock);
    bool told = false;
    toolpath::forEachMove(path, [&](const StepMoves& step, std::size_t i, toolpath::Vec3 from,
                                    const toolpath::Move& move) {
        if (told || step.spindle > 0 || move.kind == toolpath::Move::Kind::rapid) return;
        if (std::min(from.z, move.to.z) >= 0) return;
        if (!sheet.grown(step.tool.radius()).meets(ferro::boundsOf(Path{from.flat(), {move.flat()}, false}))) return;
        told = true;
        auto& f = add(Verdict::noGo, "It cuts while the spindle stands still.", "Start the spindle (M3 S…) before.");
        f.at = move.to.flat();
        f.step = step.step;
        f.move = placeOf(step, i);
    });
}

} // namespace ferro::proof

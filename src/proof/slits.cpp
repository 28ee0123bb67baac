#include "proof/slits_internal.h"
#include "toolpath/blade.h"

namespace ferro::proof {

void followTips(const toolpath::Toolpath& path, Deviation& result) {
    if (!path.pieces) return;
    toolpath::Vec3 at = path.start;
    Vec2 heading{1, 0};
    for (const auto& step : path.steps) {
        toolpath::Caster caster(step.tool.trail, heading);
        std::size_t cut = 0;
        std::optional<Ruler> line;
        std::size_t lineOf = static_cast<std::size_t>(-1);
        for (std::size_t i = 0; i < step.moves.size(); ++i) {
            const auto& move = step.moves[i];
            const auto from = std::exchange(at, move.to);
            if (step.tool.process() != shop::Process::blade || move.kind == toolpath::Move::Kind::rapid ||
                std::min(from.z, move.to.z) >= 0)
                continue;
            while (cut < step.cuts.size() && i >= step.cuts[cut].end) ++cut;
            const bool known = cut < step.cuts.size() && step.cuts[cut].intent.contour;
            if (known && std::exchange(lineOf, cut) != cut)
                line.emplace(path.pieces->contours[*step.cuts[cut].intent.contour].path);
            const auto judge = [&](Vec2 tip) {
                if (!known) return;
                const double off = distance(line->at(line->nearest(tip)).point, tip);
                if (off > result.astray) result.astray = off, result.astrayAt = tip;
            };
            judge(caster.tipAt(from.flat()));
            caster.draw(from.flat(), move.flat(), [&](Vec2 tip, Vec2, double) { judge(tip); });
        }
        heading = caster.heading();
    }
}

} // namespace ferro::proof

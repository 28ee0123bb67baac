#include "program/border.h"

#include "geometry/flatten.h"
#include "geometry/hull.h"
#include "program/for_job.h"

namespace ferro::program {

std::vector<std::string> borderWalk(const job::Job& job, const toolpath::Toolpath& path, Border by) {
    Box box;
    std::vector<Vec2> points;
    toolpath::forEachMove(path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from,
                                    const toolpath::Move& move) {
        const bool cuts = path.byBeam() ? move.power > 0 : std::min(from.z, move.to.z) < 0;
        if (move.kind == toolpath::Move::Kind::rapid || !cuts) return;
        const double radius = step.tool.radius() + 0.1; // more than what follows leaves out
        const auto put = [&](Vec2 p) {
            box.take(Box{p, p}.grown(radius));
            for (int k = 0; k < 16; ++k) // as round as the tool, and a little more
                points.push_back(p + Vec2{std::cos(k * pi / 8), std::sin(k * pi / 8)} * (radius / std::cos(pi / 16)));
        };
        put(from.flat());
        flattenSegment(from.flat(), move.flat(), 0.02, put);
    });
    if (box.empty()) return {};
    const auto frame = frameOf(job);
    const auto at = [&](Vec2 p) { return fmt::format("G0 X{:.3f} Y{:.3f}", p.x - frame.zero.x, p.y - frame.zero.y); };
    std::vector<std::string> blocks{"G21 G90", "M5"};
    // Even a faint beam marks, and a knife or cutter that stands low would cut its way.
    if (!path.byBeam() || job.machine.does(shop::Process::rotary))
        blocks.push_back(fmt::format("G0 Z{:.3f}", path.travel - frame.z));
    Ring corners{box.low, {box.high.x, box.low.y}, box.high, {box.low.x, box.high.y}};
    if (by == Border::string) {
        corners.clear();
        for (const auto i : hullOf(points)) corners.push_back(points[i]);
    }
    for (const Vec2 p : corners) blocks.push_back(at(p));
    blocks.push_back(at(corners.front()));
    return blocks;
}

} // namespace ferro::program

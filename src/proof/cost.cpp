#include "proof/cost.h"

namespace ferro::proof {

Cost costOf(const job::Job& job, const toolpath::Toolpath& path, const Timing& timing) {
    Cost cost;
    cost.machine = timing.total / 3600 * job.machine.hourCost;
    const auto& stock = job.sheet().stock;
    const auto& material = job::materialOf(job);
    cost.sheet = job.sheet().cost > 0
                     ? job.sheet().cost
                     : areaOf(job::blankOf(stock)) * 1e-6 * stock.thickness * material.squareCost; // mm² of it
    if (job.sheet().tray) cost.sheet *= static_cast<double>(job.sheet().tray->count());
    bool worn = true;
    std::vector<double> cut(path.steps.size(), 0); // mm
    toolpath::forEachMove(
        path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from, const toolpath::Move& move) {
            const bool cuts = move.kind != toolpath::Move::Kind::rapid &&
                              (path.byBeam() ? move.power > 0 : std::min(from.z, move.to.z) < 0);
            if (cuts)
                cut[static_cast<std::size_t>(&step - path.steps.data())] +=
                    std::hypot(lengthOf(from.flat(), move.flat()), move.to.z - from.z);
        });
    for (std::size_t s = 0; s < path.steps.size(); ++s) {
        cost.tools += cut[s] / 1000 * path.steps[s].tool.metreCost;
        worn = worn && (path.steps[s].tool.metreCost > 0 || path.byBeam()); // a beam does not wear
    }
    if (job.machine.hourCost <= 0) cost.unknown.push_back(fmt::format("an hour at “{}”", job.machine.name));
    if (material.squareCost <= 0 && job.sheet().cost <= 0)
        cost.unknown.push_back(fmt::format("the sheet of {}", material.name));
    if (!worn) cost.unknown.push_back("the wear of its tools");
    return cost;
}

std::string Cost::words() const {
    if (total() <= 0) return {};
    std::string text = fmt::format("{:.2f} in all: machine {:.2f}, sheet {:.2f}", total(), machine, sheet);
    if (tools > 0) text += fmt::format(", tools {:.2f}", tools);
    for (std::size_t i = 0; i < unknown.size(); ++i)
        text += fmt::format("{}{}", i == 0 ? "; without " : i + 1 == unknown.size() ? " and " : ", ", unknown[i]);
    return text + ".";
}

} // namespace ferro::proof

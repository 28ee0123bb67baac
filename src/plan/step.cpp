#include "plan/step.h"

#include "plan/fields.h"

namespace ferro::plan {

const Step* find(const Plan& plan, StepId id) {
    const auto at = std::find_if(plan.steps.begin(), plan.steps.end(), [&](const Step& step) { return step.id == id; });
    return at == plan.steps.end() ? nullptr : &*at;
}

std::string_view kindName(StepKind kind) {
    constexpr std::string_view names[] = {"outline", "drill", "scribe"};
    return names[static_cast<std::size_t>(kind)];
}

Step freshStep(StepId id, StepKind kind, const shop::Tool& tool, const shop::Material& material,
               const shop::Machine& machine, double thickness) {
    Step step;
    step.id = id;
    step.kind = kind;
    step.tool = tool.key;
    const bool laser = machine.kind == shop::MachineKind::laser;
    constexpr std::string_view names[] = {"Outlines", "Holes", "Lines"};
    step.name = names[static_cast<std::size_t>(kind)];
    step.through = kind != StepKind::scribe;
    step.side = kind == StepKind::scribe ? Side::on : Side::automatic;
    step.depth = kind == StepKind::scribe ? std::min(0.5, thickness / 2) : thickness;
    step.hold = laser || kind != StepKind::outline ? Hold::none : Hold::tabs;
    step.tabHeight = std::min(2.5, thickness / 2);
    step.lead = laser ? 1 : kind == StepKind::outline ? 2 : 0;
    if (laser)
        step.extra = 0;
    else if (kind == StepKind::drill)
        step.extra = 0.3 + tool.profile(tool.radius()); // the point has to come through
    for (const auto& field : fields())
        if (field.fromBook) field.number(step) = bookValue(field, step, tool, material, machine, thickness);
    return step;
}

double depthOf(const Step& step, double thickness) { return step.through ? thickness + step.extra : step.depth; }

std::vector<double> passDepths(const Step& step, double thickness) {
    const double from = step.startDepth, to = depthOf(step, thickness);
    if (!(to > from)) return {};
    const double most = step.depthPerPass > 0 ? step.depthPerPass : to - from;
    // The little room keeps 12.3 at 2.46 from becoming six passes by rounding.
    const auto count = static_cast<std::size_t>(std::clamp(std::ceil((to - from) / most - 1e-6), 1.0, 10'000.0));
    std::vector<double> depths;
    for (std::size_t i = 1; i <= count; ++i)
        depths.push_back(i == count ? to : from + (to - from) * static_cast<double>(i) / static_cast<double>(count));
    return depths;
}

} // namespace ferro::plan

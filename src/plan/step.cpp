#include "plan/step.h"

namespace ferro::plan {

namespace {
template<class Part, class Pick> const Part* partOf(const Step& step, Pick&& pick) {
    return std::visit([&](const auto& settings) -> const Part* { return pick(settings); }, step.settings);
}
} // namespace

const Depth* depthIn(const Step& step) {
    return partOf<Depth>(step, [](const auto& s) -> const Depth* {
        if constexpr (requires { s.depth; })
            return &s.depth;
        else
            return nullptr;
    });
}

const Rates* ratesIn(const Step& step) {
    return partOf<Rates>(step, [](const auto& s) -> const Rates* {
        if constexpr (requires { s.rates; })
            return &s.rates;
        else
            return nullptr;
    });
}

const Beam* beamIn(const Step& step) {
    return partOf<Beam>(step, [](const auto& s) -> const Beam* {
        if constexpr (requires { s.beam; })
            return &s.beam;
        else
            return nullptr;
    });
}

const std::vector<EdgePlace>* tabsIn(const Step& step) {
    return partOf<std::vector<EdgePlace>>(step, [](const auto& s) -> const std::vector<EdgePlace>* {
        if constexpr (requires { s.tabs; })
            return &s.tabs;
        else
            return nullptr;
    });
}
std::vector<EdgePlace>* tabsIn(Step& step) {
    return const_cast<std::vector<EdgePlace>*>(tabsIn(std::as_const(step))); // the step itself is not const
}

const std::vector<EdgePlace>* startsIn(const Step& step) {
    return partOf<std::vector<EdgePlace>>(step, [](const auto& s) -> const std::vector<EdgePlace>* {
        if constexpr (requires { s.starts; })
            return &s.starts;
        else
            return nullptr;
    });
}
std::vector<EdgePlace>* startsIn(Step& step) {
    return const_cast<std::vector<EdgePlace>*>(startsIn(std::as_const(step))); // likewise
}

const Step* find(const Plan& plan, StepId id) {
    const auto at = std::find_if(plan.steps.begin(), plan.steps.end(), [&](const Step& step) { return step.id == id; });
    return at == plan.steps.end() ? nullptr : &*at;
}

double bottomOf(const Depth& depth, double thickness) { return depth.through ? thickness + depth.extra : depth.depth; }

std::vector<double> passDepths(const Depth& depth, double thickness) {
    const double from = depth.start, to = bottomOf(depth, thickness);
    if (!(to > from)) return {};
    const double most = depth.perPass > 0 ? depth.perPass : to - from;
    // The little room keeps 12.3 at 2.46 from becoming six passes by rounding.
    const auto count = static_cast<std::size_t>(std::clamp(std::ceil((to - from) / most - 1e-6), 1.0, 10'000.0));
    std::vector<double> depths;
    for (std::size_t i = 1; i <= count; ++i)
        depths.push_back(i == count ? to : from + (to - from) * static_cast<double>(i) / static_cast<double>(count));
    return depths;
}

} // namespace ferro::plan

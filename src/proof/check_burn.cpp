// Whether a beam burns what it is meant to, and no more, by what the material asks for.
#include "plan/fields.h"
#include "proof/checks_internal.h"

#include <set>

namespace ferro::proof {

/// Light enough to go through, not so much that it takes fire: against what the book has for the material, unless the
/// settings were proven on it.
void Checker::burns() {
    if (!path.byBeam()) return;
    const auto& material = job::materialOf(job);
    const double thickness = job.sheet().stock.thickness;
    const double cutsWith = material.cutPower / material.cutSpeed; // % · min / mm, for each pass
    const double passes = std::max(1.0, std::ceil(thickness / material.laserDepth - 1e-9));
    for (const auto& moves : path.steps) {
        const auto* step = plan::find(job.plan, moves.step);
        const auto* beam = step ? plan::beamIn(*step) : nullptr;
        const auto* rates = step ? plan::ratesIn(*step) : nullptr;
        if (!beam || !rates || beam->power <= 0 || moves.cuts.empty()) continue;
        const plan::Beginning here{moves.tool, material, job.machine, thickness};
        if (plan::provenFor(*step, here)) continue; // it was tried
        const double light = beam->power / rates->feed;
        const bool through =
            std::any_of(moves.cuts.begin(), moves.cuts.end(), [](const auto& cut) { return cut.intent.through; });
        if (through && light * beam->passes < 0.75 * cutsWith * passes) {
            auto& f =
                add(Verdict::look,
                    fmt::format("“{}” has {:.0f} % of the light that goes through {} of {} by the book.", step->name,
                                100 * light * beam->passes / (cutsWith * passes), mm(thickness), material.name),
                    "Give it more power, a lower feed or more passes, or prove it on a scrap.");
            f.step = step->id, f.at = moves.cuts.front().centre.start;
            if (const double needed = std::ceil(passes * cutsWith / light - 1e-9);
                needed <= 50 && needed > beam->passes)
                setting(f, step->id, fmt::format("Passes: {:.0f}", needed), "passes", fmt::format("{:.0f}", needed));
        }
        // By the area for what is filled by lines, else by the line itself.
        const auto* spacing = plan::fieldNamed(plan::kindOf(*step), "spacing");
        const double apart =
            spacing ? std::max(0.01, plan::valueOf(*spacing, *step)) : std::max(0.01, moves.tool.diameter);
        const double most = 4 * cutsWith / std::max(0.01, moves.tool.diameter);
        if (light / apart * (spacing ? beam->passes : 1) > most) {
            auto& f = add(Verdict::look,
                          fmt::format("“{}” burns {:.0f} times as strongly as {} is cut by the book: it may take fire.",
                                      step->name,
                                      light / apart * (spacing ? beam->passes : 1) * moves.tool.diameter / cutsWith,
                                      material.name),
                          "Less power, a higher feed or lines farther apart; stay beside it, with air on.");
            f.step = step->id, f.at = moves.cuts.front().centre.start;
        }
    }
}

} // namespace ferro::proof

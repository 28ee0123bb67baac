// Whether a beam burns what it is meant to, and no more, by what the material asks for.
#include "plan/fields.h"
#include "proof/checks_internal.h"

#include <set>

namespace ferro::proof {

/// Within what the machine's source does: below its least it does not burn evenly, above its most it wears.
void Checker::power(const plan::Step& step, const plan::Beam& beam) {
    const auto& machine = job.machine;
    const auto tell = [&](const char* field, double is, double may, const char* how) {
        setting(add(Verdict::look,
                    fmt::format("“{}” asks for {:g} % of power, and “{}” {} {:g} %.", step.name, is, machine.name, how,
                                may),
                    is < may ? "Give it more power and a higher feed." : "Give it less power and a lower feed."),
                step.id, fmt::format("{:g} %", may), field, fmt::format("{} %", may));
    };
    if (beam.power < machine.leastPower) tell("power", beam.power, machine.leastPower, "burns from");
    if (beam.power > machine.mostPower) tell("power", beam.power, machine.mostPower, "is driven up to");
    if (const auto* least = plan::fieldNamed(plan::kindOf(step), "least"); least && beam.power >= machine.leastPower)
        if (const double is = plan::valueOf(*least, step); is < machine.leastPower && is < beam.power)
            tell("least", is, machine.leastPower, "burns from");
}

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
        power(*step, *beam);
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

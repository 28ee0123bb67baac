// Checks of a plan: what its steps ask for, in which order, and what they leave.
#include "geometry/within.h"
#include "plan/fields.h"
#include "proof/checks_internal.h"

#include <map>
#include <set>
#include <tuple>

namespace ferro::proof {

void Checker::snags() {
    // The same of many pieces is one finding, at the first of them.
    std::map<std::tuple<plan::StepId, std::string, std::string>, int> times;
    for (const auto& snag : path.snags) ++times[{snag.step, snag.what, snag.mend}];
    for (const auto& snag : path.snags) {
        int& count = times[{snag.step, snag.what, snag.mend}];
        if (count == 0) continue; // told
        auto& f = add(snag.verdict, count > 1 ? fmt::format("{} ({} times)", snag.what, count) : snag.what, snag.mend);
        count = 0;
        f.step = snag.step;
        f.item = snag.item;
        if (snag.item) f.at = snag.at;
        const auto* step = plan::find(job.plan, snag.step);
        const auto* tool = step ? job::toolOf(job, *step) : nullptr;
        if (!tool || snag.verdict != Verdict::noGo || path.byBeam() || !snag.item) continue;
        // A thinner one of the same kind may do.
        const auto* depth = plan::depthIn(*step);
        const shop::Tool* thinner = nullptr;
        for (const auto& t : job.tools)
            if (t.kind == tool->kind && t.diameter < tool->diameter &&
                (!depth || t.fluteLength >= plan::bottomOf(*depth, job.sheet().stock.thickness)) &&
                (!thinner || t.diameter > thinner->diameter))
                thinner = &t;
        if (thinner) setting(f, snag.step, fmt::format("Use “{}”", thinner->name), "tool", thinner->key);
    }
}

void Checker::steps() {
    const auto& machine = job.machine;
    for (const auto& moves : path.steps) {
        const auto* step = plan::find(job.plan, moves.step);
        const auto* rates = step ? plan::ratesIn(*step) : nullptr;
        if (!rates) continue;
        if (plan::fieldNamed(plan::kindOf(*step), "feed") && rates->feed > machine.maxFeed + 1e-9)
            setting(add(Verdict::look,
                        fmt::format("“{}” asks for {:.0f} mm/min, the machine does {:.0f}.", step->name, rates->feed,
                                    machine.maxFeed),
                        "The machine will run slower than planned."),
                    step->id, "Use the machine's feed", "feed", fmt::format("{} mm", machine.maxFeed));
        if (!path.byBeam() && rates->plunge > machine.maxFeedZ + 1e-9)
            setting(add(Verdict::look,
                        fmt::format("“{}” plunges at {:.0f} mm/min, the machine does {:.0f}.", step->name,
                                    rates->plunge, machine.maxFeedZ),
                        "The machine will run slower than planned."),
                    step->id, "Use the machine's feed", "plunge", fmt::format("{} mm", machine.maxFeedZ));
        if (path.turns() && (rates->spindle < machine.minSpindle || rates->spindle > machine.maxSpindle))
            setting(add(Verdict::noGo,
                        fmt::format("“{}” asks for {:.0f} rpm, the spindle does {:.0f} to {:.0f}.", step->name,
                                    rates->spindle, machine.minSpindle, machine.maxSpindle),
                        "Choose a speed it has."),
                    step->id, "Use the nearest speed", "spindle",
                    fmt::format("{}", std::clamp(rates->spindle, machine.minSpindle, machine.maxSpindle)));
        else if (path.turns() && !(rates->spindle > 0))
            add(Verdict::noGo, fmt::format("“{}” cuts with a spindle that stands still.", step->name),
                "Give it a speed.")
                .step = step->id;
        if (const auto* beam = plan::beamIn(*step); beam && path.byBeam() && beam->power <= 0)
            add(Verdict::look, fmt::format("“{}” has no power: it marks nothing.", step->name), "Give it a power.")
                .step = step->id;
    }
    if (path.steps.empty())
        add(Verdict::noGo, "There is nothing to cut.", "Add a step in Cuts and let it take some pieces.");
}

void Checker::loose() {
    if (!path.turns()) return; // card and ply lie on the grid, film on its mat; nothing flings them
    for (const auto& moves : path.steps) {
        std::size_t count = 0;
        std::optional<Vec2> at;
        artwork::ItemId item;
        for (const auto& cut : moves.cuts)
            if (cut.intent.frees && cut.tabs.empty() && !count++) at = cut.centre.start, item = cut.intent.item;
        const auto* step = plan::find(job.plan, moves.step);
        if (count == 0 || !step) continue;
        const auto* hold = plan::choiceNamed(plan::kindOf(*step), "hold");
        const bool snagged = std::any_of(path.snags.begin(), path.snags.end(), [&](const auto& snag) {
            return snag.step == moves.step && snag.item && snag.verdict == Verdict::look;
        });
        if (hold && hold->get(*step) != 0 && snagged) continue; // said there already, outline by outline
        auto& f = add(Verdict::look,
                      fmt::format("{} {} loose while the cutter is at {}.", count,
                                  count == 1 ? "part comes" : "parts come", count == 1 ? "it" : "them"),
                      "Hold by tabs, or be sure that tape or vacuum holds.");
        f.at = at;
        f.item = item;
        f.step = moves.step;
        if (hold) setting(f, moves.step, "Hold by tabs", "hold", "tabs");
    }
}

void Checker::order() {
    // A part is free once its outer edge is through; from then on nothing inside it may be cut.
    if (!path.pieces) return;
    const auto& contours = path.pieces->contours;
    std::vector<char> freed(contours.size(), 0);
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts) {
            if (!cut.intent.contour) continue;
            for (int up = contours[*cut.intent.contour].parent; up >= 0;
                 up = contours[static_cast<std::size_t>(up)].parent) {
                if (!freed[static_cast<std::size_t>(up)]) continue;
                auto& f = add(Verdict::noGo, fmt::format("“{}” cuts in a part that is already loose.", step.name),
                              "Cut what lies inside before the edge round it.");
                f.step = step.step, f.item = cut.intent.item, f.at = cut.centre.start;
                f.fix = Finding::Fix{"Order the steps automatically", [](const job::Job& j) -> Result<job::Job> {
                                         return job::withOrder(j, plan::Order::automatic);
                                     }};
                return;
            }
            if (cut.intent.frees) freed[*cut.intent.contour] = 1;
        }
}

void Checker::pieces() {
    const auto blank = job::blankOf(job.sheet().stock);
    std::set<artwork::ItemId> cut;
    for (const auto& step : path.steps)
        for (const auto& c : step.cuts) cut.insert(c.intent.item);
    std::size_t idle = 0, off = 0;
    const artwork::Item *firstIdle = nullptr, *firstOff = nullptr;
    for (const auto& item : job.artwork->items) {
        if (!artwork::shapeOf(item) || artwork::isHidden(*job.artwork, item) || artwork::isNote(*job.artwork, item))
            continue;
        if (!cut.contains(item.id))
            idle++ || (firstIdle = &item);
        else if (!liesWithin(artwork::placed(item).outline, blank))
            off++ || (firstOff = &item);
    }
    if (off) {
        auto& f =
            add(Verdict::noGo, fmt::format("{} {} beyond the stock.", off, off == 1 ? "piece reaches" : "pieces reach"),
                "Move or scale them, or use larger stock.");
        f.item = firstOff->id, f.at = artwork::boundsOf(*firstOff).centre();
    }
    if (idle && !path.steps.empty()) {
        auto& f =
            add(Verdict::note, fmt::format("{} {} taken by no step.", idle, idle == 1 ? "piece is" : "pieces are"),
                "Give them to a step if they should be cut.");
        f.item = firstIdle->id, f.at = artwork::boundsOf(*firstIdle).centre();
    }
}

void Checker::edges(const Deviation& deviation) {
    if (deviation.cutInto > 0.01) {
        auto& f = add(Verdict::noGo, fmt::format("A part is cut into by {:.3f} mm.", deviation.cutInto),
                      "Move the pieces apart or use a thinner tool.");
        f.at = deviation.cutIntoAt;
    }
    if (deviation.astray > 0.05) {
        auto& f = add(Verdict::look,
                      fmt::format("The blade's tip leaves its line by {} at worst.",
                                  mm(std::round(deviation.astray * 1000) / 1000)),
                      "Let it turn at flatter corners, or give the blade its true trail in the shop book.");
        f.at = deviation.astrayAt;
    }
    if (path.process == shop::Process::blade && !path.steps.empty() && path.steps.front().tool.trail > 0)
        add(Verdict::note, "The blade is taken to point to the right (+x) when the program begins.",
            "Turn it so by hand, or draw a short line to the right beside the sheet first.");
    if (deviation.unreachedArea >= 0.5) {
        auto& f =
            add(Verdict::look,
                fmt::format("{:.2f} cm² in {} {} not reached by the tool.", deviation.unreachedArea / 100,
                            deviation.unreachedPlaces, deviation.unreachedPlaces == 1 ? "corner is" : "corners are"),
                "Corners stay round; finish them with a thinner tool if that matters.");
        f.at = deviation.unreachedAt;
    }
}
} // namespace ferro::proof

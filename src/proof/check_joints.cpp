// Whether parts that are drawn to go into each other will.
#include "artwork/joints.h"
#include "proof/checks_internal.h"

#include <map>
#include <set>

namespace ferro::proof {

namespace {
constexpr double tight = 0.005; ///< mm: what no one measures
}

void Checker::joints() {
    const auto& stock = job.sheet().stock;
    std::map<std::pair<artwork::ItemId, int>, const toolpath::StepMoves*> cutBy; // all the way through
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts)
            if (cut.intent.through && cut.intent.item)
                cutBy.emplace(std::pair(cut.intent.item, cut.intent.opening), &step);
    if (cutBy.empty()) return;
    struct Group {
        std::size_t count = 0;
        Vec2 at;
        artwork::ItemId item;
        double least = 1e9, wanted = 0;
    };
    Group narrow, shortOnes;
    std::map<plan::StepId, Group> round;
    const auto take = [](Group& group, const artwork::Joint& joint, double has, double wants) {
        if (++group.count == 1) group.at = joint.middle, group.item = joint.item;
        if (has - wants < group.least - group.wanted) group.least = has, group.wanted = wants;
    };
    for (const auto& joint : artwork::jointsIn(*job.artwork, {}, stock.thickness)) {
        const auto by = cutBy.find({joint.item, joint.opening});
        if (by == cutBy.end()) continue;
        const bool slot = joint.kind == artwork::Joint::Kind::slot, finger = joint.kind == artwork::Joint::Kind::finger;
        if (slot && !joint.tongue) continue; // nothing says that anything goes in
        if (!finger && joint.width < stock.thickness - tight) take(narrow, joint, joint.width, stock.thickness);
        const double tongue = joint.tongue ? joint.tongue->width : 0, room = slot ? joint.length : joint.width;
        if (joint.tongue && room < tongue - tight) take(shortOnes, joint, room, tongue);
        // A square edge does not go into a round corner.
        const auto* outline = by->second;
        const auto* step = plan::find(job.plan, outline->step);
        const auto* relief = step ? plan::choiceNamed(plan::kindOf(*step), "relief") : nullptr;
        if (relief && outline->tool.process() == shop::Process::rotary && relief->get(*step) == 0)
            take(round[step->id], joint, outline->tool.radius(), 0);
    }
    const auto told = [&](const Group& group, std::string what) {
        auto& f =
            add(Verdict::look, std::move(what), "Fit the joints to the sheet in Mend, or set the thickness in Stock.");
        f.at = group.at, f.item = group.item;
        f.offer = Finding::Offer::fitJoints;
    };
    const auto joints = [](const Group& group) {
        return group.count == 1 ? std::string("1 joint") : fmt::format("{} joints", group.count);
    };
    if (narrow.count)
        told(narrow, fmt::format("{} will not go together: {} wide for a sheet of {}.", joints(narrow),
                                 mm(narrow.least), mm(narrow.wanted)));
    if (shortOnes.count)
        told(shortOnes, fmt::format("{} will not go together: {} of room for a tongue of {}.", joints(shortOnes),
                                    mm(shortOnes.least), mm(shortOnes.wanted)));
    for (const auto& [id, group] : round) {
        auto& f = add(Verdict::look,
                      fmt::format("The inner corners of {} stay round by {}: square edges do not go home in them.",
                                  joints(group), mm(group.least)),
                      "Relieve the corners, or round what goes in.");
        f.at = group.at, f.item = group.item, f.step = id;
        setting(f, id, "Relieve the corners", "relief", "corner");
    }
}

} // namespace ferro::proof

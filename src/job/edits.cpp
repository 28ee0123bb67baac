#include "job/edits.h"

namespace ferro::job {

namespace {

void takeBookValues(const Job& job, plan::Step& step) {
    const auto* tool = toolOf(job, step);
    if (!tool) return;
    for (const auto& field : plan::fields())
        if (field.fromBook && std::find(step.typed.begin(), step.typed.end(), field.name) == step.typed.end())
            field.number(step) = plan::bookValue(field, step, *tool, job.material, job.machine, job.stock.thickness);
}

Problem noStep(plan::StepId id) {
    return {.what = fmt::format("There is no step {}.", id.value),
            .where = {},
            .mend = "List the steps to see their numbers."};
}

template<class Change> Result<Job> withStep(const Job& job, plan::StepId id, Change&& change) {
    Job out = job;
    for (auto& step : out.plan.steps)
        if (step.id == id) {
            auto changed = change(step);
            if (!changed) return changed.problem().within(fmt::format("step “{}”", step.name));
            step = std::move(*changed);
            return out;
        }
    return noStep(id);
}

std::string fittingTool(const Job& job, plan::StepKind kind) {
    const auto first = [&](std::initializer_list<shop::ToolKind> kinds) -> std::string {
        for (const auto wanted : kinds)
            for (const auto& tool : job.tools)
                if (tool.kind == wanted) return tool.key;
        return {};
    };
    if (job.machine.kind == shop::MachineKind::laser) return first({shop::ToolKind::laser});
    using enum shop::ToolKind;
    if (kind == plan::StepKind::drill) return first({drill, endMill});
    if (kind == plan::StepKind::scribe) return first({engraver, vBit, ball, endMill});
    // The bigger of the common sizes leaves less to do; outlines rarely need under 6 mm.
    std::string best;
    double size = 0;
    for (const auto& tool : job.tools)
        if (tool.kind == endMill && tool.diameter <= 6.5 && tool.diameter > size) best = tool.key, size = tool.diameter;
    return best.empty() ? first({endMill}) : best;
}

} // namespace

Job withArtwork(const Job& job, artwork::Artwork artwork) {
    Job out = job;
    out.artwork = std::make_shared<const artwork::Artwork>(std::move(artwork));
    return out;
}

Result<Job> withArtwork(const Job& job, Result<artwork::Artwork> artwork) {
    if (!artwork) return artwork.problem();
    return withArtwork(job, std::move(*artwork));
}

Result<Job> withTolerances(const Job& job, const artwork::Tolerances& tolerances) {
    for (const double t : {tolerances.gap, tolerances.doubled, tolerances.speck, tolerances.thin})
        if (!(t >= 0 && t < 1e6))
            return Problem{.what = "A tolerance cannot be below 0.", .where = {}, .mend = "Give 0 or more."};
    Job out = job;
    out.tolerances = tolerances;
    return out;
}

Result<Job> withStock(const Job& job, const Stock& stock) {
    for (const double size : {stock.width, stock.height, stock.thickness})
        if (!(size > 0 && size < 10'000))
            return Problem{.what = fmt::format("A sheet cannot measure {}.", mm(size)),
                           .where = "stock",
                           .mend = "Give a size above 0 and below 10 m."};
    if (!(stock.spacer >= 0 && stock.spacer < 500))
        return Problem{.what = "The spacer cannot be thinner than 0 mm.", .where = "stock", .mend = "Give 0 for none."};
    Job out = job;
    out.stock = stock;
    for (auto& step : out.plan.steps) takeBookValues(out, step);
    return out;
}

Job withMaterial(const Job& job, const shop::Material& material) {
    Job out = job;
    out.material = material;
    for (auto& step : out.plan.steps) takeBookValues(out, step);
    return out;
}

Job withMachine(const Job& job, const shop::Machine& machine) {
    Job out = job;
    out.machine = machine;
    out.dialect.clear();
    for (auto& step : out.plan.steps) {
        const auto* tool = toolOf(out, step);
        // A beam has no place in a mill, nor a cutter in a laser.
        if (!tool || (tool->kind == shop::ToolKind::laser) != (machine.kind == shop::MachineKind::laser))
            step.tool = fittingTool(out, step.kind);
        if (machine.kind == shop::MachineKind::laser) step.hold = plan::Hold::none, step.extra = 0;
        takeBookValues(out, step);
    }
    return out;
}

Result<Job> withClamp(const Job& job, const Clamp& clamp) {
    if (!(clamp.area.width() > 0 && clamp.area.height() > 0) || !(clamp.height > 0))
        return Problem{.what = "A clamp needs a width, a depth and a height above 0.", .where = {}, .mend = {}};
    Job out = job;
    out.clamps.push_back(clamp);
    return out;
}

Result<Job> withClampAt(const Job& job, std::size_t index, Vec2 low) {
    if (index >= job.clamps.size())
        return Problem{.what = fmt::format("There is no clamp {}.", index + 1), .where = {}, .mend = {}};
    Job out = job;
    Box& area = out.clamps[index].area;
    area = {low, low + (area.high - area.low)};
    return out;
}

Result<Job> withoutClamp(const Job& job, std::size_t index) {
    if (index >= job.clamps.size())
        return Problem{.what = fmt::format("There is no clamp {}.", index + 1), .where = {}, .mend = {}};
    Job out = job;
    out.clamps.erase(out.clamps.begin() + static_cast<std::ptrdiff_t>(index));
    return out;
}

Result<Job> withStepAdded(const Job& job, plan::StepKind kind, std::string_view tool, std::string_view name) {
    if (kind == plan::StepKind::drill && job.machine.kind == shop::MachineKind::laser)
        return Problem{.what = "A laser cannot drill.", .where = {}, .mend = "Cut the holes with an outline step."};
    Job out = job;
    plan::Step probe;
    probe.tool = tool.empty() ? fittingTool(job, kind) : std::string(tool);
    const auto* chosen = toolOf(job, probe);
    if (!chosen)
        return Problem{.what = fmt::format("The job has no tool “{}”.", probe.tool),
                       .where = {},
                       .mend = "Choose one of the shop book's tools."};
    plan::Step step =
        plan::freshStep({++out.plan.lastId}, kind, *chosen, job.material, job.machine, job.stock.thickness);
    if (!name.empty()) step.name = name;
    out.plan.steps.push_back(std::move(step));
    return out;
}

Result<Job> withoutStep(const Job& job, plan::StepId id) {
    Job out = job;
    if (std::erase_if(out.plan.steps, [&](const plan::Step& step) { return step.id == id; }) == 0) return noStep(id);
    return out;
}

Result<Job> withStepMoved(const Job& job, plan::StepId id, std::size_t to) {
    Job out = job;
    auto& steps = out.plan.steps;
    const auto at = std::find_if(steps.begin(), steps.end(), [&](const plan::Step& step) { return step.id == id; });
    if (at == steps.end()) return noStep(id);
    plan::Step step = std::move(*at);
    steps.erase(at);
    steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(std::min(to, steps.size())), std::move(step));
    out.plan.order = plan::Order::byHand;
    return out;
}

Result<Job> withStepSetting(const Job& job, plan::StepId id, std::string_view name, std::string_view value) {
    if (name == "tool" &&
        std::none_of(job.tools.begin(), job.tools.end(), [&](const shop::Tool& tool) { return tool.key == value; }))
        return Problem{.what = fmt::format("The job has no tool “{}”.", value),
                       .where = {},
                       .mend = "Choose one of the shop book's tools."};
    return withStep(job, id, [&](const plan::Step& step) -> Result<plan::Step> {
        auto changed = plan::withSetting(step, name, value, job.units);
        if (changed && name == "tool") takeBookValues(job, *changed);
        return changed;
    });
}

Result<Job> withStepReset(const Job& job, plan::StepId id, std::string_view name) {
    return withStep(job, id, [&](plan::Step step) -> Result<plan::Step> {
        std::erase(step.typed, name);
        const auto* field = plan::fieldNamed(name);
        const auto* tool = toolOf(job, step);
        if (field && !field->fromBook && tool)
            field->number(step) = plan::valueOf(
                *field, plan::freshStep(step.id, step.kind, *tool, job.material, job.machine, job.stock.thickness));
        takeBookValues(job, step);
        return step;
    });
}

Result<Job> withStepItems(const Job& job, plan::StepId id, const artwork::Ids& items) {
    for (const auto item : items)
        if (!artwork::find(*job.artwork, item))
            return Problem{.what = fmt::format("There is no item {}.", item.value), .where = {}, .mend = {}};
    return withStep(job, id, [&](plan::Step step) -> Result<plan::Step> { return step.rule.items = items, step; });
}

Result<Job> withTabs(const Job& job, plan::StepId id, artwork::ItemId item, int opening,
                     const std::vector<double>& along) {
    return withStep(job, id, [&](plan::Step step) -> Result<plan::Step> {
        if (step.kind != plan::StepKind::outline)
            return Problem{.what = "Only outline steps have tabs.", .where = {}, .mend = {}};
        const auto* piece = artwork::find(*job.artwork, item);
        const auto* shape = piece ? artwork::shapeOf(*piece) : nullptr;
        if (!shape || opening < -1 || opening >= static_cast<int>(shape->piece.openings.size()))
            return Problem{.what = fmt::format("There is no outline {} of item {}.", opening, item.value),
                           .where = {},
                           .mend = "The outer edge is -1, the first opening 0."};
        std::erase_if(step.tabs, [&](const plan::TabPlace& tab) { return tab.item == item && tab.opening == opening; });
        for (const double at : along) {
            if (!(at >= 0 && at <= 1))
                return Problem{.what = "A tab lies between 0 and 1 along its outline.", .where = {}, .mend = {}};
            step.tabs.push_back({item, opening, at});
        }
        return step;
    });
}

} // namespace ferro::job

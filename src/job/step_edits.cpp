#include "job/edits.h"

#include "job/book_values_internal.h"
#include "plan/selection.h"

#include <map>
#include <set>

namespace ferro::job {

plan::Beginning beginningOf(const Job& job, const shop::Tool& tool) {
    // The plan is made for its first sheet; the checks tell where another asks for other values.
    return {tool, job.material, job.machine, job.sheets.front().stock.thickness};
}

void takeBookValues(const Job& job, plan::Step& step) {
    const auto* tool = toolOf(job, step);
    if (!tool) return;
    for (const auto& field : plan::kindOf(step).fields)
        if (plan::isOfBook(field, step, beginningOf(job, *tool)) &&
            std::find(step.typed.begin(), step.typed.end(), field.name) == step.typed.end())
            field.number(step) = plan::bookValue(field, step, beginningOf(job, *tool));
}

std::string fittingTool(const Job& job, const plan::Kind& kind) {
    for (const auto wanted : kind.tools) {
        const shop::Tool* best = nullptr;
        for (const auto& tool : job.tools) {
            if (tool.kind != wanted || !job.machine.does(tool.process()) || !kind.processes.has(tool.process()))
                continue;
            const bool wider =
                best && tool.diameter <= kind.upTo && (tool.diameter > best->diameter || best->diameter > kind.upTo);
            if (!best || wider) best = &tool;
        }
        if (best) return best->key;
    }
    return {};
}

namespace {

Problem noStep(plan::StepId id) {
    return {.what = fmt::format("There is no step {}.", id.value),
            .where = {},
            .mend = "List the steps to see their numbers."};
}

/// What did again what is no longer there stands by itself.
void forgetLost(plan::Plan& plan) {
    for (auto& step : plan.steps)
        if (step.again && !find(plan, step.again)) step.again = {};
}

/// What a step that does another's work again takes from it: all but its own place, name, note and stop.
plan::Step againOf(const plan::Step& step, plan::Step copy) {
    copy.tool = step.tool;
    copy.rule = step.rule;
    copy.settings = step.settings;
    copy.typed = step.typed;
    return copy;
}

template<class Change> Result<Job> withStep(const Job& job, plan::StepId id, Change&& change) {
    Job out = job;
    for (auto& step : out.plan.steps)
        if (step.id == id) {
            auto changed = change(step);
            if (!changed) return changed.problem().within(fmt::format("step “{}”", step.name));
            if (againOf(*changed, step) != step) changed->again = {}; // it has a will of its own now
            step = std::move(*changed);
            for (auto& other : out.plan.steps)
                if (other.again == id) other = againOf(step, std::move(other));
            return out;
        }
    return noStep(id);
}

Result<void> checkedPlace(const Job& job, artwork::ItemId item, int opening, const std::vector<double>& along) {
    const auto* piece = artwork::find(*job.artwork, item);
    const auto* shape = piece ? artwork::shapeOf(*piece) : nullptr;
    if (!shape || opening < -1 || opening >= static_cast<int>(shape->piece.openings.size()))
        return Problem{.what = fmt::format("There is no outline {} of item {}.", opening, item.value),
                       .where = {},
                       .mend = "The outer edge is -1, the first opening 0."};
    for (const double at : along)
        if (!(at >= 0 && at <= 1))
            return Problem{.what = "A place along an outline lies between 0 and 1.", .where = {}, .mend = {}};
    return {};
}

Problem noTool(const Job& job, std::string_view key, const plan::Kind* kind) {
    std::string known;
    for (const auto& tool : job.tools) {
        const bool fits = !kind || (std::find(kind->tools.begin(), kind->tools.end(), tool.kind) != kind->tools.end() &&
                                    job.machine.does(tool.process()));
        if (fits) known += fmt::format("{}{}", known.empty() ? "" : ", ", tool.key);
    }
    return {.what = fmt::format("The job has no tool “{}”.", key),
            .where = {},
            .mend = known.empty() ? "Put one that fits into the shop book." : fmt::format("Use {}.", known)};
}

} // namespace

Result<Job> withStepAdded(const Job& job, std::string_view kindName, std::string_view tool, std::string_view name) {
    const auto* kind = plan::kindNamed(kindName);
    if (!kind) {
        std::string known;
        for (const auto* k : plan::kinds()) known += fmt::format("{}{}", known.empty() ? "" : ", ", k->name);
        return Problem{.what = fmt::format("There is no step kind “{}”.", kindName),
                       .where = {},
                       .mend = fmt::format("Use one of: {}.", known)};
    }
    if (!kind->processes.meets(job.machine.processes))
        return Problem{.what = fmt::format("“{}” cannot do a step of kind {}.", job.machine.name, kind->name),
                       .where = {},
                       .mend = "Use another kind, or another machine."};
    Job out = job;
    plan::Step probe;
    probe.tool = tool.empty() ? fittingTool(job, *kind) : std::string(tool);
    const auto* chosen = toolOf(job, probe);
    if (!chosen) return noTool(job, probe.tool, kind);
    plan::Step step = plan::freshStep({++out.plan.lastId}, *kind, beginningOf(job, *chosen));
    if (!name.empty()) step.name = name;
    out.plan.steps.push_back(std::move(step));
    return out;
}

namespace {

/// The widest mill that bores a hole so wide and leaves no core in it.
const shop::Tool* boringTool(const Job& job, double hole) {
    const shop::Tool* best = nullptr;
    for (const auto& tool : job.tools)
        if (tool.kind == shop::ToolKind::endMill && hole - tool.diameter > 0.1 && hole <= 2 * tool.diameter + 1e-9 &&
            (!best || tool.diameter > best->diameter))
            best = &tool;
    return best;
}

/// A step for each size of round opening that no drill fits and a mill bores.
Job withBoringSteps(Job job) {
    const auto pieces = plan::piecesOf(job.plan, *job.artwork, job.tools);
    std::set<std::size_t> taken;
    for (const auto& some : pieces.taken) taken.insert(some.begin(), some.end());
    std::map<long, std::vector<std::size_t>> groups; // by their width in hundredths of a mm
    for (std::size_t c = 0; c < pieces.contours.size(); ++c) {
        const auto& contour = pieces.contours[c];
        if (contour.role == plan::Role::openings && contour.circle && contour.circle->radius > 0 && !taken.contains(c))
            groups[std::lround(200 * contour.circle->radius)].push_back(c);
    }
    for (const auto& [size, group] : groups) {
        const double hole = static_cast<double>(size) / 100;
        const auto* tool = boringTool(job, hole);
        if (!tool) continue;
        std::set<std::string> layers;
        for (const std::size_t c : group) layers.insert(pieces.contours[c].layer);
        auto next = withStepAdded(job, "drill", tool->key, fmt::format("Holes of {}", mm(hole)));
        if (!next) continue;
        auto& rule = next->plan.steps.back().rule;
        rule.layers.assign(layers.begin(), layers.end());
        rule.above = hole - 0.05, rule.below = hole + 0.05;
        // By a rule, if it takes just these; else by their names.
        if (plan::piecesOf(next->plan, *next->artwork, next->tools).taken.back() != group) {
            rule = {};
            for (const std::size_t c : group) rule.items.push_back(pieces.contours[c].item);
        }
        if (plan::piecesOf(next->plan, *next->artwork, next->tools).taken.back() == group) job = std::move(*next);
    }
    return job;
}

} // namespace

Result<Job> withFittingSteps(const Job& job) {
    const auto isFree = [](const plan::Pieces& pieces) {
        std::vector<bool> is(pieces.contours.size(), true);
        for (const auto& some : pieces.taken)
            for (const std::size_t c : some) is[c] = false;
        return is;
    };
    Job out = job;
    // A step stays that takes something which was free.
    const auto tryStep = [&](std::string_view kind, std::string_view tool, std::string_view role) {
        const auto before = isFree(plan::piecesOf(out.plan, *out.artwork, out.tools));
        auto next = withStepAdded(out, kind, tool);
        if (next && !role.empty()) next = withStepSetting(*next, next->plan.steps.back().id, "role", role);
        if (!next) return;
        const auto taken = plan::piecesOf(next->plan, *next->artwork, next->tools).taken.back();
        if (std::any_of(taken.begin(), taken.end(), [&](std::size_t c) { return before[c]; })) out = std::move(*next);
    };
    if (job.machine.does(shop::Process::rotary))
        for (const auto& tool : job.tools)
            if (tool.kind == shop::ToolKind::drill) tryStep("drill", tool.key, {});
    if (job.machine.does(shop::Process::rotary)) out = withBoringSteps(std::move(out));
    const auto pieces = plan::piecesOf(out.plan, *out.artwork, out.tools);
    const auto free = isFree(pieces);
    bool open = false, closed = false;
    for (std::size_t c = 0; c < free.size(); ++c)
        if (free[c]) (pieces.contours[c].role == plan::Role::openLines ? open : closed) = true;
    if (open) tryStep("scribe", {}, "open lines");
    if (closed) tryStep("outline", {}, {});
    if (open) tryStep("slit", {}, "open lines"); // by a blade, which does nothing else
    if (closed) tryStep("slit", {}, {});
    if (out.plan.steps.size() == job.plan.steps.size())
        return Problem{.what = "There is nothing on the sheet that no step takes.",
                       .where = {},
                       .mend = "Bring in artwork, or add a step by its kind."};
    return out;
}

Result<Job> withoutStep(const Job& job, plan::StepId id) {
    Job out = job;
    if (std::erase_if(out.plan.steps, [&](const plan::Step& step) { return step.id == id; }) == 0) return noStep(id);
    forgetLost(out.plan);
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
    return withOrder(out, plan::Order::byHand);
}

Result<Job> withStepSetting(const Job& job, plan::StepId id, std::string_view name, std::string_view value) {
    if (name == "tool" &&
        std::none_of(job.tools.begin(), job.tools.end(), [&](const shop::Tool& tool) { return tool.key == value; }))
        return noTool(job, value, nullptr);
    return withStep(job, id, [&](const plan::Step& step) -> Result<plan::Step> {
        auto changed = plan::withSetting(step, name, value, job.units);
        // What the book says of the feed follows how much of the tool is in the stock.
        if (changed && (name == "tool" || plan::fasterBy(*changed) != plan::fasterBy(step)))
            takeBookValues(job, *changed);
        return changed;
    });
}

Result<Job> withStepTools(const Job& job, plan::StepId id, const std::vector<std::string>& tools) {
    if (tools.empty()) return Problem{.what = "No tool is named.", .where = {}, .mend = "Name one at least."};
    auto next = withStepSetting(job, id, "tool", tools.front());
    if (!next) return next;
    Job out = std::move(*next);
    auto& steps = out.plan.steps;
    auto at = std::find_if(steps.begin(), steps.end(), [&](const plan::Step& step) { return step.id == id; });
    const plan::Step first = *at;
    const auto rest = plan::kindOf(first).rest;
    if (tools.size() > 1 && !rest)
        return Problem{.what = fmt::format("A step of kind {} is done by one tool.", plan::kindOf(first).name),
                       .where = fmt::format("step “{}”", first.name),
                       .mend = "Name one tool."};
    const auto isRestOfFirst = [&](plan::Step& step) {
        return rest && &plan::kindOf(step) == &plan::kindOf(first) && rest(step) && step.rule == first.rule;
    };
    ++at;
    while (at != steps.end() && isRestOfFirst(*at)) at = steps.erase(at);
    forgetLost(out.plan);
    const auto* before = toolOf(out, first);
    for (std::size_t i = 1; i < tools.size(); ++i) {
        plan::Step step = first;
        step.id = {++out.plan.lastId};
        step.again = {};
        step.tool = tools[i];
        const auto* tool = toolOf(out, step);
        if (!tool) return noTool(job, tools[i], nullptr);
        if (tool->diameter >= before->diameter)
            return Problem{.what = fmt::format("“{}” is no thinner than “{}” before it.", tool->name, before->name),
                           .where = fmt::format("step “{}”", first.name),
                           .mend = "Name the widest first."};
        before = tool;
        rest(step) = true;
        step.name = fmt::format("{}, rest by {}", first.name, tool->name);
        step.note.clear();
        step.stopBefore = false;
        std::erase_if(step.typed, [&](const std::string& name) { // typed for another tool
            const auto* field = plan::fieldNamed(plan::kindOf(step), name);
            return field && field->fromBook;
        });
        takeBookValues(out, step);
        at = steps.insert(at, std::move(step)) + 1;
    }
    return out;
}

SourceOf sourceOf(const Job& job, const plan::Step& step, const plan::Field& field) {
    if (std::find(step.typed.begin(), step.typed.end(), field.name) != step.typed.end()) return {Source::typed};
    const auto* tool = toolOf(job, step);
    if (!tool) return {};
    const auto* proven = plan::provenFor(step, {*tool, job.material, job.machine, job.sheets.front().stock.thickness});
    if (proven && proven->settings.contains(std::string(field.name))) return {Source::proven, proven};
    return {field.fromBook ? Source::book : Source::none};
}

Result<Job> withStepReset(const Job& job, plan::StepId id, std::string_view name) {
    return withStep(job, id, [&](plan::Step step) -> Result<plan::Step> {
        const auto& kind = plan::kindOf(step);
        const auto* field = plan::fieldNamed(kind, name);
        const auto* choice = plan::choiceNamed(kind, name);
        const auto* tool = toolOf(job, step);
        if (!field && !choice)
            return Problem{.what = fmt::format("“{}” has no starting value to go back to.", name),
                           .where = {},
                           .mend = "Reset one of its numbers or choices."};
        if (!tool) return Problem{.what = "The step has no tool.", .where = {}, .mend = "Choose one first."};
        const auto begun = plan::freshStep(step.id, kind, beginningOf(job, *tool));
        std::erase(step.typed, name);
        if (field) field->number(step) = plan::valueOf(*field, begun);
        if (choice) choice->set(step, choice->get(begun));
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
        auto* tabs = plan::tabsIn(step);
        if (!tabs)
            return Problem{.what = fmt::format("A step of kind {} has no tabs.", plan::kindOf(step).name),
                           .where = {},
                           .mend = {}};
        if (auto fine = checkedPlace(job, item, opening, along); !fine) return fine.problem();
        std::erase_if(*tabs, [&](const plan::EdgePlace& tab) { return tab.item == item && tab.opening == opening; });
        for (const double at : along) tabs->push_back({item, opening, at});
        return step;
    });
}

Result<Job> withStart(const Job& job, plan::StepId id, artwork::ItemId item, int opening, std::optional<double> along) {
    return withStep(job, id, [&](plan::Step step) -> Result<plan::Step> {
        auto* starts = plan::startsIn(step);
        if (!starts)
            return Problem{.what = fmt::format("A step of kind {} begins where it suits.", plan::kindOf(step).name),
                           .where = {},
                           .mend = {}};
        if (auto fine = checkedPlace(job, item, opening, along ? std::vector{*along} : std::vector<double>{}); !fine)
            return fine.problem();
        std::erase_if(*starts, [&](const plan::EdgePlace& at) { return at.item == item && at.opening == opening; });
        if (along) starts->push_back({item, opening, *along});
        return step;
    });
}

Result<Job> withStepAgain(const Job& job, plan::StepId id) {
    Job out = job;
    auto& steps = out.plan.steps;
    const auto at = std::find_if(steps.begin(), steps.end(), [&](const plan::Step& step) { return step.id == id; });
    if (at == steps.end()) return noStep(id);
    plan::Step copy = *at;
    copy.again = at->again ? at->again : id;
    copy.id = {++out.plan.lastId};
    copy.name = fmt::format("{}, again", find(out.plan, copy.again)->name);
    copy.note.clear();
    copy.stopBefore = false;
    steps.insert(at + 1, std::move(copy));
    return out;
}

} // namespace ferro::job

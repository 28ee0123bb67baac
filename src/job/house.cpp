#include "job/house.h"

#include "job/book_values_internal.h"
#include "job/edits.h"
#include "job/sheets.h"
#include "plan/selection.h"

namespace ferro::job {

namespace {

struct Made {
    Job job; ///< with the tool, if it had to come from the book
    plan::Step step;
};

/// The recipe's step for this job, without a number yet.
Result<Made> made(const Job& job, const plan::Recipe& recipe, const shop::Book& book) {
    Made out{job, recipe.step};
    const auto& kind = plan::kindOf(recipe.step);
    if (!kind.processes.meets(job.machine.processes))
        return Problem{
            .what = fmt::format("“{}” cannot do “{}”, a step of kind {}.", job.machine.name, recipe.name, kind.name),
            .where = {},
            .mend = "Use a recipe for this machine."};
    if (!toolOf(out.job, out.step)) {
        auto tool = book.tool(recipe.step.tool);
        if (!tool)
            return Problem{
                .what = fmt::format("“{}” is done by the tool “{}”, which neither the job nor the shop book has.",
                                    recipe.name, recipe.step.tool),
                .where = {},
                .mend = "Choose another tool in the recipe, or put that one into the book."};
        out.job.tools.push_back(std::move(*tool));
    }
    const auto* tool = toolOf(out.job, out.step);
    if (!job.machine.does(tool->process()))
        return Problem{.what = fmt::format("“{}” cannot hold “{}”, by which “{}” is done.", job.machine.name,
                                           tool->name, recipe.name),
                       .where = {},
                       .mend = "Use a recipe for this machine."};
    takeBookValues(out.job, out.step);
    return out;
}

/// By what is on all sheets: `visit(contour)`.
template<class Visit> void forEachOutline(const Job& job, Visit&& visit) {
    for (const auto& sheet : job.sheets) {
        const auto there = atSheet(job, sheet.id);
        if (!there) continue;
        for (const auto& contour : plan::contoursOf(there->plan, *there->artwork)) visit(contour);
    }
}

void count(std::vector<HouseReport::Some>& list, const std::string& layer, std::size_t first, std::size_t second) {
    const auto at = std::find_if(list.begin(), list.end(), [&](const HouseReport::Some& some) {
        return some.layer == layer && some.first == first && some.second == second;
    });
    if (at != list.end())
        ++at->outlines;
    else
        list.push_back({layer, 1, first, second});
}

} // namespace

Result<Housed> withHouseRules(const Job& job, const plan::House& house, const shop::Book& book) {
    if (house.rules.empty())
        return Problem{.what = "There are no house rules yet.",
                       .where = {},
                       .mend = "Make them in the shop book: which layers and sizes, and by which recipe."};
    Housed out{job, {}};
    out.report.replaced = job.plan.steps.size();
    out.job.plan.steps.clear();
    out.job.plan.order = plan::Order::automatic;
    out.report.rows.resize(house.rules.size());
    bool any = false;
    for (std::size_t r = 0; r < house.rules.size(); ++r) {
        const auto& row = house.rules[r];
        auto& told = out.report.rows[r];
        for (const auto& name : row.recipes) {
            auto step = made(out.job, *plan::recipeNamed(house, name), book);
            if (!step) {
                if (told.trouble.empty()) told.trouble = step.problem().text();
                continue;
            }
            auto& rule = step->step.rule;
            static_cast<plan::Match&>(rule) = row.match;
            if (rule.layers == std::vector<std::string>{"*"}) rule.layers.clear();
            for (std::size_t before = 0; before < r; ++before)
                if (plan::mayMeet(house.rules[before].match, row.match))
                    rule.except.push_back(house.rules[before].match);
            step->step.id = {++step->job.plan.lastId};
            step->step.name = name;
            told.steps.push_back(name);
            step->job.plan.steps.push_back(std::move(step->step));
            out.job = std::move(step->job);
            any = true;
        }
        if (!told.steps.empty()) told.trouble.clear(); // what another machine does is no trouble
    }
    if (!any) {
        for (const auto& row : out.report.rows)
            if (!row.trouble.empty())
                return Problem{.what = fmt::format("No row of the house rules makes a step. {}", row.trouble),
                               .where = {},
                               .mend = {}};
        return Problem{
            .what = "No row of the house rules makes a step.", .where = {}, .mend = "Give one of them a recipe."};
    }
    forEachOutline(out.job, [&](const plan::Contour& contour) {
        std::vector<std::size_t> fit;
        for (std::size_t r = 0; r < house.rules.size(); ++r)
            if (plan::fits(house.rules[r].match, contour)) fit.push_back(r);
        if (fit.empty()) return count(out.report.unmatched, contour.layer, 0, 0);
        ++out.report.rows[fit[0]].outlines;
        if (fit.size() > 1) count(out.report.twice, contour.layer, fit[0], fit[1]);
    });
    // A step that has nothing to take would only be in the way.
    std::vector<std::size_t> owner; // row of each step
    for (std::size_t r = 0; r < house.rules.size(); ++r) owner.insert(owner.end(), out.report.rows[r].steps.size(), r);
    std::size_t index = 0;
    std::erase_if(out.job.plan.steps, [&](const plan::Step&) { return out.report.rows[owner[index++]].outlines == 0; });
    return out;
}

std::vector<std::string> linesOf(const HouseReport& report, const plan::House& house) {
    const auto outlines = [](std::size_t n) { return fmt::format("{} outline{}", n, n == 1 ? "" : "s"); };
    const auto layer = [](const std::string& name) {
        return name.empty() ? std::string("no layer") : "“" + name + "”";
    };
    std::vector<std::string> lines;
    std::size_t steps = 0;
    for (const auto& row : report.rows) steps += row.outlines > 0 ? row.steps.size() : 0;
    lines.push_back(fmt::format("{} step{} by the house rules{}", steps, steps == 1 ? "" : "s",
                                report.replaced ? fmt::format(", in place of {}", report.replaced) : ""));
    for (std::size_t r = 0; r < report.rows.size(); ++r) {
        const auto& row = report.rows[r];
        std::string does = "not cut";
        if (!row.trouble.empty()) {
            does = fmt::format("NOT DONE: {}", row.trouble);
        } else if (!row.steps.empty()) {
            does.clear();
            for (const auto& step : row.steps) does += (does.empty() ? "" : ", ") + step;
        }
        if (row.outlines > 0)
            lines.push_back(fmt::format("Row {} ({}): {}, {}", r + 1, plan::wordsFor(house.rules[r].match),
                                        outlines(row.outlines), does));
        else
            lines.push_back(fmt::format("Row {} ({}) fits nothing here", r + 1, plan::wordsFor(house.rules[r].match)));
    }
    for (const auto& some : report.unmatched)
        lines.push_back(fmt::format("No row fits {} on {}: not cut", outlines(some.outlines), layer(some.layer)));
    for (const auto& some : report.twice)
        lines.push_back(fmt::format("Rows {} and {} both fit {} on {}; row {} has {}", some.first + 1, some.second + 1,
                                    outlines(some.outlines), layer(some.layer), some.first + 1,
                                    some.outlines == 1 ? "it" : "them"));
    return lines;
}

Result<Job> withUsualSteps(const Job& job, const plan::House& house, const shop::Book& book,
                           std::vector<std::string>& told) {
    if (house.rules.empty()) return withFittingSteps(job);
    auto housed = withHouseRules(job, house, book);
    if (!housed) { // rules for another machine keep nobody from working
        told.push_back(housed.problem().text());
        return withFittingSteps(job);
    }
    for (auto& line : linesOf(housed->report, house)) told.push_back(std::move(line));
    return std::move(housed->job);
}

Job withArrivalSteps(const Job& job, const plan::House& house, const shop::Book& book, std::vector<std::string>& told) {
    if (!house.onArrival || !job.plan.steps.empty()) return job;
    auto next = withUsualSteps(job, house, book, told);
    if (next) return std::move(*next);
    told.push_back(next.problem().text());
    return job;
}

Result<Job> withStepByRecipe(const Job& job, const plan::Recipe& recipe, const shop::Book& book) {
    auto step = made(job, recipe, book);
    if (!step) return step.problem();
    step->step.id = {++step->job.plan.lastId};
    step->step.name = recipe.name;
    step->job.plan.steps.push_back(std::move(step->step));
    return std::move(step->job);
}

Result<plan::Recipe> recipeOf(const Job& job, plan::StepId id, std::string_view name) {
    const auto* step = plan::find(job.plan, id);
    if (!step) return Problem{.what = fmt::format("There is no step {}.", id.value), .where = {}, .mend = {}};
    plan::House probe;
    auto kept = plan::withRecipe(probe, {std::string(name), *step});
    if (!kept) return kept.problem();
    return kept->recipes.front();
}

} // namespace ferro::job

// Edits of the job around the drawing: sheet, machine, clamps and steps.
#include "cli/words_internal.h"
#include "job/from_book.h"
#include "job/house.h"

namespace ferro::cli {

namespace {

Result<job::ZeroCorner> cornerFrom(const std::string& word) {
    for (std::size_t i = 0; i < job::cornerWords.size(); ++i) {
        std::string name(job::cornerWords[i]);
        std::replace(name.begin(), name.end(), ' ', '-'); // one word
        if (name == word) return static_cast<job::ZeroCorner>(i);
    }
    return Problem{.what = fmt::format("Zero cannot be “{}”.", word),
                   .where = {},
                   .mend = "Use lower-left, lower-right, upper-right, upper-left or centre."};
}

Result<void> takeStockWord(const Job& job, const std::string& word, job::Stock& stock) {
    const auto set = assignmentFrom(word);
    if (!set) return set.problem();
    const auto& [name, value] = *set;
    if (name == "zero") {
        const auto corner = cornerFrom(value);
        if (!corner) return corner.problem();
        stock.corner = *corner;
        return {};
    }
    if (name == "zero-at") {
        if (value != "top" && value != "bottom")
            return Problem{.what = "zero-at is top or bottom.", .where = {}, .mend = {}};
        stock.zeroAt = value == "top" ? job::ZeroHeight::top : job::ZeroHeight::bottom;
        return {};
    }
    constexpr std::pair<std::string_view, double job::Stock::*> sizes[] = {{"width", &job::Stock::width},
                                                                           {"height", &job::Stock::height},
                                                                           {"thickness", &job::Stock::thickness},
                                                                           {"spacer", &job::Stock::spacer},
                                                                           {"uneven", &job::Stock::uneven}};
    for (const auto& [known, member] : sizes) {
        if (known != name) continue;
        const auto size = lengthOf(job, value);
        if (!size) return size.problem().within(word);
        stock.*member = *size;
        return {};
    }
    return Problem{.what = fmt::format("Stock has no “{}”.", name),
                   .where = {},
                   .mend = "Use width=, height=, thickness=, spacer=, uneven=, zero=, zero-at=."};
}

Result<Job> withStockWords(const Job& job, const Words& w) {
    job::Stock stock = job.sheet().stock;
    for (const auto& word : w)
        if (auto taken = takeStockWord(job, word, stock); !taken) return taken.problem();
    return job::withStock(job, stock);
}

/// An outline of an item with places along it, as tabs and starts have them: STEP ITEM OPENING ALONG …
struct EdgeWords {
    plan::StepId step;
    artwork::ItemId item;
    int opening = -1;
    std::vector<double> along;
};
Result<EdgeWords> edgeFrom(const Job& job, const Words& w) {
    EdgeWords out;
    auto step = stepFrom(job, w[0]);
    if (!step) return step.problem();
    auto item = idFrom(w[1]);
    if (!item) return item.problem();
    auto opening = parseQuantity(w[2], Measure::count, Units::mm);
    if (!opening) return opening.problem();
    out.step = *step, out.item = {*item}, out.opening = static_cast<int>(*opening);
    for (std::size_t i = 3; i < w.size(); ++i) {
        auto at = parseQuantity(w[i], Measure::count, Units::mm);
        if (!at) return at.problem();
        out.along.push_back(*at);
    }
    return out;
}

Result<Job> withSettings(const Job& job, const Words& w) {
    auto id = stepFrom(job, w[0]);
    if (!id) return id.problem();
    Job out = job;
    for (std::size_t i = 1; i < w.size(); ++i) {
        const auto set = assignmentFrom(w[i]);
        if (!set) return set.problem();
        auto next = job::withStepSetting(out, *id, set->name, set->value);
        if (!next) return next.problem();
        out = std::move(*next);
    }
    return out;
}

/// "outline|drill|… [NAME] [TOOL]"
std::string stepUsage() {
    std::string words;
    for (const auto* kind : plan::kinds()) words += fmt::format("{}{}", words.empty() ? "" : "|", kind->name);
    return words + " [NAME] [TOOL]";
}

} // namespace

std::vector<Verb> jobVerbs() {
    return {
        {"name", "NAME", "name the job", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> { return job::withName(j, w[0]); }},
        {"units", "mm|inch", "how numbers are shown and read", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             if (w[0] != "mm" && w[0] != "inch")
                 return Problem{.what = "Units are mm or inch.", .where = {}, .mend = {}};
             return job::withUnits(j, w[0] == "mm" ? Units::mm : Units::inch);
         }},
        {"stock", "[width=] [height=] [thickness=] [spacer=] [uneven=] [zero=CORNER] [zero-at=top|bottom]",
         "the sheet and its zero", 1,
         [](const Job& j, const Words& w, const shop::Book&) { return withStockWords(j, w); }},
        {"machine", "KEY", "use another machine", 1,
         [](const Job& j, const Words& w, const shop::Book& book) -> Result<Job> {
             auto machine = book.machine(w[0]);
             if (!machine) return machine.problem();
             return job::withMachine(j, *machine);
         }},
        {"material", "KEY", "use another material", 1,
         [](const Job& j, const Words& w, const shop::Book& book) -> Result<Job> {
             auto material = book.material(w[0]);
             if (!material) return material.problem();
             return job::withMaterial(j, *material);
         }},
        {"dialect", "KEY", "write for another controller", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> { return job::withDialect(j, w[0]); }},
        {"output", "job|tool|step [NAME]", "one file of the program for each, and how the files are called", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             const auto each = std::find(job::fileOfNames.begin(), job::fileOfNames.end(), w[0]);
             if (each == job::fileOfNames.end())
                 return Problem{.what = "A file holds the job, a tool or a step.", .where = {}, .mend = {}};
             return job::withOutput(
                 j, {static_cast<job::FileOf>(each - job::fileOfNames.begin()), w.size() > 1 ? w[1] : std::string()});
         }},
        {"clearance", "MM", "height of rapids above the stock", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto height = lengthOf(j, w[0]);
             if (!height) return height.problem();
             return job::withClearance(j, *height);
         }},
        {"clamp", "X Y WIDTH DEPTH HEIGHT", "add a clamp", 5,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto n = lengths(j, w, 0, 5);
             if (!n) return n.problem();
             return job::withClamp(j, {{{(*n)[0], (*n)[1]}, {(*n)[0] + (*n)[2], (*n)[1] + (*n)[3]}}, (*n)[4]});
         }},
        {"unclamp", "N", "take clamp N (from 1) away", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto n = idFrom(w[0]);
             if (!n) return n.problem();
             return job::withoutClamp(j, *n - 1);
         }},
        {"step", stepUsage(), "add a step", 1,
         [](const Job& j, const Words& w, const shop::Book&) {
             return job::withStepAdded(j, w[0], w.size() > 2 ? w[2] : "", w.size() > 1 ? w[1] : "");
         }},
        {"steps", "", "add the steps that fit what no step takes yet", 0,
         [](const Job& j, const Words&, const shop::Book&) { return job::withFittingSteps(j); }},
        {"rules", "", "steps by the house rules in place of those that are there", 0,
         [](const Job& j, const Words&, const Shop& shop) -> Result<Job> {
             auto housed = job::withHouseRules(j, shop.house, shop);
             if (!housed) return housed.problem();
             for (const auto& line : job::linesOf(housed->report, shop.house)) shop.tell(line + ".");
             return std::move(housed->job);
         }},
        {"recipe", "NAME", "add a step by a recipe of the shop book", 1,
         [](const Job& j, const Words& w, const Shop& shop) -> Result<Job> {
             const auto* recipe = plan::recipeNamed(shop.house, w[0]);
             if (!recipe)
                 return Problem{.what = fmt::format("There is no recipe “{}”.", w[0]),
                                .where = {},
                                .mend = "List them by ferrograph-cli book list recipes."};
             return job::withStepByRecipe(j, *recipe, shop);
         }},
        {"from-book", "", "machine, materials and tools as the shop book has them now", 0,
         [](const Job& j, const Words&, const Shop& shop) -> Result<Job> {
             const auto changes = job::changesFrom(j, shop);
             if (changes.empty()) shop.tell("The job has all of it as the shop book has it.");
             for (const auto& change : changes) shop.tell(job::wordsFor(change) + ".");
             return job::withShopBook(j, shop);
         }},
        {"set", "STEP NAME=VALUE ...", "settings of a step (by its name or number)", 2,
         [](const Job& j, const Words& w, const shop::Book&) { return withSettings(j, w); }},
        {"tools", "STEP KEY ...",
         "do a step by the first of these tools, and what is left by the others, each thinner than the one before", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto id = stepFrom(j, w[0]);
             if (!id) return id.problem();
             return job::withStepTools(j, *id, {w.begin() + 1, w.end()});
         }},
        {"reset", "STEP NAME", "a setting back to the book's value", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto id = stepFrom(j, w[0]);
             if (!id) return id.problem();
             return job::withStepReset(j, *id, w[1]);
         }},
        {"take", "STEP ITEMS|rule", "only these items, or back to the rule", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto id = stepFrom(j, w[0]);
             if (!id) return id.problem();
             if (w[1] == "rule") return job::withStepItems(j, *id, {});
             auto ids = itemsFrom(j, w[1]);
             if (!ids) return ids.problem();
             return job::withStepItems(j, *id, *ids);
         }},
        {"drop", "STEP", "remove a step", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto id = stepFrom(j, w[0]);
             if (!id) return id.problem();
             return job::withoutStep(j, *id);
         }},
        {"shift", "STEP PLACE", "put a step at a place in the list (from 1); the order is then by hand", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto id = stepFrom(j, w[0]);
             if (!id) return id.problem();
             auto place = idFrom(w[1]);
             if (!place) return place.problem();
             return job::withStepMoved(j, *id, *place > 0 ? *place - 1 : 0);
         }},
        {"order", "automatic|by-hand", "where the order of steps comes from", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             if (w[0] != "automatic" && w[0] != "by-hand")
                 return Problem{.what = "The order is automatic or by-hand.", .where = {}, .mend = {}};
             return job::withOrder(j, w[0] == "automatic" ? plan::Order::automatic : plan::Order::byHand);
         }},
        {"again", "STEP", "one more step behind it that does the same; it changes with it until it is itself changed",
         1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto id = stepFrom(j, w[0]);
             if (!id) return id.problem();
             return job::withStepAgain(j, *id);
         }},
        {"start", "STEP ITEM OPENING [ALONG]",
         "where one outline (OPENING -1: its outer edge) is begun, 0 to 1 along it; none: where it suits", 3,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto place = edgeFrom(j, w);
             if (!place) return place.problem();
             const auto& [step, item, opening, along] = *place;
             if (along.size() > 1) return Problem{.what = "An outline begins at one place.", .where = {}, .mend = {}};
             return job::withStart(j, step, item, opening, along.empty() ? std::nullopt : std::optional(along[0]));
         }},
        {"tabs", "STEP ITEM OPENING ALONG ...",
         "tabs of one outline (OPENING -1: its outer edge) at these places, 0 to 1; none: automatic", 3,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto place = edgeFrom(j, w);
             if (!place) return place.problem();
             return job::withTabs(j, place->step, place->item, place->opening, place->along);
         }},
    };
}

} // namespace ferro::cli

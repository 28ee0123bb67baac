#include "plan/house.h"

#include "base/quantity.h"
#include "plan/fields.h"
#include "plan/json_internal.h"
#include "plan/selection.h"

namespace ferro::plan {

namespace {

auto at(const House& house, std::string_view name) {
    return std::find_if(house.recipes.begin(), house.recipes.end(), [&](const Recipe& r) { return r.name == name; });
}

Problem noRecipe(std::string_view name) {
    return {.what = fmt::format("There is no recipe “{}”.", name),
            .where = {},
            .mend = "Keep a step under that name first."};
}
Problem noRow(std::size_t row) {
    return {.what = fmt::format("The house rules have no row {}.", row + 1), .where = {}, .mend = {}};
}

Result<void> checked(const House& house, const HouseRule& rule) {
    for (const auto& name : rule.recipes)
        if (!recipeNamed(house, name)) return noRecipe(name);
    if (!(rule.match.above >= 0) || !(rule.match.below >= 0))
        return Problem{.what = "A size limit cannot be below 0.", .where = {}, .mend = "Give 0 for no limit."};
    if (rule.match.below > 0 && rule.match.above > rule.match.below)
        return Problem{.what =
                           fmt::format("Nothing is above {} and below {}.", mm(rule.match.above), mm(rule.match.below)),
                       .where = {},
                       .mend = "Correct one of the limits."};
    return {};
}

Result<void> checkedName(std::string_view name) {
    if (!name.empty() && name.find(',') == std::string_view::npos && name.size() <= 80) return {};
    return Problem{.what = "A recipe needs a name without commas, of up to 80 characters.", .where = {}, .mend = {}};
}

} // namespace

template<class Io> void members(Io& io, Recipe& r) { io.need("name", r.name).need("step", r.step); }
template<class Io> void members(Io& io, HouseRule& r) {
    members(io, r.match);
    io("recipes", r.recipes);
}
template<class Io> void members(Io& io, House& h) {
    io("recipes", h.recipes)("rules", h.rules)("onArrival", h.onArrival);
}

const Recipe* recipeNamed(const House& house, std::string_view name) {
    const auto found = at(house, name);
    return found == house.recipes.end() ? nullptr : &*found;
}

Result<House> withRecipe(const House& house, Recipe recipe) {
    if (auto fine = checkedName(recipe.name); !fine) return fine.problem();
    if (auto fine = plan::checked(recipe.step); !fine) return fine.problem();
    recipe.step.rule = {};
    recipe.step.id = {};
    recipe.step.enabled = true;
    recipe.step.again = {};
    for (auto* places : {tabsIn(recipe.step), startsIn(recipe.step)})
        if (places) places->clear();
    House out = house;
    if (const auto found = at(out, recipe.name); found != out.recipes.end())
        out.recipes[static_cast<std::size_t>(found - out.recipes.begin())] = std::move(recipe);
    else
        out.recipes.push_back(std::move(recipe));
    return out;
}

namespace {

/// Of this name, or with a number behind that no other has.
std::string freeName(const House& house, const std::string& name) {
    std::string free = name;
    for (int n = 2; recipeNamed(house, free); ++n) free = fmt::format("{} {}", name, n);
    return free;
}

} // namespace

Result<std::pair<House, std::string>> withRecipeCopied(const House& house, std::string_view name) {
    const auto* recipe = recipeNamed(house, name);
    if (!recipe) return noRecipe(name);
    Recipe copy = *recipe;
    copy.name = freeName(house, recipe->name);
    auto next = withRecipe(house, copy);
    if (!next) return next.problem();
    return std::pair(std::move(*next), copy.name);
}

Result<House> withRecipeNamed(const House& house, std::string_view name, std::string_view other) {
    if (auto fine = checkedName(other); !fine) return fine.problem();
    if (!recipeNamed(house, name)) return noRecipe(name);
    if (name == other) return house;
    if (recipeNamed(house, other))
        return Problem{
            .what = fmt::format("There is a recipe “{}” already.", other), .where = {}, .mend = "Use another name."};
    House out = house;
    for (auto& recipe : out.recipes)
        if (recipe.name == name) recipe.name = other;
    for (auto& rule : out.rules)
        for (auto& asked : rule.recipes)
            if (asked == name) asked = other;
    return out;
}

Result<House> withoutRecipe(const House& house, std::string_view name) {
    if (!recipeNamed(house, name)) return noRecipe(name);
    for (std::size_t row = 0; row < house.rules.size(); ++row)
        if (const auto& asked = house.rules[row].recipes; std::find(asked.begin(), asked.end(), name) != asked.end())
            return Problem{.what = fmt::format("Row {} of the house rules asks for “{}”.", row + 1, name),
                           .where = {},
                           .mend = "Change that row first."};
    House out = house;
    std::erase_if(out.recipes, [&](const Recipe& r) { return r.name == name; });
    return out;
}

Result<House> withRule(const House& house, std::size_t row, const HouseRule& rule) {
    if (auto fine = checked(house, rule); !fine) return fine.problem();
    House out = house;
    out.rules.insert(out.rules.begin() + static_cast<std::ptrdiff_t>(std::min(row, out.rules.size())), rule);
    return out;
}

Result<House> withRuleChanged(const House& house, std::size_t row, const HouseRule& rule) {
    if (row >= house.rules.size()) return noRow(row);
    if (auto fine = checked(house, rule); !fine) return fine.problem();
    House out = house;
    out.rules[row] = rule;
    return out;
}

Result<House> withRuleMoved(const House& house, std::size_t row, std::size_t to) {
    if (row >= house.rules.size()) return noRow(row);
    House out = house;
    const HouseRule rule = out.rules[row];
    out.rules.erase(out.rules.begin() + static_cast<std::ptrdiff_t>(row));
    return withRule(out, to, rule);
}

Result<House> withoutRule(const House& house, std::size_t row) {
    if (row >= house.rules.size()) return noRow(row);
    House out = house;
    out.rules.erase(out.rules.begin() + static_cast<std::ptrdiff_t>(row));
    return out;
}

bool mayMeet(const Match& a, const Match& b) {
    if (a.role != Role::any && b.role != Role::any && a.role != b.role) return false;
    if ((a.below > 0 && a.below < b.above) || (b.below > 0 && b.below < a.above)) return false;
    if (a.layers.empty() || b.layers.empty()) return true;
    for (const auto& one : a.layers)
        for (const auto& other : b.layers)
            if ((one.find('*') != std::string::npos && other.find('*') != std::string::npos) || matches(one, other) ||
                matches(other, one))
                return true;
    return false;
}

std::string wordsFor(const Match& match) {
    std::string words;
    for (const auto& layer : match.layers) words += fmt::format("{}{}", words.empty() ? "" : ", ", layer);
    if (words.empty()) words = "every layer";
    if (match.role != Role::any) words += fmt::format(", {}", roleWords[static_cast<std::size_t>(match.role)]);
    if (match.above > 0) words += fmt::format(", above {}", mm(match.above));
    if (match.below > 0) words += fmt::format(", up to {}", mm(match.below));
    return words;
}

namespace {

/// As read, put together again from what the edits let through.
Result<House> sound(const House& read) {
    House house;
    house.onArrival = read.onArrival;
    for (const auto& recipe : read.recipes) {
        if (recipeNamed(house, recipe.name))
            throw json_members::Fault{fmt::format("the recipe “{}” is there twice", recipe.name), {"recipes"}};
        auto next = withRecipe(house, recipe);
        if (!next) return next;
        house = std::move(*next);
    }
    for (const auto& rule : read.rules) {
        auto next = withRule(house, house.rules.size(), rule);
        if (!next) return next.problem().within(fmt::format("row {}", house.rules.size() + 1));
        house = std::move(*next);
    }
    return house;
}

} // namespace

Result<House> houseFromText(std::string_view text) {
    return json_members::readJson<Result<House>>(text, "Correct the file of the house rules, or remove it.",
                                                 [](const json& all) {
                                                     House read;
                                                     json_members::read(all, read);
                                                     return sound(read);
                                                 });
}

Result<Pages> pagesFromText(std::string_view text) {
    return json_members::readJson<Result<Pages>>(text, "Take a file that a shop book was given out as.",
                                                 [](const json& all) -> Result<Pages> {
                                                     Pages pages;
                                                     json_members::Reading io(all);
                                                     shop::members(io, pages.book);
                                                     members(io, pages.house);
                                                     io.done();
                                                     if (auto fine = shop::checked(pages.book); !fine)
                                                         return fine.problem();
                                                     auto house = sound(pages.house);
                                                     if (!house) return house.problem();
                                                     pages.house = std::move(*house);
                                                     return pages;
                                                 });
}

std::string toText(const Pages& pages) {
    json all;
    json_members::Writing io(all);
    shop::members(io, const_cast<shop::Book&>(pages.book)); // one list of members for both ways; nothing is changed
    members(io, const_cast<House&>(pages.house));
    return all.dump(2) + "\n";
}

std::string toText(const House& house) { return json_members::written(house).dump(2) + "\n"; }

static std::filesystem::path houseFile() { return userDataFolder() / "house.json"; }

Result<House> openHouse(Disk& disk) {
    std::error_code ignored;
    if (!std::filesystem::exists(houseFile(), ignored)) return House{};
    const auto text = disk.read(houseFile());
    if (!text) return text.problem();
    auto house = houseFromText(*text);
    if (!house) return house.problem().within(houseFile().string());
    return house;
}

Result<void> saveHouse(Disk& disk, const House& house) { return writeAtomically(disk, houseFile(), toText(house)); }

HouseTaken withHouse(const House& house, const House& other) {
    HouseTaken taken{house, 0, 0, {}};
    std::map<std::string, std::string> names;
    for (const auto& recipe : other.recipes) {
        Recipe laid = recipe;
        if (const auto* there = recipeNamed(taken.house, recipe.name); there && !(*there == recipe)) {
            laid.name = freeName(taken.house, recipe.name);
            taken.renamed.push_back(laid.name);
        } else if (there) {
            names[recipe.name] = recipe.name;
            continue;
        }
        names[recipe.name] = laid.name;
        taken.house.recipes.push_back(laid);
        ++taken.recipes;
    }
    for (HouseRule rule : other.rules) {
        for (auto& name : rule.recipes) name = names[name];
        auto& rules = taken.house.rules;
        if (std::find(rules.begin(), rules.end(), rule) != rules.end()) continue;
        rules.push_back(rule);
        ++taken.rules;
    }
    return taken;
}

} // namespace ferro::plan

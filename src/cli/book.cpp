// The shop book from the command line: what is in it, changing it, handing pages of it on.
#include "base/quantity.h"
#include "cli/common.h"
#include "cli/proving.h"
#include "cli/words_internal.h"
#include "job/boards.h"
#include "job/house.h"
#include "job/job_file.h"
#include "job/kept_cards.h"
#include "job/swatch.h"
#include "plan/fields.h"
#include "shop/fields.h"
#include "shop/own.h"

#include <chrono>

namespace ferro::cli {

namespace {

struct Kept {
    shop::Shelves shelves;
    plan::House house;
};
using Done = Result<std::string>; ///< what is printed

template<class Thing> std::string listed(const shop::Shelves& shelves) {
    std::string out;
    const auto hand = shelves.onHand();
    for (const auto& thing : shop::listIn<Thing>(hand)) {
        const auto from = shop::fromWhere<Thing>(shelves, thing.key);
        out += fmt::format("{}\t{}{}\n", thing.key, thing.name,
                           from == shop::From::shipped ? ""
                           : from == shop::From::own   ? "\town"
                                                       : "\tchanged");
        if constexpr (std::is_same_v<Thing, shop::Board>) {
            out.pop_back();
            out += fmt::format("\t{} × {} × {} {}\t{}\n", thing.width, thing.height, thing.thickness, thing.material,
                               thing.count);
        }
    }
    return out;
}
template<class Thing> std::optional<Thing> named(const shop::Book& book, std::string_view key) {
    for (const auto& thing : shop::listIn<Thing>(book))
        if (thing.key == key) return thing;
    return std::nullopt;
}
template<class Thing> Problem missing(std::string_view key) {
    return {.what = fmt::format("The shop book has no {} “{}”.", shop::nounOf<Thing>(), key),
            .where = {},
            .mend = fmt::format("See ferrograph-cli book list {}s.", shop::nounOf<Thing>())};
}

template<class Thing> std::string shownAll(const Thing& thing) {
    std::string out;
    for (const auto& [name, value] : shop::settingsOf(thing)) out += fmt::format("{}={}\n", name, value);
    if constexpr (std::is_same_v<Thing, shop::Material>)
        for (std::size_t i = 0; i < thing.proven.size(); ++i) {
            const auto& proven = thing.proven[i];
            out += fmt::format("proven {}: {}, {} by {} on {}, {}:", i + 1, proven.date, proven.kind, proven.tool,
                               proven.machine, mm(proven.thickness));
            for (const auto& [name, value] : proven.settings) out += fmt::format(" {}={:g}", name, value);
            out += proven.note.empty() ? "\n" : fmt::format(" ({})\n", proven.note);
        }
    return out;
}

template<class Thing> Done withThings(Kept& kept, const Words& w) {
    const auto take = [&](Result<shop::Shelves> next) -> Done {
        if (!next) return next.problem();
        kept.shelves = std::move(*next);
        return std::string();
    };
    if (w[0] == "restore") return take(shop::withThingAsShipped<Thing>(kept.shelves, w[2]));
    std::string out, key = w[2];
    if (w[0] == "copy" || w[0] == "add") {
        auto made =
            w[0] == "copy" ? shop::withCopy<Thing>(kept.shelves, w[2]) : shop::withFresh<Thing>(kept.shelves, w[2]);
        if (!made) return made.problem();
        kept.shelves = std::move(made->first);
        key = made->second;
        out = key + "\n";
    }
    const auto thing = named<Thing>(kept.shelves.onHand(), key);
    if (!thing) return missing<Thing>(key);
    if (w[0] == "show") return shownAll(*thing);
    if (w[0] == "drop") return take(shop::withoutThing<Thing>(kept.shelves, key));
    Thing changed = *thing;
    for (std::size_t i = 3; i < w.size(); ++i) {
        const auto set = assignmentFrom(w[i]);
        if (!set) return set.problem();
        auto next = shop::withSetting(changed, set->name, set->value, Units::mm);
        if (!next) return next.problem();
        changed = std::move(*next);
    }
    if (auto done = take(shop::withThing(kept.shelves, changed)); !done) return done;
    return out;
}

std::string listedRules(const plan::House& house) {
    std::string out;
    for (std::size_t row = 0; row < house.rules.size(); ++row) {
        std::string recipes;
        for (const auto& name : house.rules[row].recipes)
            recipes += fmt::format("{}{}", recipes.empty() ? "" : ", ", name);
        out += fmt::format("{}\t{}\t{}\n", row + 1, plan::wordsFor(house.rules[row].match),
                           recipes.empty() ? "not cut" : recipes);
    }
    return out + (house.onArrival ? "for arriving drawings: on\n" : "for arriving drawings: off\n");
}

/// The rule with what the words say otherwise.
Result<plan::HouseRule> ruleFrom(plan::HouseRule rule, const Words& w, std::size_t from) {
    for (std::size_t i = from; i < w.size(); ++i) {
        const auto set = assignmentFrom(w[i]);
        if (!set) return set.problem();
        if (set->name == "layers") {
            rule.match.layers = plan::namesIn(set->value);
        } else if (set->name == "recipes") {
            rule.recipes = plan::namesIn(set->value);
        } else if (set->name == "role") {
            const auto at = std::find(plan::roleWords.begin(), plan::roleWords.end(), set->value);
            if (at == plan::roleWords.end())
                return Problem{.what = fmt::format("There is no role “{}”.", set->value),
                               .where = {},
                               .mend = "Use any, openings, outer edges or open lines."};
            rule.match.role = static_cast<plan::Role>(at - plan::roleWords.begin());
        } else if (set->name == "above" || set->name == "below") {
            const auto size = parseQuantity(set->value, Measure::length, Units::mm);
            if (!size) return size.problem();
            (set->name == "above" ? rule.match.above : rule.match.below) = *size;
        } else {
            return Problem{.what = fmt::format("A rule has no “{}”.", set->name),
                           .where = {},
                           .mend = "Use layers=, role=, above=, below= and recipes=."};
        }
    }
    return rule;
}

Done withWays(Kept& kept, const Words& w) {
    const auto take = [&](Result<plan::House> next) -> Done {
        if (!next) return next.problem();
        kept.house = std::move(*next);
        return std::string();
    };
    const auto place = [&](std::size_t at) -> Result<std::size_t> {
        if (w.size() <= at) return Problem{.what = "Which row? Say its number, from 1.", .where = {}, .mend = {}};
        const auto number = idFrom(w[at]);
        if (!number) return number.problem();
        if (*number == 0) return Problem{.what = "Rows are counted from 1.", .where = {}, .mend = {}};
        return *number - std::size_t{1};
    };
    if (w[1] == "recipe") {
        if (w[0] == "drop") return take(plan::withoutRecipe(kept.house, w[2]));
        if (w[0] == "copy") {
            auto copy = plan::withRecipeCopied(kept.house, w[2]);
            if (!copy) return copy.problem();
            kept.house = std::move(copy->first);
            return copy->second + "\n";
        }
        if (w[0] == "rename" && w.size() > 3) return take(plan::withRecipeNamed(kept.house, w[2], w[3]));
        if (w[0] == "set") {
            const auto* recipe = plan::recipeNamed(kept.house, w[2]);
            if (!recipe) return take(plan::withoutRecipe(kept.house, w[2])); // says so
            plan::Recipe changed = *recipe;
            for (std::size_t i = 3; i < w.size(); ++i) {
                const auto set = assignmentFrom(w[i]);
                if (!set) return set.problem();
                auto next = plan::withSetting(changed.step, set->name, set->value, Units::mm);
                if (!next) return next.problem();
                changed.step = std::move(*next);
            }
            return take(plan::withRecipe(kept.house, changed));
        }
    } else if (w[1] == "rule") {
        if (w[0] == "add") {
            auto rule = ruleFrom({}, w, 2);
            if (!rule) return rule.problem();
            return take(plan::withRule(kept.house, kept.house.rules.size(), *rule));
        }
        const auto row = place(2);
        if (!row) return row.problem();
        if (w[0] == "drop") return take(plan::withoutRule(kept.house, *row));
        if (w[0] == "set" && *row < kept.house.rules.size()) {
            auto rule = ruleFrom(kept.house.rules[*row], w, 3);
            if (!rule) return rule.problem();
            return take(plan::withRuleChanged(kept.house, *row, *rule));
        }
        if (w[0] == "move") {
            const auto to = place(3);
            if (!to) return to.problem();
            return take(plan::withRuleMoved(kept.house, *row, *to));
        }
    } else if (w[1] == "arrival") {
        const auto on =
            w[0] == "set" ? onOff(w[2]) : Problem{.what = "Say set arrival on or off.", .where = {}, .mend = {}};
        if (!on) return on.problem();
        kept.house.onArrival = *on;
        return std::string();
    }
    return Problem{.what = fmt::format("The shop book cannot {} {}.", w[0], w[1]),
                   .where = {},
                   .mend = "See ferrograph-cli book --help."};
}

Done keep(Kept& kept, const Words& w) {
    const auto job = job::load(realDisk(), w[1]);
    if (!job) return job.problem();
    const auto step = stepFrom(*job, w[2]);
    if (!step) return step.problem();
    const auto* there = plan::find(job->plan, *step);
    auto recipe = job::recipeOf(*job, *step, w.size() > 3 ? std::string_view(w[3]) : there->name);
    if (!recipe) return recipe.problem();
    auto next = plan::withRecipe(kept.house, *recipe);
    if (!next) return next.problem();
    kept.house = std::move(*next);
    return recipe->name + "\n";
}

Done proved(Kept& kept, const job::Job& job, const shop::Proven& proven) {
    const auto material = named<shop::Material>(kept.shelves.onHand(), job::materialOf(job).key);
    if (!material) return missing<shop::Material>(job::materialOf(job).key);
    auto next = shop::withThing(kept.shelves, shop::withProven(*material, proven));
    if (!next) return next.problem();
    kept.shelves = std::move(*next);
    std::string out = fmt::format("proven on {}:", material->name);
    for (const auto& [name, value] : proven.settings) out += fmt::format(" {}={:g}", name, value);
    return out + "\n";
}

/// A step's settings into the material that it was tried on, as the book has it.
Done prove(Kept& kept, const Words& w) {
    const auto job = job::load(realDisk(), w[1]);
    if (!job) return job.problem();
    const auto step = stepFrom(*job, w[2]);
    if (!step) return step.problem();
    auto proven = job::provenOf(*job, *step, today(), w.size() > 3 ? w[3] : "");
    if (!proven) return proven.problem();
    return proved(kept, *job, *proven);
}

/// Proven settings of a material, by the number that “show” has.
Done forget(Kept& kept, const Words& w) {
    const auto material = named<shop::Material>(kept.shelves.onHand(), w[1]);
    if (!material) return missing<shop::Material>(w[1]);
    const auto number = idFrom(w[2]);
    if (!number) return number.problem();
    if (*number == 0 || *number > material->proven.size())
        return Problem{.what = fmt::format("“{}” has no proven settings {}.", material->name, *number),
                       .where = {},
                       .mend = fmt::format("See ferrograph-cli book show material {}.", w[1])};
    auto next = shop::withThing(kept.shelves, shop::withoutProven(*material, material->proven[*number - 1]));
    if (!next) return next.problem();
    kept.shelves = std::move(*next);
    return std::string();
}

Done takeFile(Kept& kept, const Words& w) {
    const auto text = realDisk().read(w[1]);
    if (!text) return text.problem();
    const auto pages = plan::pagesFromText(*text);
    if (!pages) return pages.problem().within(w[1]);
    auto things = shop::withBook(kept.shelves, pages->book, w.size() > 2 && w[2] == "replace");
    if (!things) return things.problem().within(w[1]);
    auto ways = plan::withHouse(kept.house, pages->house);
    kept = {std::move(things->shelves), std::move(ways.house)};
    std::string out = fmt::format("{} added, {} replaced, {} the same; {} recipes, {} rules\n", things->added,
                                  things->replaced, things->same, ways.recipes, ways.rules);
    for (const auto* list : {&things->renamed, &ways.renamed})
        for (const auto& name : *list) out += fmt::format("kept beside what was there: {}\n", name);
    return out;
}

Done asked(Kept& kept, const Words& w) {
    const auto needs = [&](std::size_t words) -> Result<void> {
        if (w.size() >= words) return {};
        return Problem{.what = fmt::format("“{}” needs {} words more.", w[0], words - w.size()),
                       .where = {},
                       .mend = "See ferrograph-cli book --help."};
    };
    if (w[0] == "list") {
        const std::string what = w.size() > 1 ? w[1] : "";
        std::string out;
        if (what.empty() || what == "machines") out += listed<shop::Machine>(kept.shelves);
        if (what.empty() || what == "tools") out += listed<shop::Tool>(kept.shelves);
        if (what.empty() || what == "materials") out += listed<shop::Material>(kept.shelves);
        if (what.empty() || what == "boards") out += listed<shop::Board>(kept.shelves);
        if (what.empty() || what == "recipes")
            for (const auto& recipe : kept.house.recipes)
                out += fmt::format("{}\t{} by {}\n", recipe.name, plan::kindOf(recipe.step).name, recipe.step.tool);
        if (what.empty() || what == "rules") out += listedRules(kept.house);
        if (what.empty() || what == "cards")
            for (const auto& card : job::keptCards(realDisk())) out += fmt::format("{}\t{}\n", card.key, card.name);
        return out;
    }
    if (w[0] == "give") {
        if (auto fine = needs(2); !fine) return fine.problem();
        if (auto fine = writeText(w[1], plan::toText(plan::Pages{kept.shelves.onHand(), kept.house})); !fine)
            return fine.problem();
        return std::string();
    }
    if (w[0] == "take") {
        if (auto fine = needs(2); !fine) return fine.problem();
        return takeFile(kept, w);
    }
    if (w[0] == "rest") {
        if (auto fine = needs(2); !fine) return fine.problem();
        const auto job = jobAt(w[1], w.size() > 2 ? w[2] : "");
        if (!job) return job.problem();
        auto rest = job::restOf(*job);
        if (!rest) return rest.problem().within(w[1]);
        const auto next = shop::withBoardLaid(kept.shelves, rest->board);
        if (!next) return next.problem();
        kept.shelves = next->first;
        return fmt::format(
            "{}\t{:.3f} m²{}\n", next->second, rest->area / 1e6,
            rest->otherAreas > 100 ? fmt::format(", {:.3f} m² in smaller bits not kept", rest->otherAreas / 1e6) : "");
    }
    if (w[0] == "prove") {
        if (auto fine = needs(3); !fine) return fine.problem();
        return prove(kept, w);
    }
    if (w[0] == "card") {
        if (auto fine = needs(3); !fine) return fine.problem();
        const auto card = job::keptCard(realDisk(), w[1]);
        if (!card) return card.problem();
        if (auto saved = job::save(realDisk(), *card, w[2]); !saved) return saved.problem();
        return std::string();
    }
    if (w[0] == "drop" && w.size() > 2 && w[1] == "card") {
        if (auto gone = job::forgetCard(realDisk(), w[2]); !gone) return gone.problem();
        return std::string();
    }
    if (w[0] == "keep") {
        if (auto fine = needs(3); !fine) return fine.problem();
        return keep(kept, w);
    }
    if (auto fine = needs(3); !fine) return fine.problem();
    if (w[0] == "forget") return forget(kept, w);
    const bool things =
        w[0] == "show" || w[0] == "set" || w[0] == "add" || w[0] == "copy" || w[0] == "drop" || w[0] == "restore";
    if (things && w[1] == "machine") return withThings<shop::Machine>(kept, w);
    if (things && w[1] == "tool") return withThings<shop::Tool>(kept, w);
    if (things && w[1] == "board") return withThings<shop::Board>(kept, w);
    if (things && w[1] == "material") return withThings<shop::Material>(kept, w);
    return withWays(kept, w);
}

/// What is asked of the book, from reading to writing while nobody else changes it.
template<class Ask> Done changed(Ask&& ask) {
    std::error_code none;
    std::filesystem::create_directories(userDataFolder(), none);
    const auto lock = FileLock::taken(userDataFolder());
    if (!lock) return lock.problem();
    auto shelves = shop::openShelves(realDisk());
    if (!shelves) return shelves.problem();
    auto house = plan::openHouse(realDisk());
    if (!house) return house.problem();
    Kept kept{*shelves, *house};
    auto done = ask(kept);
    if (!done) return done;
    if (kept.shelves != *shelves)
        if (auto saved = shop::saveShelves(realDisk(), kept.shelves); !saved) return saved.problem();
    if (kept.house != *house)
        if (auto saved = plan::saveHouse(realDisk(), kept.house); !saved) return saved.problem();
    return done;
}

int run(const Words& words) {
    const auto done = changed([&](Kept& kept) { return asked(kept, words); });
    if (!done) return complain(done.problem());
    fmt::print("{}", *done);
    return fine;
}

} // namespace

std::string today() {
    const std::chrono::year_month_day day(std::chrono::floor<std::chrono::days>(std::chrono::system_clock::now()));
    return fmt::format("{:04}-{:02}-{:02}", int(day.year()), unsigned(day.month()), unsigned(day.day()));
}

Result<std::string> keptProven(const job::Job& job, const shop::Proven& proven) {
    return changed([&](Kept& kept) { return proved(kept, job, proven); });
}

void addBook(Options& app, int& exit) {
    auto command = app.command("book", "The shop book: machines, tools, materials, recipes and house rules.\nExample: "
                                       "ferrograph-cli book copy tool end-6 name='End mill 6, long' fluteLength=30");
    auto words = std::make_shared<Words>();
    command.option("verb", *words, "what to do and with what").required();
    command.wordsAtTheEnd();
    command.footer("Things are machine, tool, material or board; KEY as “list” shows it.\n"
                   "  list [machines|tools|materials|boards|recipes|rules|cards]\n"
                   "  card KEY FILE; drop card KEY\n      a kept swatch card as a job; away with it\n"
                   "  show|drop|restore THING KEY\n      all of it; away with it; as it is shipped\n"
                   "  set|copy THING KEY [NAME=VALUE …]; add THING NAME [NAME=VALUE …]\n"
                   "  rest JOB [SHEET]\n      what is left of a sheet as a board of its own\n"
                   "  prove JOB STEP [NOTE]\n      a step's settings were tried on its material and found good\n"
                   "  keep JOB STEP [NAME]\n      a step of a job as a recipe\n"
                   "  forget MATERIAL N\n      proven settings, by the number that “show” has\n"
                   "  set recipe NAME SETTING=VALUE …; copy recipe NAME; rename recipe NAME OTHER; drop recipe NAME\n"
                   "  add rule [layers=cut*,holes] [role=outer edges] [above=40mm] [below=…] [recipes=…]\n"
                   "      a row of the house rules; without recipes it is not cut\n"
                   "  set rule ROW [layers=…] …; move rule ROW TO; drop rule ROW\n"
                   "  set arrival on|off\n      whether drawings get steps by the rules as they come in\n"
                   "  give FILE; take FILE [replace]\n      all of it in one file; another's beside one's own\n");
    command.run([words, &exit] { exit = run(*words); });
}

} // namespace ferro::cli

#pragma once

#include "base/disk.h"
#include "plan/step.h"

namespace ferro::plan {

/// A step as this shop does it, under a name. Of its numbers that the shop book has starting values for, those count
/// that were typed: the others are the book's for the tool and the material at hand.
struct Recipe {
    std::string name;
    Step step; ///< its rule, places of tabs and number mean nothing here
    friend bool operator==(const Recipe&, const Recipe&) = default;
};

/// A row of the house rules: outlines of some layers, of a role and size, and what is done with them.
struct HouseRule {
    Match match;
    std::vector<std::string> recipes; ///< by name; of those that the machine can do all; none: not cut
    friend bool operator==(const HouseRule&, const HouseRule&) = default;
};

/// How this shop does its work. The first row that an outline fits has it.
struct House {
    std::vector<Recipe> recipes;
    std::vector<HouseRule> rules;
    bool onArrival = false; ///< drawings that come into a job without steps get them by the rules at once
    friend bool operator==(const House&, const House&) = default;
};

[[nodiscard]] const Recipe* recipeNamed(const House& house, std::string_view name);
/// The recipe under its name, new or in place of the one that is there. Its name may not be empty or hold a comma.
[[nodiscard]] Result<House> withRecipe(const House& house, Recipe recipe);
/// Once more under a name of its own; answers that too.
[[nodiscard]] Result<std::pair<House, std::string>> withRecipeCopied(const House& house, std::string_view name);
/// Under another name, in the rules too.
[[nodiscard]] Result<House> withRecipeNamed(const House& house, std::string_view name, std::string_view other);
/// Refused while a rule asks for it.
[[nodiscard]] Result<House> withoutRecipe(const House& house, std::string_view name);

/// At `row`, behind all others from the last one on; what it asks for must be there.
[[nodiscard]] Result<House> withRule(const House& house, std::size_t row, const HouseRule& rule);
[[nodiscard]] Result<House> withRuleChanged(const House& house, std::size_t row, const HouseRule& rule);
[[nodiscard]] Result<House> withRuleMoved(const House& house, std::size_t row, std::size_t to);
[[nodiscard]] Result<House> withoutRule(const House& house, std::size_t row);

/// Whether an outline could fit both.
[[nodiscard]] bool mayMeet(const Match& a, const Match& b);
/// "layers cut*, outer edges, above 40 mm".
[[nodiscard]] std::string wordsFor(const Match& match);

/// JSON with "recipes" and "rules".
[[nodiscard]] Result<House> houseFromText(std::string_view json);
[[nodiscard]] std::string toText(const House& house);
/// `house.json` in the data folder; empty when there is none.
[[nodiscard]] Result<House> openHouse(Disk& disk);
[[nodiscard]] Result<void> saveHouse(Disk& disk, const House& house);

/// Pages out of a shop book, to hand on: things and ways together in one file.
struct Pages {
    shop::Book book;
    House house;
};
[[nodiscard]] Result<Pages> pagesFromText(std::string_view json);
[[nodiscard]] std::string toText(const Pages& pages);

/// Recipes and rules of another house behind those here. A recipe under a name that is taken by a different one gets a
/// name of its own, in its rules too; rows that are here already are left out.
struct HouseTaken {
    House house;
    std::size_t recipes = 0, rules = 0;
    std::vector<std::string> renamed;
};
[[nodiscard]] HouseTaken withHouse(const House& house, const House& other);

} // namespace ferro::plan

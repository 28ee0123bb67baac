#include "plan/house.h"
#include "plan/selection.h"
#include "support/failing_disk.h"

using namespace ferro;

namespace {

plan::Recipe recipe(const char* name, const char* kind) {
    plan::Step step;
    step.name = name;
    step.settings = plan::kindNamed(kind)->fresh();
    step.tool = "end-6";
    return {name, step};
}
plan::House twoRules() {
    auto house = *plan::withRecipe({}, recipe("Cut out", "outline"));
    house = *plan::withRecipe(house, recipe("Half deep", "scribe"));
    house = *plan::withRule(house, 0, {{{"cut*"}, plan::Role::any, 0, 40}, {}});
    return *plan::withRule(house, 1, {{{"cut*"}, plan::Role::any, 0, 0}, {"Cut out", "Half deep"}});
}

} // namespace

TEST_CASE("house rules: what a file says comes back, and is kept on disk") {
    const auto house = twoRules();
    const auto read = plan::houseFromText(plan::toText(house));
    INFO((read ? "" : read.problem().text()));
    REQUIRE(read);
    CHECK(*read == house);
    const test::OwnDataFolder data;
    CHECK(plan::openHouse(realDisk())->rules.empty());
    REQUIRE(plan::saveHouse(realDisk(), house));
    CHECK(*plan::openHouse(realDisk()) == house);
    {
        const test::OwnDataFolder other;
        std::filesystem::create_directories(userDataFolder() / "house.json"); // there, and not to be read
        CHECK_FALSE(plan::openHouse(realDisk()));
    }
    test::FailingDisk disk(0);
    CHECK_FALSE(plan::saveHouse(disk, {}));
    CHECK(*plan::openHouse(realDisk()) == house);
}

TEST_CASE("house rules: a rule asks for recipes that are there, a recipe in use stays, renaming follows") {
    const auto house = twoRules();
    CHECK_FALSE(plan::withRule(house, 0, {{}, {"Cut in"}}));
    CHECK_FALSE(plan::withRule(house, 0, {{{}, plan::Role::any, 50, 40}, {}}));
    CHECK_FALSE(plan::withRule(house, 0, {{{}, plan::Role::any, -1, 0}, {}}));
    const auto asked = plan::withoutRecipe(house, "Cut out");
    REQUIRE_FALSE(asked);
    CHECK(asked.problem().what.find("Row 2 ") != std::string::npos);
    CHECK_FALSE(plan::withRecipeNamed(house, "Cut out", "Half deep"));
    CHECK_FALSE(plan::withRecipe(house, recipe("", "outline")));
    CHECK_FALSE(plan::withRecipe(house, recipe("a, b", "outline")));
    const auto named = *plan::withRecipeNamed(house, "Cut out", "Through");
    CHECK(named.rules[1].recipes == std::vector<std::string>{"Through", "Half deep"});
    CHECK_FALSE(plan::recipeNamed(named, "Cut out"));
    const auto moved = *plan::withRuleMoved(house, 1, 0);
    CHECK(moved.rules[0] == house.rules[1]);
    CHECK(moved.rules[1] == house.rules[0]);
    CHECK_FALSE(plan::withRuleMoved(house, 2, 0));
    CHECK(plan::withoutRecipe(*plan::withoutRule(house, 1), "Cut out")->recipes.size() == 1);
    const auto changed = *plan::withRuleChanged(house, 0, {{{"gold"}, plan::Role::openings, 5, 0}, {"Half deep"}});
    CHECK((changed.rules[0].match.layers[0] == "gold" && changed.rules[0].recipes[0] == "Half deep"));
    CHECK(changed.rules[1] == house.rules[1]);
    CHECK_FALSE(plan::withRuleChanged(house, 2, {}));
    // What a step was in its job stays there: the recipe is on, takes nothing by itself and has no number.
    auto off = recipe("Off", "outline");
    off.step.enabled = false, off.step.id = {7}, off.step.rule.layers = {"cut"};
    const auto kept = plan::recipeNamed(*plan::withRecipe(house, off), "Off")->step;
    CHECK((kept.enabled && !kept.id && kept.rule.layers.empty()));
    const auto once = plan::withRecipeCopied(house, "Cut out");
    REQUIRE(once);
    CHECK(plan::withRecipeCopied(once->first, "Cut out")->second == "Cut out 3");
    CHECK_FALSE(plan::withRecipeCopied(house, "Cut in"));
}

TEST_CASE("house rules: faults of a file are told by their place, and nothing of it is taken") {
    for (const char* text :
         {"[]", R"({"recipes": 3})", R"({"rules": [{"recipes": ["none"]}]})",
          R"({"recipes": [{"name": "x", "step": {"kind": "fold", "id": 1, "name": "x"}}]})",
          R"({"rules": [{"role": "sideways"}]})", R"({"rules": [{"above": -2}]})", R"({"rows": []})"}) {
        const auto house = plan::houseFromText(text);
        CAPTURE(text);
        REQUIRE_FALSE(house);
        CHECK_FALSE(house.problem().mend.empty());
    }
}

TEST_CASE("house rules: another house is laid behind, twice the same adds nothing, names never clash") {
    const auto house = twoRules();
    const auto again = plan::withHouse(house, house);
    CHECK(again.house == house);
    CHECK(again.recipes + again.rules == 0);
    auto more = *plan::withRule(house, 2, {{{"gold"}, plan::Role::any, 0, 0}, {}});
    CHECK(plan::withHouse(house, more).rules == 1); // behind those that are here already
    auto other = *plan::withRecipe({}, recipe("Cut out", "clear"));
    other = *plan::withRule(other, 0, {{{"floor"}, plan::Role::any, 0, 0}, {"Cut out"}});
    const auto both = plan::withHouse(house, other);
    REQUIRE(both.renamed == std::vector<std::string>{"Cut out 2"});
    CHECK(both.house.rules.back().recipes == both.renamed);
    CHECK(plan::kindOf(plan::recipeNamed(both.house, "Cut out 2")->step).name == "clear");
    CHECK(plan::houseFromText(plan::toText(both.house)));
}

TEST_CASE("house rules: rows that may meet are known to, ones that cannot are known not to", "[property]") {
    // Every pair of rows against every outline that could tell them apart.
    std::vector<plan::Match> rows;
    for (const char* layer : {"", "cut", "cut*", "*s", "fold"})
        for (const auto role : {plan::Role::any, plan::Role::openings, plan::Role::outerEdges})
            for (const auto& [above, below] : {std::pair{0.0, 0.0}, {0.0, 40.0}, {50.0, 0.0}, {40.0, 60.0}})
                rows.push_back(
                    {*layer ? std::vector<std::string>{layer} : std::vector<std::string>{}, role, above, below});
    const auto meet = [](const char* a, const char* b) {
        return plan::mayMeet({{a}, plan::Role::any, 0, 0}, {{b}, plan::Role::any, 0, 0});
    };
    CHECK((meet("cut*", "cuts") && meet("c*", "*s") && meet("cut", "CUT")));
    CHECK_FALSE((meet("cut*", "fold") || meet("fold", "cut*") || meet("cut", "fold")));
    CHECK(plan::wordsFor({{"cut*", "holes"}, plan::Role::openings, 0.5, 40}) ==
          "cut*, holes, openings, above 0.5 mm, up to 40 mm");
    CHECK(plan::wordsFor({}) == "every layer");
    for (const auto& a : rows)
        for (const auto& b : rows) {
            bool both = false;
            for (const char* layer : {"cut", "cuts", "fold", "holes", "mark"})
                for (const auto role : {plan::Role::openings, plan::Role::outerEdges, plan::Role::openLines})
                    for (const double size : {10.0, 40.0, 45.0, 55.0, 80.0}) {
                        plan::Contour contour;
                        contour.layer = layer, contour.role = role, contour.size = size;
                        both |= plan::fits(a, contour) && plan::fits(b, contour);
                    }
            INFO(plan::wordsFor(a) << " | " << plan::wordsFor(b));
            CHECK((!both || plan::mayMeet(a, b)));
            CHECK(plan::mayMeet(a, b) == plan::mayMeet(b, a));
        }
}

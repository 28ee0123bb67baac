// House rules on whole jobs: who has which outline, by whom it is left out, and what cannot be done.
#include "job/from_book.h"
#include "job/house.h"
#include "job/job_file.h"
#include "job/sheets.h"
#include "plan/selection.h"
#include "support/jobs.h"

#include <random>

using namespace ferro;
using namespace ferro::test;

namespace {

shop::Book theBook() { return *shop::openBook(realDisk()); }
plan::House keeping(const job::Job& job, plan::House house, const char* name) {
    return *plan::withRecipe(house, *job::recipeOf(job, job.plan.steps.back().id, name));
}
job::Job inLayer(const job::Job& job, const Path& path, const char* layer) { return drawn(job, {{path, {}}}, layer); }

} // namespace

TEST_CASE("house rules: the first row that fits has an outline, by layer, role and size, and the rest is told") {
    auto teach = stepped(stepped(drawn(fresh(), {}), "outline", "end-6"), "scribe", "v-60");
    plan::House house = keeping(teach, {}, "Half deep");
    teach = set(stepped(teach, "outline", "end-6"), "depth", "0.5");
    house = keeping(teach, house, "Cut out");
    house = *plan::withRule(house, 0, {{{"guides"}, plan::Role::any, 0, 0}, {}});
    house = *plan::withRule(house, 1, {{{"cut*"}, plan::Role::outerEdges, 0, 40}, {"Half deep"}});
    house = *plan::withRule(house, 2, {{{"cut*"}, plan::Role::any, 0, 0}, {"Cut out"}});
    house = *plan::withRule(house, 3, {{{"gold"}, plan::Role::any, 0, 0}, {"Cut out"}});
    job::Job job = fresh();
    job = inLayer(job, rectangle({10, 10}, {110, 110}), "cuts");
    job = inLayer(job, rectangle({20, 20}, {40, 40}), "cuts"); // an opening, small: not of row 2
    job = inLayer(job, rectangle({150, 10}, {170, 30}), "cuts");
    job = inLayer(job, rectangle({150, 50}, {250, 150}), "guides");
    job = inLayer(job, rectangle({300, 50}, {350, 80}), "notes?");
    job = stepped(job, "clear", "end-6");
    const auto done = job::withHouseRules(job, house, theBook());
    INFO((done ? "" : done.problem().text()));
    REQUIRE(done);
    const auto& report = done->report;
    REQUIRE(done->job.plan.steps.size() == 2);
    CHECK(report.replaced == 1);
    CHECK(report.rows[0].outlines == 1);
    CHECK(report.rows[1].outlines == 1);
    CHECK(report.rows[2].outlines == 2);
    CHECK(report.rows[3].outlines == 0);
    REQUIRE(report.unmatched.size() == 1);
    CHECK(report.unmatched[0].layer == "notes?");
    REQUIRE(report.twice.size() == 1);
    CHECK((report.twice[0].first == 1 && report.twice[0].second == 2 && report.twice[0].outlines == 1));
    const auto lines = job::linesOf(report, house);
    CHECK(lines == std::vector<std::string>{"2 steps by the house rules, in place of 1",
                                            "Row 1 (guides): 1 outline, not cut",
                                            "Row 2 (cut*, outer edges, up to 40 mm): 1 outline, Half deep",
                                            "Row 3 (cut*): 2 outlines, Cut out", "Row 4 (gold) fits nothing here",
                                            "No row fits 1 outline on “notes?”: not cut",
                                            "Rows 2 and 3 both fit 1 outline on “cuts”; row 2 has it"});
    const auto pieces = plan::piecesOf(done->job.plan, *done->job.artwork, done->job.tools);
    REQUIRE(pieces.taken.size() == 2);
    CHECK(pieces.taken[0].size() == 1);
    CHECK(pieces.taken[1].size() == 2);
    // The drawing changes and the rules still hold; in files too.
    const auto more = inLayer(done->job, rectangle({400, 10}, {410, 20}), "cuts");
    const auto back = job::jobFromJson(job::jsonOf(more), {});
    REQUIRE(back);
    CHECK(back->plan == more.plan);
    CHECK(plan::piecesOf(back->plan, *back->artwork, back->tools).taken[0].size() == 2);
}

TEST_CASE("house rules: whatever rows and outlines, each outline is taken by the steps of one row at most",
          "[property]") {
    auto teach = stepped(fresh(), "outline", "end-6");
    plan::House recipes = keeping(teach, {}, "a");
    recipes = keeping(teach, recipes, "b");
    std::mt19937 random(7);
    const auto pick = [&](auto list) { return list[random() % list.size()]; };
    for (int round = 0; round < 60; ++round) {
        plan::House house = recipes;
        for (int row = 0; row < 4; ++row) {
            plan::HouseRule rule;
            if (random() % 4) rule.match.layers = {pick(std::vector{"cut", "c*", "fold", "*"})};
            rule.match.role =
                pick(std::vector{plan::Role::any, plan::Role::any, plan::Role::openings, plan::Role::outerEdges});
            if (random() % 2) rule.match.above = pick(std::vector{5.0, 20.0});
            if (random() % 2) rule.match.below = pick(std::vector{20.0, 60.0});
            if (random() % 4) rule.recipes = {pick(std::vector<std::string>{"a", "b"})};
            house = *plan::withRule(house, 0, rule);
        }
        job::Job job = fresh();
        for (int i = 0; i < 8; ++i) {
            const double size = pick(std::vector{4.0, 20.0, 30.0, 80.0}), x = 5 + 60.0 * (i % 4),
                         y = 5 + 90.0 * (i / 4);
            job = inLayer(job, rectangle({x, y}, {x + size, y + size}), pick(std::vector{"cut", "crease", "fold"}));
            if (random() % 2) job = inLayer(job, circle({x + size / 2, y + size / 2}, size / 4), "cut");
        }
        const auto done = job::withHouseRules(job, house, theBook());
        if (!done) continue; // no row with a recipe
        const auto pieces = plan::piecesOf(done->job.plan, *done->job.artwork, done->job.tools);
        std::vector<int> times(pieces.contours.size());
        for (std::size_t s = 0; s < pieces.taken.size(); ++s)
            for (const auto c : pieces.taken[s]) ++times[c];
        std::size_t taken = 0, unmatched = 0;
        for (std::size_t c = 0; c < times.size(); ++c) {
            const auto row = std::find_if(house.rules.begin(), house.rules.end(),
                                          [&](const auto& rule) { return plan::fits(rule.match, pieces.contours[c]); });
            const bool wanted = row != house.rules.end() && !row->recipes.empty();
            INFO("round " << round << ", outline " << c);
            CHECK(times[c] == wanted);
            taken += wanted, unmatched += row == house.rules.end();
        }
        std::size_t told = 0, left = 0;
        for (std::size_t r = 0; r < house.rules.size(); ++r)
            if (!house.rules[r].recipes.empty()) told += done->report.rows[r].outlines;
        for (const auto& some : done->report.unmatched) left += some.outlines;
        CHECK(told == taken);
        CHECK(left == unmatched);
    }
}

TEST_CASE(
    "house rules: a recipe keeps what was typed, the book says the rest, other machines and lost tools are told") {
    auto teach = set(stepped(fresh(), "outline", "end-3"), "depthPerPass", "1.1");
    const auto recipe = *job::recipeOf(teach, teach.plan.steps[0].id, "Fine");
    plan::House house = *plan::withRecipe({}, recipe);
    house = *plan::withRule(house, 0, {{}, {"Fine"}});
    auto job = inLayer(fresh("mill-600", "acrylic"), rectangle({10, 10}, {60, 60}), "cut");
    const auto done = job::withHouseRules(job, house, theBook());
    REQUIRE(done);
    const auto& step = done->job.plan.steps[0];
    CHECK(plan::depthIn(step)->perPass == 1.1);
    const auto start = shop::startFor(*theBook().tool("end-3"), job.material, job.machine, shop::Work::cut, 12);
    CHECK(plan::ratesIn(step)->feed == start.feed);
    CHECK(start.feed != plan::ratesIn(recipe.step)->feed);

    auto beam = inLayer(fresh("laser-700", "black-card"), rectangle({10, 10}, {60, 60}), "cut");
    const auto refused = job::withHouseRules(beam, house, theBook());
    REQUIRE_FALSE(refused);
    CHECK(refused.problem().what.find("cannot hold") != std::string::npos);
    // Of a row with a recipe for each machine, the one that fits is taken without a word.
    const auto burnt = stepped(beam, "outline");
    house = keeping(burnt, house, "Burn");
    house.rules[0].recipes = {"Fine", "Burn"};
    const auto lit = job::withHouseRules(beam, house, theBook());
    REQUIRE(lit);
    CHECK(lit->report.rows[0].trouble.empty());
    CHECK(lit->job.plan.steps.size() == 1);

    auto half = *plan::withRule(house, 0, {{{"cut"}, plan::Role::openings, 0, 0}, {"Fine"}}); // none for this machine
    const auto some = job::withHouseRules(beam, half, theBook());
    REQUIRE(some);
    CHECK(job::linesOf(some->report, half)[1] == "Row 1 (cut, openings) fits nothing here");
    half = *plan::withRule(house, 0, {{{"cut"}, plan::Role::any, 0, 0}, {"Fine"}});
    const auto none = job::withHouseRules(beam, half, theBook());
    REQUIRE(none);
    CHECK(job::linesOf(none->report, half)[1].find("Row 1 (cut): 1 outline, NOT DONE: ") == 0);
    CHECK(none->job.plan.steps.empty());

    auto lost = house;
    lost.recipes[0].step.tool = "end-99";
    lost.rules[0].recipes = {"Fine"};
    CHECK(job::withHouseRules(job, lost, theBook()).problem().what.find("end-99") != std::string::npos);
    job.tools.clear(); // not in the job, but in the book
    CHECK(job::withHouseRules(job, *plan::withRule(house, 0, {{}, {"Fine"}}), theBook())->job.tools.size() == 1);
    CHECK(job::withStepByRecipe(job, recipe, theBook())->plan.steps.size() == 1);
    CHECK_FALSE(job::withHouseRules(job, {}, theBook()));
}

TEST_CASE("shop book: a job keeps what it was made with until it takes over what is in the book") {
    auto job = set(stepped(fresh(), "outline", "end-6"), "feed", "900 mm");
    auto book = theBook();
    CHECK(job::changesFrom(job, book).empty());
    for (auto& tool : book.tools)
        if (tool.key == "end-6") tool.flutes = 3, tool.fluteLength = 30;
    for (auto& material : book.materials) material.surfaceSpeed *= 1.5;
    book.machines.erase(book.machines.begin() + 1, book.machines.end());
    book.tools.push_back(book.tools[0]);
    book.tools.back().key = "own";
    const auto changes = job::changesFrom(job, book);
    REQUIRE(changes.size() == 4);
    CHECK(changes[0].setting == "surfaceSpeed");
    CHECK(changes[1].setting == "fluteLength");
    CHECK((changes[1].here == "22 mm" && changes[1].book == "30 mm"));
    CHECK(changes[3].setting.empty());
    const auto taken = job::withShopBook(job, book);
    CHECK(job::changesFrom(taken, book).empty());
    CHECK(plan::ratesIn(taken.plan.steps[0])->feed == 900); // typed
    CHECK(plan::ratesIn(taken.plan.steps[0])->spindle != plan::ratesIn(job.plan.steps[0])->spindle);
    CHECK(taken.tools.size() == job.tools.size() + 1);
    // Sheets of another material too, each by its own.
    auto sheets = with(job, job::withSheetAdded(job));
    sheets = job::withMaterial(sheets, *theBook().material("poplar"));
    REQUIRE(sheets.sheets[1].material);
    const auto both = job::withShopBook(sheets, book);
    REQUIRE(both.sheets[1].material);
    CHECK(*both.sheets[1].material == *book.material("poplar"));
    CHECK(both.material == *book.material("birch-ply"));
    CHECK(job::changesFrom(sheets, book).size() == changes.size() + 1);
}

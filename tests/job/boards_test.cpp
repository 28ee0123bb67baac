// Blanks of any outline, boards on the shelf, and what is left of a sheet.
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "job/boards.h"
#include "job/by_hand.h"
#include "job/job_file.h"
#include "support/laid.h"

using namespace ferro;
using namespace ferro::test;

namespace {
/// An L, 300 by 200, its arms 100 and 80 wide, with a hole.
Piece ell() {
    return {pathOf({{0, 0}, {300, 0}, {300, 80}, {100, 80}, {100, 200}, {0, 200}}, true),
            {wound(circle({250, 40}, 20), false)}};
}
shop::Book withBoards(std::vector<shop::Board> boards) {
    auto all = book();
    all.boards = std::move(boards);
    return all;
}
} // namespace

TEST_CASE("blank: a drawn outline becomes the sheet's, what lies on it stays where it is, and files keep it") {
    auto job = drawn(fresh(), {transformed(ell(), Transform::moved({40, 30}))}, "blank", "scrap");
    job = drawn(job, {{rectangle({60, 50}, {100, 90}), {}}});
    const auto part = job.artwork->items[1].id;
    const auto blank = with(job, job::withBlankOf(job, job.artwork->items[0].id));
    CHECK(blank.artwork->items.size() == 1);
    CHECK(blank.sheet().stock.width == 300);
    CHECK(blank.sheet().stock.height == 200);
    CHECK(artwork::boundsOf(*artwork::find(*blank.artwork, part)).low == Vec2{20, 20});
    CHECK(job::blankOf(blank.sheet().stock) == ell());
    const auto file = std::filesystem::temp_directory_path() / "ferro-blank.ferro";
    REQUIRE(job::save(realDisk(), blank, file));
    const auto back = job::load(realDisk(), file);
    std::filesystem::remove(file);
    INFO((back ? "" : back.problem().text()));
    REQUIRE(back);
    CHECK(*back == blank);
    // Its size is the outline's; as a rectangle it is free again.
    auto wider = blank.sheet().stock;
    wider.width = 400;
    CHECK(job::withStock(blank, wider).problem().what.find("outline of its own") != std::string::npos);
    CHECK_FALSE(with(blank, job::withBlank(blank, std::nullopt)).sheet().stock.outline);
    for (const auto& bad :
         {Piece{pathOf({{0, 0}, {50, 0}, {50, 50}}, false), {}},
          Piece{pathOf({{0, 0}, {50, 50}, {50, 0}, {0, 50}}, true), {}}, Piece{rectangle({0, 0}, {0.5, 0.5}), {}}})
        CHECK_FALSE(job::withBlank(job, bad));
    // By hand nothing goes where there is no wood: into the notch of the L, or over its hole.
    const job::ByHand hand(blank, {part}, 0, 0);
    CHECK(hand.hit(Transform::moved({0, 100})).none());
    CHECK(hand.hit(Transform::moved({100, 60})).beyond);
    CHECK(hand.hit(Transform::moved({200, 0})).beyond);
    CHECK(distance(hand.pushed({}, {100, 100}), {40, 100}) < 0.01); // up along the notch
}

TEST_CASE("blank: parts are laid on what there is, by the exact check, and proofs know where there is nothing",
          "[property]") {
    auto job = with(fresh(), job::withBlank(fresh(), ell()));
    std::vector<Piece> parts;
    for (int i = 0; i < 6; ++i) parts.push_back({rectangle({0, 0}, {70.0 - i * 6, 30.0 + i * 2}), {}});
    job = drawn(job, parts);
    auto wish = job::usualLayingOut(job);
    wish.how.spacing = 2, wish.how.margin = 3, wish.how.effort = 200'000;
    wish.mayAddSheets = false;
    const auto out = laid(job, wish);
    CHECK(out.leftCount == 0);
    const auto rings = Rings{{{0, 0}, {300, 0}, {300, 80}, {100, 80}, {100, 200}, {0, 200}}};
    for (const auto& item : out.job.artwork->items) {
        const Box box = artwork::boundsOf(item);
        for (const Vec2 p : {box.low, box.high, Vec2{box.low.x, box.high.y}, Vec2{box.high.x, box.low.y}}) {
            CHECK(contains(rings, p));
            CHECK(distance(p, {250, 40}) > 20);
        }
    }
}

TEST_CASE(
    "boards: a sheet is cut from the shelf, sheets are added from it, off-cuts first, and no more than there are") {
    shop::Board large{"large", "Birch large", "birch-ply", 600, 400, 6, 2, 0, {}},
        small{"small", "Birch small", "birch-ply", 300, 200, 6, 1, 0, {}},
        cut{"cut", "Birch rest", "birch-ply", 300, 200, 6, 1, 0, toText(ell().outline)},
        other{"other", "Poplar", "poplar", 900, 600, 6, 9, 0, {}},
        none{"none", "Gone", "birch-ply", 900, 900, 6, 0, 0, {}};
    const auto shelf = withBoards({large, small, cut, other, none});
    const auto fit = job::boardsFor(shelf, "birch-ply", 6.2);
    REQUIRE(fit.size() == 3);
    CHECK((fit[0].key == "cut" && fit[1].key == "small" && fit[2].key == "large"));
    CHECK(job::boardsFor(shelf, "birch-ply", 9).empty());
    const auto job = with(fresh(), job::withBoard(fresh("mill-600", "poplar"), shelf, "cut"));
    CHECK(job.sheet().stock.outline);
    CHECK(job::materialOf(job).key == "birch-ply");
    CHECK(job.sheet().board == "cut");
    CHECK_FALSE(job::withBoard(job, shelf, "none"));
    CHECK_FALSE(job::withBoard(job, shelf, "no-such"));
    auto bent = shelf;
    bent.boards[2].outline = "M 0 0 L 5";
    CHECK(job::withBoard(job, bent, "cut").problem().what.find("Birch rest") != std::string::npos);
    // Measured anew it is the same board, of another size it is not.
    auto stock = job.sheet().stock;
    stock.thickness = 6.2;
    CHECK(with(job, job::withStock(job, stock)).sheet().board == "cut");
    // Ten squares of 90: one on the rest, then the small one, then a large one; the second large one stays.
    auto many = with(fresh(), job::withStock(fresh(), {.width = 95, .height = 95, .thickness = 6}));
    for (int i = 0; i < 10; ++i) many = drawn(many, {{rectangle({0, 0}, {90, 90}), {}}});
    auto wish = job::usualLayingOut(many);
    wish.how = {.spacing = 2, .margin = 2, .effort = 100'000};
    wish.book = shelf;
    const auto out = laid(many, wish);
    CHECK(out.leftCount == 0);
    std::vector<std::string> taken;
    for (const auto& sheet : out.job.sheets) taken.push_back(sheet.board);
    CHECK(taken.size() == out.sheets);
    CHECK(std::count(taken.begin(), taken.end(), "cut") == 1);
    CHECK(std::count(taken.begin(), taken.end(), "small") == 1);
    CHECK(std::count(taken.begin(), taken.end(), "large") <= 2);
    // More than the shelf has is left, and told.
    for (int i = 0; i < 80; ++i) many = drawn(many, {{rectangle({0, 0}, {90, 90}), {}}});
    const auto tooMany = laid(many, wish);
    CHECK(tooMany.leftCount > 0);
    CHECK(tooMany.sheets <= 5);
}

TEST_CASE("boards: the rest of a sheet is what is left standing, and can be laid on again", "[property]") {
    auto job = drawn(fresh(), {{rectangle({10, 10}, {290, 390}), {}}, {test::curvedBlob(4, {430, 300}, 80), {}}});
    job = stepped(job, "outline", "end-6");
    const auto rest = job::restOf(job);
    INFO((rest ? "" : rest.problem().text()));
    REQUIRE(rest);
    const auto stock = job::stockOf(rest->board, job.sheet().stock);
    REQUIRE(stock);
    CHECK(rest->board.material == "birch-ply");
    CHECK(rest->board.thickness == job.sheet().stock.thickness);
    // Place by place against the parts: none of it within a tool's width of one, all else of the sheet is there.
    REQUIRE(stock->outline);
    const Vec2 low = Vec2{600, 400} - Vec2{stock->width, stock->height}; // it reaches to the sheet's far corner
    const auto there = flattened(*stock->outline, 0.01);
    std::mt19937 random(5);
    std::uniform_real_distribution<double> x(0, 600), y(0, 400);
    const auto blob = flattened(test::curvedBlob(4, {430, 300}, 80), 0.01);
    double wrong = 0;
    for (int i = 0; i < 4000; ++i) {
        const Vec2 p{x(random), y(random)};
        double apart = contains({blob}, p) ? 0 : 1e9;
        for (std::size_t k = 0; k < blob.size(); ++k)
            apart = std::min(apart, distanceToLine(p, blob[k], blob[(k + 1) % blob.size()]));
        const Vec2 q{std::clamp(p.x, 10.0, 290.0), std::clamp(p.y, 10.0, 390.0)};
        apart = std::min(apart, distance(p, q));
        if (std::abs(apart - 6) < 0.2) continue;
        const bool free = apart > 6 && p.x > 290; // the slivers round the first are bits of their own, or joined
        const bool held = contains(there, p - low);
        if (apart < 6) wrong += held;
        if (free) wrong += !held;
    }
    CHECK(wrong == 0);
    double area = std::abs(areaOf(stock->outline->outline));
    for (const auto& opening : stock->outline->openings) area -= std::abs(areaOf(opening));
    CHECK(rest->area == Approx(area).epsilon(1e-4));
    CHECK(rest->otherAreas < 0.05 * area);
    CHECK(with(job, job::withBlank(fresh(), stock->outline)).sheet().stock.width == Approx(stock->width));
    const auto full = drawn(fresh(), {{rectangle({0, 0}, {600, 400}), {}}});
    CHECK(job::restOf(full).problem().what.find("Nothing") == 0);
    // The shelf has it under a key of its own, counted, and one less of it when it was used.
    const auto shelves = *shop::openShelves(realDisk());
    const auto once = *shop::withBoardLaid(shelves, rest->board);
    const auto twice = *shop::withBoardLaid(once.first, rest->board);
    CHECK(once.second != twice.second);
    const auto less = shop::withBoardUsed(twice.first, once.second);
    REQUIRE(less);
    CHECK_FALSE(shop::withBoardUsed(*less, once.second));
    CHECK_FALSE(shop::withBoardUsed(shelves, "no-such"));
}

TEST_CASE("boards: as many are gone from the shelf as a run has cut up, and never more than there were") {
    const auto shelves = shop::withBoardLaid({}, {"", "Birch 90", "birch-ply", 90, 90, 6, 5, 0, {}});
    REQUIRE(shelves);
    const auto& [laid, key] = *shelves;
    const auto left = [&](const std::optional<shop::Shelves>& after) {
        REQUIRE(after);
        return after->onHand().boards.front().count;
    };
    CHECK(left(shop::withBoardUsed(laid, key)) == 4);
    CHECK(left(shop::withBoardUsed(laid, key, 4)) == 1);
    const auto none = shop::withBoardUsed(laid, key, 6);
    CHECK(left(none) == 0);
    CHECK_FALSE(shop::withBoardUsed(*none, key));
    CHECK_FALSE(shop::withBoardUsed(laid, "another"));
}

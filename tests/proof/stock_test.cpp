#include "proof/burn.h"
#include "proof/look.h"
#include "support/proofs.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

const proof::Finding* cleared(const job::Job& job, proof::Proof& kept) {
    kept = proofOf(job);
    for (const auto& f : kept.findings)
        if (f.what.find("taken to be cleared") != std::string::npos) return &f;
    return nullptr;
}
/// A line cut on with a 6 mm mill from 3 mm down, after the same line by another tool to 3 mm, or by none.
job::Job onceMore(const char* before) {
    auto job = drawn(fresh(), {{pathOf(ring("80,80 200,80"), false), {}}}, "line");
    const auto slot = [](const job::Job& j, const char* tool) {
        auto step = set(set(stepped(j, "outline", tool), "role", "open lines"), "side", "on line");
        return set(set(set(step, "through", "to depth"), "hold", "none"), "lead", "0");
    };
    if (before) job = set(slot(job, before), "depth", "3");
    job = set(set(slot(job, "end-6"), "depth", "6"), "startDepth", "3");
    return job::withOrder(job, plan::Order::byHand);
}

} // namespace

TEST_CASE("start depth: what stands where it was taken to be cleared is a no-go, at its height and place", "[safety]") {
    proof::Proof kept;
    const auto* bare = cleared(onceMore(nullptr), kept);
    REQUIRE(bare);
    CHECK(bare->verdict == Verdict::noGo);
    CHECK(bare->what.find("but 3 mm of stock") != std::string::npos);
    REQUIRE(bare->at);
    CHECK(std::abs(bare->at->y - 80) <= 3);
    REQUIRE(bare->fix);
    CHECK_FALSE(cleared(*bare->fix->apply(onceMore(nullptr)), kept));
    // A slot half as wide leaves a wall on either side in the wide tool's way.
    const auto* narrow = cleared(onceMore("end-3"), kept);
    REQUIRE(narrow);
    REQUIRE(narrow->at);
    CHECK(std::abs(narrow->at->y - 80) == Approx(2.2).margin(0.8));
    CHECK_FALSE(cleared(onceMore("end-6"), kept));
}

TEST_CASE("reach: where a program's moves go that are no rapids, and how low, and its findings begin with the line") {
    toolpath::Toolpath path;
    path.start = {-50, -50, 20};
    path.steps.push_back({.step = {},
                          .name = "x",
                          .tool = *book().tool("end-6"),
                          .note = {},
                          .moves = {},
                          .runs = {},
                          .waits = {},
                          .cuts = {}});
    auto& moves = path.steps[0].moves;
    moves = {Move::rapid({10, 20, 20}),     Move::line({10, 20, -4}, 300),
             Move::line({60, 20, -2}, 900), Move::arc({60, 60, -2}, {60, 40}, true, 900),
             Move::line({60, 60, 20}, 900), Move::rapid({90, 90, -3})};
    const auto [box, lowest] = proof::reachOf(path);
    CHECK(box.low == Vec2{10, 20});
    CHECK(box.high.x == Approx(80)); // the arc bulges
    CHECK(box.high.y == Approx(60));
    CHECK(lowest == -4);
    Progress progress;
    auto job = fresh();
    const auto proof = proof::proofOfMoves(job, path, {{11, 12, 13, 14, 15, 77}}, progress);
    REQUIRE(proof);
    CHECK_FALSE(proof->mayRun());
    CHECK(std::any_of(proof->findings.begin(), proof->findings.end(),
                      [](const auto& f) { return f.verdict == Verdict::noGo && f.what.starts_with("Line 77: "); }));
    CHECK(proof->lowest == -4);
    toolpath::Toolpath still;
    CHECK_FALSE(proof::proofOfMoves(job, still, {}, progress));
}

TEST_CASE("timing: a mill's way out to travel height counts, a beam's head stays where it is") {
    auto plate = stepped(drawn(fresh(), {{circle({60, 60}, 20), {}}}), "outline", "end-6");
    CHECK(proofOf(plate).timing.wayOut > 0.05);
    const auto card = stepped(drawn(fresh("laser-700", "poplar"), {{circle({60, 60}, 20), {}}}), "outline", "beam");
    CHECK(proofOf(card).timing.wayOut == 0);
    // From a zero on the table it is the thickness farther.
    auto stock = plate.sheet().stock;
    stock.zeroAt = job::ZeroHeight::bottom;
    CHECK(proofOf(with(plate, job::withStock(plate, stock))).timing.wayOut > proofOf(plate).timing.wayOut + 0.05);
}

TEST_CASE("lit: lit from the upper left, darker with depth, charred by a beam, and open where nothing is left") {
    auto grid = proof::HeightGrid::over({{0, 0}, {40, 20}}, 1);
    std::fill(grid.heights.begin(), grid.heights.end(), 0.F);
    const auto height = [&](int c, int r) -> float& {
        return grid.heights[static_cast<std::size_t>(r) * static_cast<std::size_t>(grid.columns) +
                            static_cast<std::size_t>(c)];
    };
    for (int r = 0; r < 20; ++r)
        for (int c = 0; c < 40; ++c) {
            if (c >= 10 && c < 15) height(c, r) = -3; // a floor
            if (c >= 30) height(c, r) = -12;          // through
        }
    proof::Look look;
    look.grain = false;
    const auto red = [&](const proof::Lit& picture, int c, int r) {
        return int(picture.rgb[(static_cast<std::size_t>(grid.rows - 1 - r) * static_cast<std::size_t>(grid.columns) +
                                static_cast<std::size_t>(c)) *
                               3]);
    };
    const auto wood = proof::lit(grid, 12, look);
    CHECK(red(wood, 4, 10) == look.stock[0]);
    CHECK(red(wood, 36, 10) == look.through[0]);
    CHECK(red(wood, 12, 10) < look.stock[0]);
    CHECK(red(wood, 12, 10) > look.stock[0] / 2);
    // The wall that looks to the left is in the light, the one that looks to the right in the shade.
    CHECK(red(wood, 14, 10) > red(wood, 12, 10));
    CHECK(red(wood, 10, 10) < red(wood, 12, 10));
    look.beam = true;
    CHECK(red(proof::lit(grid, 12, look), 12, 10) < red(wood, 12, 10) - 20);
    look.beam = false;
    look.grain = true;
    const auto grained = proof::lit(grid, 12, look);
    int differs = 0;
    for (int r = 0; r < 20; ++r) {
        differs += red(grained, 4, r) != look.stock[0];
        CHECK(std::abs(red(grained, 4, r) - look.stock[0]) <= 0.04 * look.stock[0]);
    }
    CHECK(differs > 10);
    // Up and down: a slope that looks upwards on the sheet is in the light too.
    std::fill(grid.heights.begin(), grid.heights.end(), 0.F);
    for (int r = 0; r < 20; ++r)
        for (int c = 0; c < 40; ++c) height(c, r) = static_cast<float>(-0.3 * std::abs(r - 10)) - 1;
    const auto roof = proof::lit(grid, 12, look);
    CHECK(red(roof, 20, 15) > red(roof, 20, 5));
}

TEST_CASE("surface: what a beam scores is as deep as its power and speed say, and never a gap") {
    auto job = test::drawn(test::fresh("laser-700", "poplar"), {{rectangle({20, 20}, {60, 60}), {}}}, "cut");
    job = test::drawn(job, {{pathOf(test::ring("25,30 55,30"), false), {}}}, "faint");
    job = test::drawn(job, {{pathOf(test::ring("25,50 55,50"), false), {}}}, "strong");
    job = test::set(test::stepped(job, "outline"), "layers", "cut");
    const auto& through = job.plan.steps.back();
    const double feed = test::numberOf(through, "feed"), power = test::numberOf(through, "power");
    const auto score = [&](const char* layer, double part) {
        job = test::set(test::stepped(job, "scribe"), "layers", layer);
        job = test::set(test::set(job, "feed", fmt::format("{}", feed)), "power", fmt::format("{}", power * part));
    };
    score("faint", 0.2);
    score("strong", 0.8);
    const auto path = test::proofOf(job).path;
    const double thickness = job.sheet().stock.thickness;
    const auto strokes = proof::strokesOf(path, thickness, 0.01);
    const auto depthAt = [&](Vec2 p) {
        double lowest = 0;
        for (const auto& s : strokes.list)
            if (distanceBetween(s.from, s.to, p, p) < 0.2) lowest = std::min(lowest, double(s.z));
        return -lowest / thickness;
    };
    CHECK(depthAt({40, 30}) == Approx(0.75 * 0.2).margin(0.01));
    CHECK(depthAt({40, 50}) == Approx(0.75 * 0.8).margin(0.01));
    CHECK(depthAt({20, 40}) == Approx(1));
    const proof::Burn burn(path);
    for (std::size_t s = 0; s < path.steps.size(); ++s)
        for (const auto& cut : path.steps[s].cuts)
            if (!cut.intent.through)
                for (std::size_t i = cut.first; i < cut.end; ++i) CHECK(burn.share(s, i, 1) <= 0.75);
}

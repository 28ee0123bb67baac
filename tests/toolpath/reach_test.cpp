// What a tool does not get to, against formulas for corners and against discs on a grid.
#include "support/toolpaths.h"
#include "toolpath/reach.h"

using namespace ferro;
using namespace ferro::test;

namespace {

toolpath::Reach reached(const job::Job& job, std::vector<plan::StepId> steps = {},
                        const std::vector<artwork::ItemId>& touching = {}) {
    if (steps.empty()) steps = {lastStep(job)};
    Progress progress;
    auto reach = toolpath::reachOf(job, steps, progress, touching);
    INFO((reach ? "" : reach.problem().text()));
    REQUIRE(reach);
    return *reach;
}
job::Job cleared(const std::vector<Piece>& pieces, const char* tool = "end-6") {
    return set(stepped(drawn(fresh(), pieces), "clear", tool), "depth", "3");
}
constexpr double cornerSquare(double r) { return (1 - pi / 4) * r * r; }
double cornerDisc(double r) { return 2 * r * (std::sqrt(2.0) - 1) / (std::sqrt(2.0) + 1); }

/// Whether a disc has room over a place, looked for finely: where the coarse grid has no middle in a neck.
bool fits(const Rings& rings, Vec2 p, double radius) {
    for (double x = -radius - 0.02; x <= radius + 0.02; x += 0.03)
        for (double y = -radius - 0.02; y <= radius + 0.02; y += 0.03)
            if (std::hypot(x, y) <= radius + 0.02 && room(rings, p + Vec2{x, y}) >= radius - 0.01) return true;
    return false;
}

} // namespace

TEST_CASE("reach: the corners of a square, by formula") {
    const auto job = cleared({{rectangle({50, 50}, {90, 90}), {}}});
    const auto reach = reached(job);
    REQUIRE(reach.places.size() == 4);
    CHECK(std::abs(reach.square - 4 * cornerSquare(3)) < 0.02);
    CHECK(std::abs(reach.thickest - cornerDisc(3)) < 0.01);
    for (const auto& place : reach.places) {
        CHECK(room({{{50, 50}, {90, 50}, {90, 90}, {50, 90}}}, place.at) == Approx(cornerDisc(3) / 2).margin(0.01));
        CHECK(place.of == std::vector<artwork::ItemId>{job.artwork->items[0].id});
    }
    CHECK(reached(cleared({{circle({70, 70}, 20), {}}})).places.empty()); // offsets leave slivers that are none
    CHECK(reached(set(job, "allowance", "1")).thickest == Approx(cornerDisc(3)).margin(0.01));
}

TEST_CASE("reach: an outline outside leaves inner corners of the part, an opening that is too narrow stays whole") {
    // An L: one corner that turns inward.
    const Path ell = wound(pathOf(ring("50,50 110,50 110,80 80,80 80,110 50,110"), true), true);
    auto job = stepped(drawn(fresh(), {{ell, {wound(rectangle({60, 60}, {64, 70}), false)}}}), "outline", "end-6");
    const auto reach = reached(job);
    REQUIRE(reach.places.size() == 2);
    CHECK(reach.places[0].thickest == Approx(4).margin(0.02)); // the opening
    CHECK(reach.places[0].square == Approx(40).margin(0.05));
    CHECK(reach.places[1].thickest == Approx(cornerDisc(3)).margin(0.01));
    CHECK(distance(reach.places[1].at, {80, 80}) < 2);
    CHECK(reached(set(job, "side", "on line")).places.empty());
    const auto card = drawn(fresh("laser-700", "black-card"), {{ell, {}}});
    CHECK(reached(stepped(card, "outline")).places.empty()); // a beam gets everywhere, as far as eyes can tell
}

TEST_CASE("reach: a ring that is too narrow is one place, what it goes round not counted") {
    const auto reach = reached(cleared({{circle({70, 70}, 20), {wound(circle({70, 70}, 18), false)}}}));
    REQUIRE(reach.places.size() == 1);
    CHECK(reach.square == Approx(pi * (400 - 324)).epsilon(0.001));
    CHECK(reach.thickest == Approx(2).margin(0.02));
    CHECK(std::abs(distance(reach.places[0].at, {70, 70}) - 19) < 0.05);
}

TEST_CASE("reach: what a later tool gets to does not count against the first") {
    auto job = cleared({{rectangle({50, 50}, {90, 90}), {wound(circle({66, 70}, 12.4), false)}}});
    const auto alone = reached(job).square;
    const auto both = with(job, job::withStepTools(job, lastStep(job), {"end-6", "end-3"}));
    REQUIRE(both.plan.steps.size() == 2);
    CHECK(plan::as<plan::Clear>(both.plan.steps[1])->rest);
    const auto left = reached(both, {both.plan.steps[0].id, both.plan.steps[1].id});
    CHECK(left.square < alone / 3);
    CHECK(left.square == Approx(reached(both, {both.plan.steps[1].id}).square).margin(0.05));
    CHECK(reached(both, {both.plan.steps[0].id}).square == Approx(alone));
    // Named again, the second step is made anew and not once more.
    CHECK(with(both, job::withStepTools(both, both.plan.steps[0].id, {"end-6", "end-3"})).plan.steps.size() == 2);
    CHECK(with(both, job::withStepTools(both, both.plan.steps[0].id, {"end-3"})).plan.steps.size() == 1);
    CHECK_FALSE(job::withStepTools(job, lastStep(job), {"end-3", "end-6"}));
    CHECK_FALSE(job::withStepTools(stepped(job, "outline"), {99}, {"end-3"}));
}

TEST_CASE("reach: as discs on a grid have it, whatever the area", "[property]") {
    for (unsigned seed = 1; seed <= 6; ++seed) {
        const Path outer =
            wound(seed % 2 ? curvedBlob(seed, {100, 100}, 40) : pathOf(blob(seed, {100, 100}, 40), true), true);
        const std::vector<Piece> area{{outer, {wound(circle({100, 100}, 7), false)}}};
        const Rings rings = ringsOf(area);
        const auto reach = reached(cleared(area));
        constexpr double cell = 0.4, radius = 3;
        constexpr int across = 200;
        std::vector<char> middles(across * across); // where a disc has room
        for (int i = 0; i < across; ++i)
            for (int j = 0; j < across; ++j)
                middles[i * across + j] = room(rings, {60 + i * cell, 60 + j * cell}) >= radius;
        double wrong = 0;
        for (double x = 60.1; x < 140; x += cell)
            for (double y = 60.1; y < 140; y += cell) {
                const Vec2 p{x, y};
                if (room(rings, p) <= 0.05) continue;
                double nearest = 1e9; // or farther than counts
                const int reaches = 10, column = static_cast<int>((x - 60) / cell),
                          line = static_cast<int>((y - 60) / cell);
                for (int i = std::max(0, column - reaches); i < std::min(across, column + reaches); ++i)
                    for (int j = std::max(0, line - reaches); j < std::min(across, line + reaches); ++j)
                        if (middles[i * across + j])
                            nearest = std::min(nearest, std::hypot(60 + i * cell - x, 60 + j * cell - y));
                const bool told = std::any_of(reach.places.begin(), reach.places.end(),
                                              [&](const auto& place) { return contains(place.area, p); });
                // Between the grid's middles lie others; only what is clear either way is judged.
                wrong += told ? nearest < radius - 0.02 : nearest > radius + cell && !fits(rings, p, radius);
            }
        INFO("seed " << seed);
        CHECK(wrong == 0);
        for (const auto& place : reach.places) CHECK(room(rings, place.at) >= place.thickest / 2 - 0.02);
    }
}

TEST_CASE("reach: asked about single pieces it answers for those alone, and the same on every run") {
    auto job = cleared({{rectangle({50, 50}, {90, 90}), {}}, {rectangle({150, 50}, {190, 90}), {}}});
    const auto id = job.artwork->items[1].id;
    const auto some = reached(job, {}, {id});
    CHECK(some.places.size() == 4);
    for (const auto& place : some.places) CHECK(place.at.x > 140);
    const auto a = reached(job), b = reached(job);
    REQUIRE(a.places.size() == 8);
    for (std::size_t i = 0; i < 8; ++i) CHECK(a.places[i].area == b.places[i].area);
    Progress progress;
    CHECK_FALSE(toolpath::reachOf(job, {{77}}, progress));
}

// The witness outline: where the blank comes to lie, marked on the board before it does.
#include "proof/burn.h"
#include "proof/proof.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {
job::Job located(const char* machine, const char* material, double thickness) {
    auto job = drawn(fresh(machine, material), {{rectangle({20, 20}, {60, 50}), {}}});
    auto stock = job.sheet().stock;
    stock.width = 100, stock.height = 80, stock.thickness = thickness;
    job = with(job, job::withStock(job, stock));
    job = set(stepped(job, "outline"), "note", "Vacuum on.");
    return set(stepped(job, "scribe"), "of", "the blank");
}
proof::Proof proofed(const job::Job& job) {
    Progress progress;
    return *proof::proofOf(job, progress);
}
} // namespace

TEST_CASE("locating: the blank's outline is marked on the board first, round it and below it, and the machine waits") {
    auto job = set(located("mill-600", "birch-ply", 6), "depth", "0.4");
    job = with(job, job::withClamp(job, {{{40, 70}, {60, 90}}, 12})); // over its edge: it comes with the blank
    const auto proof = proofed(job);
    for (const auto& f : proof.findings) CHECK(f.verdict != proof::Verdict::noGo);
    REQUIRE(proof.path.steps.size() == 2);
    const auto& mark = proof.path.steps[0];
    CHECK((mark.onBoard && !mark.stopBefore));
    CHECK((proof.path.steps[1].stopBefore && !proof.path.steps[1].onBoard));
    CHECK(proof.path.steps[1].note == "Lay the blank into its outline. Vacuum on.");
    const double radius = mark.tool.radiusAt(0.4);
    double lowest = 0, round = 0;
    toolpath::Vec3 at = mark.moves.front().to;
    for (const auto& move : mark.moves) {
        lowest = std::min(lowest, move.to.z);
        if (move.kind != toolpath::Move::Kind::rapid && move.to.z < -6 && at.z < -6) {
            round += lengthOf(at.flat(), move.flat());
            // Its flank at the board's top runs along the blank's edge, never under the blank.
            const Vec2 p = move.to.flat();
            const double off = std::max({-p.x, -p.y, p.x - 100, p.y - 80});
            CHECK(off == Approx(radius).margin(1e-6));
        }
        at = move.to;
    }
    CHECK(lowest == Approx(-6.4));
    CHECK(round == Approx(2 * (100 + 80 + 4 * radius)).margin(0.01));
    // Of the blank itself nothing is taken by it.
    auto grid = proof::HeightGrid::over({{0, 0}, {100, 80}}, 0.5);
    Progress progress;
    auto marked = proof.path;
    marked.steps.resize(1);
    REQUIRE(proof::sweep(grid, proof::strokesOf(marked, 6, 0.02), progress));
    CHECK(std::all_of(grid.heights.begin(), grid.heights.end(), [](float z) { return z == 0; }));
    // Deeper than the board is thick is a no-go, as for any other cut.
    CHECK_FALSE(proofed(set(job, "depth", "7")).mayRun());
    // Left out, the rest runs alone, without a wait.
    const auto rest = planned(set(job, "enabled", "off"));
    CHECK((rest.steps.size() == 1 && !rest.steps[0].stopBefore));
}

TEST_CASE("locating: by a beam it is burnt round the blank, whose edge stays as it was") {
    const auto job = located("laser-700", "poplar", 3);
    const auto proof = proofed(job);
    REQUIRE(proof.path.steps.size() == 2);
    CHECK(proof.mayRun());
    CHECK(proof.path.steps[0].onBoard);
    auto marked = proof.path;
    marked.steps.resize(1);
    Progress progress;
    const auto dark =
        proof::darknessOf(proof::HeightGrid::over({{0, 0}, {100, 80}}, 0.2), marked, job.material, progress);
    REQUIRE(dark);
    CHECK(std::all_of(dark->heights.begin(), dark->heights.end(), [](float d) { return d == 0; }));
}

#include "job/boards.h"
#include "proof/cost.h"
#include "support/proofs.h"

using namespace ferro;
using namespace ferro::test;

TEST_CASE(
    "cost: machine by the hour, sheet by its area and thickness, tools by the metre, and what is left out is said") {
    auto job = drawn(fresh(), {{pathOf(ring("50,50 250,50"), false), {}}}, "line");
    job =
        set(set(set(stepped(job, "scribe", "engraver-30"), "depth", "0.4"), "depthPerPass", "0.4"), "entry", "plunge");
    job.sheet().stock = {.width = 500, .height = 400, .thickness = 6};
    job.machine.hourCost = 36, job.material.squareCost = 5;
    for (auto& tool : job.tools) tool.metreCost = 0.5;
    const auto proof = proofOf(job);
    const auto cost = proof::costOf(job, proof.path, proof.timing);
    CHECK(cost.machine == Approx(proof.timing.total / 100)); // 36 an hour are one for each 100 s
    CHECK(cost.sheet == Approx(0.2 * 6 * 5));
    CHECK(cost.tools == Approx(0.1).margin(0.02)); // 200 mm and the way down
    CHECK(cost.unknown.empty());
    CHECK(cost.words().find("sheet 6.00") != std::string::npos);
    job.machine.hourCost = 0;
    for (auto& tool : job.tools) tool.metreCost = 0;
    const auto some = proof::costOf(job, proof.path, proof.timing);
    CHECK(some.unknown.size() == 1); // the tools of the toolpath are as they were
    auto dull = proof.path;
    for (auto& step : dull.steps) step.tool.metreCost = 0;
    const auto bare = proof::costOf(job, dull, proof.timing);
    CHECK(bare.unknown.size() == 2);
    CHECK(bare.words().find("; without an hour at “Bench mill 600 × 400” and the wear of its tools.") !=
          std::string::npos);
    job.material.squareCost = 0;
    CHECK(proof::costOf(job, dull, proof.timing).words().empty());
}

TEST_CASE("cost: a sheet from the shelf costs what its board does, an irregular one by what there is of it") {
    auto shelf = book();
    shelf.boards = {{"plain", "Board", "poplar", 300, 200, 6, 1, 12.5, {}},
                    {"half", "Half", "poplar", 300, 200, 6, 1, 0, "M 0 0 L 300 0 L 300 200 Z"}};
    const auto costs = [&](const char* key) {
        const auto job = with(fresh(), job::withBoard(fresh("mill-600", "poplar"), shelf, key));
        Progress progress;
        const auto path = *toolpath::toolpathOf(job, progress);
        return proof::costOf(job, path, *proof::timingOf(path, job.machine, progress)).sheet;
    };
    CHECK(costs("plain") == 12.5);
    CHECK(costs("half") == Approx(0.03 * 6 * shelf.material("poplar")->squareCost));
    // Of another size it is no board any more.
    auto job = with(fresh(), job::withBoard(fresh("mill-600", "poplar"), shelf, "plain"));
    auto stock = job.sheet().stock;
    stock.width = 500;
    CHECK(with(job, job::withStock(job, stock)).sheet().cost == 0);
}

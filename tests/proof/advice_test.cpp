#include "proof/advice.h"
#include "support/proofs.h"

using namespace ferro;
using namespace ferro::test;

namespace {
std::vector<proof::Choice> choices(const job::Job& job) {
    Progress progress;
    auto all = proof::choicesFor(job, lastStep(job), progress);
    INFO((all ? "" : all.problem().text()));
    REQUIRE(all);
    return *all;
}
} // namespace

TEST_CASE("advice: two tools are proposed where they are quicker, and what they are said to take is what they take") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {250, 200}), {wound(rectangle({100, 100}, {140, 140}), false)}}});
    job = set(stepped(job, "clear", "end-6"), "depth", "3");
    const auto all = choices(job);
    REQUIRE(all.size() == 3);
    CHECK(all[0].tools == std::vector<std::string>{"end-6", "end-3"});
    CHECK(all[1].tools == std::vector<std::string>{"end-3"});
    CHECK(all[2].tools == std::vector<std::string>{"end-6"});
    CHECK(all[0].seconds < all[1].seconds);
    CHECK(all[0].left == Approx(all[1].left).margin(0.05));
    CHECK(all[2].left > all[1].left);
    // The one that is taken is a sound job that lasts as long and leaves as much.
    const auto taken = with(job, job::withStepTools(job, lastStep(job), all[0].tools));
    const auto proof = proofOf(taken);
    for (const auto& f : proof.findings) INFO(f.what);
    CHECK(proof.mayRun());
    CHECK(proof.timing.total == Approx(all[0].seconds));
    CHECK(proof.deviation.leftStanding < 0.01);
}

TEST_CASE("advice: an area that the wide tool does not fit into is left to the thin one, and that is no no-go") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {250, 200}), {}}, {rectangle({300, 50}, {304, 120}), {}}});
    job = set(stepped(job, "clear", "end-6"), "depth", "3");
    CHECK_FALSE(proofOf(job).mayRun());
    const auto all = choices(job);
    REQUIRE(all.size() == 3);
    CHECK(all[0].cannot.empty());
    CHECK(all[2].tools == std::vector<std::string>{"end-6"});
    CHECK(all[2].cannot.find("does not fit") != std::string::npos);
    const auto taken = with(job, job::withStepTools(job, lastStep(job), {"end-6", "end-3"}));
    CHECK(proofOf(taken).mayRun());
}

TEST_CASE("advice: kinds that one tool does are asked about tool by tool, too short ones told") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {90, 90}), {wound(rectangle({60, 60}, {70, 70}), false)}}});
    job::Stock stock = job.sheet().stock;
    stock.thickness = 18; // beyond the flutes of the thin one
    job = stepped(with(job, job::withStock(job, stock)), "outline", "end-6");
    const auto all = choices(job);
    REQUIRE(all.size() >= 2);
    CHECK(all[0].tools == std::vector<std::string>{"end-6"});
    for (const auto& one : all) CHECK(one.tools.size() == 1);
    const auto thin = std::find_if(all.begin(), all.end(), [](const auto& c) { return c.tools[0] == "end-3"; });
    REQUIRE(thin != all.end());
    CHECK(thin->cannot.find("flutes") != std::string::npos);
}

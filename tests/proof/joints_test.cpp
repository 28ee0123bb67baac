#include "proof/proof.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;

namespace {
/// A panel with a slot 6 × 40 and a part with a tongue 40 wide, cut through.
job::Job kit(double slot, double tongue, const char* relief, const char* machine = "mill-600") {
    auto job = fresh(machine);
    auto stock = job.sheet().stock;
    stock.thickness = 6;
    job = drawn(with(job, job::withStock(job, stock)),
                {{rectangle({20, 20}, {140, 120}), {wound(rectangle({77, 50}, {77 + slot, 90}), false)}}});
    job = drawn(job, {{pathOf({{160, 20},
                               {210, 20},
                               {210, 100},
                               {185 + tongue / 2, 100},
                               {185 + tongue / 2, 106},
                               {185 - tongue / 2, 106},
                               {185 - tongue / 2, 100},
                               {160, 100}},
                              true),
                       {}}});
    if (machine != std::string("mill-600")) return stepped(job, "outline");
    return set(stepped(job, "outline", "end-3"), "relief", relief);
}
std::vector<proof::Finding> about(const job::Job& job, std::string_view word) {
    Progress progress;
    const auto proof = *proof::proofOf(job, progress);
    std::vector<proof::Finding> found;
    for (const auto& f : proof.findings)
        if (f.what.find(word) != std::string::npos) found.push_back(f);
    return found;
}
} // namespace

TEST_CASE("joints: the proof tells which will not go together, and of corners that stay round") {
    CHECK(about(kit(6.1, 40, "corner"), "together").empty());
    CHECK(about(kit(6.1, 40, "corner"), "round").empty());
    const auto narrow = about(kit(5.8, 40, "corner"), "together");
    REQUIRE(narrow.size() == 1);
    CHECK(narrow[0].verdict == Verdict::look);
    CHECK(narrow[0].what.find("5.8") != std::string::npos);
    CHECK(narrow[0].offer == proof::Finding::Offer::fitJoints);
    REQUIRE(narrow[0].at);
    CHECK(distance(*narrow[0].at, {79.9, 70}) < 1e-6);
    CHECK(about(kit(6.1, 40.3, "corner"), "tongue").size() == 1);
    CHECK(about(kit(5.8, 55, "corner"), "together").empty()); // nothing is for it
    const auto round = about(kit(6.1, 40, "none"), "stay round");
    REQUIRE(round.size() == 1);
    REQUIRE(round[0].fix);
    const auto mended = round[0].fix->apply(kit(6.1, 40, "none"));
    REQUIRE(mended);
    CHECK(about(*mended, "stay round").empty());
    // A beam has no corners to leave.
    CHECK(about(kit(6.1, 40, "none", "laser-700"), "round").empty());
    CHECK(about(kit(5.8, 40, "none", "laser-700"), "together").size() == 1);
}

// How dark a beam burns, against sums by hand; and what is said of too little and too much light.
#include "proof/burn.h"
#include "proof/proof.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {

job::Job shaded(const char* power, const char* feed, const char* spacing, const char* passes = "1") {
    auto job = drawn(fresh("laser-700", "poplar"), {{rectangle({20, 20}, {60, 50}), {}}});
    job = set(set(stepped(job, "hatch"), "power", power), "feed", feed);
    return set(set(job, "spacing", spacing), "passes", passes);
}
double darkAt(const job::Job& job, Vec2 p, double cell = 0.25, double until = 1e300) {
    const auto path = planned(job);
    Progress progress;
    const auto timing = proof::timingOf(path, job.machine, progress);
    const auto dark = proof::darknessOf(proof::HeightGrid::over({{0, 0}, {80, 70}}, cell), path, job.material, progress,
                                        &*timing, until);
    REQUIRE(dark);
    double sum = 0; // over a few lines: between two it is lighter
    for (int i = 0; i < 20; ++i) sum += static_cast<double>(dark->at(p + Vec2{0.13 * i, 0.19 * i}));
    return sum / 20;
}
proof::Proof proofed(const job::Job& job) {
    Progress progress;
    return *proof::proofOf(job, progress);
}
bool says(const proof::Proof& proof, const char* words) {
    return std::any_of(proof.findings.begin(), proof.findings.end(),
                       [&](const auto& f) { return f.what.find(words) != std::string::npos; });
}

} // namespace

TEST_CASE("burn: as dark as power, feed, spacing and passes make it, whatever the grid, and nowhere else",
          "[property]") {
    const auto material = *book().material("poplar");
    const double kerf = book().tool("beam")->diameter, usual = material.scribePower / material.scribeSpeed / kerf;
    struct Case {
        double power, feed, spacing, passes;
    };
    for (const auto& c :
         {Case{14, 2600, 0.16, 1}, {7, 2600, 0.16, 1}, {14, 5200, 0.32, 1}, {20, 3000, 0.2, 2}, {4, 6000, 0.4, 1}}) {
        const auto job = shaded(fmt::format("{}", c.power).c_str(), fmt::format("{} mm", c.feed).c_str(),
                                fmt::format("{} mm", c.spacing).c_str(), fmt::format("{}", c.passes).c_str());
        const double wanted = 1 - std::exp(-1.4 * c.power / c.feed / c.spacing * c.passes / usual);
        CAPTURE(c.power, c.feed, c.spacing);
        for (const double cell : {0.8, 0.4}) {
            CHECK(darkAt(job, {30, 30}, cell) == Approx(wanted).margin(0.03));
            CHECK(darkAt(job, {64, 30}, cell) < 0.001); // beyond the edge, where the run-up is
            CHECK(darkAt(job, {30, 30}, cell, 0) == 0);
        }
    }
    // Half way through the time the half that was burnt by then is dark.
    const auto job = shaded("14", "2600 mm", "0.16 mm");
    const double whole = proofed(job).timing.total;
    CHECK(darkAt(job, {30, 24}, 0.4, whole * 0.5) > 0.5);
    CHECK(darkAt(job, {30, 44}, 0.4, whole * 0.5) == 0);
    // A mill leaves nothing dark.
    const auto mill = stepped(drawn(fresh(), {{rectangle({20, 20}, {60, 50}), {}}}), "outline", "end-6");
    CHECK(darkAt(mill, {30, 30}) == 0);
}

TEST_CASE("burn: too little light to go through and too much to be safe are told, but not of what was proven") {
    auto job = stepped(drawn(fresh("laser-700", "poplar"), {{rectangle({20, 20}, {60, 50}), {}}}), "outline");
    CHECK_FALSE(says(proofed(job), "of the light"));
    auto weak = set(job, "power", "30");
    const auto proof = proofed(weak);
    CHECK(says(proof, "38 % of the light"));
    for (const auto& f : proof.findings)
        if (f.fix && f.what.find("of the light") != std::string::npos) {
            const auto mended = f.fix->apply(weak);
            REQUIRE(mended);
            CHECK_FALSE(says(proofed(*mended), "of the light"));
        }
    CHECK_FALSE(says(proofed(set(weak, "passes", "3")), "of the light"));
    CHECK(says(proofed(set(set(job, "power", "100"), "feed", "60 mm")), "take fire"));
    CHECK_FALSE(says(proofed(shaded("14", "2600 mm", "0.12 mm")), "take fire"));
    CHECK(says(proofed(shaded("80", "300 mm", "0.05 mm", "3")), "take fire"));
    shop::Proven proven{job.machine.key, "beam",       "outline", job.sheet().stock.thickness,
                        {{"power", 30}}, "2026-11-30", {}};
    weak = job::withMaterial(weak, shop::withProven(weak.material, proven));
    CHECK_FALSE(says(proofed(weak), "of the light"));
}

TEST_CASE("burn: power that the machine's source does not give, or is not to give, is told with what would do") {
    auto job = stepped(drawn(fresh("laser-700", "poplar"), {{rectangle({20, 20}, {60, 50}), {}}}), "scribe");
    job = set(job, "power", "14");
    job.machine.leastPower = 12, job.machine.mostPower = 90;
    CHECK_FALSE(says(proofed(job), "burns from"));
    for (const auto& [power, words] : {std::pair{"9", "burns from 12 %"}, {"95", "is driven up to 90 %"}}) {
        const auto odd = set(job, "power", power);
        const auto proof = proofed(odd);
        CHECK(says(proof, words));
        for (const auto& f : proof.findings)
            if (f.fix && f.what.find(words) != std::string::npos) {
                const auto mended = f.fix->apply(odd);
                REQUIRE(mended);
                CHECK_FALSE(says(proofed(*mended), words));
            }
    }
    // Weakened in corners it stays at what burns.
    const auto path = planned(set(job, "still", "0"));
    for (const auto& move : path.steps[0].moves)
        if (move.kind != toolpath::Move::Kind::rapid) CHECK(move.power > 0.1199);
}

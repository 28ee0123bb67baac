#include "proof/proof.h"
#include "proof/removal.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;

TEST_CASE("blank: a piece that reaches beyond a blank's outline or over its hole is a no-go, one within is none") {
    const Piece ell{pathOf({{0, 0}, {300, 0}, {300, 80}, {100, 80}, {100, 200}, {0, 200}}, true),
                    {wound(circle({250, 40}, 15), false)}};
    const auto noGo = [&](Piece piece) {
        auto job = drawn(with(fresh(), job::withBlank(fresh(), ell)), {std::move(piece)});
        job = stepped(job, "outline", "end-3");
        Progress progress;
        const auto proof = *proof::proofOf(job, progress);
        return std::any_of(proof.findings.begin(), proof.findings.end(), [](const auto& f) {
            return f.verdict == Verdict::noGo && f.what.find("beyond the stock") != std::string::npos;
        });
    };
    CHECK_FALSE(noGo({rectangle({20, 20}, {80, 180}), {}}));
    CHECK(noGo({rectangle({60, 60}, {140, 120}), {}}));   // its corner in the notch
    CHECK(noGo({rectangle({150, 100}, {200, 150}), {}})); // all of it
    CHECK(noGo({circle({250, 40}, 30), {}}));             // round the hole
    CHECK(noGo({rectangle({200, 38}, {290, 42}), {}}));   // across it
    const auto grid = proof::HeightGrid::of(with(fresh(), job::withBlank(fresh(), ell)).sheet().stock, 200'000);
    CHECK(grid.at({50, 150}) == 0);
    CHECK(grid.at({150, 150}) < -12);
    CHECK(grid.at({250, 40}) < -12);
    CHECK(grid.at({250, 70}) == 0);
    CHECK(proof::HeightGrid::of(fresh().sheet().stock, 1000).at({599, 399}) == 0);
}

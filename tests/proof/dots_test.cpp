#include "support/proofs.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

TEST_CASE("scribe: a dot is pricked by a tip and burnt by a beam as one spot, whatever else the step takes") {
    const Piece dot{{{40, 30}, {}, false}, {}};
    const Piece line{{{10, 10}, {Segment::line({60, 10})}, false}, {}};
    auto mill = set(set(stepped(drawn(fresh(), {dot, line}, "marks"), "scribe", "engraver-30"), "layers", "marks"),
                    "depth", "0.4");
    const auto pricked = planned(mill);
    REQUIRE(pricked.steps.size() == 1);
    REQUIRE(pricked.steps[0].cuts.size() == 2);
    double deepest = 0;
    toolpath::forEachMove(pricked, [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (move.to.flat() != Vec2{40, 30} || move.to.z >= 0) return;
        deepest = std::min(deepest, move.to.z);
        CHECK(from.flat() == Vec2{40, 30}); // straight down
        CHECK(move.kind == Move::Kind::line);
        CHECK(move.feed <= step.plunge);
    });
    CHECK(deepest == Approx(-0.4));
    CHECK(proofOf(mill).mayRun());

    auto laser = set(stepped(drawn(fresh("laser-700", "poplar"), {dot, line}, "marks"), "scribe"), "layers", "marks");
    const auto burnt = planned(laser);
    REQUIRE(burnt.steps.size() == 1);
    double lit = 0;
    toolpath::forEachMove(burnt, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (distance(move.to.flat(), {40, 30}) > 1 || !(move.power > 0)) return;
        CHECK(distance(from.flat(), {40, 30}) < 0.051); // the beam is wider than that
        lit += lengthOf(from.flat(), move.flat());
    });
    CHECK(lit == Approx(2 * pi * 0.05).epsilon(0.01));
    CHECK(proofOf(laser).mayRun());
    // What cuts parts out leaves dots alone.
    const auto cut = planned(set(stepped(drawn(fresh(), {dot}, "marks"), "outline"), "layers", "marks"));
    CHECK((cut.steps.empty() || cut.steps[0].cuts.empty()));
}

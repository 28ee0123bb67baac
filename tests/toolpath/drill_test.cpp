// Holes, judged by where the tool's rim has been.
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

TEST_CASE("drill: a hole wider than a mill is bored round to its size, at no steeper than asked", "[property]") {
    for (unsigned seed = 0; seed < 10; ++seed) {
        std::mt19937 random(seed + 5);
        const Vec2 at{60.0 + seed, 70};
        const double hole = 6.3 + 5.6 * static_cast<double>(random() % 1000) / 1000;
        const double perTurn = seed % 2 ? 0.8 : 2.5, depth = seed % 3 ? 4.2 : 0;
        auto job = stepped(drawn(fresh(), {{circle(at, hole / 2), {}}}, "holes"), "drill", "end-6");
        job = set(set(job, "layers", "holes"), "perTurn", fmt::format("{}", perTurn));
        if (depth > 0) job = set(set(job, "through", "to depth"), "depth", fmt::format("{}", depth));
        const auto path = planned(job);
        REQUIRE(path.steps.size() == 1);
        const auto& step = path.steps[0];
        const double bottom = bottomOf(job, job.plan.steps[0]);
        double widest = 0, lowest = 0, steepest = 0, turned = 0, quick = 0;
        bool rapidsBelow = false;
        toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            lowest = std::min(lowest, move.to.z);
            rapidsBelow =
                rapidsBelow || (move.kind == Move::Kind::rapid && from.z < 0 && from.flat() != move.to.flat());
            if (move.kind == Move::Kind::rapid || std::min(from.z, move.to.z) >= 0) return;
            for (int k = 0; k <= 16; ++k)
                widest =
                    std::max(widest, distance(pointAt(from.flat(), move.flat(), k / 16.0), at) + step.tool.radius());
            if (move.kind != Move::Kind::arc) return;
            const double sweep = sweepOf(from.flat(), move.flat()), down = from.z - move.to.z;
            steepest = std::max(steepest, down / std::abs(sweep) * 2 * pi);
            if (down > 0)
                quick = std::max(quick, static_cast<double>(move.feed) * down /
                                            std::hypot(down, lengthOf(from.flat(), move.flat())));
            if (from.z == move.to.z && std::abs(move.to.z + bottom) < 1e-9) turned += sweep; // climb: to the left
        });
        CAPTURE(seed, hole, perTurn, bottom);
        CHECK(widest == Approx(hole / 2).margin(0.005));
        CHECK(lowest == Approx(-bottom));
        CHECK(steepest < perTurn + 1e-6);
        CHECK(turned == Approx(2 * pi)); // its floor is level all round
        CHECK(quick < step.plunge * 1.001);
        CHECK_FALSE(rapidsBelow);
    }
    // Twice as wide as the tool a core would stand; half a hole is no hole either.
    for (const double hole : {12.5, 30.0}) {
        auto job = stepped(drawn(fresh(), {{circle({60, 60}, hole / 2), {}}}, "holes"), "drill", "end-6");
        const auto path = planned(set(job, "layers", "holes"));
        CHECK(path.steps.empty());
        REQUIRE(!path.snags.empty());
        CHECK(path.snags[0].what.find("core") != std::string::npos);
    }
    auto middle = stepped(drawn(fresh(), {{circle({60, 60}, 4), {}}}, "holes"), "drill", "end-6");
    middle = set(set(middle, "layers", "holes"), "wider", "in the middle only");
    const auto inMiddle = planned(middle);
    for (const auto& move : inMiddle.steps[0].moves) CHECK(distance(move.to.flat(), {60, 60}) < 1e-9);
}

TEST_CASE("drill: chips are broken without coming out, out it goes as slowly as asked, and waits at the bottom") {
    auto job =
        stepped(drawn(fresh(), {{circle({60, 60}, 4), {}}, {circle({90, 60}, 4), {}}}, "holes"), "drill", "drill-8");
    job = set(set(set(job, "peck", "2"), "lifts", "to break the chip"), "feedOut", "700");
    const auto plain = planned(job);
    job = set(job, "dwell", "0.75");
    const auto path = planned(job);
    REQUIRE(path.steps.size() == 1);
    const auto& step = path.steps[0];
    const double bottom = bottomOf(job, job.plan.steps[0]);
    std::size_t outs = 0, breaks = 0;
    toolpath::Vec3 at = path.start;
    for (const auto& move : step.moves) {
        if (move.to.z > at.z && at.z < 0) {
            const bool out = at.z <= -bottom + 1e-9; // only at the bottom
            CHECK((move.to.z >= 0) == out);
            if (out) CHECK(static_cast<double>(move.feed) == 700);
            outs += out, breaks += !out;
            if (!out) CHECK(move.to.z - at.z == Approx(0.3));
        }
        at = move.to;
    }
    CHECK(outs == 2);
    CHECK(breaks == 2 * static_cast<std::size_t>(std::ceil(bottom / 2) - 1));
    REQUIRE(step.waits.size() == 2);
    for (const auto& wait : step.waits) {
        CHECK(wait.seconds == 0.75);
        REQUIRE(wait.before > 0);
        CHECK(step.moves[wait.before - 1].to.z == Approx(-bottom));
    }
}

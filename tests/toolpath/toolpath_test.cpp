#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

TEST_CASE("toolpath: rapids are safe, depths are as asked, the beam is off between cuts", "[property]") {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        const auto job = randomJob(seed);
        const auto path = planned(job);
        CAPTURE(seed);
        REQUIRE(path.count() > 0);
        bool rapidsHigh = true, beamOff = true, deepEnough = true, finite = true;
        toolpath::forEachMove(path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from,
                                        const Move& move) {
            const auto* source = plan::find(job.plan, step.step);
            if (move.kind == Move::Kind::rapid) {
                beamOff = beamOff && move.power == 0 && move.feed == 0;
                const bool sideways = distance(from.flat(), move.to.flat()) > 1e-9;
                if (!path.byBeam())
                    rapidsHigh =
                        rapidsHigh && move.to.z >= path.travel - 1e-9 && (!sideways || from.z >= path.travel - 1e-9);
            } else {
                finite = finite && move.feed > 0;
                deepEnough = deepEnough && move.to.z >= -bottomOf(job, *source) - 1e-9;
            }
            finite = finite && isFinite(move.to.flat()) && std::isfinite(move.to.z);
            if (move.kind == Move::Kind::arc)
                finite = finite &&
                         std::abs(distance(from.flat(), move.centre) - distance(move.to.flat(), move.centre)) < 0.005;
        });
        CHECK(rapidsHigh);
        CHECK(beamOff);
        CHECK(deepEnough);
        CHECK(finite);
    }
}

TEST_CASE("toolpath: no part is freed before what lies in it", "[property]") {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        const auto job = randomJob(seed);
        CAPTURE(seed);
        int shallowest = 1000;
        for (const auto& step : planned(job).steps) {
            if (!step.kind->freesParts) {
                CHECK(shallowest == 1000); // drills and lines come before any outline
                continue;
            }
            for (const auto& cut : step.cuts) {
                CHECK(cut.intent.nesting <= shallowest);
                shallowest = std::min(shallowest, cut.intent.nesting);
            }
        }
    }
}

TEST_CASE("toolpath: the same on every run") {
    const auto job = randomJob(7);
    const auto a = planned(job), b = planned(job);
    REQUIRE(a.steps.size() == b.steps.size());
    for (std::size_t i = 0; i < a.steps.size(); ++i) CHECK(a.steps[i].moves == b.steps[i].moves);
}

TEST_CASE("toolpath: openings are cut inside, outer edges outside, by nesting across items") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {250, 200}), {}}});
    job = drawn(job, {{rectangle({100, 100}, {150, 150}), {}}}); // another item, inside
    job = stepped(job, "outline", "end-6");
    const auto path = planned(job);
    REQUIRE(path.steps.size() == 1);
    REQUIRE(path.steps[0].cuts.size() == 2);
    CHECK(path.steps[0].cuts[0].intent.role == plan::Role::openings);
    CHECK(boundsOf(path.steps[0].cuts[0].centre).width() == Approx(44).margin(0.005));
    CHECK(boundsOf(path.steps[0].cuts[1].centre).width() == Approx(206).margin(0.005));
    // Climb with a spindle turning clockwise: material on the right.
    CHECK(areaOf(path.steps[0].cuts[1].centre) < 0);
    CHECK(areaOf(path.steps[0].cuts[0].centre) > 0);
}

TEST_CASE("toolpath: tabs lie on flat stretches and keep their height, a placed tab replaces the automatic ones") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {250, 200}, 30), {}}});
    job = stepped(job, "outline", "end-6");
    auto path = planned(job);
    const auto& cut = path.steps[0].cuts[0];
    CHECK(cut.tabs.size() >= 3);
    const Ruler ruler(cut.centre);
    for (const double tab : cut.tabs) {
        const auto at = ruler.at(tab);
        CHECK(cut.centre.segments[at.segment].kind == Segment::Kind::line);
        double highest = -1e9;
        toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            const bool lastPass = move.to.z < -9 && move.kind != Move::Kind::rapid;
            if (lastPass && distanceToLine(at.point, from.flat(), move.to.flat()) < 0.01)
                highest = std::max(highest, std::max(from.z, move.to.z));
        });
        CHECK(highest == Approx(-12 + 2.5).margin(1e-6));
    }
    job = with(job, job::withTabs(job, lastStep(job), job.artwork->items[0].id, -1, {0.1}));
    path = planned(job);
    CHECK(path.steps[0].cuts[0].tabs.size() == 1);
}

TEST_CASE("toolpath: a step that its tool cannot do says so") {
    const auto snagOf = [](const job::Job& job) {
        const auto path = planned(job);
        return path.snags.empty() ? std::string() : path.snags.front().what;
    };
    auto job = drawn(fresh(), {{rectangle({50, 50}, {250, 200}), {wound(rectangle({80, 80}, {84, 120}), false)}}});
    CHECK(snagOf(stepped(job, "outline", "end-6")).find("does not fit") != std::string::npos);
    auto deep = stepped(job, "scribe", "engraver-30");
    deep = set(deep, "depth", "8");
    CHECK(snagOf(deep).find("flutes") != std::string::npos);
    CHECK(snagOf(stepped(job, "outline", "beam")).find("does not fit the machine") != std::string::npos);
    CHECK(snagOf(stepped(drawn(fresh(), {{circle({50, 50}, 3), {}}}, "holes"), "drill", "drill-8"))
              .find("takes no piece") != std::string::npos);
}

TEST_CASE("plan: passes come out equal and none is deeper than asked") {
    plan::Depth step;
    step.extra = 0.3;
    step.perPass = 2.46;
    CHECK(plan::passDepths(step, 12).size() == 5);
    step.perPass = 0.9;
    step.through = false;
    step.depth = 1.9;
    const auto depths = plan::passDepths(step, 12);
    REQUIRE(depths.size() == 3);
    CHECK(depths[0] == Approx(1.9 / 3));
    CHECK(depths.back() == 1.9);
}

// What the proof says of grooves, bevels and reliefs: nothing where they are right, the place and the size where not.
#include "geometry/measure.h"
#include "proof/proof.h"
#include "support/jobs.h"
#include "support/proofs.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {

std::string findingsOf(const job::Job& job) {
    std::string all;
    for (const auto& f : proofOf(job).findings) all += f.what + "\n";
    return all;
}
bool has(const std::string& text, const char* words) { return text.find(words) != std::string::npos; }

} // namespace

TEST_CASE("deviation: reliefs are no gouges, and the corners that they reach are not told as round") {
    const Piece slot{wound(rectangle({60, 60}, {100, 80}), true), {}};
    auto job = set(set(stepped(drawn(fresh(), {slot}), "outline", "end-6"), "side", "inside"), "hold", "none");
    CHECK(has(findingsOf(job), "corners are not reached"));
    for (const char* form : {"corner", "long edge", "short edge"}) {
        const auto relieved = set(job, "relief", form);
        const auto proof = proofOf(relieved);
        CAPTURE(form, proof.deviation.cutInto, proof.deviation.corners, proof.deviation.unreachedArea);
        CHECK(proof.deviation.cutInto < 0.01);
        CHECK(proof.deviation.unreachedArea < 0.5);
        CHECK(proof.mayRun());
    }
    // Another part in the way of one is another matter.
    auto crowded = drawn(job, {{wound(circle({110, 70}, 9), true), {}}}, "other");
    crowded = set(set(set(stepped(crowded, "outline", "end-6"), "layers", "other"), "hold", "none"), "side", "outside");
    CHECK(has(findingsOf(crowded), "A part is cut into"));
}

TEST_CASE("deviation: a groove over another's edge is a gouge of its size, one in its place is none") {
    const Piece letter{wound(rectangle({60, 60}, {100, 66}), true), {}};
    const auto groove = [&](const job::Job& job) {
        return set(set(stepped(job, "groove", "v-60"), "layers", "letters"), "depth", "9");
    };
    const auto alone = groove(drawn(fresh(), {letter}, "letters"));
    const auto proof = proofOf(alone);
    CAPTURE(proof.deviation.cutInto, proof.deviation.leftStanding, proof.deviation.corners);
    CHECK(proof.deviation.cutInto < 0.01);
    CHECK(proof.deviation.leftStanding < 0.01);
    CHECK(proof.deviation.corners < 0.05); // its tip is a tenth wide
    // A disc that lies half a millimetre over the letter's edge, cut out with the groove as it is.
    auto over = drawn(alone, {{wound(circle({80, 70.5}, 5), true), {}}}, "discs");
    over = set(set(set(stepped(over, "outline", "end-6"), "layers", "discs"), "side", "outside"), "hold", "none");
    const auto cut = proofOf(over);
    CHECK(cut.deviation.cutInto > 0.3);
    // Deeper than the groove may go: the point reaches over the edges then, and through its floor.
    auto path = proof.path;
    for (auto& move : path.steps[0].moves)
        if (move.to.z < -1) move.to.z -= 0.2;
    Progress progress;
    const auto worse = *proof::deviationOf(path, progress);
    CHECK(worse.cutInto == Approx(0.2).margin(0.01));
}

TEST_CASE("deviation: a bevel takes what it should and no more, and says nothing of the edge below it") {
    const Piece panel{wound(rectangle({60, 60}, {120, 100}, 6), true), {wound(circle({90, 80}, 8), false)}};
    auto job = set(stepped(drawn(fresh(), {panel}), "bevel", "v-60"), "width", "1.5");
    job = set(stepped(job, "outline", "end-6"), "hold", "none");
    const auto proof = proofOf(job);
    CAPTURE(proof.deviation.cutInto, proof.deviation.leftStanding);
    CHECK(proof.deviation.cutInto < 0.01);
    CHECK(proof.deviation.leftStanding < 0.01);
    CHECK(proof.deviation.edges.size() == 2);
    CHECK(proof.mayRun());
    auto path = proof.path; // half a mm deeper: it takes more off, by the tangent of 30°
    for (auto& move : path.steps[0].moves)
        if (move.to.z < 0) move.to.z -= 0.5;
    Progress progress;
    const auto worse = *proof::deviationOf(path, progress);
    CHECK(worse.cutInto == Approx(0.5).margin(0.01)); // and goes that much below what it is for
    for (auto& step : path.steps)
        for (auto& cut : step.cuts) cut.intent.bottom += 0.5;
    CHECK(proof::deviationOf(path, progress)->cutInto == Approx(0.5 * std::tan(pi / 6)).margin(0.01));
}

TEST_CASE("findings: what a groove or a bevel cannot do is told, and stops what it would spoil") {
    const auto wide = drawn(fresh(), {{wound(rectangle({40, 40}, {140, 120}), true), {}}}, "letters");
    const auto groove = set(stepped(wide, "groove", "v-60"), "depth", "2");
    CHECK(has(findingsOf(groove), "clears 7"));
    const auto bevel = set(stepped(wide, "bevel", "v-60"), "width", "9");
    CHECK(has(findingsOf(bevel), "A bevel 9 mm wide asks"));
    CHECK_FALSE(proofOf(bevel).mayRun());
}

TEST_CASE("findings: a part whose top another step clears is told, an island is not") {
    const Piece recess{wound(rectangle({40, 40}, {140, 120}), true), {}}, disc{wound(circle({90, 80}, 15), true), {}};
    auto job = drawn(drawn(fresh(), {recess}, "recess"), {disc}, "discs");
    job = set(set(stepped(job, "outline", "end-6"), "layers", "discs"), "side", "outside");
    job = set(stepped(job, "clear", "end-6"), "depth", "2");
    CHECK_FALSE(has(findingsOf(set(job, "layers", "recess, discs")), "clears the top of"));
    CHECK(has(findingsOf(set(job, "layers", "recess")), "“Areas” clears the top of 1 part that “Outlines” cuts out."));
    const auto skimmed = stepped(job, "skim", "end-6");
    CHECK_FALSE(has(findingsOf(skimmed), "“Skims” clears the top of"));
}

TEST_CASE("findings: what is held by a skin is not told that it leaves no tabs") {
    const Piece disc{wound(circle({90, 80}, 15), true), {}};
    const auto job = set(stepped(drawn(fresh(), {disc}), "outline", "end-6"), "hold", "skin");
    CHECK_FALSE(has(findingsOf(job), "leaves no tabs"));
    CHECK_FALSE(has(findingsOf(job), "loose"));
    CHECK(has(findingsOf(set(set(set(job, "hold", "tabs"), "through", "to depth"), "depth", "4")), "leaves no tabs"));
}

TEST_CASE(
    "deviation: a point that sinks past a corner cuts into it most where it is nearest, between the ends of its move",
    "[safety]") {
    // The corner of the part stands into an area like an L; the way by it is put in by hand.
    const Ring area = ring("20,20 140,20 140,60 80,60 80,120 20,120");
    auto job = drawn(fresh(), {{pathOf(area, true), {}}}, "letters");
    job = set(set(stepped(job, "groove", "v-60"), "layers", "letters"), "depth", "9");
    auto path = planned(job);
    for (const double off : {0.0, 0.3, 0.6, 0.8})
        for (const double sink : {0.0, 0.4, 1.5}) {
            const Vec2 from = Vec2{74, 66} - Vec2{off, off}, to = Vec2{86, 54} - Vec2{off, off};
            const toolpath::Vec3 high{from.x, from.y, -2}, low{to.x, to.y, -2 - sink};
            auto& step = path.steps[0];
            step.cuts.resize(1);
            step.cuts[0].first = 0, step.cuts[0].end = 4;
            step.moves = {toolpath::Move::rapid({from.x, from.y, path.travel}), toolpath::Move::line(high, 300),
                          toolpath::Move::line(low, 900), toolpath::Move::rapid({to.x, to.y, path.travel})};
            double truth = -1e9;
            Vec2 where;
            for (int k = 0; k <= 4000; ++k) {
                const double t = k / 4000.0;
                const Vec2 p = lerp(from, to, t);
                double near = 1e9;
                for (std::size_t i = 0; i < area.size(); ++i)
                    near = std::min(near, distanceToLine(p, area[i], area[(i + 1) % area.size()]));
                // A V of 60° is as wide as it is deep, over √3 to each side, and has a tip.
                const double deep = step.tool.tip / 2 + (2 + sink * t) / std::sqrt(3.0) - near;
                if (deep > truth) truth = deep, where = p;
            }
            CAPTURE(off, sink, truth);
            Progress progress;
            const auto found = proof::deviationOf(path, progress);
            REQUIRE(found);
            CHECK(found->cutInto == Approx(truth).margin(0.003));
            CHECK(distance(found->cutIntoAt, {80, 60}) < 0.3);
            CHECK(distance(where, {80, 60}) < off * 1.5 + 0.5);
        }
}

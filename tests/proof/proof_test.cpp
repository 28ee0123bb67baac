#include "geometry/flatten.h"
#include "support/proofs.h"

using namespace ferro;
using namespace ferro::test;

namespace {
bool finds(const proof::Proof& proof, std::string_view words, proof::Verdict verdict) {
    for (const auto& f : proof.findings)
        if (f.verdict == verdict && f.what.find(words) != std::string::npos) return true;
    return false;
}
proof::HeightGrid surfaceOf(const job::Job& job, const proof::Proof& proof, double cell) {
    auto grid = proof::HeightGrid::over({{0, 0}, {job.sheet().stock.width, job.sheet().stock.height}}, cell);
    Progress progress;
    REQUIRE(proof::sweep(grid, proof::strokesOf(proof.path, job.sheet().stock.thickness, 0.002), progress));
    return grid;
}
} // namespace

TEST_CASE("proof: parts are never cut into by more than a hundredth of a millimetre", "[property]") {
    for (unsigned seed = 1; seed <= 48; ++seed) {
        const auto job = randomJob(seed);
        const auto proof = proofOf(job);
        CAPTURE(seed);
        CHECK(proof.deviation.cutInto <= 0.01);
        CHECK(proof.deviation.leftStanding <= 0.01);
    }
}

TEST_CASE("proof: the removal grid agrees, inside every part it leaves the surface whole", "[property]") {
    for (unsigned seed = 1; seed <= 16; ++seed) {
        auto job = randomJob(seed);
        const auto proof = proofOf(job);
        const auto grid = surfaceOf(job, proof, 0.25);
        std::vector<Rings> parts;
        std::vector<Ring> edges;
        for (const auto& item : job.artwork->items)
            if (artwork::shapeOf(item)->piece.outline.closed &&
                artwork::find(*job.artwork, item.layer)->name == "cut") {
                parts.push_back(flattened(artwork::placed(item), 0.002));
                for (const auto& r : parts.back()) edges.push_back(r);
            }
        // Skimmed stock is lower all over.
        float top = 0;
        double off = 0.01; // the promise; or what a bevel is to take off
        for (const auto& step : proof.path.steps)
            for (const auto& cut : step.cuts) {
                if (!cut.intent.area.empty()) top = static_cast<float>(-cut.intent.bottom);
                off = std::max(off, 0.01 - cut.intent.allowance);
            }
        std::size_t wrong = 0, seen = 0;
        for (int r = 0; r < grid.rows; r += 3)
            for (int c = 0; c < grid.columns; c += 3) {
                const Vec2 p = grid.middle(c, r);
                const bool inside =
                    std::any_of(parts.begin(), parts.end(), [&](const Rings& rings) { return contains(rings, p); });
                if (!inside || grid.at(p) >= top) continue;
                ++seen;
                // A scribed line or a drilled hole may be here; an outline's wall may not.
                double edge = 1e9;
                for (const auto& ring : edges)
                    for (std::size_t k = 0; k < ring.size(); ++k)
                        edge = std::min(edge, distanceToLine(p, ring[k], ring[(k + 1) % ring.size()]));
                const bool hole = distance(p, {120, 118}) < 4.05 || distance(p, {380, 118}) < 4.05;
                const bool line = p.x > 82 && p.x < 158 && p.y > 160 && p.y < 188;
                wrong += edge > off && !hole && !line;
            }
        CAPTURE(seed, seen);
        CHECK(wrong == 0);
    }
}

TEST_CASE("proof: the sweep equals a slow one that asks every cell about every stroke", "[property]") {
    for (const char* key : {"end-6", "ball-3", "v-60", "drill-8"}) {
        const auto tool = *book().tool(key);
        std::mt19937 random(11);
        std::uniform_real_distribution<> part(0, 1);
        toolpath::Toolpath path;
        path.start = {20, 20, 5};
        path.steps.push_back(
            {.step = {}, .name = "x", .tool = tool, .note = {}, .moves = {}, .runs = {}, .waits = {}, .cuts = {}});
        for (int i = 0; i < 40; ++i)
            path.steps[0].moves.push_back({toolpath::Move::Kind::line,
                                           true,
                                           {60 * part(random), 40 * part(random), i % 3 ? -1.0 : -3 * part(random)},
                                           {},
                                           1000,
                                           0});
        const auto strokes = proof::strokesOf(path, 6, 0.01);
        auto quick = proof::HeightGrid::over({{0, 0}, {60, 40}}, 0.3);
        auto slow = quick;
        Progress progress;
        REQUIRE(proof::sweep(quick, strokes, progress));
        for (int r = 0; r < slow.rows; ++r)
            for (int c = 0; c < slow.columns; ++c) {
                float& cell = slow.heights[static_cast<std::size_t>(r) * static_cast<std::size_t>(slow.columns) +
                                           static_cast<std::size_t>(c)];
                for (const auto& s : strokes.list) {
                    const double rise = tool.profile(distanceToLine(slow.middle(c, r), s.from, s.to));
                    if (std::isfinite(rise)) cell = std::min(cell, static_cast<float>(s.z + rise));
                }
            }
        double worst = 0;
        std::size_t differ = 0;
        for (std::size_t i = 0; i < slow.heights.size(); ++i) {
            const double d = std::abs(static_cast<double>(slow.heights[i] - quick.heights[i]));
            if (d > 0.002) ++differ;
            worst = std::max(worst, d);
        }
        CAPTURE(key, worst);
        // Only cells whose middle lies on the very rim may fall on either side.
        CHECK(differ <= slow.heights.size() / 2000);
    }
}

TEST_CASE("proof: each no-go is found, with a fix where one click helps") {
    const auto base = stepped(drawn(fresh(), {{rectangle({50, 50}, {250, 200}), {}}}), "outline", "end-6");
    using enum proof::Verdict;
    CHECK(proofOf(base).mayRun());
    CHECK(finds(proofOf(fresh()), "nothing to cut", noGo));

    auto clamped = with(base, job::withClamp(base, {{{240, 100}, {270, 120}}, 15}));
    CHECK(finds(proofOf(clamped), "runs into clamp 1", noGo));

    auto deep = set(base, "extra", "8");
    const auto deepProof = proofOf(deep);
    CHECK(finds(deepProof, "below the scrap board", noGo));
    REQUIRE(deepProof.findings.front().fix);
    CHECK(proofOf(with(deep, deepProof.findings.front().fix->apply(deep))).mayRun());

    auto off = job::withArtwork(
        base, *artwork::withTransformed(*base.artwork, {base.artwork->items[0].id}, Transform::moved({400, 0})));
    CHECK(finds(proofOf(off), "beyond the stock", noGo));

    CHECK(finds(proofOf(set(base, "spindle", "40000")), "rpm", noGo));
    CHECK(finds(proofOf(set(base, "feed", "9000")), "the machine does 6000", look));
    CHECK(finds(proofOf(set(base, "hold", "none")), "loose", look));

    auto close = drawn(base, {{rectangle({254, 50}, {300, 200}), {}}});
    CHECK(finds(proofOf(close), "cut into", noGo));

    auto narrow =
        stepped(drawn(fresh(), {{rectangle({50, 50}, {250, 200}), {wound(rectangle({80, 80}, {84, 120}), false)}}}),
                "outline", "end-6");
    const auto narrowProof = proofOf(narrow);
    CHECK(finds(narrowProof, "does not fit into an opening", noGo));
    REQUIRE(narrowProof.findings.front().fix);
    CHECK(proofOf(with(narrow, narrowProof.findings.front().fix->apply(narrow))).mayRun());

    auto unordered = stepped(set(set(stepped(drawn(fresh(), {{rectangle({50, 50}, {250, 200}),
                                                              {wound(rectangle({80, 80}, {140, 120}), false)}}}),
                                             "outline", "end-6"),
                                     "role", "outer edges"),
                                 "hold", "none"),
                             "outline", "end-6");
    unordered = set(unordered, "role", "openings");
    CHECK(proofOf(unordered).mayRun());
    unordered.plan.order = plan::Order::byHand;
    CHECK(finds(proofOf(unordered), "already loose", noGo));
}

TEST_CASE("proof: corners that a round tool cannot reach are measured") {
    const auto proof = proofOf(
        stepped(drawn(fresh(), {{rectangle({50, 50}, {250, 200}), {wound(rectangle({80, 80}, {180, 140}), false)}}}),
                "outline", "end-6"));
    // Four corners, each r² (1 − π/4); the farthest point is r (√2 − 1) away.
    CHECK(proof.deviation.unreachedArea == Approx(4 * 9 * (1 - pi / 4)).epsilon(0.02));
    CHECK(proof.deviation.unreachedPlaces == 4);
    CHECK(proof.deviation.corners == Approx(3 * (std::sqrt(2) - 1)).margin(0.01));
    CHECK(proof.deviation.leftStanding < 0.01);
}

TEST_CASE("proof: cancelled work ends as cancelled") {
    Progress progress;
    progress.cancel();
    const auto proof = proof::proofOf(randomJob(1), progress);
    REQUIRE_FALSE(proof);
    CHECK(proof.problem().isCancelled);
}

TEST_CASE("proof: areas cut on the inside fall out, and the plate round them is what must not be cut into") {
    for (const char* machine : {"laser-700", "mill-600"}) {
        auto job = fresh(machine, machine[0] == 'l' ? "poplar" : "birch-ply");
        job = drawn(job, {{rectangle({60, 60}, {160, 120}, 8), {}}, {circle({240, 90}, 30), {}}});
        job = set(stepped(job, "outline"), "side", "inside");
        const auto proof = proofOf(job);
        CAPTURE(machine);
        CHECK(proof.deviation.cutInto <= 0.01);
        CHECK(proof.deviation.leftStanding <= 0.01);
        // Cut on the outside they are parts again, exact too.
        CHECK(proofOf(set(job, "side", "outside")).deviation.cutInto <= 0.01);
    }
}

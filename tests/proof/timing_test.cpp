#include "proof/proof.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {
toolpath::Toolpath pathOf_(std::vector<Move> moves, const char* tool = "end-6") {
    toolpath::Toolpath path;
    path.start = {0, 0, 5};
    path.steps.push_back({.step = {},
                          .name = "step",
                          .kind = nullptr,
                          .tool = *book().tool(tool),
                          .note = {},
                          .moves = std::move(moves),
                          .runs = {},
                          .waits = {},
                          .cuts = {}});
    return path;
}
proof::Timing timed(const toolpath::Toolpath& path) {
    Progress progress;
    auto timing = proof::timingOf(path, *book().machine("mill-600"), progress);
    REQUIRE(timing);
    return *timing;
}
} // namespace

TEST_CASE("timing: a straight run, a stop at each reversal, and a corner are what the trapezoids say") {
    const Move there{Move::Kind::line, true, {100, 0, -1}, {}, 3000, 0},
        back{Move::Kind::line, true, {0, 0, -1}, {}, 3000, 0};
    const auto once = timed(pathOf_({{Move::Kind::line, true, {0, 0, -1}, {}, 1500, 0}, there}));
    const auto twice = timed(pathOf_({{Move::Kind::line, true, {0, 0, -1}, {}, 1500, 0}, there, back}));
    // 50 mm/s, 600 mm/s²: 100 mm take 2 s and one ramp of 1/12 s. A turn on the spot comes to rest.
    CHECK(twice.steps[0].motion - once.steps[0].motion == Approx(2 + 50.0 / 600).epsilon(1e-3));
    CHECK(once.steps[0].ends.size() == 2);
    CHECK(once.length == Approx(100)); // along the sheet
    const Move corner{Move::Kind::line, true, {100, 100, -1}, {}, 3000, 0},
        straight{Move::Kind::line, true, {200, 0, -1}, {}, 3000, 0};
    const double onwards = timed(pathOf_({there, straight})).steps[0].motion,
                 round = timed(pathOf_({there, corner})).steps[0].motion;
    CHECK(round > onwards + 0.01);
    CHECK(round < onwards + 2 * 50.0 / 600);
}

TEST_CASE("timing: ends rise, sums agree, and nothing is quicker than feed and rapid allow", "[property]") {
    for (unsigned seed = 1; seed <= 24; ++seed) {
        const auto job = randomJob(seed);
        Progress progress;
        const auto proof = proof::proofOf(job, progress);
        REQUIRE(proof);
        CAPTURE(seed);
        double before = 0, motion = 0, least = 0;
        for (std::size_t s = 0; s < proof->timing.steps.size(); ++s) {
            const auto& step = proof->timing.steps[s];
            CHECK(step.ends.size() == proof->path.steps[s].moves.size());
            for (const double end : step.ends) {
                CHECK(end >= before - 1e-9);
                before = end;
            }
            motion += step.motion;
        }
        toolpath::forEachMove(proof->path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            const double size = std::hypot(lengthOf(from.flat(), move.flat()), move.to.z - from.z);
            least += 60 * size / (move.kind == Move::Kind::rapid ? job.machine.rapid * 1.5 : move.feed);
        });
        CHECK(motion + proof->timing.wayOut + proof->timing.wayHome == Approx(proof->timing.motion));
        CHECK(proof->timing.motion >= least * 0.999);
        CHECK(proof->timing.total >= proof->timing.motion - 1e-9);
    }
}

TEST_CASE("removal: many small moves cut the same as few long ones, and the playhead cuts part of a move") {
    std::vector<Move> fine, coarse;
    for (int i = 0; i <= 4000; ++i) {
        const double a = i * pi / 2000;
        fine.push_back({Move::Kind::line, true, {50 + 30 * std::cos(a), 50 + 30 * std::sin(a), -2}, {}, 1000, 0});
    }
    coarse.push_back({Move::Kind::line, true, {80, 50, -2}, {}, 1000, 0});
    coarse.push_back({Move::Kind::arc, true, {20, 50, -2}, {50, 50}, 1000, 0});
    coarse.push_back({Move::Kind::arc, true, {80, 50, -2}, {50, 50}, 1000, 0});
    Progress progress;
    const auto cut = [&](const toolpath::Toolpath& path, double until = 1e300) {
        auto grid = proof::HeightGrid::over({{0, 0}, {100, 100}}, 0.1);
        const auto timing = timed(path);
        REQUIRE(proof::sweep(grid, proof::strokesOf(path, 6, 0.01, &timing), progress, until));
        return grid;
    };
    const auto strokes = proof::strokesOf(pathOf_(fine), 6, 0.01);
    CHECK(strokes.list.size() < 300);
    const auto a = cut(pathOf_(fine)), b = cut(pathOf_(coarse));
    std::size_t differ = 0;
    for (std::size_t i = 0; i < a.heights.size(); ++i) differ += a.heights[i] != b.heights[i];
    CHECK(static_cast<double>(differ) < 0.002 * pi * 2 * 30 * 6 / 0.01); // cells right at the edge only
    // In the middle of one long move half of it is cut.
    const auto path = pathOf_(
        {{Move::Kind::line, true, {10, 20, -2}, {}, 1000, 0}, {Move::Kind::line, true, {90, 20, -2}, {}, 1000, 0}});
    const auto timing = timed(path);
    const auto half = cut(path, (timing.steps[0].ends[0] + timing.steps[0].ends[1]) / 2);
    CHECK(half.at({30, 20}) == Approx(-2));
    CHECK(half.at({47, 20}) == Approx(-2));
    CHECK(half.at({60, 20}) == 0);
    CHECK(cut(path).at({60, 20}) == Approx(-2));
}

TEST_CASE("removal: each tool leaves its own shape", "[property]") {
    Progress progress;
    for (const char* key : {"end-6", "ball-3", "v-60", "engraver-30", "drill-8"}) {
        const auto tool = *book().tool(key);
        auto grid = proof::HeightGrid::over({{0, 0}, {20, 20}}, 0.02);
        const auto path = pathOf_(
            {{Move::Kind::line, true, {10, 10, 0}, {}, 500, 0}, {Move::Kind::line, true, {10, 10, -1}, {}, 500, 0}},
            key);
        REQUIRE(proof::sweep(grid, proof::strokesOf(path, 6, 0.002), progress));
        double worst = 0;
        for (int r = 0; r < grid.rows; r += 3)
            for (int c = 0; c < grid.columns; c += 3) {
                const Vec2 p = grid.middle(c, r);
                const double away = distance(p, {10, 10});
                if (std::abs(away - tool.radiusAt(1)) < 0.03) continue; // the wall itself
                const double wanted = std::min(0.0, -1 + tool.profile(away));
                worst = std::max(worst, std::abs(wanted - static_cast<double>(grid.at(p))));
            }
        CAPTURE(key);
        CHECK(worst < 0.01);
    }
}

TEST_CASE("timing: what thinning does to the machine's time is told, and nothing where nothing is cut") {
    Ring wave;
    for (int i = 0; i <= 600; ++i) wave.push_back({40 + i * 0.2, 100 + 20 * std::sin(i * 0.05) + 0.06 * (i % 2)});
    auto job = drawn(fresh("laser-700", "poplar"), {{pathOf(wave, false), {}}}, "line");
    Progress progress;
    CHECK(proof::timeBeforeAndAfter(job, job, progress).empty());
    job = set(stepped(job, "scribe", "beam"), "layers", "line");
    Ring fewer;
    for (std::size_t i = 0; i < wave.size(); i += 12) fewer.push_back(wave[i]);
    const auto thin = drawn(job::withArtwork(job, artwork::Artwork{}), {{pathOf(fewer, false), {}}}, "line");
    const std::string words = proof::timeBeforeAndAfter(job, thin, progress);
    CAPTURE(words);
    double now = 0, then = 0;
    REQUIRE(std::sscanf(words.c_str(), "the machine moves for %lf s, before for %lf s", &now, &then) == 2);
    CHECK(now < then);
}

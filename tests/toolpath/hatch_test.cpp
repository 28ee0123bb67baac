#include "geometry/spatial.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

/// A straight bit that was burnt, read from the moves alone.
struct Burnt {
    Vec2 from, to;
    double power;
};
struct Reading {
    std::vector<Burnt> burnt;
    std::vector<std::pair<Vec2, Vec2>> scans; ///< from end to end
    double leastRunUp = 1e9;                  ///< dark way before and after what is burnt in a scan
};
Reading readingOf(const toolpath::Toolpath& path) {
    Reading out;
    toolpath::forEachMove(path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 at, const Move& move) {
        const Vec2 from = at.flat(), to = move.to.flat();
        if (move.kind == Move::Kind::rapid) {
            CHECK(move.power == 0);
        } else if (move.kind == Move::Kind::scan) {
            out.scans.emplace_back(from, to);
            double t = 0;
            std::optional<double> first, last;
            for (std::uint32_t i = 0; i < move.runs.count; ++i) {
                const auto& run = step.runs[move.runs.first + i];
                const auto end = static_cast<double>(run.end);
                if (run.power > 0) {
                    out.burnt.push_back({lerp(from, to, t), lerp(from, to, end), double(run.power)});
                    if (!first) first = t;
                    last = end;
                }
                CHECK(double(run.power) <= double(move.power) + 1e-9);
                t = end;
            }
            CHECK(t == 1);
            REQUIRE(first);
            const double whole = distance(from, to);
            out.leastRunUp = std::min({out.leastRunUp, *first * whole, (1 - *last) * whole});
        } else if (move.power > 0) {
            Vec2 a = from;
            flattenSegment(from, move.flat(), 0.002, [&](Vec2 b) {
                out.burnt.push_back({a, b, double(move.power)}), a = b;
            });
        }
    });
    return out;
}
job::Job shaded(std::vector<Piece> pieces) {
    auto job = fresh("laser-700", "poplar");
    job = drawn(job, std::move(pieces), "shade");
    job = stepped(job, "hatch");
    return set(job, "spacing", "0.25");
}
std::vector<Piece> moonWithFace(unsigned seed) {
    return {{wound(curvedBlob(seed, {100, 80}, 30), true), {wound(circle({100, 82}, 6), false)}}};
}

} // namespace

TEST_CASE("hatch: every place of an area is shaded, nothing beyond its edges, at full speed", "[property]") {
    for (unsigned seed = 1; seed <= 6; ++seed) {
        auto job = shaded(moonWithFace(seed));
        job = set(job, "angle", fmt::format("{}", static_cast<int>(seed) * 29 - 90));
        if (seed % 2) job = set(job, "ways", "one way");
        if (seed % 3 == 0) job = set(job, "by", "rings");
        job = set(job, "feed", "6000");
        const auto path = planned(job);
        const auto reading = readingOf(path);
        const auto edges = ringsOf(moonWithFace(seed));
        const double radius = path.steps[0].tool.radius();
        std::vector<Box> boxes;
        for (const auto& b : reading.burnt) {
            for (const double t : {0.0, 0.5, 1.0}) CHECK(room(edges, lerp(b.from, b.to, t)) > radius - 0.006);
            CHECK(b.power == Approx(plan::beamIn(job.plan.steps[0])->power / 100).margin(1e-4));
            boxes.push_back(boundsOf(Path{b.from, {Segment::line(b.to)}, false}));
        }
        const SpatialIndex index(boxes);
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> x(65, 135), y(45, 115);
        int inside = 0;
        for (int i = 0; i < 4000; ++i) {
            const Vec2 p{x(random), y(random)};
            if (room(edges, p) < radius + 0.02) continue;
            ++inside;
            double near = 1e9;
            Box box;
            box.take(p);
            for (const std::size_t k : index.meeting(box.grown(0.6)))
                near = std::min(near, distanceToLine(p, reading.burnt[k].from, reading.burnt[k].to));
            CHECK(near < 0.25 / 2 + 0.13); // half a step, and at a slanting edge where the next line ends
        }
        CHECK(inside > 800);
        if (seed % 3 == 0) continue;
        // v² = 2 a s, by numbers of the test's own: 100 mm/s at 2500 mm/s².
        CHECK(reading.leastRunUp > 2.0 - 1e-3);
        CHECK(reading.leastRunUp < 2.01);
        int turns = 0;
        for (std::size_t i = 1; i < reading.scans.size(); ++i)
            turns += dot(reading.scans[i].second - reading.scans[i].first,
                         reading.scans[i - 1].second - reading.scans[i - 1].first) < 0;
        if (seed % 2)
            CHECK(turns == 0);
        else
            CHECK(turns > 100);
    }
}

TEST_CASE("hatch: crossed it is burnt twice as long, rows go over all areas or each by itself, edges come last") {
    const std::vector<Piece> two{{rectangle({50, 50}, {70, 70}), {}}, {rectangle({75, 50}, {95, 70}), {}}};
    const auto length = [](const Reading& reading) {
        double sum = 0;
        for (const auto& b : reading.burnt) sum += distance(b.from, b.to);
        return sum;
    };
    const auto job = shaded(two);
    const auto once = readingOf(planned(job)), crossed = readingOf(planned(set(job, "crossed", "crossed"))),
               together = readingOf(planned(set(job, "rows", "over all")));
    // 20 mm less the beam's width, in lines 0.25 mm apart.
    CHECK(length(once) == Approx(2 * 19.84 * 79).epsilon(0.02));
    CHECK(length(crossed) == Approx(2 * length(once)).epsilon(0.01));
    CHECK(length(together) == Approx(length(once)).epsilon(1e-6));
    CHECK(together.scans.size() * 2 == once.scans.size());
    CHECK(planned(job).steps[0].cuts.size() == 2);
    CHECK(planned(set(job, "rows", "over all")).steps[0].cuts.size() == 1);
    CHECK(length(readingOf(planned(set(job, "passes", "3")))) == Approx(3 * length(once)).epsilon(1e-6));
    const auto edged = planned(set(job, "edge", "followed"));
    CHECK(length(readingOf(edged)) == Approx(length(once) + 2 * 4 * 19.84).epsilon(1e-3));
    CHECK(edged.steps[0].moves.back().kind == Move::Kind::line);
    // Far apart, the head goes over between them.
    const auto far = readingOf(planned(
        set(shaded({{rectangle({50, 50}, {70, 70}), {}}, {rectangle({200, 50}, {220, 70}), {}}}), "rows", "over all")));
    CHECK(far.scans.size() == once.scans.size());
}

TEST_CASE("hatch: what is narrower than the beam is told, shade is no way out for a part, and it is done before cuts") {
    auto job = shaded({{rectangle({50, 50}, {90, 50.1}), {}}});
    const auto path = planned(job);
    REQUIRE(path.snags.size() == 1);
    CHECK(path.snags[0].what.find("narrower than the beam") != std::string::npos);
    CHECK(path.steps.empty());
    // Between two lines of the lattice, and rings that cannot lie so far apart: neither in silence.
    job = set(shaded({{rectangle({50, 50.2}, {90, 50.9}), {}}}), "spacing", "4");
    REQUIRE(planned(job).snags.size() == 1);
    CHECK(planned(job).snags[0].what.find("No line meets") != std::string::npos);
    job = set(job, "by", "rings");
    REQUIRE(planned(job).snags.size() == 1);
    CHECK(planned(job).snags[0].what.find("no further apart than the beam") != std::string::npos);
    job = drawn(fresh("laser-700", "poplar"), {{circle({80, 80}, 30), {}}}, "token");
    job = drawn(job, {{circle({80, 80}, 10), {}}}, "moon");
    job = set(stepped(job, "outline"), "layers", "token");
    job = set(stepped(job, "hatch"), "layers", "moon");
    const auto token = planned(job);
    REQUIRE(token.steps.size() == 2);
    CHECK(token.steps[0].kind->name == "hatch");
    CHECK(token.steps[1].cuts.size() == 1);
    CHECK(token.steps[1].cuts[0].intent.role == plan::Role::outerEdges); // the moon is no opening of it
    for (const auto& cut : token.steps[0].cuts) CHECK_FALSE((cut.intent.frees || cut.intent.through));
    CHECK_FALSE(job::withStepAdded(fresh("mill-600"), "hatch", "end-3"));
}

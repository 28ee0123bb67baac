// How a tool comes into the stock and goes over it, for all kinds at once.
#include "geometry/measure.h"
#include "support/toolpaths.h"

#include <map>
#include <set>

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

TEST_CASE("entries: straight down into the stock goes at the plunge feed, whatever the kind and the depth",
          "[safety]") {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        const auto job = randomJob(seed);
        const auto path = planned(job);
        if (path.byBeam()) continue;
        CAPTURE(seed);
        const Box stock = job::sheetOf(job.sheet().stock);
        // Where it has been before it may come back quickly, to half a millimetre above.
        std::map<std::pair<long, long>, double> been;
        toolpath::forEachMove(path,
                              [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from, const Move& move) {
                                  auto& bottom = been[{std::lround(move.to.x * 1000), std::lround(move.to.y * 1000)}];
                                  const double before = std::exchange(bottom, std::min(bottom, move.to.z));
                                  if (move.kind == Move::Kind::rapid || distance(from.flat(), move.to.flat()) > 1e-9)
                                      return;
                                  if (move.to.z > from.z - 1e-9 || move.to.z >= before + 0.5 - 1e-6) return;
                                  if (!stock.grown(step.tool.radius()).contains(move.to.flat()))
                                      return; // in the air beside it
                                  const auto* rates = plan::ratesIn(*plan::find(job.plan, step.step));
                                  CHECK(move.feed <= rates->plunge * (1 + 1e-6));
                              });
    }
}

TEST_CASE("order: of parts beside each other small ones are cut first, as long as the sheet is firm") {
    auto job = drawn(fresh(), {{rectangle({20, 20}, {220, 220}), {}}, {circle({400, 300}, 12), {}}});
    const auto path = planned(stepped(job, "outline", "end-6"));
    REQUIRE(path.steps[0].cuts.size() == 2);
    CHECK(boundsOf(path.steps[0].cuts[0].centre).width() < 40);
}

TEST_CASE("entries: an open line is ramped into at the angle asked, and cut to depth where the ramp was") {
    Path line;
    line.start = {40, 40};
    line.segments = {Segment::line({240, 40}), Segment::line({240, 140})};
    for (const char* angle : {"3", "12"}) {
        auto job = set(stepped(drawn(fresh(), {{line, {}}}), "scribe", "engraver-30"), "entry", "ramp");
        const auto path = planned(set(set(set(job, "rampAngle", angle), "depth", "3"), "depthPerPass", "1"));
        CAPTURE(angle);
        double down = 0, way = 0, deepest = 0;
        toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            deepest = std::min(deepest, move.to.z);
            const double along = distance(from.flat(), move.to.flat());
            if (move.kind != Move::Kind::rapid && along > 1e-9 && move.to.z < from.z - 1e-9)
                down += from.z - move.to.z, way += along;
        });
        REQUIRE(way > 0);
        CHECK(down / way == Approx(std::tan(std::atof(angle) * pi / 180)).epsilon(0.01));
        CHECK(down == Approx(-deepest));
    }
}

TEST_CASE("entries: a loop that ends in a bend is left and entered by arcs as well") {
    Path loop; // begins where a bend runs out into a straight
    loop.start = {100, 100};
    loop.closed = true;
    loop.segments = {Segment::line({200, 100}), Segment::arc({200, 130}, {200, 160}, true), Segment::line({100, 160}),
                     Segment::arc({100, 130}, {100, 100}, true)};
    for (const char* side : {"outside", "inside"}) {
        auto job = set(set(stepped(drawn(fresh(), {{loop, {}}}), "outline", "end-6"), "hold", "none"), "side", side);
        const auto path = planned(set(set(job, "lead", "3"), "entry", "plunge"));
        std::size_t leads = 0;
        toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3, const Move& move) {
            if (move.kind == Move::Kind::arc && distance(move.centre, move.to.flat()) < 3.01) ++leads;
        });
        CAPTURE(side);
        CHECK(leads > 0);
        CHECK(leads % 2 == 0);
    }
}

TEST_CASE("entries: a point drawn twice loses nothing of a line") {
    Path line;
    line.start = {40, 40};
    line.segments = {Segment::line({90, 40}), Segment::line({90, 40}), Segment::line({90, 90})};
    const auto path = planned(stepped(drawn(fresh(), {{line, {}}}), "scribe", "engraver-30"));
    double way = 0;
    toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (move.kind != Move::Kind::rapid && move.to.z < 0) way += distance(from.flat(), move.to.flat());
    });
    CHECK(way >= 100 - 1e-6);
}

TEST_CASE("tabs: an automatic one lies on the straight by all of its foot, and a start depth is told in the cut") {
    for (const char* width : {"4", "9"}) {
        auto job = set(stepped(drawn(fresh(), {{rectangle({50, 50}, {250, 120}, 0), {}}}), "outline", "end-6"),
                       "tabWidth", width);
        job = set(set(job, "tabSpacing", "30"), "startDepth", "1.5");
        const auto path = planned(job);
        const auto& cut = path.steps[0].cuts[0];
        CHECK(cut.intent.top == 1.5);
        const double foot = std::atof(width) + 6;
        const Ruler ruler(cut.centre);
        REQUIRE(cut.tabs.size() > 4);
        for (const double tab : cut.tabs) {
            const Vec2 at = ruler.at(tab).point;
            CAPTURE(width, at.x, at.y);
            // Along the side that it is on, from the nearest end of the part's edge or round the corner's bend.
            const bool level = std::abs(at.y - 47) < 0.01 || std::abs(at.y - 123) < 0.01;
            const double toEnd = level ? std::min(at.x - 50, 250 - at.x) : std::min(at.y - 50, 120 - at.y);
            CHECK(toEnd >= foot / 2 - 0.01);
        }
    }
}

TEST_CASE("skim: no more lanes than the overlap asks, and every arm of an area is reached") {
    auto job = fresh();
    job.sheet().stock = {.width = 90, .height = 60, .thickness = 12};
    job = set(set(set(stepped(job, "skim", "end-6"), "overlap", "40"), "depth", "1"), "along", "width");
    std::set<double> lanes;
    toolpath::forEachMove(planned(job), [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (move.kind != Move::Kind::rapid && move.to.z < 0 && std::abs(move.to.x - from.x) > 50)
            lanes.insert(std::round(move.to.y * 1000));
    });
    // 60 mm and 2 over each edge, the tool's axis 3 in from there, 3.6 apart.
    CHECK(lanes.size() == 18); // 1 + 58 / 3.6, rounded up

    // A comb with three teeth that stand apart by more than the tool comes out for.
    Path comb;
    comb.closed = true;
    comb.start = {20, 20};
    for (const Vec2 p : {Vec2{180, 20},
                         {180, 120},
                         {160, 120},
                         {160, 50},
                         {120, 50},
                         {120, 120},
                         {100, 120},
                         {100, 50},
                         {40, 50},
                         {40, 120},
                         {20, 120},
                         {20, 20}})
        comb.segments.push_back(Segment::line(p));
    auto wide = drawn(fresh(), {{comb, {}}}, "pad");
    wide = set(set(stepped(wide, "skim", "end-6"), "layers", "pad"), "over", "pieces");
    wide = set(set(wide, "depth", "1"), "along", "width");
    double rightmost = 0, between = 0;
    toolpath::forEachMove(planned(wide), [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (move.kind == Move::Kind::rapid || move.to.z > -0.5 || move.to.y < 60) return;
        rightmost = std::max({rightmost, move.to.x, from.x});
        if (std::min(from.x, move.to.x) < 60 && std::max(from.x, move.to.x) > 90) between += 1;
    });
    CHECK(rightmost >= 180);
    CHECK(between == 0);
}

TEST_CASE("entries: a ramp of many laps round a small part stays on its way and at its angle", "[safety]") {
    for (const char* angle : {"0.5", "1", "3"}) {
        auto job = stepped(drawn(fresh(), {{rectangle({40, 40}, {46, 45}), {}}}), "outline", "end-3");
        job = set(set(set(set(job, "rampAngle", angle), "depthPerPass", "6"), "hold", "none"), "lead", "0");
        double steepest = 0, nearest = 1e9;
        toolpath::forEachMove(planned(job), [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            if (move.kind == Move::Kind::rapid || move.to.z >= 0 || from.z > 0) return;
            const double way = lengthOf(from.flat(), move.flat());
            steepest = std::max(steepest, (from.z - move.to.z) / std::max(way, 1e-9));
            Vec2 last = from.flat(); // the axis stays its radius off the part
            flattenSegment(last, move.flat(), 0.001, [&](Vec2 p) {
                for (const Vec2 q : {p, lerp(last, p, 0.25), lerp(last, p, 0.5), lerp(last, p, 0.75)})
                    nearest =
                        std::min(nearest, distance(q, {std::clamp(q.x, 40.0, 46.0), std::clamp(q.y, 40.0, 45.0)}));
                last = p;
            });
        });
        CHECK(nearest > 1.49);
        CHECK(steepest <= std::tan(std::atof(angle) * pi / 180) * 1.001);
    }
}

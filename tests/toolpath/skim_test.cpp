#include "support/toolpaths.h"
#include "support/witness.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

job::Job skimmed(const char* tool = "end-6") {
    auto job = fresh();
    job.sheet().stock = {.width = 90, .height = 60, .thickness = 12};
    return set(stepped(job, "skim", tool), "depth", "1.5");
}
/// What stands higher than it should within a box, asked of a grid that is swept here, cell by cell, mm².
double left(const toolpath::Toolpath& path, const Box& area, double z) {
    double sum = 0;
    for (double x = area.low.x + 0.25; x < area.high.x; x += 0.5)
        for (double y = area.low.y + 0.25; y < area.high.y; y += 0.5) {
            bool gone = false;
            toolpath::forEachMove(path, [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
                gone = gone || (move.kind != Move::Kind::rapid && std::max(from.z, move.to.z) < z + 1e-6 &&
                                distanceToLine({x, y}, from.flat(), move.to.flat()) <= step.tool.radius());
            });
            sum += gone ? 0 : 0.25;
        }
    return sum;
}

} // namespace

TEST_CASE("skim: the whole stock is faced, in equal passes, entered beside it, whatever the settings", "[property]") {
    for (const char* along : {"width", "height"})
        for (const char* ways : {"one way", "both ways"})
            for (const char* overlap : {"5", "40", "80"})
                for (const char* direction : {"climb", "conventional"}) {
                    auto job = set(set(skimmed(), "along", along), "ways", ways);
                    job = set(set(set(job, "overlap", overlap), "direction", direction), "depthPerPass", "0.6");
                    const auto path = planned(job);
                    CAPTURE(along, ways, overlap, direction);
                    REQUIRE(path.steps.size() == 1);
                    CHECK(left(path, {{0, 0}, {90, 60}}, -1.5) == 0);
                    const Box stock = job::sheetOf(job.sheet().stock);
                    double widest = 0, lowest = 0;
                    bool entersBeside = true, climbs = true;
                    toolpath::forEachMove(path, [&](const auto& step, std::size_t, toolpath::Vec3 from,
                                                    const Move& move) {
                        lowest = std::min(lowest, move.to.z);
                        if (move.to.z < from.z - 1e-9 && move.to.z < 0)
                            entersBeside = entersBeside && !stock.grown(step.tool.radius()).contains(move.to.flat());
                        if (move.kind == Move::Kind::rapid || move.to.z != from.z || move.to.z >= 0) return;
                        widest = std::max({widest, move.to.x - 90, -move.to.x, move.to.y - 60, -move.to.y});
                        const Vec2 way = move.to.flat() - from.flat();
                        if (length(way) < 50) return;
                        // Lanes go up, or to the right: there the uncut stock lies.
                        const Vec2 uncut = std::abs(way.x) > std::abs(way.y) ? Vec2{0, 1} : Vec2{1, 0};
                        climbs = climbs && (cross(way, uncut) < 0) == (std::string_view(direction) == "climb");
                    });
                    CHECK(entersBeside);
                    CHECK(lowest == Approx(-1.5));
                    CHECK(widest <= 2 + 3 + 0.11); // over the edge, and out of the stock
                    if (std::string_view(ways) == "one way") CHECK(climbs);
                }
}

TEST_CASE("skim: areas with an island are cleared, what lies round them is let alone") {
    auto job = fresh();
    job.sheet().stock = {.width = 200, .height = 150, .thickness = 12};
    job = drawn(job, {{rectangle({50, 40}, {150, 110}), {wound(rectangle({85, 60}, {115, 90}), false)}}}, "pad");
    job = set(stepped(job, "skim", "end-6"), "layers", "pad");
    job = set(set(job, "over", "pieces"), "depth", "2");
    const auto path = planned(job);
    CHECK(left(path, {{50, 40}, {150, 60}}, -2) == 0);
    CHECK(left(path, {{50, 40}, {85, 110}}, -2) == 0);
    CHECK(left(path, {{91, 66}, {109, 84}}, -2) == Approx(18 * 18));
    CHECK(left(path, {{0, 0}, {200, 30}}, -2) == Approx(200 * 30));
    CHECK(left(path, {{0, 120}, {200, 150}}, -2) == Approx(200 * 30));
    CHECK(planned(set(job, "layers", "nothing")).snags.front().what.find("takes no piece") != std::string::npos);
}

TEST_CASE("skim: it comes first, and a laser cannot do it") {
    auto job = drawn(skimmed(), {{rectangle({20, 15}, {70, 45}), {}}});
    job = stepped(job, "outline", "end-6");
    CHECK(planned(job).steps[0].name == "Skim");
    const auto refused = job::withStepAdded(fresh("laser-700", "poplar"), "skim", "");
    REQUIRE_FALSE(refused);
    CHECK(refused.problem().what.find("skim") != std::string::npos);
}

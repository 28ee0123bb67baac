#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

/// How near the tool's axis comes to an outline while it is below the top, mm.
double nearest(const toolpath::Toolpath& path, const Path& outline) {
    const Ring ring = flattened(outline, 0.001);
    double least = 1e9;
    toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (std::min(from.z, move.to.z) > -1e-9) return;
        Vec2 a = from.flat();
        flattenSegment(a, move.flat(), 0.001, [&](Vec2 b) {
            for (std::size_t k = 0; k < ring.size(); ++k)
                least = std::min(least, distanceBetween(a, b, ring[k], ring[(k + 1) % ring.size()]));
            a = b;
        });
    });
    return least;
}

} // namespace

TEST_CASE("leads: they keep clear of every neighbour, however near and however long they are asked for", "[safety]") {
    for (const char* lead : {"0", "2", "5", "12"})
        for (const double gap : {6.2, 8.0, 11.0, 20.0}) {
            const Path left = rectangle({40, 40}, {100, 100}, 0),
                       right = rectangle({100 + gap, 30}, {160 + gap, 110}, 0),
                       above = circle({70, 100 + gap + 25}, 25);
            auto job = stepped(drawn(fresh(), {{left, {}}, {right, {}}, {above, {}}}), "outline", "end-6");
            job = set(set(job, "lead", lead), "hold", "none");
            const auto path = planned(job);
            CAPTURE(lead, gap);
            for (const Path* part : {&left, &right, &above}) CHECK(nearest(path, *part) == Approx(3).margin(0.006));
        }
}

TEST_CASE("skim: lines run along the side that is asked for, and it is told from which depth it begins") {
    for (const bool upright : {false, true}) {
        auto job = fresh();
        job.sheet().stock = {.width = 120, .height = 80, .thickness = 12};
        job = set(set(stepped(job, "skim", "end-6"), "along", upright ? "height" : "width"), "depth", "2.5");
        job = set(job, "startDepth", "1");
        const auto path = planned(job);
        double across = 0, upward = 0;
        toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            if (move.kind == Move::Kind::rapid || move.to.z > -1) return;
            across += std::abs(move.to.x - from.x), upward += std::abs(move.to.y - from.y);
        });
        CAPTURE(upright, across, upward);
        CHECK((upright ? upward > 3 * across : across > 3 * upward));
        REQUIRE(path.steps[0].cuts.size() == 1);
        CHECK(path.steps[0].cuts[0].intent.top == 1);
        CHECK(path.steps[0].cuts[0].intent.bottom == 2.5);
    }
}

TEST_CASE(
    "leads: where there is room every pass comes and goes by a quarter arc at its depth, and ramps take their angle") {
    const Path disc = circle({100, 100}, 30);
    for (const char* entry : {"plunge", "ramp"})
        for (const double lead : {0.0, 3.0, 6.0}) {
            auto job = set(stepped(drawn(fresh(), {{disc, {}}}), "outline", "end-6"), "entry", entry);
            job = set(set(set(job, "lead", fmt::format("{}", lead)), "hold", "none"), "depthPerPass", "4");
            const auto path = planned(set(job, "rampAngle", "4"));
            CAPTURE(entry, lead);
            const bool ramps = std::string_view(entry) == "ramp";
            double down = 0, way = 0;
            std::size_t leads = 0, ends = 0, lifts = 0;
            const auto out = [&](Vec2 p) { return distance(p, {100, 100}) - 33; }; // off the loop, mm
            toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
                const double along = lengthOf(from.flat(), move.flat());
                if (move.kind != Move::Kind::rapid && along > 1e-6) {
                    CHECK(move.to.z <= 1e-9); // whatever goes sideways at a feed is in the stock
                    if (move.to.z < from.z - 1e-9) down += from.z - move.to.z, way += along;
                    if (move.kind == Move::Kind::arc && distance(move.centre, {100, 100}) > 1) {
                        ++leads;
                        CHECK(distance(move.centre, move.to.flat()) == Approx(lead));
                        // On to the loop, or off it, by all of its radius.
                        CHECK(std::min(out(from.flat()), out(move.to.flat())) == Approx(0).margin(0.01));
                        CHECK(std::max(out(from.flat()), out(move.to.flat())) > 0.4 * lead);
                    }
                }
                // Where it lifts off it has left the part.
                if (move.to.z > from.z + 1e-9 && from.z < -1e-6 && along < 1e-9) {
                    ++lifts;
                    ends += out(from.flat()) > 0.4 * lead - 0.01;
                }
            });
            const std::size_t passes = ramps ? 1 : 4; // 12.3 mm at 4 a pass
            CHECK(lifts == passes);
            CHECK(ends == passes);
            CHECK(leads == (lead > 0 ? 2 * passes : 0));
            if (ramps) CHECK(down / way == Approx(std::tan(4 * pi / 180)).epsilon(0.01));
        }
}

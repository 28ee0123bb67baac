#include "geometry/flatten.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {
/// A plate of 100 × 60 at 100,100 cut by one outline step with the 6 mm end mill.
job::Job plate(const char* tool = "end-6") {
    auto job = drawn(fresh(), {{rectangle({100, 100}, {200, 160}), {}}});
    return stepped(job, "outline", tool);
}
const toolpath::Cut& onlyCut(const toolpath::Toolpath& path) {
    REQUIRE(path.steps.size() == 1);
    REQUIRE(path.steps[0].cuts.size() == 1);
    return path.steps[0].cuts[0];
}
/// Every feed move of a step as fine points with their heights.
std::vector<toolpath::Vec3> cutPoints(const toolpath::Toolpath& path) {
    std::vector<toolpath::Vec3> points;
    toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (move.kind == Move::Kind::rapid) return;
        for (int k = 1; k <= 20; ++k) {
            const Vec2 p = pointAt(from.flat(), move.flat(), k / 20.0);
            points.push_back({p.x, p.y, from.z + (move.to.z - from.z) * k / 20});
        }
    });
    return points;
}
double outsideOf(const Box& box, Vec2 p) {
    return std::hypot(std::max({box.low.x - p.x, p.x - box.high.x, 0.0}),
                      std::max({box.low.y - p.y, p.y - box.high.y, 0.0}));
}
const Box plateBox{{100, 100}, {200, 160}};
} // namespace

TEST_CASE("outline: the tool's radius, the side and the allowance decide where the middle of the tool goes") {
    const auto boundsFor = [&](const char* side, const char* allowance = "0") {
        const auto job = set(set(plate(), "side", side), "allowance", allowance);
        return boundsOf(onlyCut(planned(job)).centre);
    };
    const auto is = [](const Box& box, double by) {
        return std::abs(box.low.x - (100 - by)) < 1e-3 && std::abs(box.high.y - (160 + by)) < 1e-3;
    };
    CHECK(is(boundsFor("outside"), 3));
    CHECK(is(boundsFor("auto"), 3));
    CHECK(is(boundsFor("inside"), -3));
    CHECK(is(boundsFor("on line"), 0));
    CHECK(is(boundsFor("outside", "0.5"), 3.5));
    CHECK(is(boundsFor("inside", "0.5"), -3.5));
    CHECK(is(boundsFor("outside", "-0.2"), 2.8));
    // For a laser it is half the kerf.
    auto laser = stepped(drawn(fresh("laser-700", "poplar"), {{rectangle({100, 100}, {200, 160}), {}}}), "outline");
    CHECK(is(boundsOf(onlyCut(planned(laser)).centre), 0.08));
}

TEST_CASE("outline: climb keeps the part on the right of the tool's way, conventional on the left") {
    for (const char* direction : {"climb", "conventional"})
        for (const char* side : {"outside", "inside"}) {
            const auto path = planned(set(set(plate(), "direction", direction), "side", side));
            const auto& cut = onlyCut(path);
            // A spindle that turns to the right climbs round a part clockwise and round an opening counter-clockwise.
            const bool clockwise = areaOf(cut.centre) < 0;
            const bool climb = std::string_view(direction) == "climb", outside = std::string_view(side) == "outside";
            CAPTURE(direction, side);
            CHECK(clockwise == (climb == outside));
        }
}

TEST_CASE("outline: ramps keep their angle, plunges go straight down, neither enters beside the waste") {
    for (const char* entry : {"ramp", "plunge"})
        for (const char* lead : {"0", "2", "4"})
            for (const char* angle : {"3", "20"}) {
                auto job = set(set(set(plate(), "entry", entry), "lead", lead), "rampAngle", angle);
                job = set(job, "hold", "none");
                const auto path = planned(job);
                CAPTURE(entry, lead, angle);
                const double steepest = std::tan(std::atof(angle) * pi / 180) * 1.02;
                bool gentle = true, clear = true;
                toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
                    if (move.kind == Move::Kind::rapid || from.z > 1e-9) return;
                    const double along = lengthOf(from.flat(), move.flat()), down = from.z - move.to.z;
                    if (down > 1e-9)
                        gentle = gentle && (std::string_view(entry) == "plunge" ? along < 1e-9 || down < 1e-6
                                                                                : down <= steepest * along + 1e-9);
                });
                for (const auto& p : cutPoints(path))
                    if (p.z < 0) clear = clear && outsideOf(plateBox, p.flat()) >= 3 - 0.005;
                CHECK(gentle);
                CHECK(clear); // leads and ramps too stay the tool's radius away from the part
            }
}

TEST_CASE("outline: passes reach equal depths and the last one goes all the way round at the bottom") {
    auto job = set(set(plate(), "depthPerPass", "4"), "hold", "none");
    const double deep = bottomOf(job, job.plan.steps[0]);
    const auto path = planned(job);
    const Ring way = flattened(onlyCut(path).centre, 0.01);
    std::size_t missing = 0;
    const auto points = cutPoints(path);
    for (const Vec2 p : way) {
        double nearest = 1e9;
        for (const auto& q : points)
            if (q.z <= -deep + 1e-6) nearest = std::min(nearest, distance(p, q.flat()));
        missing += nearest > 6; // points of straight stretches lie 5 mm apart
    }
    CHECK(missing == 0);
    double lowest = 0;
    for (const auto& q : points) lowest = std::min(lowest, q.z);
    CHECK(lowest == Approx(-deep));
}

TEST_CASE("outline: over a tab the tool stays above its height, elsewhere it does not", "[property]") {
    for (const char* width : {"4", "9"})
        for (const char* height : {"1", "3"}) {
            auto job = set(set(set(plate(), "tabWidth", width), "tabHeight", height), "tabSpacing", "90");
            const auto path = planned(job);
            const auto& cut = onlyCut(path);
            REQUIRE(cut.tabs.size() >= 3);
            const Ruler ruler(cut.centre);
            const double top = -job.sheet().stock.thickness + std::atof(height);
            std::size_t sunk = 0, over = 0;
            for (const auto& p : cutPoints(path))
                for (const double tab : cut.tabs) {
                    const double away = distance(p.flat(), ruler.at(tab).point);
                    if (away < std::atof(width) / 2 - 0.01) over += 1, sunk += p.z < top - 1e-6;
                }
            CAPTURE(width, height);
            CHECK(over > 0);
            CHECK(sunk == 0);
        }
}

TEST_CASE("drill: pecks lift out, the point goes through, the order is the nearest way round") {
    std::vector<Piece> holes;
    for (int i = 0; i < 12; ++i) holes.push_back({circle({50.0 + 40 * (i * 5 % 12), 100}, 4), {}});
    auto job = stepped(drawn(fresh(), holes, "holes"), "drill", "drill-8");
    job = set(job, "peck", "3");
    const auto path = planned(job);
    REQUIRE(path.steps[0].cuts.size() == 12);
    double travelled = 0;
    Vec2 at = path.steps[0].cuts[0].centre.start;
    for (const auto& cut : path.steps[0].cuts) travelled += distance(at, cut.centre.start), at = cut.centre.start;
    CHECK(travelled == Approx(40 * 11));
    const double deep = bottomOf(job, job.plan.steps[0]);
    double reached = 0, before = 0;
    int lifts = 0;
    bool gentle = true;
    const auto& first = path.steps[0].cuts[0];
    for (std::size_t i = first.first; i < first.end; ++i) {
        const auto& move = path.steps[0].moves[i];
        if (move.kind == Move::Kind::rapid && move.to.z >= 0 && reached < 0) ++lifts;
        if (move.kind == Move::Kind::line && move.to.z < reached) {
            gentle = gentle && reached - move.to.z <= 3 + 1e-9;
            reached = move.to.z;
        }
        before = move.to.z;
    }
    CHECK(reached == Approx(-deep));
    CHECK(lifts >= static_cast<int>(std::ceil(deep / 3)) - 1);
    CHECK(gentle);
    CHECK(before >= 0);
}

TEST_CASE("scribe: a beam burns a fold a dash at a time, evenly, and dark between at the same speed", "[safety]") {
    for (const bool closed : {false, true})
        for (const double dash : {0.5, 2.0, 6.0}) {
            const Path line = closed ? circle({80, 80}, 30) : pathOf(ring("20,40 90,40 90,75"), false);
            auto job = stepped(drawn(fresh("laser-700", "black-card"), {{line, {}}}), "scribe");
            job = set(set(job, "dash", fmt::format("{}", dash)), "gap", "1.5");
            job = set(job, "passes", "2");
            const auto path = planned(job);
            REQUIRE(path.snags.empty());
            std::vector<double> lit, dark; // stretches, as they follow each other
            bool was = false, begun = false;
            toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const toolpath::Move& move) {
                if (move.kind == toolpath::Move::Kind::rapid) return begun = false, void();
                const bool is = static_cast<double>(move.power) > 0;
                auto& to = is ? lit : dark;
                if (!begun || is != was) to.push_back(0);
                to.back() += lengthOf(from.flat(), move.flat());
                CHECK(move.feed == Approx(numberOf(job.plan.steps[0], "feed")));
                was = is, begun = true;
            });
            CAPTURE(closed, dash);
            REQUIRE(lit.size() > 20);
            const double whole = lengthOf(line), asked = whole / (dash + 1.5);
            CHECK(static_cast<double>(lit.size()) == Approx(2 * std::round(asked)).margin(2));
            const auto [least, most] = std::minmax_element(lit.begin(), lit.end());
            CHECK(*most - *least < 0.01);
            CHECK(*most == Approx(dash).epsilon(0.12));
            const auto [narrow, wide] = std::minmax_element(dark.begin(), dark.end());
            CHECK(*wide - *narrow < 0.01);
            if (!closed) CHECK(dark.size() == lit.size() - 2); // each pass ends with a dash
            double all = 0;
            for (const double l : lit) all += l;
            for (const double d : dark) all += d;
            CHECK(all <= 2 * whole + 0.01);
        }
}

TEST_CASE("scribe: follows open and closed lines on the line, a laser scores with its power") {
    auto job = drawn(fresh(), {{pathOf(ring("50,50 90,50 90,90"), false), {}}, {circle({150, 80}, 20), {}}}, "lines");
    job = stepped(job, "scribe", "engraver-30");
    const auto path = planned(job);
    REQUIRE(path.steps[0].cuts.size() == 2);
    CHECK(lengthOf(path.steps[0].cuts[0].centre) + lengthOf(path.steps[0].cuts[1].centre) ==
          Approx(80 + 40 * pi).epsilon(1e-3));
    auto laser = drawn(fresh("laser-700", "poplar"), {{pathOf(ring("50,50 90,50"), false), {}}}, "lines");
    laser = set(stepped(laser, "scribe"), "power", "12");
    const auto scored = planned(laser);
    for (const auto& move : scored.steps[0].moves)
        CHECK(move.power == Approx(move.kind == Move::Kind::rapid ? 0 : 0.12));
    laser = set(laser, "passes", "3");
    double length = 0;
    toolpath::forEachMove(planned(laser), [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (move.kind != Move::Kind::rapid) length += lengthOf(from.flat(), move.flat());
    });
    CHECK(length == Approx(120));
}

TEST_CASE("order: steps follow drills, lines, openings, edges by themselves, or the hand") {
    auto job = drawn(fresh(), {{rectangle({100, 100}, {200, 160}), {wound(rectangle({120, 115}, {150, 140}), false)}}});
    job = drawn(job, {{circle({170, 130}, 4), {}}}, "holes");
    job = stepped(job, "outline", "end-6");
    job = set(set(job, "role", "outer edges"), "name", "edges");
    job = stepped(job, "outline", "end-6");
    job = set(set(job, "role", "openings"), "name", "openings");
    job = stepped(job, "drill", "drill-8");
    job = set(job, "name", "holes");
    const auto names = [](const toolpath::Toolpath& path) {
        std::string out;
        for (const auto& step : path.steps) out += step.name + " ";
        return out;
    };
    CHECK(names(planned(job)) == "holes openings edges ");
    auto byHand = job;
    byHand.plan.order = plan::Order::byHand;
    CHECK(names(planned(byHand)) == "edges openings holes ");
    byHand.plan.steps[1].enabled = false;
    CHECK(names(planned(byHand)) == "edges holes ");
    Progress cancelled;
    cancelled.cancel();
    CHECK(toolpath::toolpathOf(job, cancelled).problem().isCancelled);
}

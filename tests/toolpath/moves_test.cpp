// Every kind of step and every choice of it, move by move: what a machine is sent changes only when it is meant to.
#include "support/golden.h"
#include "support/toolpaths.h"
#include "toolpath/motion.h"

using namespace ferro;
using toolpath::Move;

namespace {

std::string number(double value) {
    const std::string text = fmt::format("{:.3f}", value + 1e-7); // no tie is left to the last bit
    return text == "-0.000" ? "0.000" : text;
}
std::string placeOf(const toolpath::Vec3& p) { return number(p.x) + " " + number(p.y) + " " + number(p.z); }

std::string movesOf(const char* title, const job::Job& job) {
    const auto path = test::planned(job);
    std::string out = fmt::format("== {}\ntravel {} start {}\n", title, number(path.travel), placeOf(path.start));
    for (const auto& step : path.steps) {
        out += fmt::format("step {} · {} · {:g} rpm after {:g} s, plunge {:g}{}{}\n", step.name, step.tool.name,
                           step.spindle, step.spinUp, step.plunge, step.toolChange ? ", another tool" : "",
                           step.stopBefore ? ", stops: " + step.note : "");
        for (const auto& m : step.moves) {
            constexpr std::string_view kinds[] = {"rapid", "line", "arc", "scan"};
            out += fmt::format("  {} {}", kinds[static_cast<std::size_t>(m.kind)], placeOf(m.to));
            if (m.kind == Move::Kind::arc)
                out += fmt::format(" about {} {} {}", number(m.centre.x), number(m.centre.y), m.ccw ? "ccw" : "cw");
            out += fmt::format(" f{:g} p{:g}\n", m.feed, double(m.power));
        }
        for (const auto& cut : step.cuts) {
            const auto& i = cut.intent;
            out += fmt::format("  cut {}-{} of {}/{} role {} side {} allowance {:g} from {:g} to {:g}{}{} length {}",
                               cut.first, cut.end, i.item.value, i.opening, static_cast<int>(i.role),
                               static_cast<int>(i.side), i.allowance, i.top, i.bottom, i.through ? " through" : "",
                               i.frees ? " frees" : "", number(lengthOf(cut.centre)));
            for (const double tab : cut.tabs) out += " tab " + number(tab);
            out += cut.tabs.empty() ? "\n" : fmt::format(" wide {:g} top {:g}\n", cut.tabWidth, cut.tabTop);
        }
    }
    for (const auto& snag : path.snags)
        out += fmt::format("  {} {} at {} {}\n", verdictName(snag.verdict), snag.what, number(snag.at.x),
                           number(snag.at.y));
    return out;
}

job::Job boardWithTwo(const char* machine = "mill-600", const char* material = "birch-ply") {
    auto job = test::fresh(machine, material);
    auto stock = job.sheet().stock;
    stock.thickness = std::string_view(machine) == "mill-600" ? 9 : 3;
    job = test::with(job, job::withStock(job, stock));
    Piece part{rectangle({20.13, 30.27}, {91.4, 74.9}, 6), {reversed(circle({40.3, 52.1}, 9.2))}};
    part.openings.push_back(wound(rectangle({60.2, 44.4}, {79.7, 60.1}, 3), false));
    return test::drawn(job, {part});
}

} // namespace

TEST_CASE("toolpath: every kind goes as it went, move by move") {
    std::string all;
    const auto take = [&](const char* title, const job::Job& job) { all += movesOf(title, job); };
    const auto set = [](job::Job job, std::initializer_list<std::pair<const char*, const char*>> values) {
        for (const auto& [name, value] : values) job = test::set(job, name, value);
        return job;
    };
    const auto outline = [&](std::initializer_list<std::pair<const char*, const char*>> values) {
        return set(test::stepped(boardWithTwo(), "outline", "end-6"), values);
    };
    take("outline with tabs, ramp and leads", outline({}));
    take("outline plunged, the other way round, with an allowance, to a depth", outline({{"entry", "plunge"},
                                                                                         {"direction", "conventional"},
                                                                                         {"allowance", "0.4"},
                                                                                         {"through", "to depth"},
                                                                                         {"depth", "4.2"},
                                                                                         {"lead", "0"},
                                                                                         {"hold", "none"}}));
    take("outline inside, from a start depth",
         outline({{"side", "inside"}, {"startDepth", "3"}, {"role", "openings"}}));
    take("outline on the line, one pass, wide tabs often", outline({{"side", "on line"},
                                                                    {"depthPerPass", "20"},
                                                                    {"tabSpacing", "40"},
                                                                    {"tabWidth", "5"},
                                                                    {"tabHeight", "1.5"}}));
    auto holes = test::drawn(
        boardWithTwo(), {{circle({30.2, 90.1}, 4), {}}, {circle({70.3, 95.2}, 4), {}}, {circle({50.1, 88.7}, 4), {}}},
        "holes");
    holes = set(test::stepped(holes, "drill", "drill-8"), {{"layers", "holes"}, {"peck", "3"}});
    take("holes pecked", holes);
    take("holes in one go, to a depth, from a start depth",
         set(holes, {{"peck", "0"}, {"through", "to depth"}, {"depth", "6"}, {"startDepth", "1.5"}}));
    auto lines = test::drawn(
        test::fresh(),
        {{pathOf(test::ring("90.1,75.3 150.2,78.4 148.9,70.6"), false), {}}, {circle({40, 40}, 7.3), {}}}, "lines");
    lines = set(test::stepped(lines, "scribe", "engraver-30"), {{"layers", "lines"}});
    take("lines scribed by ramps", lines);
    take("lines scribed straight down in passes",
         set(lines, {{"entry", "plunge"}, {"depth", "1.1"}, {"depthPerPass", "0.4"}}));
    auto stock = boardWithTwo();
    auto small = stock.sheet().stock;
    small.width = 60, small.height = 44, stock = test::with(stock, job::withStock(stock, small));
    stock = test::stepped(stock, "skim", "end-6");
    take("stock skimmed both ways", set(stock, {{"depth", "1"}, {"depthPerPass", "0.6"}}));
    take("stock skimmed one way, along its height",
         set(stock, {{"ways", "one way"}, {"along", "height"}, {"depth", "0.5"}}));
    take("pieces skimmed", set(stock, {{"over", "pieces"}, {"depth", "0.5"}, {"direction", "conventional"}}));
    auto laser = test::stepped(boardWithTwo("laser-700", "poplar"), "outline", "beam");
    take("laser with tabs, twice", set(laser, {{"passes", "2"}, {"tabSpacing", "60"}}));
    take("laser without holding", set(laser, {{"hold", "none"}, {"lead", "1"}}));
    auto two = test::drawn(boardWithTwo(), {{circle({110.4, 50.2}, 4), {}}}, "holes");
    two = set(test::stepped(two, "outline", "end-6"), {{"layers", "cut"}});
    two = set(test::stepped(two, "drill", "drill-8"), {{"layers", "holes"}, {"stop", "yes"}});
    take("two tools, with a stop", two);
    test::checkGolden("toolpath/moves.txt", all);
}

TEST_CASE("motion: rides take the time that they took, one by one") {
    std::string all;
    for (const char* machine : {"mill-600", "laser-700"}) {
        toolpath::MotionPlanner planner(test::fresh(machine, machine[0] == 'm' ? "birch-ply" : "poplar").machine);
        planner.startAt({0, 0, 5});
        std::mt19937 random(8);
        const auto in = [&](double most) { return most * static_cast<double>(random() % 1000) / 1000; };
        for (int n = 0; n < 60; ++n) {
            const toolpath::Vec3 to{in(n % 3 ? 4 : 90), in(n % 4 ? 3 : 60), n % 7 ? planner.end().z : in(5)};
            if (n % 5 == 4) {
                const Vec2 from = planner.end().flat();
                const Vec2 centre = from + Vec2{1 + in(3), in(2)};
                (void)planner.push(Move::arc({2 * centre.x - from.x, 2 * centre.y - from.y, planner.end().z}, centre,
                                             n % 2 == 0, 900 + in(2000)));
            } else {
                (void)planner.push(n % 6 ? Move::line(to, 400 + in(3000)) : Move::rapid(to));
            }
        }
        while (!planner.empty()) {
            const auto ride = planner.pop();
            all += fmt::format(
                "{:.4f} mm from {:.3f} by {:.3f} to {:.3f} at {:.1f}: peak {:.3f}, {:.5f} s, half way {:.4f}\n",
                ride.length, ride.entry, ride.cruise, ride.exit, ride.acceleration, ride.peak(), ride.seconds(),
                ride.distanceAt(ride.seconds() / 2));
        }
    }
    test::checkGolden("toolpath/rides.txt", all);
}

TEST_CASE("order: thousands of holes are gone to from next to next, not back and forth") {
    // More than the window of the nearest next: strips first.
    std::vector<Vec2> places;
    for (int i = 0; i < 2400; ++i) places.push_back({20.0 + 9 * (i % 60), 20.0 + 9 * (i / 60)});
    std::shuffle(places.begin(), places.end(), std::mt19937(4));
    std::vector<Piece> holes;
    for (const Vec2 p : places) holes.push_back({circle(p, 4), {}});
    auto job = test::drawn(test::fresh(), holes, "holes");
    job = test::set(test::stepped(job, "drill", "drill-8"), "layers", "holes");
    const auto path = test::planned(job);
    double travel = 0;
    toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& m) {
        if (m.kind == Move::Kind::rapid) travel += distance(from.flat(), m.to.flat());
    });
    CHECK(path.steps[0].cuts.size() == 2400);
    CHECK(travel < 1.35 * 9 * 2400);
}

#include "program/for_job.h"
#include "support/plain_gcode.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {

double apart(const PlainPoint& a, const PlainPoint& b, toolpath::Vec3 p) {
    const toolpath::Vec3 d{b.x - a.x, b.y - a.y, b.z - a.z}, v{p.x - a.x, p.y - a.y, p.z - a.z};
    const double size = d.x * d.x + d.y * d.y + d.z * d.z;
    const double t = size > 0 ? std::clamp((v.x * d.x + v.y * d.y + v.z * d.z) / size, 0.0, 1.0) : 0;
    return std::hypot(v.x - t * d.x, v.y - t * d.y, v.z - t * d.z);
}

/// How far the program's way leaves the moves, walking both in step: each move's middle and end must lie on the way, in
/// order.
double worstMiss(const toolpath::Toolpath& path, const std::vector<PlainPoint>& way, const program::Frame& frame,
                 bool beam) {
    std::size_t at = 0;
    double worst = 0;
    toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const toolpath::Move& move) {
        for (const double t : {0.5, 1.0}) {
            const Vec2 p = pointAt(from.flat(), move.flat(), t) - frame.zero;
            const toolpath::Vec3 wanted{p.x, p.y, beam ? 0 : from.z + (move.to.z - from.z) * t - frame.z};
            double best = 1e9;
            std::size_t found = at;
            for (std::size_t i = at; i + 1 < way.size() && i < at + 4000; ++i) {
                const double d = apart(way[i], way[i + 1], wanted);
                if (d < best - 1e-12) best = d, found = i;
                if (best < 0.006) break;
            }
            at = found;
            worst = std::max(worst, best);
        }
    });
    return worst;
}

} // namespace

TEST_CASE("program: an independent reader finds the same way in every dialect to 0.01 mm", "[property]") {
    for (unsigned seed = 1; seed <= 36; ++seed) {
        const auto job = randomJob(seed);
        const auto path = planned(job);
        auto dialect = *program::openDialect(realDisk(), path.byBeam() ? "beam-by-speed"
                                                         : seed % 2    ? "mill-mm"
                                                                       : "mill-inch");
        dialect.arcs = seed % 3 != 0;
        dialect.modal = seed % 5 != 0;
        const auto program = program::programFor(job, path, dialect, program::Clearance::passed);
        CAPTURE(seed);
        INFO((program ? "" : program.problem().text()));
        REQUIRE(program);
        const auto way = plainWay(program->text);
        CHECK(worstMiss(path, way, program::frameOf(job), path.byBeam()) < 0.01);
        // Safety as the machine will see it, not as we meant it.
        const double travel = path.travel - program::frameOf(job).z;
        bool high = true, dark = true;
        for (std::size_t i = 2; i < way.size(); ++i) {
            if (!way[i].rapid) continue;
            dark = dark && (!path.byBeam() || way[i].speed == 0);
            const bool sideways = std::hypot(way[i].x - way[i - 1].x, way[i].y - way[i - 1].y) > 1e-6;
            if (!path.byBeam() && sideways) high = high && way[i].z >= travel - 0.002 && way[i - 1].z >= travel - 0.002;
        }
        CHECK(high);
        CHECK(dark);
        if (!dialect.arcs) CHECK(program->text.find("G2 ") == std::string::npos);
    }
}

TEST_CASE("program: the shallowest arcs are cut where they lie, and none is written wider than the dialect takes") {
    for (const double radius : {400.0, 3'000.0, 9'900.0, 12'000.0, 19'000.0, 30'000.0, 95'000.0}) {
        const double half = 200, rise = radius - std::sqrt(radius * radius - half * half);
        Path lens{{100, 200}, {Segment::arc({100 + half, 200 + radius - rise}, {100 + 2 * half, 200}, true)}, false};
        lens.segments.push_back(Segment::line({100 + 2 * half, 230}));
        lens.segments.push_back(Segment::line({100, 230}));
        lens.close();
        const auto job = stepped(drawn(fresh(), {{lens, {}}}), "outline", "end-6");
        const auto path = planned(job);
        for (const char* name : {"mill-mm", "mill-inch"}) {
            auto dialect = *program::openDialect(realDisk(), name);
            for (const double largest : {dialect.largestArc, 1'000.0, 20'000.0}) {
                dialect.largestArc = largest;
                const auto program = program::programFor(job, path, dialect, program::Clearance::passed);
                CAPTURE(radius, name, largest);
                INFO((program ? "" : program.problem().text()));
                REQUIRE(program);
                CHECK(worstMiss(path, plainWay(program->text), program::frameOf(job), false) < 0.01);
                // The centres as the controller will read them.
                const double scale = dialect.units == Units::inch ? 25.4 : 1;
                for (auto at = program->text.find(" J"); at != std::string::npos; at = program->text.find(" J", at + 1))
                    CHECK(std::abs(std::strtod(program->text.c_str() + at + 2, nullptr)) * scale <= largest + 0.1);
            }
        }
    }
}

TEST_CASE("program: numbers are as short as they can be and never minus nothing") {
    const auto text = [](double value, int decimals) {
        std::string out;
        program::appendNumber(out, value, decimals);
        return out;
    };
    CHECK(text(0, 3) == "0");
    CHECK(text(-0.0001, 3) == "0");
    CHECK(text(1.5, 3) == "1.5");
    CHECK(text(-12.3456, 3) == "-12.346");
    CHECK(text(100, 3) == "100");
    CHECK(text(0.0005, 3) == "0.001");
    std::mt19937 random(2);
    std::uniform_real_distribution<> part(-900, 900);
    for (int i = 0; i < 2000; ++i) {
        const double value = part(random);
        CHECK(std::strtod(text(value, 4).c_str(), nullptr) == Approx(value).margin(0.500001e-4));
    }
}

TEST_CASE("program: a dialect that would change the moves is refused, whatever it says") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {110, 90}, 6), {}}});
    job = stepped(job, "outline", "end-6");
    const auto path = planned(job);
    const auto good = *program::openDialect(realDisk(), "mill-mm");
    const auto refused = [&](auto change) {
        auto dialect = good;
        change(dialect);
        return !program::programFor(job, path, dialect, program::Clearance::passed);
    };
    CHECK_FALSE(refused([](auto&) {}));
    CHECK(refused([](auto& d) { d.header = {"G20"}; }));            // inches over millimetres
    CHECK(refused([](auto& d) { d.header.push_back("G91"); }));     // relative
    CHECK(refused([](auto& d) { d.start.push_back("G0 Z-5"); }));   // dives
    CHECK(refused([](auto& d) { d.start.push_back("G1 X500"); }));  // cuts across
    CHECK(refused([](auto& d) { d.header.push_back("G99 Q%"); }));  // cannot be read
    CHECK(refused([](auto& d) { d.header.push_back("G18"); }));     // arcs in another plane
    CHECK(refused([](auto& d) { d.header.push_back("G92 X10"); })); // moves the zero
    // What its templates do by themselves: rapids at travel height and no more.
    CHECK(refused([](auto& d) { d.header.push_back("G0 X10 Z-3"); }));
    CHECK(refused([](auto& d) { d.header.push_back("G0 Z1"); }));
    CHECK(refused([](auto& d) { d.header.push_back("G1 X5 F100"); }));
    CHECK(refused([](auto& d) { d.toolChange.push_back("G0 Z1"); }));
    CHECK(refused([](auto& d) { d.footer.insert(d.footer.begin(), "G0 Z-1"); }));
    CHECK(refused([](auto& d) { d.footer.insert(d.footer.begin(), "G1 X0 Y0 F500"); }));
    CHECK_FALSE(refused([](auto& d) { d.header.push_back("G0 X10 Y20"); }));
    CHECK_FALSE(refused([](auto& d) { d.footer.insert(d.footer.begin(), {"G0 Z{travel}", "G0 X1 Y1"}); }));
    CHECK_FALSE(program::programFor(job, path, good, program::Clearance::refused));
    auto sheet = drawn(fresh("laser-700", "poplar"), {{rectangle({50, 50}, {110, 90}, 6), {}}});
    sheet = stepped(sheet, "outline");
    const auto beam = planned(sheet);
    auto dialect = *program::openDialect(realDisk(), "beam-by-speed");
    CHECK(program::programFor(sheet, beam, dialect, program::Clearance::passed));
    dialect.footer = {"G1 X0 Y0", "M2"};
    CHECK_FALSE(program::programFor(sheet, beam, dialect, program::Clearance::passed));
    dialect.footer = {"M4 S1000", "G0 X0 Y0", "M2"}; // left burning
    CHECK_FALSE(program::programFor(sheet, beam, dialect, program::Clearance::passed));
    dialect.footer = {"G0 X0 Y0", "M2"};
    dialect.start = {"M5 S0"}; // never lit
    CHECK_FALSE(program::programFor(sheet, beam, dialect, program::Clearance::passed));
}

TEST_CASE("program: a dialect that sets the machine otherwise than was meant is refused with the line and the word",
          "[safety]") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {110, 90}, 6), {}}, {circle({80, 70}, 4), {}}});
    job = stepped(stepped(job, "drill", "drill-8"), "outline", "end-6");
    const auto path = planned(job);
    const auto good = *program::openDialect(realDisk(), "mill-mm");
    REQUIRE(program::programFor(job, path, good, program::Clearance::passed));
    struct Wrong {
        const char* word;
        std::function<void(program::Dialect&)> change;
    };
    const auto spindle = [](std::string line) { return [line](program::Dialect& d) { d.start[0] = line; }; };
    const auto header = [](std::string line) { return [line](program::Dialect& d) { d.header.push_back(line); }; };
    const auto footer = [](std::vector<std::string> lines) {
        return [lines](program::Dialect& d) { d.footer = lines; };
    };
    const Wrong wrong[] = {
        {"M3", [](auto& d) { d.start.erase(d.start.begin()); }},
        {"M4", spindle("M4 S{turns}")},
        {"S8000", spindle("M3 S8000")},
        {"S0", spindle("M3 S0")},
        {"M6",
         [](auto& d) {
             d.toolChange = {"M5", "G0 Z{travel}"};
         }},
        {"T9", [](auto& d) { d.toolChange.back() = "T9 M6"; }},
        {"G55", header("G55")},
        {"G43", header("G43 H1")},
        {"G53", footer({"G53 G0 Z-60", "M30"})},
        {"G28", footer({"G28 X40 Y40 Z-20", "M30"})},
        {"G28", [](auto& d) { d.start.push_back("G28"); }},
        {"G4", [](auto& d) { d.start.pop_back(); }},
        {"G4", [](auto& d) { d.start[1] = "G4 P0.5"; }},
        {"M5", [](auto& d) { d.stop.clear(); }},
        {"M9", header("M8")},
        {"G18", header("G18")},
        {"G91", [](auto& d) { d.start.push_back("G91"); }},
    };
    for (const auto& w : wrong) {
        auto dialect = good;
        w.change(dialect);
        const auto written = program::programFor(job, path, dialect, program::Clearance::passed);
        CAPTURE(w.word);
        REQUIRE_FALSE(written);
        CAPTURE(written.problem().text());
        CHECK(written.problem().text().find("ine ") != std::string::npos);
        if (std::string_view(w.word) == "G18" || std::string_view(w.word) == "G91") continue; // their arcs do not close
        CHECK(written.problem().what.starts_with("Line "));
        CHECK(written.problem().what.find(w.word) != std::string::npos);
    }
    // A tool that was called up early and put in later is the right one; air that is switched off again is allowed.
    auto early = good;
    early.toolChange = {"M5", "T{number}", "G0 Z{travel}", "M6"};
    CHECK(program::programFor(job, path, early, program::Clearance::passed));
    auto air = good;
    air.start.push_back("M8");
    air.stop.push_back("M9");
    CHECK(program::programFor(job, path, air, program::Clearance::passed));
    auto home = good;
    home.footer = {"G0 X0 Y0", "G28", "M30"};
    CHECK(program::programFor(job, path, home, program::Clearance::passed));
    // A stop before a step is in the program, or it is refused.
    auto stops = with(job, job::withStepSetting(job, lastStep(job), "stop", "yes"));
    const auto stopping = program::programFor(stops, planned(stops), good, program::Clearance::passed);
    REQUIRE(stopping);
    CHECK(stopping->text.find("\nM0\n") != std::string::npos);
    auto deaf = good;
    deaf.pause.clear();
    CHECK_FALSE(program::programFor(stops, planned(stops), deaf, program::Clearance::passed));
}

TEST_CASE("program: a name with brackets, quotes and signs of code writes a good program") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {110, 90}, 6), {}}});
    job = stepped(job, "outline", "end-6");
    job.name = "Moon (2nd) \"try\"; %G0 Z-50)\nG1 X0";
    job = set(job, "name", "Edges) G0 Z-9 (");
    job = set(job, "note", "tape down (both sides)");
    auto dialect = *program::openDialect(realDisk(), "mill-mm");
    dialect.header.insert(dialect.header.begin(), "({name})");
    const auto program = program::programFor(job, planned(job), dialect, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    CHECK(program->text.find("tape down") != std::string::npos);
}

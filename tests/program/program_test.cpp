#include "geometry/measure.h"
#include "program/agreement_internal.h"
#include "program/border.h"
#include "program/for_job.h"
#include "proof/proof.h"
#include "support/golden.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using program::Interpreter;
using toolpath::Move;

namespace {
program::Dialect dialect(const char* key) {
    auto d = program::openDialect(realDisk(), key);
    INFO((d ? "" : d.problem().text()));
    REQUIRE(d);
    return *d;
}
job::Job heronJob() {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {110, 90}, 6), {wound(rectangle({70, 62}, {90, 78}), false)}}});
    job = drawn(job, {{circle({60, 60}, 4), {}}}, "holes");
    job.name = "heron (left)";
    job = stepped(job, "drill", "drill-8");
    job = stepped(job, "outline", "end-3");
    return set(set(job, "layers", "cut"), "depthPerPass", "6");
}
/// Every point the program goes to, in sheet coordinates.
std::vector<Move> movesIn(const program::ReadProgram& read) {
    std::vector<Move> all;
    toolpath::forEachMove(read.path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (distance(from, move.to) > 1e-9) all.push_back(move); // a header's lift that lifts nothing says nothing
    });
    return all;
}
} // namespace

TEST_CASE("program: heron in three dialects reads as a person would write it", "[golden]") {
    const auto job = heronJob();
    const auto path = planned(job);
    for (const char* key : {"mill-mm", "mill-inch"}) {
        const auto program = program::programFor(job, path, dialect(key), program::Clearance::passed);
        INFO((program ? "" : program.problem().text()));
        REQUIRE(program);
        checkGolden(std::string("program/heron-") + key + ".nc", program->text);
    }
    auto laser = drawn(fresh("laser-700", "black-card"),
                       {{rectangle({50, 50}, {110, 90}, 6), {wound(circle({80, 70}, 5), false)}}});
    laser.name = "heron";
    laser = stepped(laser, "outline");
    const auto program =
        program::programFor(laser, planned(laser), dialect("beam-by-speed"), program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    checkGolden("program/heron-laser.gcode", program->text);
}

TEST_CASE("program: program → moves → program is stable in every dialect", "[property]") {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        const auto job = randomJob(seed);
        const auto path = planned(job);
        const auto d = dialect(path.byBeam() ? "beam-by-speed" : seed % 2 ? "mill-mm" : "mill-inch");
        const auto program = program::programFor(job, path, d, program::Clearance::passed);
        CAPTURE(seed);
        INFO((program ? "" : program.problem().text()));
        REQUIRE(program); // it compares what it reads back with what was meant
        auto read = program::readProgram(program->text, program::readOptionsFor(job, d));
        REQUIRE(read);
        const auto again = program::written(read->path, d, program::frameOf(job), job.name);
        auto twice = program::readProgram(again.text, program::readOptionsFor(job, d));
        REQUIRE(twice);
        const auto a = movesIn(*read), b = movesIn(*twice);
        REQUIRE(a.size() == b.size());
        double worst = 0;
        for (std::size_t i = 0; i < a.size(); ++i)
            worst = std::max({worst, distance(a[i].to, b[i].to), distance(a[i].centre, b[i].centre),
                              std::abs(a[i].power - b[i].power)});
        CHECK(worst < 1e-9);
        CHECK(std::count(program->text.begin(), program->text.end(), '\n') == static_cast<long>(program->lines));
    }
}

TEST_CASE("program: a scan is written as a line for each of its powers, is proofed so, and read back") {
    CHECK(sizeof(Move) <= 48);
    auto job = stepped(drawn(fresh("laser-700", "poplar"), {{rectangle({20, 20}, {60, 40}), {}}}), "outline");
    auto path = planned(job);
    auto& step = path.steps[0];
    step.moves = {Move::rapid({10, 10, 0}), Move::scan({50, 10, 0}, 3000, 0.8, {0, 3}), Move::rapid({10, 12, 0}),
                  Move::scan({50, 12, 0}, 3000, 0.5, {3, 2})};
    step.runs = {{0.25F, 0.8}, {0.5F, 0.0}, {1.0F, 0.4}, {0.5F, 0.0}, {1.0F, 0.5}};
    step.cuts.clear();
    const auto d = dialect("beam-by-speed");
    const auto program = program::programFor(job, path, d, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    CHECK(program->text.find("X20 F3000 S800\nX30 S0\nX50 S400\n") != std::string::npos);
    CHECK(program->lineOf[0][1] == program->lineOf[0][0] + 3); // it is done with its last line
    // The numbers count from the zero, wherever it is.
    auto elsewhere = job;
    elsewhere.sheet().stock.corner = job::ZeroCorner::upperRight;
    const auto there = program::programFor(elsewhere, path, d, program::Clearance::passed);
    REQUIRE(there);
    const auto zero = job::zeroOf(elsewhere.sheet().stock).at;
    CHECK(there->text.find(fmt::format("X{:.0f} F3000 S800\n", 20 - zero.x)) != std::string::npos);
    // Another power anywhere on it is seen.
    auto bent = path;
    bent.steps[0].runs[1].power = 0.3;
    const auto read = program::readProgram(program->text, program::readOptionsFor(job, d));
    REQUIRE(read);
    CHECK(program::largestMiss(path, program->lineOf, *read, d));
    CHECK_FALSE(program::largestMiss(bent, program->lineOf, *read, d));
    double lit = 0;
    for (const auto& stroke : proof::strokesOf(path, 3, 0.01).list) lit += distance(stroke.from, stroke.to);
    CHECK(lit == Approx(10 + 20 + 20));
}

TEST_CASE("program: nothing is written while a no-go stands") {
    const auto job = heronJob();
    CHECK_FALSE(program::programFor(job, planned(job), dialect("mill-mm"), program::Clearance::refused));
}

TEST_CASE("reader: G-code not written by us") {
    program::ReadOptions options;
    const auto endsAt = [&](const char* text, double x, double y, double z) {
        const auto read = program::readProgram(text, options);
        INFO(text << (read ? "" : read.problem().text()));
        REQUIRE(read);
        const auto to = movesIn(*read).back().to;
        CHECK(to.x == Approx(x).margin(1e-6));
        CHECK(to.y == Approx(y).margin(1e-6));
        CHECK(to.z == Approx(z).margin(1e-6));
    };
    endsAt("G20 G90\nG0 X1 Y2\nG1 Z-.125 F10", 25.4, 50.8, -3.175);
    endsAt("%\nO1000\nN10 g91 g1 f100 x5 (lamp)\nN20 y+5 ; half\nx 1 . 5\n%", 6.5, 5, 5);
    endsAt("G2 X10 Y0 R5 F100", 10, 0, 5);
    endsAt("G3 X0 Y0 I5 J0 F100", 0, 0, 5);
    endsAt("G18 G2 X10 Z5 I5 K0 F100", 10, 0, 5);
    endsAt("G90.1 G3 X5 Y5 I0 J5 F100\n", 5, 5, 5);
    endsAt("G0 Z3\nG99 G83 X10 Y10 Z-6 R1 Q2 F80\nX20\nG80\nG0 Z9", 20, 10, 9);
    const auto circle_ = program::readProgram("G0 X10 Y0\nG2 I-10 F100", options);
    REQUIRE(circle_);
    double length = 0;
    toolpath::forEachMove(circle_->path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& m) {
        length += m.kind == Move::Kind::arc ? lengthOf(from.flat(), m.flat()) : 0;
    });
    CHECK(length == Approx(2 * pi * 10));
}

TEST_CASE("reader: what it does not understand is refused with its line") {
    const std::pair<const char*, const char*> cases[] = {
        {"G21\nG5 X1", "line 2"},        {"X1 X2", "line 1"},   {"G1 X1", "line 1"},  {"G0 X#1", "line 1"},
        {"G2 X10 R1 F9", "line 1"},      {"G1 F9 X", "line 1"}, {"(open", "line 1"},  {"G41 D1", "line 1"},
        {"G2 X5 Y0 I1 J0 F9", "line 1"}, {"G0 A5", "line 1"},   {"G0 X1e5", "line 1"}};
    for (const auto& [text, where] : cases) {
        const auto read = program::readProgram(text, {});
        INFO(text);
        REQUIRE_FALSE(read);
        CHECK(read.problem().where == where);
    }
    std::mt19937 random(9);
    const std::string letters = "GXYZIJFSMTNR0123456789.-+ ()%;\n";
    for (int i = 0; i < 3000; ++i) {
        std::string text;
        for (unsigned k = 0; k < random() % 80; ++k) text += letters[random() % letters.size()];
        (void)program::readProgram(text, {}).has_value();
    }
}

TEST_CASE("dialect: a file with an impossible member is refused") {
    CHECK_FALSE(program::dialectFromText("{"));
    CHECK_FALSE(program::dialectFromText(R"({"units":"furlong"})"));
    CHECK_FALSE(program::dialectFromText(R"({"units":"inch","decimals":3})"));
    CHECK_FALSE(program::dialectFromText(R"({"ending":"../nc"})"));
    CHECK(program::openDialect(realDisk(), "nobody").problem().mend.find("mill-mm") != std::string::npos);
}

TEST_CASE("border: it goes round all that is cut, near enough and never over it, at travel height with nothing on",
          "[safety][property]") {
    for (const char* machine : {"mill-600", "laser-700", "knife-600"}) {
        const bool laser = machine == std::string("laser-700");
        for (unsigned seed = 1; seed <= 5; ++seed) {
            auto job = drawn(fresh(machine, laser               ? "poplar"
                                            : machine[0] == 'k' ? "black-card"
                                                                : "birch-ply"),
                             {{curvedBlob(seed, {180, 150}, 50), {}}, {curvedBlob(seed + 9, {330, 210}, 30), {}}});
            job = stepped(job, machine[0] == 'k' ? "slit" : "outline");
            const auto path = planned(job);
            CAPTURE(machine, seed);
            double round[2] = {0, 0};
            for (const auto by : {program::Border::box, program::Border::string}) {
                const auto blocks = program::borderWalk(job, path, by);
                REQUIRE(blocks.size() > 5);
                const auto frame = program::frameOf(job);
                std::vector<Vec2> corners;
                bool off = false, high = laser;
                for (const auto& block : blocks) {
                    off |= block == "M5";
                    CHECK(block.find("G1") == std::string::npos);
                    if (const auto z = block.find("G0 Z"); z == 0)
                        high = std::strtod(block.c_str() + 4, nullptr) + frame.z >= path.travel - 0.001;
                    double x = 0, y = 0;
                    if (std::sscanf(block.c_str(), "G0 X%lf Y%lf", &x, &y) != 2) continue;
                    CHECK(off);
                    CHECK(high); // before it goes anywhere
                    corners.push_back(Vec2{x, y} + frame.zero);
                }
                CHECK(corners.front() == corners.back());
                corners.pop_back();
                Box box;
                std::size_t over = 0;
                toolpath::forEachMove(path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from,
                                                const toolpath::Move& move) {
                    if (move.kind == toolpath::Move::Kind::rapid || (laser ? move.power <= 0 : move.to.z >= 0)) return;
                    for (const double t : {0.0, 0.3, 0.7, 1.0}) {
                        const Vec2 p = pointAt(from.flat(), move.flat(), t);
                        box.take(p);
                        double near = 1e9;
                        for (std::size_t i = 0; i < corners.size(); ++i)
                            near = std::min(near, distanceToLine(p, corners[i], corners[(i + 1) % corners.size()]));
                        if (!contains(corners, p) || near < step.tool.radius()) ++over;
                    }
                });
                CHECK(over == 0);
                round[by == program::Border::string] = perimeterOf(corners);
                Box walked;
                for (const Vec2 p : corners) walked.take(p);
                CHECK(walked.width() < box.width() + 2 * path.steps[0].tool.diameter + 0.2);
            }
            CHECK(round[1] < 0.95 * round[0]);
        }
    }
    CHECK(program::borderWalk(fresh(), planned(fresh()), program::Border::box).empty());
}

// What the stand-in's beam has burnt, spot by spot: an independent witness of power, feed, spacing and corners.
#include "program/for_job.h"
#include "proof/proof.h"
#include "standin/standin.h"
#include "support/talk.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {

constexpr Vec2 corner{12, 12}; // of the sheet, on the bed

/// The job's program on a stand-in of its machine.
/// `steady`: by M3, which holds the power whatever the speed; else by M4.
standin::Scorch burntBy(const job::Job& of, bool steady) {
    const auto path = planned(of);
    const auto dialect = program::dialectOf(realDisk(), of);
    REQUIRE(dialect);
    const auto program = program::programFor(of, path, *dialect, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    standin::StandIn machine(of.machine, {}, checkedTalk());
    const Vec2 zero = job::zeroOf(of.sheet().stock).at;
    machine.receive(
        fmt::format("G21 G90\nG92 X0 Y0 Z0\nG0 X{} Y{}\nG92 X0 Y0 Z0\n", corner.x + zero.x, corner.y + zero.y));
    machine.advance(1000);
    long number = 0;
    machine.receive(checkedTalk().framed(number++, "(begin 1)"));
    std::string text = program->text;
    if (const auto at = text.find("M4"); steady) {
        REQUIRE(at != std::string::npos);
        for (auto on = at; on != std::string::npos; on = text.find("M4", on)) text[on + 1] = '3';
    }
    std::istringstream lines(text);
    for (std::string line; std::getline(lines, line);) {
        ++number;
        for (long k = 0;; ++k) {
            machine.receive(checkedTalk().framed(number - 1, line));
            if (machine.status().accepted >= number - 1) break;
            REQUIRE(k < 10'000);
            machine.advance(0.05, true);
        }
        if (machine.status().state == link::MachineState::pausing ||
            machine.status().state == link::MachineState::changing)
            machine.receive(std::string_view(&doResume, 1));
    }
    for (int i = 0; i < 40'000 && machine.status().state != link::MachineState::resting; ++i) {
        machine.advance(0.1);
        if (machine.status().state == link::MachineState::pausing ||
            machine.status().state == link::MachineState::changing)
            machine.receive(std::string_view(&doResume, 1));
    }
    REQUIRE(machine.status().done == number - 1);
    return machine.burnt();
}
double doseAt(const standin::Scorch& burnt, Vec2 onSheet, double side) { return burnt.dose(corner + onSheet, side); }

} // namespace

TEST_CASE("burnt: a hatched area gets power over feed and spacing, evenly, and nothing beside it is burnt",
          "[safety]") {
    for (const bool steady : {true, false}) {
        CAPTURE(steady);
        auto job =
            drawn(fresh("laser-700", "poplar"), {{rectangle({30, 30}, {70, 50}), {wound(circle({60, 40}, 5), false)}}});
        job = set(set(set(stepped(job, "hatch"), "power", "20"), "feed", "3000 mm"), "spacing", "0.25 mm");
        const auto burnt = burntBy(job, steady);
        const double wanted = 0.2 / (3000 / 60.0) / 0.25; // share · s / mm²
        for (const Vec2 p : {Vec2{33, 33}, {40, 40}, {50, 46}, {67, 47}}) {
            CAPTURE(p);
            CHECK(doseAt(burnt, p, 4) == Approx(wanted).epsilon(0.07)); // a line more or less of sixteen
        }
        CHECK(doseAt(burnt, {44, 40}, 12) == Approx(wanted).epsilon(0.03));
        CHECK(doseAt(burnt, {60, 40}, 6) == 0);
        for (const Vec2 p : {Vec2{27, 40}, {73, 40}, {50, 27}, {50, 53}})
            CHECK(doseAt(burnt, p, 4) == 0); // run-ups too
        const double area = 40 * 20 - pi * 25;
        CHECK(burnt.total() == Approx(wanted * area).epsilon(0.02));
    }
}

TEST_CASE("burnt: corners of a line are darker by a steady power, and not by one that follows the speed") {
    auto job = drawn(fresh("laser-700", "poplar"), {{rectangle({30, 30}, {110, 90}), {}}});
    job = set(set(stepped(job, "scribe"), "power", "15"), "feed", "9000 mm");
    const auto steady = burntBy(job, true), followed = burntBy(job, false);
    const auto along = [](const standin::Scorch& burnt, Vec2 p) { return doseAt(burnt, p, 2) * 2; }; // for a mm of line
    const double wanted = 0.15 / (9000 / 60.0);
    CHECK(along(steady, {70, 30}) == Approx(wanted).epsilon(0.08));
    CHECK(along(followed, {70, 30}) == Approx(wanted).epsilon(0.08));
    // At a corner two mm of line lie in the square, half of each of its sides.
    CHECK(along(steady, {110, 30}) > 1.5 * wanted);
    CHECK(along(followed, {110, 30}) < 1.15 * wanted);
    CHECK(followed.total() == Approx(wanted * 280).epsilon(0.03));
    CHECK(steady.total() > followed.total());
    CHECK(doseAt(steady, {70, 60}, 20) == 0); // jumps do not burn
    const auto picture = steady.picture();
    CHECK(picture.find("P5\n801 601\n255\n") == 0);
}

TEST_CASE("burnt: a power that is weakened by the real speed burns corners no darker, by M3 too", "[property]") {
    auto job = drawn(fresh("laser-700", "poplar"), {{rectangle({30, 30}, {110, 90}, 4), {}}});
    job = drawn(job, {{rectangle({40, 40}, {90, 80}), {}}});
    job = set(set(stepped(job, "scribe"), "power", "15"), "feed", "9000 mm");
    const auto plain = planned(job);
    job = set(job, "still", "0");
    const auto eased = planned(job);
    const auto burnt = burntBy(job, true);
    const double wanted = 0.15 / (9000 / 60.0);
    CHECK(burnt.total() == Approx(wanted * (lengthOf(rectangle({30, 30}, {110, 90}, 4)) + 180)).epsilon(0.03));
    CHECK(doseAt(burnt, {70, 30}, 2) * 2 == Approx(wanted).epsilon(0.08));
    CHECK(doseAt(burnt, {90, 40}, 2) * 2 < 1.25 * wanted);
    CHECK(doseAt(burnt, {90, 40}, 2) * 2 > 0.75 * wanted);
    // The way and its time stay what they were; half of it at a standstill is half of it at least everywhere.
    Progress progress;
    CHECK(proof::timingOf(eased, job.machine, progress)->motion ==
          Approx(proof::timingOf(plain, job.machine, progress)->motion).epsilon(0.005));
    REQUIRE(eased.steps[0].cuts.size() == plain.steps[0].cuts.size());
    for (std::size_t i = 0; i < plain.steps[0].cuts.size(); ++i) {
        const auto endOf = [&](const toolpath::Toolpath& path) {
            return path.steps[0].moves[path.steps[0].cuts[i].end - 1].to;
        };
        CHECK(endOf(eased) == endOf(plain));
    }
    const auto half = planned(set(job, "still", "50"));
    for (const auto& move : half.steps[0].moves)
        if (move.kind != toolpath::Move::Kind::rapid) CHECK((move.power > 0.0749 && move.power < 0.1501));
    const auto dialect = *program::dialectOf(realDisk(), job);
    const auto unsaid = program::unsaidBy(dialect, eased);
    REQUIRE(unsaid.size() == 1);
    CHECK(unsaid[0].what.find("once more") != std::string::npos);
    CHECK(program::unsaidBy(dialect, plain).empty());
}

TEST_CASE("burnt: where a beam pierces it stands as long as was meant, and at its start alone", "[safety]") {
    auto job = drawn(fresh("laser-700", "poplar"), {{rectangle({30, 30}, {110, 90}), {}}});
    job = set(set(set(stepped(job, "outline"), "power", "60"), "feed", "3000 mm"), "passes", "1");
    const auto plain = burntBy(job, false), pierced = burntBy(set(job, "pierce", "0.5"), false);
    CHECK(pierced.total() - plain.total() == Approx(0.6 * 0.5).epsilon(0.02)); // share · s, by M3 while it stands
    const auto path = planned(set(job, "pierce", "0.5"));
    REQUIRE(path.steps[0].waits.size() == 1);
    const Vec2 at = path.steps[0].moves[path.steps[0].waits[0].before - 1].to.flat();
    CHECK((doseAt(pierced, at, 1) - doseAt(plain, at, 1)) == Approx(0.3).epsilon(0.02)); // all of it on one mm²
}

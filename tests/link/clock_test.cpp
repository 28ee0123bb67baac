#include "link/streamer.h"
#include "program/for_job.h"
#include "proof/proof.h"
#include "standin/standin.h"
#include "support/talk.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {

/// What the stand-in's own clock shows after a job's program, run from the job's zero.
double clockOf(const job::Job& job, const toolpath::Toolpath& path) {
    const auto dialect = *program::dialectOf(realDisk(), job);
    const auto program = *program::programFor(job, path, dialect, program::Clearance::passed);
    standin::StandIn machine(job.machine, {}, checkedTalk());
    const auto zero = job::zeroOf(job.sheet().stock);
    // The sheet's corner a little inside the bed, its top low enough for rapids to fit under the upper end.
    machine.receive(fmt::format("G21 G90\nG92 X0 Y0 Z0\nG0 X{} Y{} Z{}\nG92 X0 Y0 Z0\n", 12 + zero.at.x, 12 + zero.at.y,
                                zero.z - path.travel - 6));
    machine.advance(1000);
    long number = 0;
    machine.receive(checkedTalk().framed(number++, "(begin 1)"));
    std::istringstream lines(program.text);
    std::string line;
    const auto goOn = [&] { // the person at the machine answers at once
        const auto state = machine.status().state;
        if (state == link::MachineState::changing || state == link::MachineState::pausing)
            machine.receive(std::string_view(&doResume, 1));
    };
    while (std::getline(lines, line)) {
        (void)machine.replies();
        for (machine.receive(checkedTalk().framed(number, line));;
             machine.receive(checkedTalk().framed(number, line))) {
            const auto answer = machine.replies();
            INFO(line << answer);
            REQUIRE((answer.find("ok") != std::string::npos || answer.find("busy") != std::string::npos));
            if (answer.find("busy") == std::string::npos) break;
            machine.advance(0.05);
            goOn();
        }
        ++number;
    }
    for (int i = 0; i < 400'000 && machine.status().done < number - 1; ++i) machine.advance(0.1), goOn();
    REQUIRE(machine.status().done == number - 1);
    return machine.status().clock;
}
void agree(const job::Job& job) {
    Progress progress;
    const auto proof = proof::proofOf(job, progress);
    REQUIRE(proof);
    for (const auto& f : proof->findings)
        if (f.verdict == Verdict::noGo) UNSCOPED_INFO(f.what);
    CHECK(clockOf(job, proof->path) == Approx(proof->timing.running()).epsilon(0.03));
}

} // namespace

TEST_CASE("clock: a machine that integrates its motion by itself needs the time that was told, whatever the job") {
    for (unsigned seed = 1; seed <= 14; ++seed) {
        auto job = randomJob(seed);
        job.machine.bedX = job.machine.bedY = 1500; // skims go over the edge, and the sheet lies 12 mm inside
        CAPTURE(seed);
        agree(job);
    }
}

TEST_CASE("clock: short jobs, far ways, many short moves") {
    // Two holes at the ends of the sheet: nearly all of it is way out and home.
    auto job = fresh();
    job.machine.bedX = 1500;
    auto holes = stepped(drawn(job, {{circle({15, 15}, 4), {}}, {circle({585, 385}, 4), {}}}), "drill", "drill-8");
    agree(holes);
    agree(set(holes, "peck", "1"));
    agree(stepped(drawn(job, {{circle({300, 200}, 4), {}}}), "drill", "drill-8"));
    agree(stepped(drawn(job, {{circle({300, 200}, 30), {}}}), "outline", "end-3"));
    Ring fine;
    for (int i = 0; i < 1500; ++i) {
        const double a = 2 * pi * i / 1500;
        fine.push_back(Vec2{300, 200} + Vec2{std::cos(a), std::sin(a)} * (80 + 0.3 * std::sin(40 * a)));
    }
    agree(set(stepped(drawn(job, {{pathOf(fine, true), {}}}), "outline", "end-3"), "depthPerPass", "6"));
}

#include "standin/standin.h"
#include "support/jobs.h"
#include "support/talk.h"

using namespace ferro;
using namespace ferro::test;
using link::MachineState;
using standin::StandIn;

namespace {
/// The machine by itself: says a block, lets time pass, hears the answer.
struct Alone {
    StandIn machine;
    explicit Alone(const char* key = "mill-600") : machine(*book().machine(key), {}, checkedTalk()) {
        (void)machine.replies();
    }
    std::string say(const std::string& block, double seconds = 0) {
        machine.receive(block + "\n");
        machine.advance(seconds);
        const auto answer = machine.replies();
        const auto text = link::unchecked(answer);
        return text ? std::string(*text) : "";
    }
    [[nodiscard]] link::Status now() const { return machine.status(); }
};
} // namespace

TEST_CASE("stand-in: it moves where it is told, in the time its acceleration allows, and no farther than it can") {
    Alone a;
    CHECK(a.say("G21 G90") == "ok 0");
    CHECK(a.say("G0 X100 Y50", 0.01) == "ok 0");
    CHECK(a.now().state == MachineState::moving);
    CHECK(a.now().machine.x < 5); // it has hardly begun
    a.machine.advance(60);
    CHECK(a.now().machine == toolpath::Vec3{100, 50, 0});
    CHECK(a.now().state == MachineState::resting);
    const auto refused = a.say("G0 X700");
    CHECK(refused.starts_with("error"));
    CHECK(refused.find("limit") != std::string::npos);
    CHECK(a.say("G0 Z5").find("limit") != std::string::npos); // it is up already
    CHECK(a.say("G0 Z-95").find("limit") != std::string::npos);
    CHECK(a.say("G2 X100 Y50 I300 F600").find("limit") != std::string::npos); // the round would leave the bed
    a.machine.advance(60);
    CHECK(a.now().machine == toolpath::Vec3{100, 50, 0}); // nothing of what was refused
    CHECK(a.say("G41 X1").starts_with("error"));
    CHECK(a.say("G20 G0 X1", 60) == "ok 0");
    CHECK(a.now().machine.x == Approx(25.4));
}

TEST_CASE("stand-in: the zero is where it is set, homing goes up first, and both know the machine's own place") {
    Alone a;
    a.say("G21 G90 G0 X40 Y30 Z-20", 60);
    CHECK(a.say("G92 X0 Y0 Z0") == "ok 0");
    a.machine.advance(1);
    CHECK(a.now().at == toolpath::Vec3{0, 0, 0});
    CHECK(a.now().machine == toolpath::Vec3{40, 30, -20});
    a.say("G1 X10 Z5 F900", 60);
    CHECK(a.now().machine == toolpath::Vec3{50, 30, -15});
    CHECK(a.say("G0 X-45").find("limit") != std::string::npos); // beyond the bed in the machine's own numbers
    a.machine.receive("G28\n");
    double low = 0;
    for (int i = 0; i < 2000; ++i) {
        a.machine.advance(0.01);
        const auto at = a.now().machine;
        if (std::hypot(at.x - 50, at.y - 30) > 0.01) low = std::min(low, at.z);
    }
    CHECK(low >= -0.001); // sideways only at the upper end
    CHECK(a.now().machine == toolpath::Vec3{0, 0, 0});
}

TEST_CASE("stand-in: hold brakes on the way and keeps it, reset forgets it, a trip wants homing") {
    Alone a;
    a.say("G21 G90 G1 X200 Y100 F6000", 1);
    const std::string hold(1, doHold), go(1, doResume), reset(1, doReset);
    const auto before = a.now().machine;
    a.machine.receive(hold);
    CHECK(a.now().state == MachineState::waiting);
    a.machine.advance(0.02);
    const auto braking = a.now().machine;
    CHECK(braking.x > before.x + 0.5); // from 100 mm/s nothing stops on the spot
    a.machine.advance(30);
    const auto held = a.now().machine;
    // v² / 2a is 8.3 mm at 100 mm/s and 600 mm/s²
    CHECK(std::hypot(held.x - before.x, held.y - before.y) == Approx(100.0 * 100 / 2 / 600).margin(0.5));
    CHECK(held.y == Approx(held.x / 2)); // still on the line
    a.machine.advance(30);
    CHECK(a.now().machine == held);
    const double clock = a.now().clock;
    a.machine.receive(go);
    a.machine.advance(0.02);
    CHECK(a.now().machine.x - held.x < 0.5); // and nothing starts on the spot
    a.machine.advance(30);
    CHECK(a.now().machine == toolpath::Vec3{200, 100, 0});
    CHECK(a.now().clock > clock);
    // Held while it stands, it stands on after the next block.
    a.machine.receive(hold);
    CHECK(a.now().state == MachineState::resting);
    const auto table = a.machine.table();
    CHECK(table.find("M0.000 420.000L200.000 320.000") != std::string::npos);
    a.say("G0 X10", 0.3);
    a.machine.receive(reset);
    const auto stopped = a.now();
    CHECK(stopped.state == MachineState::reset);
    a.machine.advance(30);
    CHECK(a.now().machine == stopped.machine);
    CHECK(a.now().queue == 0);

    StandIn faulty(*book().machine("mill-600"), {{{standin::Faults::Kind::trip, 2}}, 0, 1}, checkedTalk());
    faulty.receive(checkedTalk().framed(0, "(begin 1)") + checkedTalk().framed(1, "G21") +
                   checkedTalk().framed(2, "G0 X5"));
    faulty.advance(1);
    CHECK(faulty.status().state == MachineState::tripped);
    (void)faulty.replies();
    faulty.receive("G0 X1\n");
    CHECK(faulty.replies().find("tripped") != std::string::npos);
    faulty.receive("G28\n");
    faulty.advance(20);
    faulty.receive("G0 X1\n");
    CHECK(faulty.replies().find("ok") != std::string::npos);
}

TEST_CASE("stand-in: tool changes and pauses wait for a person, dwells for the clock") {
    Alone a;
    a.say("G21 G90 G0 X5", 20);
    a.say("T2 M6");
    a.say("G0 X20");
    a.machine.advance(30);
    CHECK(a.now().state == MachineState::changing);
    CHECK(a.now().machine.x == Approx(5));
    a.machine.receive(std::string(1, doResume));
    a.machine.advance(30);
    CHECK(a.now().machine.x == Approx(20));
    a.say("G4 P3");
    a.say("G0 X25");
    a.machine.advance(2.5);
    CHECK(a.now().machine.x == Approx(20));
    a.machine.advance(10);
    CHECK(a.now().machine.x == Approx(25));
    a.say("M0");
    a.say("G0 X30");
    a.machine.advance(10);
    CHECK(a.now().state == MachineState::pausing);
    CHECK(a.now().machine.x == Approx(25));
}

TEST_CASE("protocol: a changed byte never passes for the line that was sent", "[property]") {
    std::mt19937 random(9);
    for (int i = 0; i < 4000; ++i) {
        const std::string block = fmt::format("G1 X{} Y{} F{}", random() % 300, random() % 300, random() % 3000);
        std::string line = checkedTalk().framed(static_cast<long>(random() % 9000), block);
        const auto sent = *checkedTalk().unframed(line);
        CHECK(sent.block == block);
        auto spoilt = line;
        spoilt[random() % (spoilt.size() - 1)] ^= static_cast<char>(1 << random() % 7);
        const auto heard = checkedTalk().unframed(spoilt);
        if (heard) CHECK((heard->number == sent.number && heard->block == sent.block));
    }
}

TEST_CASE("protocol: any bytes leave machine and streamer alive", "[fuzz]") {
    StandIn machine(*book().machine("laser-700"), {}, checkedTalk());
    std::mt19937 random(3);
    for (int i = 0; i < 400; ++i) {
        std::string bytes;
        for (unsigned k = 0; k < random() % 80; ++k)
            bytes += "N0123456789 GXYZMFS.-()k=\n\x02\x03\x04\x05 abc\xff"[random() % 36];
        machine.receive(bytes);
        machine.advance(0.5);
        (void)machine.replies();
    }
    const auto at = machine.status().machine;
    CHECK((at.x >= -0.02 && at.x <= 700.02 && at.y >= -0.02 && at.y <= 500.02)); // whatever was said
    machine.receive(std::string(1, doReset) + "\nG28\n");
    machine.advance(100);
    CHECK(machine.status().machine == toolpath::Vec3{0, 0, 0});
    for (const char* bad : {"status", "status ", "status state=moving", "status state=fly line=1 done=1 clock=0",
                            "status state=moving line=x done=1 clock=0", "status state=moving line=1 done=1 clock=",
                            "status state=moving line=1 done=1 clock=0.5 lin~=2"})
        CHECK_FALSE(statusFrom(bad));
}

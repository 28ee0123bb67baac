#include "link/streamer.h"
#include "standin/standin.h"
#include "support/jobs.h"
#include "support/talk.h"

#include <thread>

using namespace ferro;
using namespace ferro::test;
using link::Streamer;

namespace {

/// The stand-in behind a line that can be cut off in either direction.
struct Bench {
    struct Line : link::Port {
        explicit Line(Bench& bench) : bench_(bench) {}
        Result<void> write(std::string_view bytes) override {
            bench_.written += bytes;
            if (!bench_.deaf) bench_.machine.receive(bytes);
            return {};
        }
        Result<std::string> read(int) override {
            bench_.machine.advance(0.02);
            auto out = bench_.machine.replies();
            if (out.empty() || bench_.silent) std::this_thread::sleep_for(std::chrono::milliseconds(1));
            return bench_.silent ? std::string() : out;
        }
        Bench& bench_;
    };
    Bench() {
        REQUIRE(streamer.connect());
        machine.receive("G21 G90\nG92 X0 Y0 Z0\n");
        machine.advance(1);
        (void)machine.replies();
    }
    void work(int times) {
        for (int i = 0; i < times; ++i) streamer.work(1);
    }
    std::size_t resets() const { return static_cast<std::size_t>(std::count(written.begin(), written.end(), doReset)); }

    standin::StandIn machine{*book().machine("mill-600"), {}, checkedTalk()};
    bool silent = false, deaf = false;
    std::string written;
    Streamer streamer{[this] { return Result<std::unique_ptr<link::Port>>(std::make_unique<Line>(*this)); },
                      checkedTalk(),
                      {.patience = std::chrono::milliseconds(5), .reconnects = 3}};
};

} // namespace

TEST_CASE("stop: homing, jogs, walks and single blocks are halted at once, and what was queued is dropped",
          "[safety]") {
    for (const std::vector<std::string>& blocks : {std::vector<std::string>{"G0 X500 Y300"},
                                                   {"G1 X500 F300"},
                                                   {"G28"},
                                                   {"G0 X100", "G0 X500", "G0 Y300", "G0 X0"}}) {
        Bench bench;
        if (blocks[0] == "G28") bench.machine.receive("G0 X600 Y400\n"), bench.machine.advance(100);
        REQUIRE(bench.streamer.queue(blocks));
        bench.work(12);
        REQUIRE(bench.machine.status().state == link::MachineState::moving);
        bench.streamer.stop();
        const auto there = bench.machine.status().machine;
        CHECK_FALSE(bench.streamer.sending());
        bench.work(40);
        bench.machine.advance(100);
        CHECK(bench.machine.status().machine == there);
        CHECK(bench.machine.status().queue == 0);
        // And it can be spoken to again.
        CHECK(bench.streamer.send("G0 X1"));
    }
}

TEST_CASE("stop: a machine that is silent is told again until it shows it, and no call waits for it", "[safety]") {
    Bench bench;
    bench.silent = true;
    REQUIRE(bench.streamer.queue({"G0 X500"}));
    bench.work(5);
    const auto begun = std::chrono::steady_clock::now();
    bench.streamer.stop();
    CHECK(std::chrono::steady_clock::now() - begun < std::chrono::milliseconds(500));
    const auto told = bench.resets();
    CHECK(told >= 1);
    for (int i = 0; i < 30; ++i) bench.streamer.work(1), std::this_thread::sleep_for(std::chrono::milliseconds(1));
    CHECK(bench.resets() > told);
    bench.silent = false;
    bench.work(30);
    const auto enough = bench.resets();
    for (int i = 0; i < 30; ++i) bench.streamer.work(1), std::this_thread::sleep_for(std::chrono::milliseconds(1));
    CHECK(bench.resets() == enough); // it has shown it
}

TEST_CASE("stop: blocks that are never answered are given up in bounded time, each kind of end is told") {
    Bench bench;
    bench.deaf = true;
    REQUIRE(bench.streamer.queue({"G0 X5", "G0 X6"}));
    for (int i = 0; i < 2000 && bench.streamer.sending(); ++i) bench.streamer.work(1);
    REQUIRE(bench.streamer.looseProblem());
    Bench refusing;
    REQUIRE(refusing.streamer.queue({"G0 X5000", "G0 X1"}));
    refusing.work(30);
    REQUIRE(refusing.streamer.looseProblem());
    CHECK(refusing.streamer.looseProblem()->what.find("limit") != std::string::npos);
    CHECK_FALSE(refusing.streamer.sending()); // what stood behind it is not done
    CHECK(refusing.machine.status().machine.x == 0);
    // When it has tripped nothing but homing goes, and a reset does not take that away.
    standin::Faults faults;
    faults.once.push_back({standin::Faults::Kind::trip, 2});
    standin::StandIn tripped(*book().machine("mill-600"), faults, checkedTalk());
    tripped.receive(checkedTalk().framed(0, "(begin 1)") + checkedTalk().framed(1, "G21 G90") +
                    checkedTalk().framed(2, "G92 X0 Y0 Z0"));
    CHECK(tripped.status().state == link::MachineState::tripped);
    tripped.receive(std::string_view(&doReset, 1));
    CHECK(tripped.status().state == link::MachineState::tripped);
    (void)tripped.replies();
    tripped.receive("G0 X5\n");
    CHECK(tripped.replies().find("home first") != std::string::npos);
    tripped.receive("G28\n");
    tripped.advance(10);
    CHECK(tripped.status().state == link::MachineState::resting);
}

TEST_CASE("stop: what a reset forgets is said") {
    Bench bench;
    bench.machine.receive("G0 X100\nG0 X200\nG0 X3");
    (void)bench.machine.replies();
    bench.machine.receive(std::string_view(&doReset, 1));
    const auto said = bench.machine.replies();
    CHECK(said.find("forgot 2 motions") != std::string::npos);
    CHECK(said.find("half a line") != std::string::npos);
}

TEST_CASE("link: a run that begins anew knows nothing of the one before, and a hold is one byte") {
    Bench bench;
    REQUIRE(bench.streamer.start("G21 G90\nG77 X1\n"));
    for (int i = 0; i < 2000 && bench.streamer.state() != Streamer::State::failed; ++i) bench.work(1);
    REQUIRE(bench.streamer.problem());
    REQUIRE(bench.streamer.start("G21 G90\nT2 M6\nG1 X5 F600\n"));
    CHECK_FALSE(bench.streamer.problem());
    for (int i = 0; i < 2000 && bench.streamer.state() != Streamer::State::asking; ++i) bench.work(1);
    CHECK(bench.streamer.question() == "tool");
    bench.streamer.stop();
    bench.work(20);
    REQUIRE(bench.streamer.queue({"G21"}));
    CHECK_FALSE(bench.streamer.start("G1 X1\n")); // the machine is still at that
    for (int i = 0; i < 500 && bench.streamer.sending(); ++i) bench.work(1);
    REQUIRE(bench.streamer.start("G21 G90\nG1 X400 F60\n"));
    CHECK(bench.streamer.question().empty());
    bench.written.clear();
    bench.streamer.hold();
    CHECK(bench.written == std::string(1, doHold));
    bench.written.clear();
    bench.streamer.resume();
    REQUIRE_FALSE(bench.written.empty());
    CHECK(bench.written.front() == doResume);
}

TEST_CASE("link: what arrived half is closed by a line end before the machine is asked again") {
    Bench bench;
    REQUIRE(bench.streamer.start("G21 G90\nG1 X100 F600\nG1 X0\n"));
    bench.work(5);
    bench.silent = bench.deaf = true;
    bench.written.clear();
    for (int i = 0; i < 400 && bench.written.find('\n') == std::string::npos; ++i) bench.work(1);
    CHECK(bench.written.find('\n') != std::string::npos);
}

TEST_CASE("link: a line that is gone for good is given up after as many tries as were allowed") {
    int opened = 0;
    bool there = true;
    standin::StandIn machine(*book().machine("mill-600"), {}, checkedTalk());
    struct Line : link::Port {
        Line(standin::StandIn& of, bool& there_) : machine(of), there(there_) {}
        Result<void> write(std::string_view bytes) override {
            if (!there) return Problem{.what = "gone", .where = {}, .mend = {}};
            machine.receive(bytes);
            return {};
        }
        Result<std::string> read(int) override {
            if (!there) return Problem{.what = "gone", .where = {}, .mend = {}};
            machine.advance(0.02);
            return machine.replies();
        }
        standin::StandIn& machine;
        bool& there;
    };
    Streamer streamer(
        [&]() -> Result<std::unique_ptr<link::Port>> {
            ++opened;
            if (!there) return Problem{.what = "no port", .where = {}, .mend = {}};
            return std::unique_ptr<link::Port>(std::make_unique<Line>(machine, there));
        },
        checkedTalk(), {.patience = std::chrono::milliseconds(2), .reconnects = 5});
    REQUIRE(streamer.connect());
    REQUIRE(streamer.start("G21 G90\nG1 X100 F600\nG1 X0\n"));
    for (int i = 0; i < 20; ++i) streamer.work(1);
    REQUIRE(streamer.state() == Streamer::State::running);
    there = false;
    for (int i = 0; i < 200 && streamer.state() == Streamer::State::running; ++i) streamer.work(1);
    CHECK(streamer.state() == Streamer::State::failed);
    REQUIRE(streamer.problem());
    CHECK(streamer.problem()->what.find("does not come back") != std::string::npos);
    CHECK(opened == 1 + 5);
}

TEST_CASE("link: answers may end as other systems end lines, and what is no number is no answer") {
    struct Line : link::Port {
        explicit Line(std::deque<std::string>& says_) : says(says_) {}
        Result<void> write(std::string_view bytes) override {
            sent += bytes;
            return {};
        }
        Result<std::string> read(int) override {
            if (says.empty()) return std::string();
            auto out = says.front();
            says.pop_front();
            return out;
        }
        std::deque<std::string>& says;
        std::string sent;
    };
    std::deque<std::string> says;
    Streamer streamer(
        [&]() -> Result<std::unique_ptr<link::Port>> {
            return std::unique_ptr<link::Port>(std::make_unique<Line>(says));
        },
        checkedTalk(), {.patience = std::chrono::milliseconds(500)});
    REQUIRE(streamer.connect());
    REQUIRE(streamer.start("G21\nG90\nG1 X1 F100\n"));
    const auto answer = [&](std::string line) {
        line = link::checked(line);
        if (line.ends_with('\n')) line.pop_back();
        says.push_back(line + "\r\n");
        for (int i = 0; i < 3; ++i) streamer.work(1);
    };
    answer("ok 0");
    CHECK(streamer.acknowledged() == 0);
    answer("ok 1");
    CHECK(streamer.acknowledged() == 1);
    answer("ok x");
    answer("ok -2");
    answer("ok 99999999999999999999");
    CHECK(streamer.acknowledged() == 1);
    answer("ok 3");
    CHECK(streamer.acknowledged() == 3);
}

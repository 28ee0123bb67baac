#include "link/resume.h"
#include "link/streamer.h"
#include "standin/standin.h"
#include "support/jobs.h"
#include "support/talk.h"

#include <thread>

using namespace ferro;
using namespace ferro::test;
using link::Streamer;
using standin::Faults;

namespace {

/// The stand-in behind a port, in the same process. Time passes when the link reads.
class InProcess : public link::Port {
public:
    InProcess(std::shared_ptr<standin::StandIn> machine, double step) : machine_(std::move(machine)), step_(step) {}
    Result<void> write(std::string_view bytes) override {
        if (gone_) return Problem{.what = "gone", .where = {}, .mend = {}};
        machine_->receive(bytes);
        return {};
    }
    Result<std::string> read(int milliseconds) override {
        machine_->advance(step_, false);
        auto out = machine_->replies();
        if (machine_->wantsDrop()) gone_ = true;
        if (gone_) return Problem{.what = "gone", .where = {}, .mend = {}};
        if (out.empty() && milliseconds > 0) std::this_thread::sleep_for(std::chrono::milliseconds(1));
        return out;
    }

private:
    std::shared_ptr<standin::StandIn> machine_;
    double step_; // s of machine time for each look
    bool gone_ = false;
};

struct Bench {
    explicit Bench(Faults faults = {}, double step = 5)
        : machine(std::make_shared<standin::StandIn>(*book().machine("mill-600"), std::move(faults), checkedTalk())),
          streamer(
              [this, step] { return Result<std::unique_ptr<link::Port>>(std::make_unique<InProcess>(machine, step)); },
              checkedTalk(), {.patience = std::chrono::milliseconds(8), .reconnects = 20}) {
        REQUIRE(streamer.connect());
        // Zero well inside the travel.
        machine->receive("G21 G90\nG92 X0 Y0 Z0\nG0 X50 Y50 Z-40\nG92 X0 Y0 Z0\n");
        machine->advance(100);
        (void)machine->replies();
    }
    Streamer::State run(std::string_view program) {
        REQUIRE(streamer.start(program));
        for (int i = 0; i < 60'000; ++i) {
            streamer.work(1);
            if (streamer.state() == Streamer::State::asking) streamer.resume();
            if (streamer.state() == Streamer::State::finished || streamer.state() == Streamer::State::stopped ||
                streamer.state() == Streamer::State::failed)
                break;
        }
        return streamer.state();
    }
    std::shared_ptr<standin::StandIn> machine;
    Streamer streamer;
};

std::string zigzag(int lines) {
    std::string text = "G21 G90\nG0 Z5\nM3 S12000\n";
    for (int i = 0; i < lines; ++i)
        text += fmt::format("G1 X{} Y{} Z{} F3000\n", i % 20, (i * 7) % 30, i % 5 == 0 ? -1 : -2);
    return text + "M5\nM30\n";
}
std::vector<long> upTo(long last) {
    std::vector<long> all;
    for (long i = 1; i <= last; ++i) all.push_back(i);
    return all;
}

} // namespace

TEST_CASE("link: a clean run carries out every line once, in order") {
    Bench bench;
    CHECK(bench.run(zigzag(300)) == Streamer::State::finished);
    CHECK(bench.machine->executed() == upTo(305));
}

TEST_CASE("link: a machine slower than the link is fed as its queue allows, and done lines are never begun twice") {
    // 0.2 s of motion a look: the queue is full all the time.
    Bench slow({}, 0.2);
    CHECK(slow.run(zigzag(1500)) == Streamer::State::finished);
    CHECK(slow.machine->executed() == upTo(1505));
    // It is still moving from a jog when the program begins.
    Bench moving({}, 0.5);
    moving.machine->receive("G1 X60 F600\n");
    CHECK(moving.run(zigzag(40)) == Streamer::State::finished);
    CHECK(moving.machine->executed() == upTo(45));
    // Every answer to the first lines is lost together with the link.
    for (const long at : {1, 2, 12}) {
        Faults faults;
        for (long line = 1; line < at; ++line) faults.once.push_back({Faults::Kind::swallow, line});
        faults.once.push_back({Faults::Kind::drop, at});
        Bench cut(faults, 0.5);
        CHECK(cut.run(zigzag(40)) == Streamer::State::finished);
        CHECK(cut.machine->executed() == upTo(45));
    }
    // A begin that arrives twice begins nothing.
    Bench twice;
    twice.machine->receive(checkedTalk().framed(0, "(begin 7)") + checkedTalk().framed(1, "G21 G90") +
                           checkedTalk().framed(2, "G0 X5"));
    twice.machine->advance(10);
    twice.machine->receive(checkedTalk().framed(0, "(begin 7)"));
    CHECK(twice.machine->status().accepted == 2);
    CHECK(twice.machine->executed() == upTo(2));
}

TEST_CASE("link: under random faults each line is carried out exactly once", "[property]") {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        Faults faults{{}, 0.15, seed};
        std::mt19937 random(seed);
        for (int i = 0; i < 4; ++i)
            faults.once.push_back({static_cast<Faults::Kind>(1 + random() % 3), static_cast<long>(2 + random() % 150)});
        Bench bench(faults);
        CAPTURE(seed);
        CHECK(bench.run(zigzag(150)) == Streamer::State::finished);
        CHECK(bench.machine->executed() == upTo(155));
    }
}

TEST_CASE("link: after a reset the rest is run again safely from the line before", "[safety]") {
    Faults faults;
    faults.once.push_back({Faults::Kind::reset, 60});
    Bench bench(faults);
    const std::string program = zigzag(100);
    std::string log;
    bench.streamer.setLog([&](const std::string& entry) { log += entry + "\n"; });
    CHECK(bench.run(program) == Streamer::State::stopped);
    const long done = bench.streamer.done();
    CHECK(log.find(fmt::format("\ndone {}\n", done)) != std::string::npos);
    CHECK(done < 60);
    link::Run run;
    run.program = program;
    run.steps = {{"Zigzag", "End mill", 0, 1, 105, 300}};
    const auto rest = link::resumed(run, done);
    REQUIRE(rest);
    // Up first, spindle on, over at that height, down at plunge feed: then the last finished move again.
    std::istringstream lines(rest->text);
    std::vector<std::string> head(8);
    for (auto& line : head) std::getline(lines, line);
    CHECK(head[2] == "G0 Z5");
    CHECK(head[3] == "M3 S12000");
    CHECK(head[5].starts_with("G0 X"));
    CHECK(head[6].starts_with("G1 Z"));
    CHECK(head[6].ends_with("F300"));
    CHECK(bench.run(rest->text) == Streamer::State::finished);
    // It ends where the whole program would have.
    CHECK(bench.machine->status().at.x == Approx(99 % 20));
    CHECK(bench.machine->status().at.y == Approx((99 * 7) % 30));
    CHECK_FALSE(link::resumed(run, 200));
}

TEST_CASE("resume: for every line, the joined paths cover the whole program", "[property]") {
    const auto job = [] {
        auto j = drawn(fresh(), {{rectangle({20, 20}, {60, 50}, 4), {}}});
        return set(stepped(j, "outline", "end-3"), "depthPerPass", "6");
    }();
    Progress progress;
    const auto path = *toolpath::toolpathOf(job, progress);
    for (const char* key : {"mill-mm", "mill-inch"}) {
        const auto dialect = *program::openDialect(realDisk(), key);
        const auto options = program::readOptionsFor(job, dialect);
        const auto program = *program::programFor(job, path, dialect, program::Clearance::passed);
        const auto whole = *program::readProgram(program.text, options);
        const auto run = link::runOf(job, path, program, dialect);
        for (long done = 0; done < static_cast<long>(program.lines); ++done) {
            const auto rest = link::resumed(run, done);
            if (!rest) break; // nothing that moves is left
            const auto read = program::readProgram(rest->text, options);
            INFO(rest->text.substr(0, 300));
            REQUIRE(read);
            // The moves after the entry are the program's own from that line on.
            std::vector<toolpath::Move> left, mine;
            for (std::size_t s = 0; s < whole.path.steps.size(); ++s)
                for (std::size_t i = 0; i < whole.path.steps[s].moves.size(); ++i)
                    if (whole.lineOf[s][i] >= rest->fromLine) left.push_back(whole.path.steps[s].moves[i]);
            for (const auto& s : read->path.steps) mine.insert(mine.end(), s.moves.begin(), s.moves.end());
            REQUIRE(mine.size() >= left.size());
            for (std::size_t i = 0; i < left.size(); ++i) {
                const auto& m = mine[mine.size() - left.size() + i];
                REQUIRE(distance(m.to, left[i].to) < 0.002);
                REQUIRE(m.kind == left[i].kind);
                REQUIRE(std::abs(m.feed - left[i].feed) < 0.5);
            }
            // The way in: nothing sideways below travel height.
            toolpath::Vec3 at = read->path.start;
            for (std::size_t i = 0; i + left.size() < mine.size(); ++i) {
                if (distance(at.flat(), mine[i].to.flat()) > 1e-6)
                    REQUIRE(std::min(at.z, mine[i].to.z) >= options.startHeight - 1e-3);
                at = mine[i].to;
            }
        }
    }
}

TEST_CASE("link: a refused line stops the run and says why") {
    Bench bench;
    CHECK(bench.run("G21 G90\nG1 X900 F100\n") == Streamer::State::failed);
    CHECK(bench.streamer.problem()->what.find("limit: X") != std::string::npos);
    Bench other;
    CHECK(other.run("G21\nG77 X1\n") == Streamer::State::failed);
}

TEST_CASE("link: hold, resume, stop and a tool change answer at once") {
    Bench bench;
    REQUIRE(bench.streamer.start("G21 G90\nT2 M6\nG1 X100 F60\nG1 X0\n"));
    for (int i = 0; i < 200 && bench.streamer.state() != Streamer::State::asking; ++i) bench.streamer.work(1);
    CHECK(bench.streamer.question() == "tool");
    bench.streamer.resume();
    for (int i = 0; i < 6; ++i) bench.streamer.work(1);
    bench.streamer.hold();
    for (int i = 0; i < 50; ++i) bench.streamer.askForStatus(), bench.streamer.work(1);
    CHECK(bench.streamer.state() == Streamer::State::holding);
    const double held = bench.machine->status().at.x;
    CHECK(held > 0);
    bench.machine->advance(50);
    CHECK(bench.machine->status().at.x == held);
    bench.streamer.stop();
    CHECK(bench.streamer.state() == Streamer::State::stopped);
}

TEST_CASE("protocol: frames, checks and garbled status lines") {
    const auto line = checkedTalk().framed(12, "G1 X5");
    CHECK(checkedTalk().unframed(line)->number == 12);
    CHECK(checkedTalk().unframed(line)->block == "G1 X5");
    for (std::size_t i = 0; i + 6 < line.size(); ++i) {
        std::string bent = line;
        bent[i] = static_cast<char>(bent[i] ^ 1);
        const auto read = checkedTalk().unframed(bent);
        CHECK((!read || read->block != "G1 X5" || read->number != 12));
    }
    link::Status status{.state = link::MachineState::moving,
                        .at = {1, 2, -3},
                        .machine = {51, 52, -43},
                        .accepted = 40,
                        .done = 33,
                        .queue = 7,
                        .clock = 12.5};
    const auto back = checkedTalk().heard(checkedTalk().telling(status));
    REQUIRE(back);
    CHECK(back->status.done == 33);
    CHECK(back->status.at == status.at);
    CHECK_FALSE(statusFrom("status state=moving x=1 y=q"));
    CHECK_FALSE(statusFrom("stat"));
}

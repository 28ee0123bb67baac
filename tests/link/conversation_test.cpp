// Controllers that are spoken to by a file: what is read and said, and what a plain one may lose without harm.
#include "link/resume.h"
#include "link/streamer.h"
#include "standin/standin.h"
#include "support/jobs.h"
#include "support/own_home.h"
#include "support/talk.h"

#include <set>
#include <thread>

using namespace ferro;
using namespace ferro::test;
using link::Conversation;
using link::Streamer;
using standin::Faults;
using State = Streamer::State;

namespace {

Conversation plain() { return *link::openConversation(realDisk(), "plain"); }

/// A controller that no file here describes: answers by words of its own, bytes of two, a status in another order, a
/// buffer of 100 bytes.
Conversation described() {
    const auto talk = link::conversationFromText(R"({
        "title": "the one in the corner", "line": "{block}", "takes": "taken", "refuses": "no:{reason}",
        "trips": "!trip {reason}", "greets": "hello from {}", "status": ["[{state}|{}W {x} {y} {z};M {mx} {my} {mz}]"],
        "states": {"moving": ["Going", "Jogging"], "resting": ["Idle"], "waiting": ["Held"]},
        "ask": [63], "hold": [27, 72], "goOn": [27, 71], "reset": [24], "lines": 8, "bytes": 100, "ahead": 20,
        "patience": 0.05, "wait": 0, "home": ["G28"]})");
    INFO((talk ? "" : talk.problem().text()));
    REQUIRE(talk);
    return *talk;
}

struct Bench {
    struct Line : link::Port {
        explicit Line(Bench& bench) : bench_(bench) {}
        Result<void> write(std::string_view bytes) override {
            if (gone_) return Problem{.what = "gone", .where = {}, .mend = {}};
            bench_.written += bytes;
            bench_.machine.receive(bytes);
            return {};
        }
        Result<std::string> read(int) override {
            bench_.machine.advance(bench_.step, false);
            auto out = std::exchange(bench_.kept, {}) + bench_.machine.replies();
            if (bench_.silent) bench_.kept = std::exchange(out, {}); // they come late
            gone_ = gone_ || bench_.machine.wantsDrop();
            if (gone_) return Problem{.what = "gone", .where = {}, .mend = {}};
            if (out.empty()) std::this_thread::sleep_for(std::chrono::microseconds(200));
            return out;
        }
        Bench& bench_;
        bool gone_ = false;
    };
    explicit Bench(const Conversation& talk, Faults faults = {}, double seconds = 0.3)
        : Bench(talk, talk, std::move(faults), seconds) {
        place();
    }
    Bench(const Conversation& talk, const Conversation& machines, Faults faults, double seconds)
        : machine(*book().machine("mill-600"), std::move(faults), machines), step(seconds),
          streamer([this] { return Result<std::unique_ptr<link::Port>>(std::make_unique<Line>(*this)); }, quick(talk),
                   {.patience = std::chrono::milliseconds(30)}) {
        REQUIRE(streamer.connect());
    }
    /// Nothing here waits as long as it would at a machine.
    static Conversation quick(Conversation talk) {
        talk.wait = 0;
        return talk;
    }
    void place() {
        for (const char* block : {"G21 G90", "G92 X0 Y0 Z0", "G0 X50 Y50 Z-40", "G92 X0 Y0 Z0"})
            REQUIRE(streamer.send(block));
        for (int i = 0; i < 400; ++i) machine.advance(0.1);
    }
    State run(std::string_view program, link::Streamer::Numbering numbering = {0, 1}) {
        const auto started = streamer.start(program, numbering);
        INFO((started ? "" : started.problem().text()));
        REQUIRE(started);
        return goOn();
    }
    State goOn(int times = 60'000) {
        for (int i = 0; i < times; ++i) {
            streamer.work(0);
            const auto state = streamer.state();
            if (state != State::running && state != State::holding) return state;
        }
        return streamer.state();
    }
    standin::StandIn machine;
    double step;
    bool silent = false;
    std::string written, kept;
    Streamer streamer;
};

std::string zigzag(int lines) {
    std::string text = "(a zigzag)\nG21 G90\nG0 Z5\nM3 S12000 (turning)\n\n";
    for (int i = 0; i < lines; ++i)
        text += fmt::format("G1 X{} Y{} Z{} F3000\n", i % 20, (i * 7) % 30, i % 5 == 0 ? -1 : -2);
    return text + "M5\nM30\n";
}

/// The feed moves in the picture of the table, one by one.
std::multiset<std::string> cutsIn(const std::string& table) {
    std::multiset<std::string> cuts;
    const auto begin = table.find("d=\"", table.find("#9E3F22")) + 3;
    std::istringstream in(table.substr(begin, table.find('"', begin) - begin));
    std::string bit;
    for (char c = 0; in.get(c);)
        if (c == 'M' && !bit.empty())
            cuts.insert(std::exchange(bit, "M"));
        else
            bit += c;
    cuts.insert(bit);
    return cuts;
}

/// A zigzag as a run, and what it cuts when nothing is lost.
struct Reference {
    explicit Reference(int lines) {
        run.program = zigzag(lines);
        run.steps = {{"Zigzag", "End mill", 0, 1, lines + 7, 300}};
        Bench exact(checkedTalk());
        REQUIRE(exact.run(run.program) == State::finished);
        truth = cutsIn(exact.machine.table());
    }
    [[nodiscard]] std::size_t missing(const Bench& bench) const {
        const auto cut = cutsIn(bench.machine.table());
        return static_cast<std::size_t>(
            std::count_if(truth.begin(), truth.end(), [&](const auto& bit) { return !cut.contains(bit); }));
    }
    link::Run run;
    std::multiset<std::string> truth;
};

} // namespace

TEST_CASE("conversation: what is shipped can be read, and a file that is wrong says where") {
    for (const auto& key : link::knownConversations()) {
        const auto talk = link::openConversation(realDisk(), key);
        INFO(key << (talk ? "" : talk.problem().text()));
        REQUIRE(talk);
        CHECK(talk->key == key);
        CHECK_FALSE(talk->title.empty());
    }
    CHECK(checkedTalk().exactlyOnce());
    CHECK(link::limitsOf(checkedTalk()).empty());
    CHECK_FALSE(plain().exactlyOnce());
    CHECK(link::limitsOf(plain()).size() == 3);
    CHECK(link::limitsOf(described()).size() == 1);
    const auto wired = link::conversationFromText(R"({"speed": 9600, "flow": "hardware"})");
    REQUIRE(wired);
    CHECK((wired->wire.speed == 9600 && wired->wire.flow == link::Wire::Flow::hardware));
    for (const char* bad :
         {"{", R"({"lines": 0})", R"({"line": "N{number}"})", R"({"takes": ""})", R"({"takes": "ok {colour}"})",
          R"({"status": ["{speed}"]})", R"({"states": {"asleep": []}})", R"({"ask": [0]})", R"({"ask": [256]})",
          R"({"bytes": 5})", R"({"patience": 0})", R"({"wait": -1})", R"({"flow": "ebb"})", R"({"settle": ""})",
          R"({"colour": 3})", R"({"line": "{block}\n"})"}) {
        CAPTURE(bad);
        const auto talk = link::conversationFromText(bad);
        REQUIRE_FALSE(talk);
        CHECK_FALSE(talk.problem().what.empty());
    }
    for (const char* bad : {"", "../plain", "/etc/passwd", "no-such"})
        CHECK(link::openConversation(realDisk(), bad).problem().mend.find("plain") != std::string::npos);
    // One of one's own wins over a shipped one.
    const auto own = userDataFolder() / "conversations";
    std::filesystem::create_directories(own);
    REQUIRE(writeAtomically(realDisk(), own / "plain.json", R"({"key": "plain", "title": "ours"})"));
    CHECK(plain().title == "ours");
    std::filesystem::remove_all(own);
}

TEST_CASE("conversation: a status is read from the form that describes it, and garbled is none") {
    const auto talk = described();
    using Kind = Conversation::Answer::Kind;
    const auto now = talk.heard("[Jogging|F100,W 1.5 -2 3;M 51.5 48 -37]\r");
    REQUIRE(now);
    CHECK(now->kind == Kind::status);
    CHECK(now->status.state == link::MachineState::moving);
    CHECK(now->status.at == toolpath::Vec3{1.5, -2, 3});
    CHECK(now->status.machine == toolpath::Vec3{51.5, 48, -37});
    for (const char* other :
         {"[Flying|W 1 2 3;M 1 2 3]", "[Idle|W 1 2;M 1 2 3]", "[Idle|W 1 2 3;M 1 2 3", "ok", "[]", ""})
        CHECK(talk.heard(other)->kind == Kind::other);
    CHECK(talk.heard("taken")->kind == Kind::takes);
    CHECK(talk.heard("no: limit")->reason == "limit");
    CHECK(talk.heard("!trip at X")->kind == Kind::trips);
    CHECK(talk.heard("hello from the corner")->kind == Kind::greets);
    CHECK(plain().heard("ok T:20")->kind == Kind::takes);
    CHECK(plain().heard("error")->kind == Kind::refuses);
    // Any bytes at all are something or nothing, and never a crash.
    std::mt19937 random(7);
    for (int i = 0; i < 20'000; ++i) {
        std::string text;
        for (unsigned k = 0; k < random() % 40; ++k) text += "[]|;WM 0123456789.-okerrtaken:!\xff"[random() % 32];
        (void)talk.heard(text);
        (void)checkedTalk().heard(text);
        (void)talk.unframed(text);
    }
}

TEST_CASE("conversation: a plain machine and one that a file describes carry out each line once", "[property]") {
    const Reference whole(120);
    const auto& program = whole.run.program;
    CHECK(whole.truth.size() >= 120);
    for (const auto& talk : {plain(), described()}) {
        CAPTURE(talk.title);
        Bench bench(talk);
        CHECK(bench.run(program) == State::finished);
        CHECK(cutsIn(bench.machine.table()) == whole.truth);
        CHECK(bench.streamer.done() == bench.streamer.lines());
        CHECK(bench.machine.spilt() == 0);
        CHECK(bench.written.find('(') == std::string::npos); // remarks are none of its business
        bench.streamer.askForStatus();
        bench.streamer.work(0);
        CHECK(bench.streamer.status().at == toolpath::Vec3{119 % 20, (119 * 7) % 30, -2});
    }
    // All that it has taken in may take far longer than any one line: the end is waited for.
    std::string slow = "G21 G90\n";
    for (int i = 0; i < 40; ++i) slow += fmt::format("G1 X{} F1200\n", i % 2 ? 0 : 10);
    Bench patient(plain(), {}, 0.005);
    CHECK(patient.run(slow) == State::finished);
    CHECK(patient.machine.status().queue == 0);
    // Never is more called taken than was taken: remarks count with the line before them.
    std::string remarked;
    for (int i = 0; i < 40; ++i) remarked += fmt::format("G1 X{} F3000\n(next)\n", i % 9);
    Bench ahead(described(), {}, 0.02);
    const long before = ahead.machine.taken();
    REQUIRE(ahead.streamer.start(remarked));
    for (int i = 0; i < 5000 && ahead.streamer.state() == State::running; ++i) {
        ahead.streamer.work(0);
        REQUIRE(ahead.streamer.acknowledged() <= 2 * (ahead.machine.taken() - before));
    }
    CHECK(ahead.streamer.state() == State::finished);
    // Without its numbers of bytes it would have been sent too much.
    auto greedy = described();
    greedy.bytes = 0;
    greedy.lines = 40;
    Bench flooded(greedy, described(), {}, 0.01);
    (void)flooded.run(program);
    CHECK(flooded.machine.spilt() > 0);
    auto small = described();
    small.bytes = 32;
    Bench tight(small);
    CHECK(tight.streamer.start("G1 X1\nG1 X123.456 Y123.456 Z-12.345 F12345\n").problem().what.find("Line 2") == 0);
}

TEST_CASE("conversation: what a plain one loses stops the run, and the resume leaves nothing uncut", "[property]") {
    const Reference whole(90);
    using Kind = Faults::Kind;
    for (const auto& talk : {plain(), described()})
        for (const Kind kind : {Kind::swallow, Kind::garble, Kind::drop, Kind::reset, Kind::trip})
            for (const long at : {6L, 40L, 95L}) {
                CAPTURE(talk.title, static_cast<int>(kind), at);
                Faults faults;
                faults.once.push_back({kind, at});
                Bench bench(talk, faults);
                std::string log;
                bench.streamer.setLog([&](const std::string& entry) { log += entry + "\n"; });
                const auto state = bench.run(whole.run.program);
                CHECK((state == State::stopped || state == State::failed));
                REQUIRE(bench.streamer.problem());
                CHECK_FALSE(bench.streamer.problem()->mend.empty());
                // What is called done is done: so far the truth is cut.
                const long done = bench.streamer.programLine();
                for (int i = 0; i < 400; ++i) bench.machine.advance(0.1);
                CHECK(bench.machine.executed().size() >= static_cast<std::size_t>(done));
                if (!bench.streamer.connected()) REQUIRE(bench.streamer.connect());
                if (kind == Kind::reset || kind == Kind::trip) {
                    (void)bench.streamer.send("G28");
                    for (int i = 0; i < 400; ++i) bench.machine.advance(0.1);
                    bench.streamer.work(0);
                    for (const char* block : {"G21 G90", "G92 X-50 Y-50 Z40"}) REQUIRE(bench.streamer.send(block));
                }
                const auto rest = link::resumed(whole.run, done);
                REQUIRE(rest);
                CHECK(bench.run(rest->text, {rest->head, rest->fromLine}) == State::finished);
                // The first move after a break begins where the entry is.
                CHECK(whole.missing(bench) <= 1);
            }
}

TEST_CASE("conversation: stops are kept here, when all before them is done, and a hold lets nothing more out",
          "[safety]") {
    Bench bench(plain(), {}, 0.02);
    CHECK(bench.streamer.status().state == link::MachineState::resting);
    const std::string program = "G21 G90\nG1 X40 F1200\n(next)\nT2 M6\nM0\nG1 X0\nM30\n";
    REQUIRE(bench.streamer.start(program));
    bench.written.clear();
    CHECK(bench.goOn() == State::asking);
    CHECK(bench.streamer.question() == "tool");
    CHECK(bench.machine.status().at.x == Approx(40)); // there, not on its way
    CHECK(bench.machine.status().queue == 0);
    CHECK(bench.streamer.programLine() == 3);
    bench.goOn(50);
    CHECK(bench.machine.status().at.x == Approx(40));
    bench.streamer.resume();
    CHECK(bench.streamer.question().empty());
    CHECK(bench.goOn() == State::asking);
    CHECK(bench.streamer.question() == "pause");
    bench.streamer.resume();
    CHECK(bench.goOn() == State::finished);
    CHECK(bench.machine.status().at.x == Approx(0));
    CHECK(bench.written.find("M6") == std::string::npos);
    CHECK(bench.written.find("M0") == std::string::npos);
    // What it refuses ends the run; what it took in before may still move, and that is said.
    CHECK(bench.run("G21 G90\nG1 X5 F600\nG1 X9000\n") == State::failed);
    CHECK(bench.streamer.problem()->what.find("line 3") != std::string::npos);
    CHECK(bench.streamer.problem()->mend.find("carries out") != std::string::npos);
    // What else stands on such a line would be lost with it.
    CHECK(bench.streamer.start("G21\nM0 G0 X5\n").problem().what.find("Line 2") == 0);
    CHECK(bench.streamer.start("G21\nM6 S500\n").problem().what.find("Line 2") == 0);

    // Held: what has been taken in is carried out, and that is all.
    REQUIRE(bench.streamer.start(zigzag(60)));
    bench.goOn(20);
    bench.streamer.hold();
    CHECK(bench.streamer.state() == State::holding);
    bench.written.clear();
    bench.goOn(300);
    CHECK(bench.written.empty());
    CHECK(bench.streamer.state() == State::holding);
    bench.streamer.resume();
    CHECK(bench.goOn() == State::finished);
    // A stop says that the machine cannot be told.
    REQUIRE(bench.streamer.start(zigzag(60)));
    bench.goOn(20);
    bench.streamer.stop();
    CHECK(bench.streamer.problem()->what.find("stop it at the machine") != std::string::npos);

    // One that has bytes for it is halted by them.
    Bench able(described(), {}, 0.02);
    REQUIRE(able.streamer.start("G21 G90\nG1 X200 F1200\nG1 X0\n"));
    able.goOn(20);
    able.streamer.hold();
    able.goOn(100);
    CHECK(able.streamer.state() == State::holding);
    const auto held = able.machine.status().at.x;
    CHECK((held > 0 && held < 200));
    able.machine.advance(20);
    CHECK(able.machine.status().at.x == held);
    able.streamer.resume();
    able.goOn(20);
    CHECK(able.machine.status().state == link::MachineState::moving);
    able.streamer.stop();
    CHECK(able.machine.status().state == link::MachineState::reset);
    CHECK(able.streamer.state() == State::stopped);
    CHECK(able.streamer.send("G0 X1"));
}

TEST_CASE("conversation: what is told of a run on the way goes by what is surely done", "[safety]") {
    auto talk = plain();
    talk.ahead = 10;
    Bench bench(talk, {}, 0.02);
    std::vector<std::string> log;
    bench.streamer.setLog([&](const std::string& entry) { log.push_back(entry); });
    std::string program = "G21 G90\n";
    for (int i = 0; i < 30; ++i) program += fmt::format("G1 X{} F3000\n", i % 2 ? 5 : 15);
    program += "T2 M6\nG1 X30\nM0\nG1 X0\nM30\n";
    REQUIRE(bench.streamer.start(program));
    long last = 0;
    while (bench.streamer.state() == State::running) {
        bench.streamer.work(0);
        const auto& now = bench.streamer.status();
        REQUIRE(now.accepted == bench.streamer.acknowledged());
        // A line is done when so many have been taken in since, or when all has been carried out.
        if (bench.streamer.state() == State::running && bench.streamer.acknowledged() < 31) {
            REQUIRE(now.done == std::max(0L, bench.streamer.acknowledged() - talk.ahead));
            if (bench.streamer.acknowledged() > 0) REQUIRE(now.state == link::MachineState::moving);
        }
        REQUIRE(now.done >= last);
        last = now.done;
    }
    REQUIRE(bench.streamer.question() == "tool");
    CHECK(bench.streamer.status().state == link::MachineState::changing);
    CHECK(bench.streamer.status().done == 31);
    CHECK(std::count(log.begin(), log.end(), "done 31") == 1);
    CHECK(std::count(log.begin(), log.end(), "done 20") == 1);
    bench.streamer.resume();
    CHECK(bench.streamer.status().state == link::MachineState::moving);
    CHECK(bench.goOn() == State::asking);
    CHECK(bench.streamer.status().state == link::MachineState::pausing);
    bench.streamer.resume();
    CHECK(bench.goOn() == State::finished);
    CHECK(bench.streamer.status().state == link::MachineState::resting);
    CHECK(std::count(log.begin(), log.end(), fmt::format("done {}", bench.streamer.lines())) == 1);

    // The line whose answer is missing is named, and what it moved to is not called reached.
    Faults faults;
    faults.once.push_back({Faults::Kind::swallow, 12});
    Bench mute(talk, faults, 0.3);
    REQUIRE(mute.run(program) == State::stopped);
    CHECK(mute.streamer.problem()->what.find(fmt::format("line {} ", mute.streamer.acknowledged() + 1)) !=
          std::string::npos);

    // What was half said when a link broke is not put before what the next one says.
    Bench torn(plain(), {}, 0.3);
    torn.kept = "o";
    torn.streamer.work(0);
    CHECK(torn.streamer.connect());
    CHECK(torn.streamer.send("G0 X1"));

    // A block outside a run is on its way until it is answered.
    torn.silent = true;
    REQUIRE(torn.streamer.queue({"G0 X2"}));
    torn.streamer.work(0);
    CHECK(torn.streamer.status().state == link::MachineState::moving);
    torn.silent = false;
    for (int i = 0; i < 4000 && torn.streamer.sending(); ++i) torn.streamer.work(0);
    CHECK(torn.streamer.status().state == link::MachineState::resting);

    // Blocks outside a run end with a trip, and that is told.
    Bench tripping(described(), {{{Faults::Kind::trip, 6}}, 0, 1}, 0.02);
    REQUIRE(tripping.streamer.queue({"G0 X10", "G0 X20", "G0 X30"}));
    for (int i = 0; i < 4000 && tripping.streamer.sending(); ++i) tripping.streamer.work(0);
    REQUIRE(tripping.streamer.looseProblem());
    CHECK(tripping.streamer.looseProblem()->what.find("tripped") != std::string::npos);
    CHECK_FALSE(tripping.streamer.sending());
    // Homing is what mends it: that it is still tripped does not end the homing.
    REQUIRE(tripping.streamer.queue({"G28"}));
    for (int i = 0; i < 4000 && tripping.streamer.sending(); ++i) {
        if (i % 3 == 0) tripping.streamer.askForStatus();
        tripping.streamer.work(0);
    }
    CHECK_FALSE(tripping.streamer.looseProblem());
    CHECK(tripping.streamer.send("G0 X1"));

    // A link that is opened anew knows nothing of the one before; a run's clock begins with the run.
    Bench anew(plain(), {}, 0.3);
    REQUIRE(anew.streamer.send("G91"));
    REQUIRE(anew.streamer.send("G0 X7"));
    REQUIRE(anew.streamer.connect());
    REQUIRE(anew.streamer.send("G90 G0 Y3"));
    CHECK(anew.streamer.status().at.x == 0);
    CHECK(anew.streamer.status().at.y == 3);
    const auto first = std::chrono::steady_clock::now();
    CHECK(anew.run("G21 G90\nG1 X5 F6000\nG1 X0\nM30\n") == State::finished);
    std::this_thread::sleep_for(std::chrono::milliseconds(150));
    REQUIRE(anew.streamer.start("G21 G90\nG1 X5 F6000\nG1 X0\nM30\n"));
    for (int i = 0; i < 400 && anew.streamer.acknowledged() < 1; ++i) anew.streamer.work(0);
    const std::chrono::duration<double> since = std::chrono::steady_clock::now() - first;
    CHECK(anew.streamer.status().clock < since.count() - 0.14); // not from the run before, however slow this goes
}

TEST_CASE("conversation: an answer that comes too late is no one's, and a reset is told no longer than it is needed",
          "[safety]") {
    Bench bench(plain(), {}, 0.3);
    REQUIRE(bench.streamer.start("G21 G90\nG1 X5 F6000\nG1 X0\nM30\n"));
    bench.streamer.work(0);
    bench.silent = true;
    CHECK(bench.goOn() == State::stopped);
    CHECK_FALSE(bench.streamer.connected()); // nothing more is said on this link
    CHECK_FALSE(bench.streamer.queue({"G0 X1"}));
    CHECK_FALSE(bench.streamer.start("G0 X1\n"));
    CHECK_FALSE(bench.kept.empty());
    bench.silent = false;
    REQUIRE(bench.streamer.connect());
    // What is refused now is refused, whatever late “ok” comes before.
    CHECK(bench.streamer.send("G1 X9000 F600").problem().what.find("limit") != std::string::npos);

    // One without a word for having been reset is not reset for ever; what it answers meanwhile counts for nothing.
    auto talk = described();
    talk.greets.clear();
    talk.states["reset"] = {"Idle"};
    Bench able(talk, {}, 0.02);
    REQUIRE(able.streamer.start("G21 G90\nG1 X200 F1200\nG1 X0\n"));
    able.goOn(20);
    able.streamer.stop();
    const auto resets = [&] { return std::count(able.written.begin(), able.written.end(), static_cast<char>(24)); };
    able.goOn(200);
    const auto told = resets();
    for (int i = 0; i < 20; ++i) able.streamer.work(0), std::this_thread::sleep_for(std::chrono::milliseconds(10));
    CHECK(resets() == told);
    CHECK(able.streamer.send("G1 X9000 F600").problem().what.find("limit") != std::string::npos);
}

TEST_CASE("conversation: under random faults each attempt ends, and the attempts together cut the whole",
          "[property]") {
    const Reference whole(60);
    for (unsigned seed = 1; seed <= 4; ++seed) {
        CAPTURE(seed);
        Bench bench(plain(), {});
        bench.machine.setFaultRate(0.02, seed);
        long done = 0;
        bool finished = bench.run(whole.run.program) == State::finished;
        int attempts = 1;
        for (; !finished && attempts < 40; ++attempts) {
            done = std::max(done, bench.streamer.programLine());
            for (int i = 0; i < 100; ++i) bench.machine.advance(0.1);
            if (!bench.streamer.connected()) REQUIRE(bench.streamer.connect());
            const auto rest = link::resumed(whole.run, done);
            if (!rest) break;
            finished = bench.run(rest->text, {rest->head, rest->fromLine}) == State::finished;
        }
        CHECK(finished);
        CHECK(whole.missing(bench) <= static_cast<std::size_t>(attempts));
    }
}

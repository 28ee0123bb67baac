#include "cli/common.h"
#include "job/job_file.h"
#include "link/resume.h"
#include "link/run_log.h"
#include "link/streamer.h"
#include "link/zeroing.h"
#include "program/for_job.h"
#include "shop/own.h"

#include <chrono>
#include <csignal>
#include <iostream>
#include <thread>
#include <unistd.h>

namespace ferro::cli {

namespace {

volatile std::sig_atomic_t interrupted = 0;

struct Asked {
    std::string file, sheet, device, log, speaks, from;
    bool home = false, resume = false, logged = false, yes = false;
    std::vector<double> zero;
    double plate = 0; ///< mm, of a touch-off; 0: none
    bool lastZero = false;
    [[nodiscard]] std::string logFile() const { return log.empty() ? file + ".runlog" : log; }
};

/// Where the machine stands once it moves no more, in its own coordinates.
Result<toolpath::Vec3> restingAt(link::Streamer& machine) {
    using Clock = std::chrono::steady_clock;
    const auto begun = Clock::now();
    machine.askForStatus();
    while (machine.connected() && !interrupted && Clock::now() - begun < std::chrono::minutes(5)) {
        machine.work(20);
        const auto& status = machine.status();
        if (status.state == link::MachineState::tripped)
            return Problem{.what = "The machine has tripped.", .where = {}, .mend = "Home it first."};
        // What was asked before the last block was sent may tell of a rest that is over.
        const bool fresh = Clock::now() - begun > std::chrono::milliseconds(60);
        if (fresh && status.state == link::MachineState::resting && status.queue == 0) return status.machine;
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
        machine.askForStatus();
    }
    return Problem{.what = "The machine does not come to rest.", .where = {}, .mend = "Check it, then run again."};
}

Result<void> prepare(const Asked& o, link::Streamer& machine, std::string_view machineKey, Vec2 zero, double zeroZ) {
    std::vector<std::string> blocks;
    const auto& home = machine.talk().home;
    if (o.home || o.zero.size() == 3) blocks.insert(blocks.end(), home.begin(), home.end());
    if (o.zero.size() == 3)
        // Over to the sheet's corner by way of the top, then call that place by its program coordinates.
        for (const auto& block :
             {std::string("G21 G90"), std::string("G92 X0 Y0 Z0"),
              fmt::format("G0 X{:.3f} Y{:.3f}", o.zero[0], o.zero[1]), fmt::format("G0 Z{:.3f}", o.zero[2]),
              fmt::format("G92 X{:.3f} Y{:.3f} Z{:.3f}", -zero.x, -zero.y, -zeroZ)})
            blocks.push_back(block);
    const auto sendAll = [&](const std::vector<std::string>& list) -> Result<void> {
        for (const auto& block : list)
            if (auto fine = machine.send(block, [] { return interrupted != 0; }); !fine) return fine;
        return {};
    };
    if (auto fine = sendAll(blocks); !fine) return fine;
    if (o.lastZero && (!o.home || !o.zero.empty()))
        return Problem{.what = "The last zero is in machine coordinates, which only a homed machine has.",
                       .where = {},
                       .mend = "Give --home with --last-zero, and no --zero."};
    if (o.lastZero && !machine.talk().tellsPlace())
        return Problem{.what = "The last zero is in machine coordinates, which this machine does not tell.",
                       .where = {},
                       .mend = "Give --zero."};
    if (o.lastZero) {
        const auto last = link::lastZero(realDisk(), link::lastZeroFile(), machineKey);
        if (!last)
            return Problem{.what = fmt::format("No zero of {} is kept.", machineKey),
                           .where = {},
                           .mend = "Give --zero; the zero of a run that was homed is kept."};
        if (auto at = restingAt(machine); !at)
            return at.problem();
        else if (auto fine = sendAll(link::blocksForZero(*last, *at)); !fine)
            return fine;
    }
    if (o.plate > 0)
        if (auto fine = sendAll(link::blocksFor({.plate = o.plate})); !fine) return fine;
    if ((!o.home && o.zero.empty()) || !machine.talk().tellsPlace())
        return {}; // its coordinates mean nothing that lasts
    const auto at = restingAt(machine);
    if (!at) return at.problem();
    const auto& program = machine.status().at;
    return link::keepZero(realDisk(), link::lastZeroFile(), machineKey,
                          {at->x - program.x, at->y - program.y, at->z - program.z});
}

/// What the machine asks for, in words.
std::string wanted(const link::Streamer& machine, const link::Run& run) {
    const auto* step = run.stepOf(machine.programLine() + 1);
    if (machine.question() != "tool") return "a person";
    return step ? fmt::format("tool {}, {},", step->tool, step->toolName) : "a tool change";
}

int stream(const Asked& o, link::Streamer& machine, const link::Run& run) {
    ShownProgress shown("running");
    using State = link::Streamer::State;
    while (true) {
        machine.work(20);
        if (interrupted) machine.stop();
        shown.progress.at(static_cast<std::size_t>(std::max(0L, machine.programLine())),
                          static_cast<std::size_t>(std::max(1L, machine.programLines())));
        if (machine.state() == State::asking) {
            if (!o.yes) {
                fmt::print(stderr, "\nThe machine waits for {}. Press Enter when it is ready.\n", wanted(machine, run));
                std::string line;
                if (!std::getline(std::cin, line)) machine.stop();
            }
            machine.resume();
            machine.work(50);
        }
        if (machine.state() == State::finished) return fine;
        if (machine.state() == State::stopped || machine.state() == State::failed) return complain(*machine.problem());
    }
}

struct Proven {
    link::Run run;
    double seconds = 0; ///< that the machine's clock should show
};

/// The job as a run, if it may be run. The exit code else.
Result<Proven> proven(const Asked& o, int& exit) {
    exit = badInput;
    const auto job = jobAt(o.file, o.sheet);
    if (!job) return job.problem();
    const auto dialect = program::dialectOf(realDisk(), *job);
    if (!dialect) return dialect.problem();
    if (auto may = program::mayStream(*dialect); !may) return may.problem();
    ShownProgress shown("proofing");
    const auto proof = proof::proofOf(*job, shown.progress);
    if (!proof) return proof.problem();
    if (!mayBeWritten(*proof)) {
        exit = noGo;
        return Problem{.what = "The job has a no-go; nothing is run.", .where = o.file, .mend = "Settle it first."};
    }
    const auto program = program::programFor(*job, proof->path, *dialect, program::Clearance::passed);
    if (!program) return program.problem();
    exit = fine;
    return Proven{link::runOf(*job, proof->path, *program, *dialect), proof->timing.running()};
}

/// The logged run, if it may be gone on with: it has to be what the job still says, or be asked for as it is.
Result<link::Logged> loggedRun(const Asked& o) {
    const auto text = realDisk().read(o.logFile());
    if (!text) return text.problem();
    auto logged = link::loggedIn(*text);
    if (!logged) return logged.problem().within(o.logFile());
    if (logged->finished)
        return Problem{.what = "This run was finished; nothing is left to resume.",
                       .where = o.logFile(),
                       .mend = "Run the job anew without --resume."};
    if (o.logged) return logged;
    int exit = fine;
    const auto now = proven(o, exit);
    const auto differs = now ? link::differenceOf(logged->run, now->run) : now.problem().what;
    if (!differs.empty())
        return Problem{.what = fmt::format("The job is not the one that was run: {}.", differs),
                       .where = o.logFile(),
                       .mend = "Go on with the program as it was run by --resume --logged, or run the job anew."};
    return logged;
}

/// The machine, spoken to as the shop book says, or as one is told to. What that cannot promise is said.
Result<std::unique_ptr<link::Streamer>> connected(const Asked& o, const std::string& conversation) {
    auto talk = link::openConversation(realDisk(), o.speaks.empty() ? conversation : o.speaks);
    if (!talk) return talk.problem();
    for (const auto& limit : link::limitsOf(*talk)) fmt::print(stderr, "{}: {}\n", talk->key, limit);
    auto machine = std::make_unique<link::Streamer>(
        [device = o.device, wire = talk->wire] { return link::openPort(device, wire); }, *talk);
    if (auto fine = machine->connect(); !fine) return fine.problem();
    return machine;
}

/// A board of the shelf was cut up: there is one less.
void takeBoard(const std::string& board) {
    if (board.empty()) return;
    const auto lock = FileLock::taken(userDataFolder());
    const auto shelves = lock ? shop::openShelves(realDisk()) : Result<shop::Shelves>(lock.problem());
    if (!shelves) return void(complain(shelves.problem()));
    const auto less = shop::withBoardUsed(*shelves, board);
    if (!less) return notice(fmt::format("“{}” is not on the shelf any more.", board));
    if (auto saved = shop::saveShelves(realDisk(), *less); !saved) return void(complain(saved.problem()));
    for (const auto& left : less->onHand().boards)
        if (left.key == board) notice(fmt::format("{} × “{}” left on the shelf.", left.count, left.name));
}

int goOn(const Asked& o) {
    const auto logged = loggedRun(o);
    if (!logged) return complain(logged.problem());
    auto rest = link::resumed(logged->run, logged->done);
    if (!rest) return complain(rest.problem());
    auto linked = connected(o, logged->run.conversation);
    if (!linked) return complain(linked.problem());
    auto& machine = **linked;
    if (auto ready = prepare(o, machine, logged->run.machine, logged->run.zero, logged->run.zeroZ); !ready)
        return complain(ready.problem());
    auto log = link::RunLog::continued(o.logFile());
    if (!log) return complain(log.problem());
    machine.setLog([&](const std::string& entry) { log->add(entry); });
    fmt::print(stderr, "resuming at line {}\n", rest->fromLine);
    if (auto started = machine.start(rest->text, {rest->head, rest->fromLine}); !started)
        return complain(started.problem());
    const int exit = stream(o, machine, logged->run);
    if (exit == fine) {
        fmt::print("finished: {} lines\n", machine.programLines());
        takeBoard(logged->run.board);
    }
    return exit;
}

/// From the step that was named on, by name or number; the whole when none was.
Result<link::Resumption> begun(const Asked& o, const link::Run& run) {
    if (o.from.empty()) return link::Resumption{.text = run.program, .fromLine = 1, .head = 0, .entry = {}, .tool = 0};
    std::string known;
    for (std::size_t i = 0; i < run.steps.size(); ++i) {
        const auto& step = run.steps[i];
        known += fmt::format("{}{} {}", known.empty() ? "" : ", ", i + 1, step.name);
        if (step.name != o.from && std::to_string(i + 1) != o.from) continue;
        auto rest = link::beginningAt(run, i);
        if (rest && i > 0)
            fmt::print(stderr, "beginning at line {} with “{}”: what comes before it is taken as done\n",
                       rest->fromLine, step.name);
        return rest;
    }
    return Problem{.what = fmt::format("There is no step “{}” in this run.", o.from),
                   .where = o.file,
                   .mend = fmt::format("Its steps are: {}.", known)};
}

int run(const Asked& o) {
    if (o.resume && !o.from.empty())
        return complain({.what = "A run that is resumed goes on where it was.",
                         .where = "--from",
                         .mend = "Leave out --resume or --from."});
    if (o.resume) return goOn(o);
    int exit = fine;
    const auto ready = proven(o, exit);
    if (!ready) return complain(ready.problem()), exit;
    const auto begin = begun(o, ready->run);
    if (!begin) return complain(begin.problem());
    auto linked = connected(o, ready->run.conversation);
    if (!linked) return complain(linked.problem());
    auto& machine = **linked;
    if (auto placed = prepare(o, machine, ready->run.machine, ready->run.zero, ready->run.zeroZ); !placed)
        return complain(placed.problem());
    // Only now: a log that was there is worth more than a run that cannot begin.
    auto log = link::RunLog::begun(o.logFile(), ready->run);
    if (!log) return complain(log.problem());
    machine.setLog([&](const std::string& entry) { log->add(entry); });
    if (auto started = machine.start(begin->text, {begin->head, begin->fromLine}); !started)
        return complain(started.problem());
    exit = stream(o, machine, ready->run);
    if (exit == fine) takeBoard(ready->run.board);
    if (exit == fine && !o.from.empty())
        fmt::print("finished: {} lines\n", machine.programLines());
    else if (exit == fine && machine.talk().tells("clock"))
        fmt::print("finished: {} lines, {:.1f} s on the machine's clock, {:.1f} s proofed\n", machine.lines(),
                   machine.status().clock, ready->seconds);
    else if (exit == fine)
        fmt::print("finished: {} lines, {:.1f} s proofed\n", machine.lines(), ready->seconds);
    return exit;
}

} // namespace

void addRun(Options& app, int& exit) {
    app.command("ports", "List the serial ports of this computer with what is plugged into them.").run([] {
        for (const auto& port : link::pluggedIn())
            fmt::print("{}\t{}{}\n", port.device, port.what, port.mayUse ? "" : "\t(you may not use it)");
    });
    auto command =
        app.command("run", "Stream a job to a machine or the stand-in, with a log to resume from.\nExample: "
                           "ferrograph-cli run proscenium.ferro --to /tmp/mill --home --zero 10 10 -40 --yes");
    auto o = std::make_shared<Asked>();
    command.option("job", o->file).required();
    command.option("--to", o->device, "/dev/ttyUSB0[@115200], a pseudo-terminal, or tcp:PORT on this machine")
        .required();
    command.option("--speaks", o->speaks, "the conversation (default: the machine's own)");
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.flag("--home", o->home, "home first");
    command.option("--zero", o->zero, "machine coordinates of the sheet's lower left corner and top").expected(3);
    command.flag("--last-zero", o->lastZero, "the zero of the last run on this machine, that was homed; with --home");
    command.option("--touch-off", o->plate, "mm: find the zero's height by a plate this thick, with the tool over it")
        .range(0.1, 100);
    command.option("--log", o->log, "run log (default: beside the job)");
    command.option("--from", o->from, "begin with this step, by name or number; what comes before is taken as done");
    command.flag("--resume", o->resume, "go on after the last line done in the log");
    command.flag("--logged", o->logged, "with --resume: the program as it was run, whatever the job says now");
    command.flag("--yes", o->yes, "answer tool changes and pauses at once");
    command.run([o, &exit] {
        std::signal(SIGINT, [](int) { interrupted = 1; });
        std::signal(SIGPIPE, SIG_IGN);
        exit = run(*o);
    });
}

} // namespace ferro::cli

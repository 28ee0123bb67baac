#include "cli/common.h"
#include "cli/machine.h"
#include "job/job_file.h"
#include "link/queue.h"
#include "link/resume.h"
#include "link/run_log.h"
#include "link/run_times.h"
#include "program/border.h"
#include "program/for_job.h"
#include "shop/own.h"

#include <chrono>
#include <iostream>
#include <set>

namespace ferro::cli {

namespace {

struct Asked : MachineAsked {
    std::string file, sheet, log, from, walk;
    bool resume = false, logged = false, yes = false, all = false, anew = false;
    int copies = 0;
    [[nodiscard]] std::string logFile() const { return log.empty() ? file + ".runlog" : log; }
};

/// What the machine asks for, in words.
std::string wanted(const link::Streamer& machine, const link::Run& run) {
    const auto* step = run.stepOf(machine.programLine() + 1);
    if (machine.question() != "tool") return "a person";
    return step ? fmt::format("tool {}, {},", step->tool, step->toolName) : "a tool change";
}

/// `ran`: s of running, without what it waited for a person.
int stream(const Asked& o, link::Streamer& machine, const link::Run& run, double& ran) {
    using Clock = std::chrono::steady_clock;
    ShownProgress shown("running");
    using State = link::Streamer::State;
    while (true) {
        const auto begun = Clock::now();
        machine.work(20);
        if (machine.state() == State::running) ran += std::chrono::duration<double>(Clock::now() - begun).count();
        if (isInterrupted()) machine.stop();
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
    double seconds = 0;            ///< that the machine's clock should show
    std::vector<std::string> walk; ///< blocks that lead round it first, if that is asked for
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
    Proven ready{link::runOf(*job, proof->path, *program, *dialect), proof->timing.running(), {}};
    if (!o.walk.empty())
        ready.walk =
            program::borderWalk(*job, proof->path, o.walk == "box" ? program::Border::box : program::Border::string);
    return ready;
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

/// Boards of the shelf were cut up: there are as many less.
void takeBoard(const link::Run& run) {
    const auto& board = run.board;
    if (board.empty()) return;
    const auto lock = FileLock::taken(userDataFolder());
    const auto shelves = lock ? shop::openShelves(realDisk()) : Result<shop::Shelves>(lock.problem());
    if (!shelves) return void(complain(shelves.problem()));
    const auto less = shop::withBoardUsed(*shelves, board, run.boards);
    if (!less) return notice(fmt::format("“{}” is not on the shelf any more.", board));
    if (auto saved = shop::saveShelves(realDisk(), *less); !saved) return void(complain(saved.problem()));
    for (const auto& left : less->onHand().boards)
        if (left.key == board) notice(fmt::format("{} × “{}” left on the shelf.", left.count, left.name));
}

/// A sheet that was finished by its rest counts too, where there is a queue.
void countRest(const Asked& o) {
    const auto file = link::queueFile(o.logFile());
    if (std::error_code none; !std::filesystem::exists(file, none)) return;
    if (o.logged) return notice("The queue does not count it: the job may be another by now.");
    const auto job = jobAt(o.file, o.sheet);
    if (!job) return void(complain(job.problem()));
    const auto queue = link::keptQueue(realDisk(), file);
    if (!queue) return void(complain(queue.problem().within(file.string())));
    if (auto kept = link::keepQueue(realDisk(), file, link::withDone(*queue, job->sheet().id, 0)); !kept)
        complain(kept.problem());
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
    double ran = 0; // of a part, which is not kept
    const int exit = stream(o, machine, logged->run, ran);
    if (exit == fine) {
        fmt::print("finished: {} lines\n", machine.programLines());
        takeBoard(logged->run);
        countRest(o);
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

/// `took`: s that the run took, or the part of it.
int run(const Asked& o, double& took) {
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
    for (const auto& block : ready->walk)
        if (auto walked = machine.send(block, isInterrupted); !walked) return complain(walked.problem());
    // Only now: a log that was there is worth more than a run that cannot begin.
    auto log = link::RunLog::begun(o.logFile(), ready->run);
    if (!log) return complain(log.problem());
    machine.setLog([&](const std::string& entry) { log->add(entry); });
    if (auto started = machine.start(begin->text, {begin->head, begin->fromLine}); !started)
        return complain(started.problem());
    double ran = 0;
    exit = stream(o, machine, ready->run, ran);
    const double clock = machine.talk().tells("clock") ? machine.status().clock : 0;
    took = clock > 0 ? clock : ran;
    if (exit == fine) takeBoard(ready->run);
    if (exit == fine && o.from.empty()) {
        const auto kept = link::keepRunTime(realDisk(), link::runTimesFile(),
                                            {.when = link::timeNow(),
                                             .machine = ready->run.machine,
                                             .proofed = ready->seconds,
                                             .taken = took,
                                             .job = ready->run.job});
        if (!kept) complain(kept.problem());
    }
    if (exit == fine && !o.from.empty())
        fmt::print("finished: {} lines\n", machine.programLines());
    else if (exit == fine && machine.talk().tells("clock"))
        fmt::print("finished: {} lines, {:.1f} s on the machine's clock, {:.1f} s proofed\n", machine.lines(),
                   machine.status().clock, ready->seconds);
    else if (exit == fine)
        fmt::print("finished: {} lines, {:.1f} s proofed\n", machine.lines(), ready->seconds);
    return exit;
}

/// Sheet after sheet, so many times each, with a stop between; goes on where the queue was left.
int runQueue(Asked o) {
    const auto job = job::load(realDisk(), o.file);
    if (!job) return complain(job.problem());
    const auto file = link::queueFile(o.logFile());
    auto kept = o.anew ? Result<link::Queue>(link::Queue{}) : link::keptQueue(realDisk(), file);
    if (!kept) return complain(kept.problem().within(file.string()));
    auto queue = link::queueFor(*job, *kept);
    if (!queue.next() && o.copies == 0) // all of it was run: this is another day
        for (auto& entry : queue.entries) entry.done = 0;
    for (auto& entry : queue.entries) {
        if (o.copies == 0) continue;
        auto more = link::withCopies(queue, entry.sheet, o.copies);
        if (!more) return complain(more.problem());
        queue = std::move(*more);
    }
    if (!queue.next()) return complain({.what = "Nothing is left to run.", .where = o.file, .mend = "Say --anew."});
    bool first = true;
    while (const auto* next = queue.next()) {
        const auto entry = *next;
        const auto* sheet = job::find(*job, entry.sheet);
        fmt::print(stderr, "{}: run {} of {}, {:g} × {:g} × {:g} mm\n", entry.name, entry.done + 1, entry.copies,
                   sheet->stock.width, sheet->stock.height, sheet->stock.thickness);
        if (!first && !o.yes) {
            fmt::print(stderr, "Lay it on the machine, then press Enter.\n");
            std::string line;
            if (!std::getline(std::cin, line))
                return complain({.what = "Nobody has laid the next sheet.", .where = entry.name, .mend = {}});
        }
        first = false;
        o.sheet = std::to_string(sheet - job->sheets.data() + 1);
        double took = 0;
        if (const int exit = run(o, took); exit != fine) return exit;
        queue = link::withDone(queue, entry.sheet, took);
        if (auto saved = link::keepQueue(realDisk(), file, queue); !saved) return complain(saved.problem());
    }
    fmt::print("the queue is done: {} runs\n", queue.done());
    return fine;
}

void listRuns() {
    const auto runs = link::runTimes(realDisk(), link::runTimesFile());
    std::set<std::string> machines;
    for (const auto& run : runs) {
        fmt::print("{}\t{}\t{} taken\t{} proofed\t{}\n", run.when, run.machine, shownTime(run.taken),
                   shownTime(run.proofed), run.job);
        machines.insert(run.machine);
    }
    for (const auto& machine : machines) {
        const auto on = link::runsOn(runs, machine);
        fmt::print("{}: the last {} runs took {:.2f} times what was proofed\n", machine, on.runs, on.share);
    }
}

} // namespace

void addRun(Options& app, int& exit) {
    app.command("runs", "List the runs that came to their end, with what they took and what was proofed.").run([] {
        listRuns();
    });
    app.command("ports", "List the serial ports of this computer with what is plugged into them.").run([] {
        for (const auto& port : link::pluggedIn())
            fmt::print("{}\t{}{}\n", port.device, port.what, port.mayUse ? "" : "\t(you may not use it)");
    });
    auto command =
        app.command("run", "Stream a job to a machine or the stand-in, with a log to resume from.\nExample: "
                           "ferrograph-cli run proscenium.ferro --to /tmp/mill --home --zero 10 10 -40 --yes");
    auto o = std::make_shared<Asked>();
    command.option("job", o->file).required();
    o->declare(command);
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.option("--log", o->log, "run log (default: beside the job)");
    command.option("--from", o->from, "begin with this step, by name or number; what comes before is taken as done");
    command.flag("--resume", o->resume, "go on after the last line done in the log");
    command.flag("--logged", o->logged, "with --resume: the program as it was run, whatever the job says now");
    command.flag("--all", o->all, "the queue: sheet after sheet with a stop between, going on where it was left");
    command.option("--copies", o->copies, "with --all: so many of each sheet").range(1, 999);
    command.flag("--anew", o->anew, "with --all: as if none had been run");
    command.option("--walk", o->walk, "go round all that is cut first, with nothing on: its box, or close round it")
        .oneOf({"box", "string"});
    command.flag("--yes", o->yes, "answer tool changes and pauses at once");
    command.run([o, &exit] {
        watchForInterrupt();
        double took = 0;
        if (!o->all && (o->copies > 0 || o->anew))
            exit = complain({.what = "Copies are of the queue.", .where = {}, .mend = "Say --all too."});
        else if (o->all && (o->resume || !o->from.empty() || !o->sheet.empty()))
            exit =
                complain({.what = "A queue is of whole sheets.",
                          .where = "--all",
                          .mend = "Finish the sheet that was broken off by --resume --sheet, then go on with --all."});
        else
            exit = o->all ? runQueue(*o) : run(*o, took);
    });
}

} // namespace ferro::cli

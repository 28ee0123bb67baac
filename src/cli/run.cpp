#include "cli/common.h"
#include "job/job_file.h"
#include "link/resume.h"
#include "link/streamer.h"
#include "program/for_job.h"

#include <csignal>
#include <fstream>
#include <iostream>
#include <unistd.h>

namespace ferro::cli {

namespace {

volatile std::sig_atomic_t interrupted = 0;

struct Options {
    std::string file, device, log;
    bool home = false, resume = false, yes = false;
    std::vector<double> zero;
};

Result<void> prepare(const Options& o, link::Streamer& machine, const job::Job& job) {
    if (o.home)
        if (auto fine = machine.send("G28"); !fine) return fine;
    if (o.zero.size() == 3) {
        const auto where = program::frameOf(job);
        // Over to the sheet's corner by way of the top, then call that place by its program coordinates.
        for (const auto& block :
             {std::string("G21 G90"), std::string("G28"), std::string("G92 X0 Y0 Z0"),
              fmt::format("G0 X{:.3f} Y{:.3f}", o.zero[0], o.zero[1]), fmt::format("G0 Z{:.3f}", o.zero[2]),
              fmt::format("G92 X{:.3f} Y{:.3f} Z{:.3f}", -where.zero.x, -where.zero.y, -where.z)})
            if (auto fine = machine.send(block); !fine) return fine;
    }
    return {};
}

int stream(const Options& o, link::Streamer& machine) {
    ShownProgress shown("running");
    using State = link::Streamer::State;
    while (true) {
        machine.work(20);
        if (interrupted) machine.stop();
        shown.progress.at(static_cast<std::size_t>(std::max(0L, machine.done())),
                          static_cast<std::size_t>(std::max(1L, machine.lines())));
        if (machine.state() == State::asking) {
            if (!o.yes) {
                fmt::print(stderr, "\nThe machine waits for a {}. Press Enter when it is ready.\n",
                           machine.question() == "tool" ? "tool change" : "person");
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

int run(const Options& o) {
    const auto job = job::load(realDisk(), o.file);
    if (!job) return complain(job.problem());
    const auto dialect = program::dialectOf(realDisk(), *job);
    if (!dialect) return complain(dialect.problem());
    ShownProgress shown("proofing");
    const auto proof = proof::proofOf(*job, shown.progress);
    if (!proof) return complain(proof.problem());
    if (!proof->mayRun()) {
        for (const auto& f : proof->findings)
            if (f.verdict == proof::Verdict::noGo) fmt::print(stderr, "no-go: {} {}\n", f.what, f.mend);
        return noGo;
    }
    const auto program = program::programFor(*job, proof->path, *dialect, program::Clearance::passed);
    if (!program) return complain(program.problem());
    std::string text = program->text;
    const std::string logFile = o.log.empty() ? o.file + ".runlog" : o.log;
    if (o.resume) {
        const auto log = realDisk().read(logFile);
        if (!log) return complain(log.problem());
        const double plunge = job->plan.steps.empty() ? 300 : job->plan.steps.front().plunge;
        auto rest =
            link::resumed(text, link::doneLineOf(*log), *dialect, program::readOptionsFor(*job, *dialect), plunge);
        if (!rest) return complain(rest.problem());
        fmt::print(stderr, "resuming at line {}\n", rest->fromLine);
        text = std::move(rest->text);
    }
    std::ofstream log(o.resume ? logFile + ".resumed" : logFile, std::ios::trunc);
    if (!log)
        return complain(
            {.what = "The run log cannot be written.", .where = logFile, .mend = "Give a place for it with --log."});
    link::Streamer machine([&] { return link::openPort(o.device); });
    machine.setLog([&](const std::string& entry) { log << entry << std::endl; });
    if (auto fine = machine.connect(); !fine) return complain(fine.problem());
    if (auto ready = prepare(o, machine, *job); !ready) return complain(ready.problem());
    if (auto started = machine.start(text); !started) return complain(started.problem());
    const int exit = stream(o, machine);
    if (exit == fine)
        fmt::print("finished: {} lines, {:.1f} s of motion on the machine's clock, {:.1f} s proofed\n", machine.lines(),
                   machine.status().clock, proof->timing.motion);
    return exit;
}

} // namespace

void addRun(CLI::App& app, int& exit) {
    auto* command =
        app.add_subcommand("run", "Stream a job to a machine or the stand-in, with a log to resume from.\nExample: "
                                  "ferrograph-cli run proscenium.ferro --to /tmp/mill --home --zero 10 10 -40 --yes");
    auto o = std::make_shared<Options>();
    command->add_option("job", o->file)->required();
    command->add_option("--to", o->device, "/dev/ttyUSB0[@115200], a pseudo-terminal, or tcp:PORT on this machine")
        ->required();
    command->add_flag("--home", o->home, "home first");
    command->add_option("--zero", o->zero, "machine coordinates of the sheet's lower left corner and top")->expected(3);
    command->add_option("--log", o->log, "run log (default: beside the job)");
    command->add_flag("--resume", o->resume, "go on after the last line done in the log");
    command->add_flag("--yes", o->yes, "answer tool changes and pauses at once");
    command->callback([o, &exit] {
        std::signal(SIGINT, [](int) { interrupted = 1; });
        std::signal(SIGPIPE, SIG_IGN);
        exit = run(*o);
    });
}

} // namespace ferro::cli

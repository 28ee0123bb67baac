#include "cli/common.h"
#include "cli/machine.h"
#include "job/edits.h"
#include "job/job_file.h"
#include "link/measuring.h"
#include "shop/own.h"

namespace ferro::cli {

namespace {

/// Read, changed and saved while nobody else does.
template<class Change> int changed(const std::string& file, const std::string& sheet, Change&& change) {
    const auto lock = FileLock::taken(file);
    if (!lock) return complain(lock.problem());
    const auto job = jobAt(file, sheet);
    if (!job) return complain(job.problem());
    const auto next = change(*job);
    if (!next) return complain(next.problem());
    if (auto saved = job::save(realDisk(), *next, file); !saved) return complain(saved.problem());
    return fine;
}

void say(const job::Lie& lie) {
    notice(fmt::format("{} × {} places, from {} to {} of the zero", lie.xs.size(), lie.ys.size(), mm(lie.lowest()),
                       mm(lie.highest())));
}

struct LieAsked {
    std::string file, sheet, read;
    bool flat = false;
};

int lie(const LieAsked& o) {
    if (o.read.empty() && !o.flat) {
        const auto job = jobAt(o.file, o.sheet);
        if (!job) return complain(job.problem());
        if (!job->sheet().lie) return notice("flat: it was not measured"), fine;
        fmt::print("{}", job::lieText(*job->sheet().lie, job::zeroOf(job->sheet().stock).at));
        return fine;
    }
    return changed(o.file, o.sheet, [&](const job::Job& job) -> Result<job::Job> {
        if (o.flat) return job::withLie(job, std::nullopt);
        const auto text = realDisk().read(o.read, 1 << 22);
        if (!text) return text.problem();
        const auto lie = job::lieFrom(*text, job::zeroOf(job.sheet().stock).at);
        if (!lie) return lie.problem().within(o.read);
        say(*lie);
        return job::withLie(job, *lie);
    });
}

struct FeelAsked : MachineAsked {
    std::string file, sheet, places = "4x3";
    double margin = 10, above = 5, seek = 8, thick = 0;
};

Result<link::FeelGrid> gridOf(const FeelAsked& o, const job::Job& job) {
    link::FeelGrid grid;
    grid.above = o.above, grid.seek = o.seek, grid.plate = o.thick;
    const auto cross = o.places.find('x');
    const auto columns = parseQuantity(o.places.substr(0, cross), Measure::count, Units::mm);
    const auto rows =
        parseQuantity(cross == std::string::npos ? "" : o.places.substr(cross + 1), Measure::count, Units::mm);
    if (!columns || !rows || *columns > 1000 || *rows > 1000)
        return Problem{.what = fmt::format("“{}” says not how many places there are.", o.places),
                       .where = "--places",
                       .mend = "Give columns and rows, as 4x3."};
    grid.columns = static_cast<int>(*columns), grid.rows = static_cast<int>(*rows);
    return link::placedOn(job, grid, o.margin);
}

Result<job::Lie> felt(const FeelAsked& o, const job::Job& job) {
    const auto grid = gridOf(o, job);
    if (!grid) return grid.problem();
    const auto zero = job::zeroOf(job.sheet().stock);
    auto linked = connected(o, job.machine.conversation);
    if (!linked) return linked.problem();
    auto& machine = **linked;
    if (!machine.talk().tellsPlace())
        return Problem{.what = "This machine does not tell where it stands, so nothing can be felt with it.",
                       .where = {},
                       .mend = "Measure by hand and give the heights by “lie --read”."};
    if (auto ready = prepare(o, machine, job.machine.key, zero.at, zero.z); !ready) return ready.problem();
    link::Feeling feeling(*grid, zero.at, zero.z);
    const auto send = [&]() -> Result<void> {
        for (const auto& block : feeling.blocks())
            if (auto fine = machine.send(block, isInterrupted); !fine) return fine;
        return {};
    };
    ShownProgress shown("feeling");
    while (!feeling.finished()) {
        if (auto fine = send(); !fine) return fine.problem();
        if (auto at = restingAt(machine); !at) return at.problem();
        feeling.met(machine.status().at.z);
        shown.progress.at(feeling.done(), feeling.count());
    }
    if (auto fine = send(); !fine) return fine.problem();
    return feeling.lie();
}

} // namespace

void addLie(Options& app, int& exit) {
    auto command = app.command("lie", "How the sheet at hand lies: prints the heights that were measured, reads them "
                                      "from a file, or forgets them.\nExample: ferrograph-cli lie sign.ferro --read "
                                      "heights.csv");
    auto o = std::make_shared<LieAsked>();
    command.option("job", o->file).required();
    command.option("--read", o->read, "a place a line: x, y, z in mm from the job's zero, in rows and columns");
    command.flag("--flat", o->flat, "forget what was measured");
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.run([o, &exit] { exit = lie(*o); });
}

void addFeel(Options& app, int& exit) {
    auto command =
        app.command("feel", "Feel the top of the sheet with a probe in the spindle, place by place, and keep how it "
                            "lies in the job.\nExample: ferrograph-cli feel sign.ferro --to /tmp/mill --places 5x4");
    auto o = std::make_shared<FeelAsked>();
    command.option("job", o->file).required();
    o->declare(command);
    command.option("--places", o->places, "columns and rows (default: 4x3)");
    command.option("--margin", o->margin, "mm left round the area (default: 10)").range(0, 10000);
    command.option("--above", o->above, "mm above the zero between places (default: 5)").range(0.5, 200);
    command.option("--seek", o->seek, "mm below the zero at most (default: 8)").range(0.5, 200);
    command.option("--plate", o->thick, "mm thick, of what is laid on each place to be met").range(0, 100);
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.run([o, &exit] {
        watchForInterrupt();
        exit = changed(o->file, o->sheet, [&](const job::Job& job) -> Result<job::Job> {
            const auto lie = felt(*o, job);
            if (!lie) return lie.problem();
            say(*lie);
            return job::withLie(job, *lie);
        });
    });
}

} // namespace ferro::cli

#include "base/quantity.h"
#include "cli/common.h"
#include "cli/machine.h"
#include "link/zeroing.h"
#include "shop/own.h"

namespace ferro::cli {

namespace {

struct EdgeAsked : MachineAsked {
    std::string file, sheet, edge;
    std::vector<double> from;
    double pin = 6;
};

Result<void> sendAll(link::Streamer& machine, const std::vector<std::string>& blocks) {
    for (const auto& block : blocks)
        if (auto fine = machine.send(block, isInterrupted); !fine) return fine;
    return {};
}

/// By way of the top, without telling the machine anything of its zero.
Result<void> goTo(link::Streamer& machine, const std::vector<double>& place) {
    const auto at = restingAt(machine);
    if (!at) return at.problem();
    return sendAll(machine, {"G21 G91", fmt::format("G0 Z{:.4f}", -at->z),
                             fmt::format("G0 X{:.4f} Y{:.4f}", place[0] - at->x, place[1] - at->y),
                             fmt::format("G0 Z{:.4f}", place[2]), "G90"});
}

Result<void> touched(const EdgeAsked& o) {
    const auto known = std::find(link::edgeWords.begin(), link::edgeWords.end(), o.edge);
    if (known == link::edgeWords.end())
        return Problem{
            .what = fmt::format("“{}” is no edge.", o.edge), .where = {}, .mend = "Say left, right, lower or upper."};
    const auto job = jobAt(o.file, o.sheet);
    if (!job) return job.problem();
    const auto touch = link::edgeTouch(*job, static_cast<link::Edge>(known - link::edgeWords.begin()), o.pin);
    if (!touch) return touch.problem();
    auto linked = connected(o, job->machine.conversation);
    if (!linked) return linked.problem();
    auto& machine = **linked;
    if (!o.from.empty() && !machine.talk().tellsPlace())
        return Problem{.what = "This machine does not tell where it stands.",
                       .where = "--from",
                       .mend = "Jog the pin beside the edge, and leave it out."};
    const auto zero = job::zeroOf(job->sheet().stock);
    if (auto ready = prepare(o, machine, job->machine.key, zero.at, zero.z); !ready) return ready.problem();
    if (!o.from.empty())
        if (auto gone = goTo(machine, o.from); !gone) return gone.problem();
    if (auto fine = sendAll(machine, link::blocksFor(*touch)); !fine) {
        if (restingAt(machine) || machine.status().state != link::MachineState::tripped) return fine.problem();
        return Problem{.what =
                           fmt::format("The {} edge was not met within {}: the machine has tripped, and the zero is "
                                       "what it was.",
                                       o.edge, mm(touch->seek)),
                       .where = {},
                       .mend = "Home it; then let the pin stand nearer to the edge, and lower than the top."};
    }
    const auto at = restingAt(machine);
    if (!at) return at.problem();
    const auto& now = machine.status().at;
    fmt::print("{} is known by the {} edge", touch->inX() ? 'X' : 'Y', o.edge);
    if (machine.talk().tellsPlace())
        fmt::print(": the zero lies at {} {:.3f} of the machine", touch->inX() ? 'X' : 'Y',
                   touch->inX() ? at->x - now.x : at->y - now.y);
    fmt::print("\n");
    return {};
}

} // namespace

void addEdge(Options& app, int& exit) {
    auto command = app.command("edge", "Find X or Y of the zero by an edge of the sheet: the pin in the spindle stands "
                                       "beside it, lower than its top.\nExample: ferrograph-cli edge sign.ferro left "
                                       "--pin 6 --to /tmp/mill");
    auto o = std::make_shared<EdgeAsked>();
    command.option("job", o->file).required();
    command.option("edge", o->edge).required();
    o->declare(command);
    command.option("--pin", o->pin, "mm: how thick the pin is (default: 6)").range(0.1, 50);
    command.option("--from", o->from, "machine coordinates to go to first, over the top of its travel").expected(3);
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.run([o, &exit] {
        watchForInterrupt();
        const auto done = touched(*o);
        exit = done ? fine : complain(done.problem());
    });
}

} // namespace ferro::cli

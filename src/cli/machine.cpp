#include "cli/machine.h"

#include "cli/common.h"
#include "link/zeroing.h"

#include <chrono>
#include <csignal>
#include <thread>

namespace ferro::cli {

namespace {
volatile std::sig_atomic_t interrupted = 0;
}

bool isInterrupted() { return interrupted != 0; }
void watchForInterrupt() {
    std::signal(SIGINT, [](int) { interrupted = 1; });
    std::signal(SIGPIPE, SIG_IGN);
}

void MachineAsked::declare(Options& command) {
    command.option("--to", device, "/dev/ttyUSB0[@115200], a pseudo-terminal, or tcp:PORT on this machine").required();
    command.option("--speaks", speaks, "the conversation (default: the machine's own)");
    command.flag("--home", home, "home first");
    command.option("--zero", zero, "machine coordinates of the sheet's lower left corner and top").expected(3);
    command.flag("--last-zero", lastZero, "the zero of the last run on this machine, that was homed; with --home");
    command.option("--touch-off", plate, "mm: find the zero's height by a plate this thick, with the tool over it")
        .range(0.1, 100);
}

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

Result<void> prepare(const MachineAsked& o, link::Streamer& machine, std::string_view machineKey, Vec2 zero,
                     double zeroZ) {
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

/// The machine, spoken to as the shop book says, or as one is told to. What that cannot promise is said.
Result<std::unique_ptr<link::Streamer>> connected(const MachineAsked& o, const std::string& conversation) {
    auto talk = link::openConversation(realDisk(), o.speaks.empty() ? conversation : o.speaks);
    if (!talk) return talk.problem();
    for (const auto& limit : link::limitsOf(*talk)) fmt::print(stderr, "{}: {}\n", talk->key, limit);
    auto machine = std::make_unique<link::Streamer>(
        [device = o.device, wire = talk->wire] { return link::openPort(device, wire); }, *talk);
    if (auto fine = machine->connect(); !fine) return fine.problem();
    return machine;
}

} // namespace ferro::cli

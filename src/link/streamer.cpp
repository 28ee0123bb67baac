#include "link/streamer.h"

#include <charconv>
#include <random>
#include <thread>

namespace ferro::link {

using namespace std::chrono_literals;

Result<void> Streamer::connect() {
    auto port = opener_();
    if (!port) return port.problem();
    port_ = std::move(*port);
    incoming_.clear();
    lastHeard_ = lastProgress_ = Clock::now();
    // Whatever a former stream left half written ends here.
    if (!write("\n"))
        return Problem{.what = "The link to the machine is gone.",
                       .where = {},
                       .mend = "Check cable and power, then connect again."};
    askForStatus();
    return {};
}

bool Streamer::write(std::string_view bytes) {
    if (!port_) return false;
    if (port_->write(bytes)) return true;
    lost();
    return false;
}

void Streamer::askForStatus() {
    lastAsk_ = Clock::now();
    write(std::string_view(&askStatus, 1));
}

Result<void> Streamer::queue(std::vector<std::string> blocks) {
    if (!port_) return Problem{.what = "No machine is connected.", .where = {}, .mend = "Connect first."};
    if (active()) return Problem{.what = "A program is running.", .where = {}, .mend = "Stop it first."};
    looseProblem_.reset();
    for (auto& block : blocks) loose_.push_back(std::move(block));
    sendLoose();
    return {};
}

void Streamer::sendLoose() {
    if (loose_.empty() || !port_) return;
    const auto now = Clock::now();
    if (!looseSent_) {
        ++looseNumber_;
        looseSent_ = true;
        looseBegun_ = now;
        looseTried_ = now - options_.patience;
    }
    if (now - looseBegun_ > options_.silence * options_.patience)
        return dropLoose(
            {.what = "The machine does not answer.", .where = {}, .mend = "Check that it is on and has not tripped."});
    // Sent again it is not done again: the machine knows it by its number.
    if (now - looseTried_ < options_.patience) return;
    looseTried_ = now;
    write(framedLoose(looseNumber_, loose_.front()));
}

void Streamer::dropLoose(Problem problem) {
    loose_.clear();
    looseSent_ = false;
    looseProblem_ = std::move(problem);
}

Result<void> Streamer::send(std::string_view block, const std::function<bool()>& wantsStop) {
    if (auto fine = queue({std::string(block)}); !fine) return fine;
    while (sending() && port_) {
        if (wantsStop && wantsStop()) stop();
        work(20);
    }
    if (looseProblem_) return *looseProblem_;
    if (!port_) return Problem{.what = "The link to the machine is gone.", .where = {}, .mend = "Connect again."};
    return {};
}

Result<void> Streamer::start(std::string_view program, Numbering numbering) {
    if (!port_) return Problem{.what = "No machine is connected.", .where = {}, .mend = "Connect first."};
    if (sending())
        return Problem{.what = "The machine is still at something else.", .where = {}, .mend = "Wait for it."};
    numbering_ = numbering;
    stopping_ = false;
    lines_.clear();
    while (!program.empty()) {
        const auto end = std::min(program.find('\n'), program.size());
        std::string_view line = program.substr(0, end);
        if (line.ends_with('\r')) line.remove_suffix(1);
        lines_.emplace_back(line);
        program.remove_prefix(std::min(end + 1, program.size()));
    }
    problem_.reset();
    question_.clear();
    status_ = {};
    // Line 0 begins a stream: the machine counts from here. Until it has answered nothing else is sent.
    stream_ = std::random_device{}();
    sent_ = -1;
    acknowledged_ = -1;
    rewind_ = full_ = false;
    state_ = State::running;
    tries_ = 0;
    lastHeard_ = lastProgress_ = Clock::now();
    note(fmt::format("start {} lines", lines_.size()));
    sendMore();
    return {};
}

void Streamer::sendMore() {
    if (!active() || rewind_ || full_) return;
    std::string out;
    if (acknowledged_ < 0) {
        if (sent_ < 0) out = framed(sent_ = 0, fmt::format("(begin {})", stream_));
    } else {
        if (sent_ == acknowledged_) lastProgress_ = Clock::now(); // patience counts from here
        while (sent_ < lines() && sent_ - acknowledged_ < static_cast<long>(options_.window)) {
            ++sent_;
            out += framed(sent_, lines_[static_cast<std::size_t>(sent_ - 1)]);
        }
    }
    if (!out.empty()) write(out);
}

void Streamer::work(int milliseconds) {
    if (!port_) {
        if (!active()) return;
        if (tries_++ >= options_.reconnects)
            return fail({.what = "The link to the machine is gone and does not come back.",
                         .where = {},
                         .mend = "Check cable and power; then resume from the last line done."});
        if (auto fine = connect(); !fine) {
            std::this_thread::sleep_for(options_.patience);
            return;
        }
        note("reconnected");
    }
    insistOnStop();
    sendLoose();
    if (!port_) return;
    auto bytes = port_->read(milliseconds);
    if (!bytes) return lost();
    if (!bytes->empty()) lastHeard_ = Clock::now();
    take(*bytes);
    if (!port_ || !active()) return;
    const auto now = Clock::now();
    const auto sinceAsk = now - lastAsk_;
    if (now - lastHeard_ > options_.silence * options_.patience) return lost();
    if (sent_ > acknowledged_ && !full_ && now - lastProgress_ > options_.patience) {
        // Something was lost: the machine's own word settles what. The line end closes whatever arrived half.
        rewind_ = true;
        lastProgress_ = now; // patience begins anew
        incoming_.clear();
        write("\n");
        askForStatus();
    } else if (sinceAsk > (full_ ? 40ms : 100ms)) {
        askForStatus();
    }
    sendMore();
}

void Streamer::take(std::string_view bytes) {
    incoming_ += bytes;
    for (auto end = incoming_.find('\n'); end != std::string::npos && port_; end = incoming_.find('\n')) {
        std::string line = incoming_.substr(0, end);
        incoming_.erase(0, end + 1);
        if (line.ends_with('\r')) line.pop_back();
        answer(line);
    }
    if (incoming_.size() > 100'000) incoming_.clear(); // no machine of ours; do not fill the memory
}

void Streamer::answer(const std::string& checkedLine) {
    const auto text = unchecked(checkedLine);
    if (!text) return; // spoilt, or a greeting: no answer
    const std::string_view line = *text;
    if (const auto status = statusFrom(line)) {
        const long before = status_.done;
        status_ = *status;
        if (status_.state == MachineState::reset || status_.state == MachineState::tripped) stopping_ = false;
        if (status_.done > before && acknowledged_ > 0) note(fmt::format("done {}", programLine()));
        return settle();
    }
    const bool fine = line.starts_with("ok ");
    if (!fine && !line.starts_with("error ")) return;
    auto rest = line.substr(fine ? 3 : 6);
    const bool loose = rest.starts_with('L');
    if (loose) rest.remove_prefix(1);
    long number = -1;
    const auto [stop, error] = std::from_chars(rest.data(), rest.data() + rest.size(), number);
    if (error != std::errc{} || number < 0) return;
    rest.remove_prefix(static_cast<std::size_t>(stop - rest.data()));
    if (rest.starts_with(' ')) rest.remove_prefix(1);
    if (loose)
        answerLoose(number, fine, rest);
    else if (fine)
        acknowledge(std::min(number, sent_));
    else if (active())
        refused(number, rest);
}

void Streamer::answerLoose(long number, bool fine, std::string_view reason) {
    if (!looseSent_ || number != looseNumber_) return;             // an old one
    if (reason == "busy") return void(looseBegun_ = Clock::now()); // it lives; it will be sent again
    if (!fine)
        return dropLoose({.what = fmt::format("The machine refuses: {}.", reason.substr(0, 200)),
                          .where = {},
                          .mend = "Check its position and limits, and whether it has tripped."});
    loose_.pop_front();
    looseSent_ = false;
    sendLoose();
}

void Streamer::insistOnStop() {
    const auto now = Clock::now();
    if (!stopping_ || now - stopTried_ < options_.patience) return;
    stopTried_ = now;
    write(std::string_view(&doReset, 1));
    askForStatus();
}

void Streamer::refused(long number, std::string_view reason) {
    const auto says = [&](std::string_view word) { return reason.starts_with(word); };
    if (says("reset") || says("tripped")) {
        askForStatus(); // the status tells what it has and why
    } else if (says("check") || says("expected") || says("busy")) {
        // All that was sent behind it is refused too; one new start settles them together.
        full_ = full_ || says("busy");
        if (!std::exchange(rewind_, true)) askForStatus();
    } else if (number > acknowledged_) {
        fail({.what = fmt::format("The machine refuses line {}: {}.", number, reason),
              .where = fmt::format("line {}", number),
              .mend = "The machine has stopped. Correct the program, check the zero, then run again."});
    }
}

void Streamer::acknowledge(long number) {
    if (number <= acknowledged_ || number > lines()) return;
    acknowledged_ = number;
    sent_ = std::max(sent_, acknowledged_);
    lastProgress_ = Clock::now();
    tries_ = 0;
    note(fmt::format("acked {}", acknowledged_));
}

void Streamer::settle() {
    using enum MachineState;
    if (sending() && looseSent_ && status_.state == tripped && loose_.front().find("G28") == std::string::npos)
        dropLoose({.what = "The machine has tripped.", .where = {}, .mend = "Home it first."});
    if (!active()) return;
    const bool begun = acknowledged_ >= 0; // before that the machine speaks of another stream
    if (status_.state == tripped || (status_.state == reset && begun))
        return fail({.what = status_.state == reset ? "The machine was reset in the middle of the program."
                                                    : "The machine has tripped.",
                     .where = fmt::format("after line {}", programLine()),
                     .mend = "Clear it, home if needed, then resume from the last line done."},
                    State::stopped);
    if (begun) {
        state_ = status_.state == waiting                                ? State::holding
                 : status_.state == changing || status_.state == pausing ? State::asking
                                                                         : State::running;
        question_ = status_.state == changing ? "tool" : status_.state == pausing ? "pause" : "";
        acknowledge(status_.accepted);
    }
    if (full_ && status_.room * 4 >= status_.room + status_.queue) full_ = false;
    if (rewind_ && !full_) {
        rewind_ = false;
        sent_ = acknowledged_;
        sendMore();
    }
    if (begun && status_.state == resting && acknowledged_ == lines() && status_.done >= lines()) {
        state_ = State::finished;
        note("finished");
    }
}

void Streamer::lost() {
    port_.reset();
    incoming_.clear();
    if (sending()) dropLoose({.what = "The link to the machine is gone.", .where = {}, .mend = "Connect again."});
    if (active()) note("link lost");
    // Unanswered lines may or may not have arrived; after the reconnect the machine's status tells.
    rewind_ = true;
}

void Streamer::fail(Problem problem, State state) {
    note(fmt::format("{} acked {} done {}: {}", state == State::failed ? "failed" : "stopped", acknowledged_, done(),
                     problem.what));
    problem_ = std::move(problem);
    state_ = state;
}

void Streamer::hold() {
    write(std::string_view(&doHold, 1));
    note("hold");
}
void Streamer::resume() {
    write(std::string_view(&doResume, 1));
    note("resume");
    askForStatus();
}
void Streamer::stop() {
    stopping_ = true;
    stopTried_ = Clock::now();
    write(std::string_view(&doReset, 1));
    askForStatus();
    if (sending())
        dropLoose({.what = "Stopped by hand.", .where = {}, .mend = "Check where the machine stands, then go on."});
    if (active())
        fail({.what = "Stopped by hand.",
              .where = fmt::format("after line {}", programLine()),
              .mend = "Resume from the last line done, or start anew."},
             State::stopped);
}

} // namespace ferro::link

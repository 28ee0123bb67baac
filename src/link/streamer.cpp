#include "link/exchange_internal.h"

#include <thread>

namespace ferro::link {

using namespace std::chrono_literals;

Streamer::Streamer(Opener opener, Conversation talk, Options options)
    : opener_(std::move(opener)), talk_(std::move(talk)), options_(options) {
    if (options_.patience == 0ms) options_.patience = std::chrono::milliseconds(std::lround(talk_.patience * 1000));
    if (talk_.exactlyOnce())
        exchange_ = std::make_unique<GoBackN>(*this);
    else
        exchange_ = std::make_unique<Counted>(*this);
}

Streamer::~Streamer() = default;

Result<void> Streamer::connect() {
    auto port = opener_();
    if (!port) return port.problem();
    port_ = std::move(*port);
    incoming_.clear();
    lastHeard_ = Clock::now();
    readyAt_ = lastHeard_ + std::chrono::milliseconds(std::lround(talk_.wait * 1000));
    exchange_->opened();
    if (!port_)
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

bool Streamer::writeNow(const std::vector<int>& bytes) {
    if (bytes.empty()) return false;
    std::string text;
    for (const int byte : bytes) text += static_cast<char>(byte);
    return write(text);
}

void Streamer::askForStatus() {
    lastAsk_ = Clock::now();
    if (lastAsk_ >= readyAt_) writeNow(talk_.ask);
}

Result<void> Streamer::queue(std::vector<std::string> blocks) {
    if (!port_) return Problem{.what = "No machine is connected.", .where = {}, .mend = "Connect first."};
    if (active()) return Problem{.what = "A program is running.", .where = {}, .mend = "Stop it first."};
    looseProblem_.reset();
    for (auto& block : blocks) loose_.push_back(std::move(block));
    exchange_->sendLoose();
    return {};
}

void Streamer::looseAnswered() {
    if (!loose_.empty()) loose_.pop_front();
    exchange_->sendLoose();
}

void Streamer::dropLoose(Problem problem) {
    loose_.clear();
    exchange_->looseDropped();
    looseProblem_ = std::move(problem);
}

void Streamer::refusedLoose(std::string_view reason) {
    dropLoose({.what = reason.empty() ? "The machine refuses."
                                      : fmt::format("The machine refuses: {}.", reason.substr(0, 200)),
               .where = {},
               .mend = "Check its position and limits, and whether it has tripped."});
}

bool Streamer::isHoming() const {
    return !loose_.empty() && std::any_of(talk_.home.begin(), talk_.home.end(), [&](const std::string& block) {
        return loose_.front().find(block) != std::string::npos;
    });
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
    if (auto fine = exchange_->begun(); !fine) return fine;
    state_ = State::running;
    tries_ = 0;
    lastHeard_ = Clock::now();
    note(fmt::format("start {} lines", lines_.size()));
    exchange_->sendMore();
    return {};
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
    exchange_->sendLoose();
    if (!port_) return;
    auto bytes = port_->read(milliseconds);
    if (!bytes) return lost();
    const auto now = Clock::now();
    if (!bytes->empty()) lastHeard_ = now;
    if (now < readyAt_)
        incoming_.clear(); // what it says while it starts is no answer to anything
    else
        take(*bytes);
    if (port_) exchange_->idle(now);
    if (port_ && active()) exchange_->sendMore();
}

void Streamer::take(std::string_view bytes) {
    incoming_ += bytes;
    for (auto end = incoming_.find('\n'); end != std::string::npos && port_; end = incoming_.find('\n')) {
        std::string line = incoming_.substr(0, end);
        incoming_.erase(0, end + 1);
        answer(line);
    }
    if (incoming_.size() > 100'000) incoming_.clear(); // no machine of ours; do not fill the memory
}

void Streamer::answer(const std::string& line) {
    const auto heard = talk_.heard(line);
    if (!heard) return; // spoilt: no answer
    using Kind = Conversation::Answer::Kind;
    switch (heard->kind) {
    case Kind::status:
        if (exchange_->showsHalt(heard->status)) stopping_ = false;
        return exchange_->told(heard->status);
    case Kind::takes:
    case Kind::refuses: return exchange_->answered(*heard);
    case Kind::greets:
        stopping_ = false;
        exchange_->stopped();
        if (active()) failBy(MachineState::reset);
        return;
    case Kind::trips:
        stopping_ = false;
        exchange_->stopped();
        if (sending() && !isHoming())
            dropLoose({.what = "The machine has tripped.", .where = heard->reason, .mend = "Home it first."});
        if (active()) failBy(MachineState::tripped);
        return;
    case Kind::other: return;
    }
}

void Streamer::insistOnStop() {
    const auto now = Clock::now();
    if (!stopping_ || now - stopTried_ < options_.patience) return;
    stopTried_ = now;
    writeNow(talk_.reset);
    askForStatus();
}

void Streamer::refusedLine(long number, std::string_view reason) {
    fail({.what = reason.empty() ? fmt::format("The machine refuses line {}.", numbering_.of(number))
                                 : fmt::format("The machine refuses line {}: {}.", numbering_.of(number), reason),
          .where = fmt::format("line {}", numbering_.of(number)),
          .mend = fmt::format("{} Correct the program, check the zero, then run again.",
                              talk_.exactlyOnce() ? "The machine has stopped."
                                                  : "Nothing more is sent; what it took in before, it carries out.")});
}

void Streamer::acknowledge(long number) {
    if (number <= acknowledged_ || number > lines()) return;
    acknowledged_ = number;
    sent_ = std::max(sent_, acknowledged_);
    tries_ = 0;
    note(fmt::format("acked {}", acknowledged_));
}

void Streamer::noteDone(long before) {
    if (status_.done > before && acknowledged_ > 0) note(fmt::format("done {}", programLine()));
}

void Streamer::finish() {
    state_ = State::finished;
    note("finished");
}

void Streamer::lost() {
    port_.reset();
    incoming_.clear();
    if (sending()) dropLoose({.what = "The link to the machine is gone.", .where = {}, .mend = "Connect again."});
    if (active()) note("link lost");
    exchange_->lost();
}

void Streamer::fail(Problem problem, State state) {
    note(fmt::format("{} acked {} done {}: {}", state == State::failed ? "failed" : "stopped", acknowledged_, done(),
                     problem.what));
    problem_ = std::move(problem);
    state_ = state;
}

void Streamer::failBy(MachineState state) {
    fail({.what = state == MachineState::reset ? "The machine was reset in the middle of the program."
                                               : "The machine has tripped.",
          .where = fmt::format("after line {}", programLine()),
          .mend = "Clear it, home if needed, then resume from the last line done."},
         State::stopped);
}

void Streamer::hold() {
    writeNow(talk_.hold);
    exchange_->held();
    note("hold");
}
void Streamer::resume() {
    writeNow(talk_.goOn);
    exchange_->wentOn();
    note("resume");
    askForStatus();
}
void Streamer::stop() {
    const bool halts = writeNow(talk_.reset);
    stopping_ = halts && !talk_.ask.empty();
    stopTried_ = Clock::now();
    if (halts) exchange_->stopped();
    askForStatus();
    const std::string_view carriesOn =
        halts ? "" : " What the machine has taken in it carries out: stop it at the machine.";
    if (sending())
        dropLoose({.what = fmt::format("Stopped by hand.{}", carriesOn),
                   .where = {},
                   .mend = "Check where the machine stands, then go on."});
    if (active())
        fail({.what = fmt::format("Stopped by hand.{}", carriesOn),
              .where = fmt::format("after line {}", programLine()),
              .mend = "Resume from the last line done, or start anew."},
             State::stopped);
}

} // namespace ferro::link

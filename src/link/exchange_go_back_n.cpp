#include "link/exchange_internal.h"

#include "base/holes.h"

#include <random>

namespace ferro::link {

using namespace std::chrono_literals;

Streamer::GoBackN::GoBackN(Streamer& streamer)
    : Exchange(streamer), looseNumber_(static_cast<long>(std::random_device{}() % 1'000'000)) {}

void Streamer::GoBackN::opened() {
    lastProgress_ = s_.lastHeard_;
    s_.write("\n"); // whatever a former stream left half written ends here
}

Result<void> Streamer::GoBackN::begun() {
    // Line 0 begins a stream: the machine counts from here. Until it has answered nothing else is sent.
    stream_ = std::random_device{}();
    s_.status_ = {};
    s_.sent_ = s_.acknowledged_ = -1;
    rewind_ = full_ = false;
    lastProgress_ = Clock::now();
    return {};
}

void Streamer::GoBackN::sendMore() {
    if (!s_.active() || rewind_ || full_) return;
    std::string out;
    if (s_.acknowledged_ < 0) {
        if (s_.sent_ < 0) {
            out =
                s_.talk_.framed(s_.sent_ = 0, holesFilled(s_.talk_.begin, [&](std::string_view word) {
                                    return word == "stream" ? std::optional(fmt::format("{}", stream_)) : std::nullopt;
                                }));
        }
    } else {
        if (s_.sent_ == s_.acknowledged_) lastProgress_ = Clock::now(); // patience counts from here
        while (s_.sent_ < s_.lines() && s_.sent_ - s_.acknowledged_ < s_.talk_.lines) {
            ++s_.sent_;
            out += s_.talk_.framed(s_.sent_, s_.lines_[static_cast<std::size_t>(s_.sent_ - 1)]);
        }
    }
    if (!out.empty()) s_.write(out);
}

void Streamer::GoBackN::sendLoose() {
    if (s_.loose_.empty() || !s_.port_) return;
    const auto now = Clock::now();
    if (!looseSent_) {
        ++looseNumber_;
        looseSent_ = true;
        looseBegun_ = now;
        looseTried_ = now - s_.options_.patience;
    }
    if (now - looseBegun_ > s_.options_.silence * s_.options_.patience)
        return s_.dropLoose(
            {.what = "The machine does not answer.", .where = {}, .mend = "Check that it is on and has not tripped."});
    // Sent again it is not done again: the machine knows it by its number.
    if (now - looseTried_ < s_.options_.patience) return;
    looseTried_ = now;
    s_.write(s_.talk_.framedLoose(looseNumber_, s_.loose_.front()));
}

void Streamer::GoBackN::answered(const Conversation::Answer& answer) {
    if (answer.number < 0) return;
    if (answer.loose) return answeredLoose(answer);
    if (answer.kind == Conversation::Answer::Kind::refuses) {
        if (s_.active()) refused(answer.number, answer.reason);
        return;
    }
    const long before = s_.acknowledged_;
    s_.acknowledge(std::min(answer.number, s_.sent_));
    if (s_.acknowledged_ > before) lastProgress_ = Clock::now();
}

void Streamer::GoBackN::answeredLoose(const Conversation::Answer& answer) {
    if (!looseSent_ || answer.number != looseNumber_) return; // an old one
    if (answer.kind == Conversation::Answer::Kind::refuses) {
        if (answer.reason != "busy") return s_.refusedLoose(answer.reason);
        looseBegun_ = Clock::now(); // it lives; it will be sent again
        return;
    }
    looseSent_ = false;
    s_.looseAnswered();
}

void Streamer::GoBackN::refused(long number, std::string_view reason) {
    const auto says = [&](std::string_view word) { return reason.starts_with(word); };
    if (says("reset") || says("tripped")) {
        s_.askForStatus(); // the status tells what it has and why
    } else if (says("check") || says("expected") || says("busy")) {
        // All that was sent behind it is refused too; one new start settles them together.
        full_ = full_ || says("busy");
        if (!std::exchange(rewind_, true)) s_.askForStatus();
    } else if (number > s_.acknowledged_) {
        s_.refusedLine(number, reason);
    }
}

void Streamer::GoBackN::told(const Status& now) {
    using enum MachineState;
    const long before = std::exchange(s_.status_, now).done;
    const auto& status = s_.status_;
    s_.noteDone(before);
    if (s_.sending() && looseSent_ && status.state == tripped && !s_.isHoming())
        s_.dropLoose({.what = "The machine has tripped.", .where = {}, .mend = "Home it first."});
    if (!s_.active()) return;
    const bool begun = s_.acknowledged_ >= 0; // before that the machine speaks of another stream
    if (status.state == tripped || (status.state == reset && begun)) return s_.failBy(status.state);
    if (begun) {
        s_.state_ = status.state == waiting                               ? State::holding
                    : status.state == changing || status.state == pausing ? State::asking
                                                                          : State::running;
        s_.question_ = status.state == changing ? "tool" : status.state == pausing ? "pause" : "";
        const long was = s_.acknowledged_;
        s_.acknowledge(status.accepted);
        if (s_.acknowledged_ > was) lastProgress_ = Clock::now();
    }
    if (full_ && status.room * 4 >= status.room + status.queue) full_ = false;
    if (rewind_ && !full_) {
        // What the machine has is acknowledged, the rest is sent again.
        rewind_ = false;
        s_.sent_ = s_.acknowledged_;
        sendMore();
    }
    if (begun && status.state == resting && s_.acknowledged_ == s_.lines() && status.done >= s_.lines()) s_.finish();
}

void Streamer::GoBackN::idle(Clock::time_point now) {
    if (!s_.active()) return;
    if (now - s_.lastHeard_ > s_.options_.silence * s_.options_.patience) return s_.lost();
    if (s_.sent_ > s_.acknowledged_ && !full_ && now - lastProgress_ > s_.options_.patience) {
        // Something was lost: the machine's own word settles what. The line end closes whatever arrived half.
        rewind_ = true;
        lastProgress_ = now; // patience begins anew
        s_.incoming_.clear();
        s_.write("\n");
        s_.askForStatus();
    } else if (now - s_.lastAsk_ > (full_ ? 40ms : 100ms)) {
        s_.askForStatus();
    }
}

} // namespace ferro::link

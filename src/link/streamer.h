#pragma once

#include "link/port.h"
#include "link/protocol.h"

#include <chrono>
#include <deque>
#include <functional>
#include <random>
#include <vector>

namespace ferro::link {

/// Sends a program so that the machine takes every line exactly once, whatever is lost on the way (a sliding window
/// with go-back-N, RFC 3366): lines are numbered, at most `window` are on the way, a missing or spoilt answer is
/// settled by asking for the status, and the machine drops a line it has had. A machine with a full queue says so and
/// is sent more once a quarter of it is free. A lost link is opened anew; a machine that has reset in the middle stops
/// the stream, and what it has done is known for a safe resume.
class Streamer {
public:
    enum class State { ready, running, holding, asking, finished, stopped, failed };
    struct Options {
        std::size_t window = 12;
        std::chrono::milliseconds patience{250}; ///< without progress before what is unanswered is sent again
        int reconnects = 20;                     ///< tries, one per `patience`
        int silence = 40;                        ///< times `patience` without a word: the link counts as lost
    };
    using Opener = std::function<Result<std::unique_ptr<Port>>()>;

    explicit Streamer(Opener opener) : Streamer(std::move(opener), Options{}) {}
    Streamer(Opener opener, Options options) : opener_(std::move(opener)), options_(options) {}

    [[nodiscard]] Result<void> connect();
    [[nodiscard]] bool connected() const { return port_ != nullptr; }

    /// Blocks outside a stream (home, jog, zero), to be sent one after the other as each is answered, while `work` is
    /// called. What was queued before and is not sent yet stays before them.
    [[nodiscard]] Result<void> queue(std::vector<std::string> blocks);
    /// Whether blocks outside a stream wait for their answer.
    [[nodiscard]] bool sending() const { return !loose_.empty(); }
    /// Why the last of them failed; those behind it are dropped.
    [[nodiscard]] const std::optional<Problem>& looseProblem() const { return looseProblem_; }
    /// Queues one block and works until it is answered, for whoever has nothing else to do. `wantsStop` is asked now
    /// and then; the machine is reset when it says so.
    [[nodiscard]] Result<void> send(std::string_view block, const std::function<bool()>& wantsStop = {});
    /// How lines of what is streamed are counted for the person and the log: of a resumed run as in its own program.
    struct Numbering {
        long head = 0;  ///< lines before the first of the program
        long first = 1; ///< that line's own number
        [[nodiscard]] long of(long line) const { return line <= head ? first - 1 : first + line - head - 1; }
    };
    /// Begins a program. Lines without code are kept, so that numbers are the program's own.
    [[nodiscard]] Result<void> start(std::string_view program, Numbering numbering = {0, 1});
    /// Does what is to be done now and waits for answers at most `milliseconds`. Call until `state()` says it is over.
    void work(int milliseconds);

    void hold();
    void resume(); ///< after a hold, a pause or a tool change
    /// Resets the machine: it halts and forgets its queue, whatever it does, program or blocks outside one. Sent again
    /// until the machine shows that it has.
    void stop();
    void askForStatus();

    [[nodiscard]] State state() const { return state_; }
    [[nodiscard]] const Status& status() const { return status_; }
    [[nodiscard]] long lines() const { return static_cast<long>(lines_.size()); }
    [[nodiscard]] long acknowledged() const { return acknowledged_; }
    [[nodiscard]] long done() const { return std::min(status_.done, acknowledged_); }
    /// The last line done and the number of lines, counted as `Numbering` says.
    [[nodiscard]] long programLine() const { return done() < 1 ? numbering_.of(0) : numbering_.of(done()); }
    [[nodiscard]] long programLines() const { return numbering_.of(lines()); }
    /// Why it failed or stopped.
    [[nodiscard]] const std::optional<Problem>& problem() const { return problem_; }
    /// What the machine asks the person for while `asking`: "tool 3", "pause".
    [[nodiscard]] const std::string& question() const { return question_; }
    /// Called with "acked 12", "done 10", "reconnected" … for the log on disk.
    void setLog(std::function<void(const std::string&)> log) { log_ = std::move(log); }

private:
    using Clock = std::chrono::steady_clock;
    void sendMore();
    void take(std::string_view bytes);
    void answer(const std::string& checkedLine);
    void answerLoose(long number, bool fine, std::string_view reason);
    void sendLoose();
    void dropLoose(Problem problem);
    void insistOnStop();
    void refused(long number, std::string_view reason);
    void lost();
    void fail(Problem problem, State state = State::failed);
    void settle(); // after a status: what the machine has is acknowledged, the rest is sent again
    void acknowledge(long number);
    [[nodiscard]] bool active() const {
        return state_ == State::running || state_ == State::holding || state_ == State::asking;
    }
    bool write(std::string_view bytes);
    void note(const std::string& text) {
        if (log_) log_(text);
    }

    Opener opener_;
    Options options_;
    std::unique_ptr<Port> port_;
    State state_ = State::ready;
    std::vector<std::string> lines_;
    unsigned stream_ = 0; // tells this stream's begin from another's, so that a repeated begin begins nothing
    long sent_ = 0, acknowledged_ = 0;
    bool rewind_ = false; // a line was lost: after the next status everything beyond the machine's last is sent again
    bool full_ = false;   // the machine's queue is full
    std::string incoming_;
    Status status_;
    std::optional<Problem> problem_;
    std::string question_;
    Clock::time_point lastHeard_{}, lastProgress_{}, lastAsk_{};
    int tries_ = 0;
    Numbering numbering_;
    std::deque<std::string> loose_; // blocks outside a stream; the first is on its way
    bool looseSent_ = false;
    long looseNumber_ = std::random_device{}() % 1'000'000; // of the first; starts anywhere, so that the machine does
                                                            // not take it for a former link's
    std::optional<Problem> looseProblem_;
    Clock::time_point looseBegun_{}, looseTried_{};
    bool stopping_ = false; // a reset was sent and the machine has not shown it yet
    Clock::time_point stopTried_{};
    std::function<void(const std::string&)> log_;
};

} // namespace ferro::link

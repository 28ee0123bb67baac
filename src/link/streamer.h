#pragma once

#include "link/conversation.h"
#include "link/port.h"

#include <chrono>
#include <deque>
#include <functional>
#include <vector>

namespace ferro::link {

/// Sends a program and tells how far it has come. Where the conversation allows it, the machine takes every line
/// exactly once, whatever is lost on the way, and a lost link is opened anew; where it does not, what cannot be known
/// stops the stream and is said. A machine that has reset in the middle stops it too, and what it has done is known for
/// a safe resume.
class Streamer {
public:
    enum class State { ready, running, holding, asking, finished, stopped, failed };
    struct Options {
        std::chrono::milliseconds patience{0}; ///< without progress before something is done; 0: the conversation's
        int reconnects = 20;                   ///< tries, one per `patience`
        int silence = 40;                      ///< times `patience` without a word: the link counts as lost
    };
    using Opener = std::function<Result<std::unique_ptr<Port>>()>;

    Streamer(Opener opener, Conversation talk) : Streamer(std::move(opener), std::move(talk), Options{}) {}
    Streamer(Opener opener, Conversation talk, Options options);
    ~Streamer();
    Streamer(const Streamer&) = delete;
    Streamer& operator=(const Streamer&) = delete;

    [[nodiscard]] const Conversation& talk() const { return talk_; }
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

    /// What of this a machine can be told, `limitsOf` its conversation says.
    void hold();
    void resume(); ///< after a hold, a pause or a tool change
    /// Resets the machine: it halts and forgets its queue, whatever it does, program or blocks outside one. Sent again
    /// until the machine shows that it has, where it can.
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
    /// How lines get across, and how it is known what has; one for each sort of conversation.
    class Exchange;
    class GoBackN;
    class Counted;

    void take(std::string_view bytes);
    void answer(const std::string& line);
    void looseAnswered();
    void dropLoose(Problem problem);
    void refusedLoose(std::string_view reason);
    void refusedLine(long number, std::string_view reason);
    void insistOnStop();
    void lost();
    void fail(Problem problem, State state = State::failed);
    void failBy(MachineState state); // tripped or reset
    void finish();
    void acknowledge(long number);
    void noteDone(long before);
    [[nodiscard]] bool isHoming() const; // the first of the blocks outside a stream
    [[nodiscard]] bool active() const {
        return state_ == State::running || state_ == State::holding || state_ == State::asking;
    }
    bool write(std::string_view bytes);
    bool writeNow(const std::vector<int>& bytes);
    void note(const std::string& text) {
        if (log_) log_(text);
    }

    Opener opener_;
    Conversation talk_;
    Options options_;
    std::unique_ptr<Port> port_;
    std::unique_ptr<Exchange> exchange_;
    State state_ = State::ready;
    std::vector<std::string> lines_;
    long sent_ = 0, acknowledged_ = 0;
    std::string incoming_;
    Status status_;
    std::optional<Problem> problem_;
    std::string question_;
    Clock::time_point lastHeard_{}, lastAsk_{};
    Clock::time_point readyAt_{}; // before, a controller that has just been opened takes nothing in
    int tries_ = 0;
    Numbering numbering_;
    std::deque<std::string> loose_; // blocks outside a stream; the first is on its way
    std::optional<Problem> looseProblem_;
    bool stopping_ = false; // a reset was sent and the machine has not shown it yet
    Clock::time_point stopTried_{};
    std::function<void(const std::string&)> log_;
};

} // namespace ferro::link

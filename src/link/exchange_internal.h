#pragma once

#include "link/streamer.h"
#include "program/reader.h"

namespace ferro::link {

class Streamer::Exchange {
public:
    explicit Exchange(Streamer& streamer) : s_(streamer) {}
    virtual ~Exchange() = default;
    Exchange(const Exchange&) = delete;
    Exchange& operator=(const Exchange&) = delete;

    virtual void opened() = 0;        ///< the port is
    virtual Result<void> begun() = 0; ///< `lines_` are there
    virtual void sendMore() = 0;
    virtual void sendLoose() = 0;
    virtual void answered(const Conversation::Answer& answer) = 0; ///< takes or refuses
    virtual void told(const Status& status) = 0;
    virtual void idle(Clock::time_point now) = 0; ///< all that has come is read: is anything missing?
    virtual void lost() = 0;
    virtual void held() {}
    virtual void wentOn() {}
    virtual void stopped() {} ///< what was on the way is given up
    virtual void looseDropped() {}
    /// Whether a machine that says this has taken a reset.
    [[nodiscard]] virtual bool showsHalt(const Status& status) const = 0;

protected:
    Streamer& s_;
};

/// Every line exactly once (a sliding window with go-back-N, RFC 3366): lines are numbered, at most so many are on the
/// way, a missing or spoilt answer is settled by asking for the status, and the machine drops a line it has had. A
/// machine with a full queue says so and is sent more once a quarter of it is free.
class Streamer::GoBackN : public Exchange {
public:
    explicit GoBackN(Streamer& streamer);
    void opened() override;
    Result<void> begun() override;
    void sendMore() override;
    void sendLoose() override;
    void answered(const Conversation::Answer& answer) override;
    void told(const Status& status) override;
    void idle(Clock::time_point now) override;
    void lost() override { rewind_ = true; } // what arrived, the machine's status tells after the reconnect
    void looseDropped() override { looseSent_ = false; }
    [[nodiscard]] bool showsHalt(const Status& status) const override {
        return status.state == MachineState::reset || status.state == MachineState::tripped;
    }

private:
    void answeredLoose(const Conversation::Answer& answer);
    void refused(long number, std::string_view reason);

    unsigned stream_ = 0; // tells this stream's begin from another's, so that a repeated begin begins nothing
    bool rewind_ = false; // a line was lost: after the next status everything beyond the machine's last is sent again
    bool full_ = false;   // the machine's queue is full
    Clock::time_point lastProgress_{};
    bool looseSent_ = false;
    long looseNumber_; // of the first; starts anywhere, so that the machine does not take it for a former link's
    Clock::time_point looseBegun_{}, looseTried_{};
};

/// An answer for a line, in order and no more: answers are counted against what was sent, so much at a time as the
/// controller has room for. An answer that does not come leaves open whether the line was taken: the stream stops.
class Streamer::Counted : public Exchange {
public:
    explicit Counted(Streamer& streamer) : Exchange(streamer) {}
    void opened() override;
    Result<void> begun() override;
    void sendMore() override;
    void sendLoose() override;
    void answered(const Conversation::Answer& answer) override;
    void told(const Status& status) override;
    void idle(Clock::time_point now) override;
    void lost() override;
    void held() override;
    void wentOn() override;
    void stopped() override;
    /// Many have no word for having been reset.
    [[nodiscard]] bool showsHalt(const Status& status) const override { return status.state != MachineState::moving; }

private:
    struct Waiting { ///< for its answer
        enum class Kind { line, loose, settle } kind = Kind::line;
        long upTo = 0; ///< the line that is acknowledged with it
        std::size_t bytes = 0;
    };
    void say(Waiting::Kind kind, const std::string& text, long upTo);
    void take(std::string_view block);
    void settled();
    void reckon();
    [[nodiscard]] bool maySpeak() const;
    void giveUp();

    std::deque<Waiting> waiting_;
    std::size_t onTheWay_ = 0;        // bytes
    Clock::time_point since_{};       // of the last word, or of the first unanswered
    Clock::time_point heardLately_{}; // a status
    Clock::time_point deafUntil_{};   // answers that come before are to what was given up
    bool doubtful_ = false;           // answers may be on their way still when the port is opened anew
    std::vector<std::string> code_;   // of the lines, without remarks
    std::vector<std::string> stops_;  // what is asked at each line: "tool", "pause" or nothing
    bool settled_ = false;            // all that was sent is carried out
    bool heldBack_ = false;           // nothing is sent until the person says so
    long settledAt_ = 0;
    std::vector<double> seconds_;           // that each line takes at most
    double longest_ = 0, untilSettled_ = 0; // s: of these, and of all that may still be carried out
    Clock::time_point begun_{};
    program::Interpreter reader_;
};

} // namespace ferro::link

#pragma once

#include "link/conversation.h"
#include "program/reader.h"
#include "standin/scorch.h"
#include "standin/travel.h"

#include <random>

namespace ferro::standin {

/// Faults to switch on. Each goes off once, when line `at` is taken in; `rate` strikes at random on any answer.
struct Faults {
    enum class Kind { none, drop, swallow, garble, trip, reset };
    struct Once {
        Kind kind = Kind::none;
        long at = 0;
    };
    std::vector<Once> once;
    double rate = 0; ///< 0 to 1: chance for each answer to be swallowed or garbled
    unsigned seed = 1;
};

/// The simulated machine: takes bytes, gives bytes, moves when time passes. Knows nothing of terminals or clocks, so
/// that tests run it as they like.
class StandIn {
public:
    /// It speaks whatever the conversation describes. Where answers are only counted, it answers a line when it has
    /// room for it, and a dwell when all is carried out; its lines are numbered as they come.
    StandIn(const shop::Machine& machine, Faults faults, link::Conversation talk);

    /// A touch-off plate lies on the bed, its top at this machine height; G38.2 stops on it. None: nothing is met.
    void setPlate(std::optional<double> z) {
        top_ = z ? [z = *z](Vec2) { return z; } : std::function<double(Vec2)>();
    }
    /// The same of whatever lies there: the machine height of its top, place by place.
    void setTop(std::function<double(Vec2)> top) { top_ = std::move(top); }

    /// A board lies on the bed, in machine coordinates; what is in its head, a pin so thick, meets its sides.
    struct Lying {
        Box area;
        double top = 0, pin = 6;
    };
    void setBoard(const Lying& board) { board_ = board; }

    /// From now on so many of its answers are lost or spoilt.
    void setFaultRate(double rate, unsigned seed) { faults_.rate = rate, random_.seed(seed); }

    void receive(std::string_view bytes);
    /// Lets `seconds` of machine time pass. `starved`: more lines are expected at once, so a short queue waits for them
    /// instead of braking, as it would not have to on a line as quick as the machine.
    void advance(double seconds, bool starved = false);
    [[nodiscard]] std::string replies();
    /// True once after a fault wants the link cut.
    [[nodiscard]] bool wantsDrop();
    [[nodiscard]] link::Status status() const;

    /// Counts the lines taken in; a refused one does not promise more.
    [[nodiscard]] long taken() const { return taken_; }
    /// The lines carried out, in order: what the tests count.
    [[nodiscard]] const std::vector<long>& executed() const { return executed_; }
    /// Bytes that came when it had no room for them, and are lost.
    [[nodiscard]] long spilt() const { return spilt_; }
    /// What its beam has burnt, in machine coordinates. By M3 it burns as strongly whatever its speed; by M4 in
    /// proportion to the speed it has, against the feed that was asked for.
    [[nodiscard]] const Scorch& burnt() const { return burnt_; }
    /// A picture of its table seen from above, with all it has done on it, as SVG in machine coordinates.
    [[nodiscard]] std::string table() const;

private:
    struct Entry {
        enum class Kind { move, dwell, pause, tool, mark, home, missed } kind = Kind::mark;
        toolpath::Move move; ///< machine coordinates
        double seconds = 0;
        long line = -1;
        bool last = false;    ///< the line is done with this entry
        bool answers = false; ///< and answered only then
        bool bySpeed = false; ///< M4
    };
    void move(double seconds, bool starved);
    void line(const std::string& text);
    void counted(const std::string& block);
    void takeWaiting();
    bool immediate();
    [[nodiscard]] bool actsOn(const std::vector<int>& bytes) const;
    /// Where a touch comes to rest, and whether it met anything.
    struct Touched {
        toolpath::Vec3 at;
        bool met = false;
    };
    [[nodiscard]] Result<Touched> touched(toolpath::Vec3 from, toolpath::Vec3 to, double feed) const;
    [[nodiscard]] Result<Touched> touchedSideways(toolpath::Vec3 from, toolpath::Vec3 to, double feed) const;
    Result<void> queueUp(const program::Interpreter::Line& line, long number);
    void reply(std::string answer);
    void say(const std::string& text);
    void greet();
    void enterReset(link::MachineState state);
    bool fire(long number);
    void finish(const Entry& entry);
    bool nextEntry();
    void ended(const Entry& entry);

    shop::Machine machine_;
    link::Conversation talk_;
    Faults faults_;
    std::mt19937 random_;
    program::Interpreter reader_;
    toolpath::Vec3 offset_;  // machine = program + offset
    toolpath::Vec3 planned_; // machine coordinates at the end of the queue
    Travel travel_;
    std::deque<Entry> entries_;             // not yet under way
    std::deque<Entry> underWay_;            // motions that `travel_` has, oldest first
    toolpath::Vec3 began_;                  // where the first of them begins
    double dwellLeft_ = 0, dwellPower_ = 0; ///< s; of a beam that burns while it stands, 0 to 1
    bool dwelling_ = false;
    std::function<double(Vec2)> top_; ///< of what a touch meets; none: nothing
    std::optional<Lying> board_;
    bool missing_ = false; // a touch that meets nothing is queued: what follows it is not taken
    link::MachineState state_ = link::MachineState::resting;
    std::string stream_; // the words that began it
    long accepted_ = 0, done_ = 0, taken_ = 0;
    long lastLoose_ = -1;
    double clock_ = 0;
    std::string incoming_, outgoing_;
    std::string lately_;              // the last few bytes, for those that act at once
    std::deque<std::string> waiting_; // lines that there was no room for yet
    std::size_t waitingBytes_ = 0;
    long counted_ = 0, spilt_ = 0;
    bool settling_ = false; // a dwell is to be answered when all before it is done
    bool drop_ = false;
    std::vector<long> executed_;
    struct Bit {
        toolpath::Vec3 from;
        toolpath::Move move;
        bool cutting = false;
    };
    std::vector<Bit> trail_; // what has been done, machine coordinates
    Scorch burnt_;
};

} // namespace ferro::standin

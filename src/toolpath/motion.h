#pragma once

#include "toolpath/moves.h"

#include <deque>

namespace ferro::toolpath {

/// A motion's speed over its length: up at `acceleration` from `entry`, along at `cruise`, down to `exit`. mm, s.
struct Ride {
    double length = 0, entry = 0, cruise = 0, exit = 0, acceleration = 1;

    [[nodiscard]] double peak() const;
    [[nodiscard]] double seconds() const;
    /// How far along it is after `t` seconds.
    [[nodiscard]] double distanceAt(double t) const;
};

/// Works out the speed of each motion with a limited look ahead, as a controller does: corners are taken at the speed
/// at which the centripetal acceleration on a circle that leaves the corner by `junction` mm equals the machine's,
/// motions are joined by a backward and a forward pass over the queue. Both the proof's clock and the stand-in use it.
class MotionPlanner {
public:
    explicit MotionPlanner(const shop::Machine& machine, std::size_t lookAhead = 48)
        : machine_(machine), lookAhead_(lookAhead) {}

    /// Adds the motion from the last end to `move.to`. Motions without length are dropped (answer: false).
    bool push(const Move& move);
    void startAt(Vec3 at) { at_ = at; }
    [[nodiscard]] Vec3 end() const { return at_; }

    [[nodiscard]] bool full() const { return queue_.size() >= lookAhead_; }
    [[nodiscard]] bool empty() const { return queue_.empty(); }
    [[nodiscard]] std::size_t size() const { return queue_.size(); }
    /// Takes the oldest motion with its final speeds; the next one is bound to its exit speed.
    [[nodiscard]] Ride pop();
    /// Forgets the queue and stands still, for a stop.
    void clear();

private:
    struct Block {
        Ride ride;
        Vec3 in, out;          // unit direction at both ends
        double entryLimit = 0; // of the corner before it
    };
    void plan();
    const shop::Machine machine_;
    std::size_t lookAhead_;
    std::deque<Block> queue_;
    Vec3 at_;
    Vec3 lastOut_;
    double lastExit_ = 0; // speed at which the last popped motion ends
    double lastCruise_ = 0, lastAcceleration_ = 1;
};

} // namespace ferro::toolpath

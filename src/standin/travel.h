#pragma once

#include "shop/shop.h"
#include "toolpath/moves.h"

#include <deque>

namespace ferro::standin {

/// The head under way: motions are followed in steps of a millisecond from speeds, accelerations and limits, without
/// any planning of rides. It shares nothing with the planner that estimates are made by, so that each can be held
/// against the other.
class Travel {
public:
    explicit Travel(const shop::Machine& machine) : machine_(machine) {}

    /// Adds a motion from the end of the last one; false: it has no length.
    bool add(const toolpath::Move& move);
    [[nodiscard]] std::size_t size() const { return ways_.size(); }
    [[nodiscard]] bool full() const { return ways_.size() >= lookAhead; }
    [[nodiscard]] bool empty() const { return ways_.empty(); }
    [[nodiscard]] bool standsStill() const { return speed_ <= 0; }
    [[nodiscard]] toolpath::Vec3 at() const { return at_; }

    struct Passed {
        double seconds = 0;    ///< that were used
        std::size_t ended = 0; ///< motions that came to their end
    };
    /// Lets time pass until it is used up or `most` motions have ended. `holding`: it brakes on its way and stands.
    Passed advance(double seconds, bool holding, std::size_t most);
    /// At once at rest here, with nothing before it.
    void halt();
    void putAt(toolpath::Vec3 at) { at_ = end_ = at; }

    static constexpr std::size_t lookAhead = 48; ///< motions

private:
    struct Way {
        toolpath::Vec3 from;
        toolpath::Move move;
        double length = 0, top = 0, acceleration = 1; ///< mm, mm/s, mm/s²
        toolpath::Vec3 sets, leaves;                  ///< unit directions at its ends
        double gate = 0;                              ///< mm/s, the most at its beginning, by the bend there
        double leave = 0;                             ///< mm/s, the most at its end, so that all behind it can be kept
    };
    void look();
    void tick(double& seconds, bool holding, Passed& passed);
    [[nodiscard]] toolpath::Vec3 placeOn(const Way& way, double along) const;

    const shop::Machine machine_;
    std::deque<Way> ways_;
    toolpath::Vec3 at_, end_;
    double along_ = 0, speed_ = 0;
};

} // namespace ferro::standin

#pragma once

#include "nest/body_internal.h"
#include "nest/random_internal.h"

#include <functional>
#include <memory>

namespace ferro::nest {

/// How a body lies: where its middle is, and how it is turned.
struct Pose {
    Vec2 at;
    double angle = 0;
    bool mirrored = false;
    std::size_t turn = 0; ///< index into the body's turns, where it has such
};

struct Item {
    std::size_t part = 0; ///< whoever laid it knows
    const Body* body = nullptr;
    Pose pose;
    std::shared_ptr<const Turned> own = {}; ///< as it is turned, where any angle is allowed

    [[nodiscard]] const Turned& turned() const { return own ? *own : body->turns[pose.turn]; }
    [[nodiscard]] Box box() const {
        const Box& b = turned().box;
        return {b.low + pose.at, b.high + pose.at};
    }
    void take(const Pose& next);
};

/// A sheet with what lies on it. Its usable part is the box from 0,0, less what stands there for good.
struct Board {
    double width = 0, height = 0;
    std::shared_ptr<const std::vector<Body>> fixed = {}; ///< each where it is, turned not at all
    std::vector<Item> items;

    [[nodiscard]] bool contains(const Box& box) const {
        return box.low.x >= 0 && box.low.y >= 0 && box.high.x <= width && box.high.y <= height;
    }
    /// Whether a body may lie so beside all that lies here, but for one.
    [[nodiscard]] bool isFree(const Turned& turned, Vec2 at, std::size_t but = ~std::size_t{0}) const;
};

/// Poses by chance and their neighbours, with room for the turned body of the last one.
class Trial {
public:
    explicit Trial(const Body& body) : body_(body) {}
    const Turned& turned(const Pose& pose) {
        if (!body_.turns.empty()) return body_.turns[pose.turn];
        turn(body_.upright, pose.angle, pose.mirrored, scratch_);
        return scratch_;
    }
    /// Turned so that its edge `own` runs in a direction, if it may be; which of several ways is left to chance.
    bool turnAlong(Pose& pose, std::size_t own, Vec2 direction, Chance& chance) const;
    /// Turned by chance, as it may be.
    void turnByChance(Pose& pose, Chance& chance) const;

private:
    const Body& body_;
    Turned scratch_;
};

/// An edge that has room on its right: of an item, and of the rim (0 to 3).
struct Edge {
    Vec2 from, to;
};
[[nodiscard]] Edge edgeOf(const Item& item, std::size_t edge);
[[nodiscard]] Edge rimOf(const Board& board, std::size_t side);
/// Where a turned body's edge lies on another that runs the other way, their starts or their ends together, a hair
/// apart so that they do not touch.
[[nodiscard]] Vec2 edgeToEdge(const Turned& turned, std::size_t own, bool mirrored, Vec2 from, Vec2 to, bool atEnd);

using Stop = std::function<bool()>; ///< asked now and then
struct Patience {
    int rounds = 100; ///< without a gain
    int strikes = 3;  ///< of such, in a row
};
/// Takes overlaps away by moving parts (guided local search). Answers what is left of them, 0 when nothing overlaps;
/// the board is then the best that was found. `spent` counts poses tried; it stops soon after `budget`.
[[nodiscard]] double separate(Board& board, const Patience& patience, std::uint64_t seed, std::uint64_t& spent,
                              std::uint64_t budget, const Stop& stop);

/// Lays a body where there is room, nearest to the left end, then low; false: there is none. `from`: bounds that begin
/// left of it are not looked beside: another of its kind has found no room there.
[[nodiscard]] bool lay(Board& board, const Body& body, std::size_t part, Chance& chance, double from = 0);

/// Pushes what lies here together, towards 0,0.
void settle(Board& board);

/// Something to be laid.
struct Ready {
    std::size_t part = 0;
    const Body* body = nullptr;
};
/// Lays all of them with as much contact as can be, `noise` (0 or more) leaving the choice to chance; those without
/// long edges as `lay` does, unless they are many: then none of them. Answers which were not laid.
[[nodiscard]] std::vector<std::size_t> fillByContact(Board& board, const std::vector<Ready>& ready, Chance& chance,
                                                     double noise, std::uint64_t& spent, const Stop& stop);

} // namespace ferro::nest

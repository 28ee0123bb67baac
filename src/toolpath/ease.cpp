// A beam's power by the machine's real speed.
#include "toolpath/motion.h"
#include "toolpath/work_internal.h"

namespace ferro::toolpath {

namespace {

/// The rides of all moves, as the clock sees them; none of those that have no length.
std::vector<std::optional<Ride>> ridesOf(const StepMoves& step, Vec3 from, const shop::Machine& machine) {
    std::vector<std::optional<Ride>> rides(step.moves.size());
    MotionPlanner planner(machine);
    planner.startAt(from);
    std::deque<std::size_t> waiting;
    const auto pop = [&] {
        rides[waiting.front()] = planner.pop();
        waiting.pop_front();
    };
    auto wait = step.waits.begin();
    for (std::size_t i = 0; i < step.moves.size(); ++i) {
        for (; wait != step.waits.end() && wait->before == i; ++wait)
            while (!planner.empty()) pop();
        if (planner.full()) pop();
        if (planner.push(step.moves[i])) waiting.push_back(i);
    }
    while (!planner.empty()) pop();
    return rides;
}

/// Where along a ride, 0 to 1, its speed has changed by a twentieth of the feed, and the mean speed up to there.
struct Part {
    double end, speed;
};
std::vector<Part> partsOf(const Ride& ride, double feed) {
    std::vector<Part> parts;
    const double peak = ride.peak(), a = ride.acceleration, step = feed / 20;
    double at = 0;
    const auto change = [&](double from, double to) { // of speed
        const int count = std::max(1, static_cast<int>(std::ceil(std::abs(to - from) / step - 1e-9)));
        for (int i = 0; i < count && from != to; ++i) {
            const double v0 = from + (to - from) * i / count, v1 = from + (to - from) * (i + 1) / count;
            at += std::abs(v1 * v1 - v0 * v0) / (2 * a);
            parts.push_back({at / ride.length, (v0 + v1) / 2});
        }
    };
    change(ride.entry, peak);
    const double braking = std::max(0.0, peak * peak - ride.exit * ride.exit) / (2 * a);
    if (ride.length - braking > at + 1e-9) at = ride.length - braking, parts.push_back({at / ride.length, peak});
    change(peak, ride.exit);
    if (parts.empty()) parts.push_back({1, peak});
    parts.back().end = 1;
    return parts;
}

} // namespace

void ease(StepMoves& step, Vec3 from, const shop::Machine& machine, double still) {
    const auto rides = ridesOf(step, from, machine);
    std::vector<Move> moves;
    std::vector<std::size_t> now; // where each move begins among the new ones
    Vec3 at = from;
    for (std::size_t i = 0; i < step.moves.size(); ++i) {
        const Move& move = step.moves[i];
        now.push_back(moves.size());
        const auto begin = std::exchange(at, move.to);
        const bool lit = move.power > 0 && (move.kind == Move::Kind::line || move.kind == Move::Kind::arc);
        const double feed = static_cast<double>(move.feed) / 60;
        if (!lit || !rides[i] || !(feed > 0)) {
            moves.push_back(move);
            continue;
        }
        for (const auto& part : partsOf(*rides[i], feed)) {
            Move bit = move;
            if (part.end < 1) {
                const Vec2 p = pointAt(begin.flat(), move.flat(), part.end);
                bit.to = {p.x, p.y, begin.z + (move.to.z - begin.z) * part.end};
            }
            // Never less than it burns with.
            const double eased = move.power * (still + (1 - still) * std::min(1.0, part.speed / feed));
            bit.power = std::min<double>(move.power, std::max(eased, machine.leastPower / 100));
            moves.push_back(bit);
        }
    }
    now.push_back(moves.size());
    step.moves = std::move(moves);
    for (auto& cut : step.cuts) cut.first = now[cut.first], cut.end = now[cut.end];
    for (auto& wait : step.waits) wait.before = now[wait.before];
    step.eased = true;
}

} // namespace ferro::toolpath

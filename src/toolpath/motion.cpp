#include "toolpath/motion.h"

namespace ferro::toolpath {

double Ride::peak() const {
    // Where the rising and the falling flank meet, if the cruise is not reached.
    const double meet = std::sqrt(std::max(0.0, (2 * acceleration * length + entry * entry + exit * exit) / 2));
    return std::max(std::min(cruise, meet), std::max(entry, exit));
}

double Ride::seconds() const {
    if (length <= 0) return 0;
    const double top = peak();
    if (top <= 0) return 0;
    const double up = (top - entry) / acceleration, down = (top - exit) / acceleration;
    const double flanks = (top * top - entry * entry + top * top - exit * exit) / (2 * acceleration);
    return up + down + std::max(0.0, length - flanks) / top;
}

double Ride::distanceAt(double t) const {
    const double top = peak();
    const double up = (top - entry) / acceleration, down = (top - exit) / acceleration;
    const double rise = (top * top - entry * entry) / (2 * acceleration),
                 fall = (top * top - exit * exit) / (2 * acceleration);
    const double level = std::max(0.0, length - rise - fall) / std::max(top, 1e-12);
    if (t <= 0) return 0;
    if (t < up) return entry * t + acceleration * t * t / 2;
    if (t < up + level) return rise + top * (t - up);
    const double left = up + level + down - t;
    return left <= 0 ? length : length - (exit * left + acceleration * left * left / 2);
}

namespace {
double dot(Vec3 a, Vec3 b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
/// The largest value along `direction` that keeps plane and upright parts within their own limits.
double limited(Vec3 direction, double plane, double upright) {
    const double flat = std::hypot(direction.x, direction.y), up = std::abs(direction.z);
    double most = std::numeric_limits<double>::infinity();
    if (flat > 1e-9) most = plane / flat;
    if (up > 1e-9) most = std::min(most, upright / up);
    return most;
}
} // namespace

bool MotionPlanner::push(const Move& move) {
    const Segment flat = move.flat();
    const double plane = lengthOf(at_.flat(), flat), rise = move.to.z - at_.z;
    const double size = std::hypot(plane, rise);
    if (size < 1e-9) return false;
    Block block;
    const Vec2 first = tangentAt(at_.flat(), flat, 0), last = tangentAt(at_.flat(), flat, 1);
    block.in = {first.x * plane / size, first.y * plane / size, rise / size};
    block.out = {last.x * plane / size, last.y * plane / size, rise / size};
    const bool rapid = move.kind == Move::Kind::rapid;
    const double most =
        limited(block.in, rapid ? machine_.rapid : machine_.maxFeed, rapid ? machine_.rapidZ : machine_.maxFeedZ);
    double cruise = (rapid ? most : std::min(static_cast<double>(move.feed), most)) / 60;
    const double acceleration = limited(block.in, machine_.acceleration, machine_.accelerationZ);
    if (move.kind == Move::Kind::arc)
        cruise = std::min(
            cruise, std::sqrt(machine_.acceleration * std::max(1e-6, ferro::distance(move.to.flat(), move.centre))));
    block.ride = {size, 0, cruise, 0, acceleration};

    const bool first_ever = lastCruise_ <= 0;
    if (!first_ever) {
        // cos of the angle between "came from" and "goes to": -1 straight on, 1 straight back.
        const double cosine = -dot(lastOut_, block.in);
        double corner = std::min(lastCruise_, cruise);
        if (cosine > 0.999999)
            corner = 0;
        else if (cosine > -0.999999) {
            const double half = std::sqrt((1 - cosine) / 2); // sin(θ/2)
            const double a = std::min(lastAcceleration_, acceleration);
            corner = std::min(corner, std::sqrt(a * machine_.junction * half / (1 - half)));
        }
        block.entryLimit = corner;
    }
    lastOut_ = block.out;
    lastCruise_ = cruise;
    lastAcceleration_ = acceleration;
    at_ = move.to;
    queue_.push_back(block);
    plan();
    return true;
}

void MotionPlanner::plan() {
    // Backward: each may enter no quicker than it can brake to the next one's entry; the last must be able to stop.
    // An entry that does not change leaves all before it as they are.
    double exit = 0;
    for (std::size_t i = queue_.size(); i-- > 0;) {
        auto& block = queue_[i];
        const double brake = std::sqrt(exit * exit + 2 * block.ride.acceleration * block.ride.length);
        const double entry =
            i == 0 ? std::min(lastExit_, std::min(block.entryLimit, brake)) : std::min(block.entryLimit, brake);
        if (i + 1 < queue_.size() && entry == block.ride.entry) break;
        block.ride.entry = entry;
        exit = entry;
    }
}

Ride MotionPlanner::pop() {
    Block block = queue_.front();
    queue_.pop_front();
    // Forward: no quicker at its end than it can get from its start.
    block.ride.entry = std::min(block.ride.entry, lastExit_);
    const double reach =
        std::sqrt(block.ride.entry * block.ride.entry + 2 * block.ride.acceleration * block.ride.length);
    const double next = queue_.empty() ? 0 : queue_.front().ride.entry;
    block.ride.exit = std::min({next, reach, block.ride.cruise});
    lastExit_ = block.ride.exit;
    return block.ride;
}

void MotionPlanner::clear() {
    queue_.clear();
    lastExit_ = 0;
    lastCruise_ = 0;
}

} // namespace ferro::toolpath

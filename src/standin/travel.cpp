#include "standin/travel.h"

namespace ferro::standin {

using toolpath::Move;
using toolpath::Vec3;

namespace {

constexpr double slice = 0.001; // s

/// What each axis group allows along a direction: the smaller of both quotients.
double along(Vec3 direction, double plane, double upright) {
    const double level = std::hypot(direction.x, direction.y), steep = std::abs(direction.z);
    return std::min(level > 1e-9 ? plane / level : 1e18, steep > 1e-9 ? upright / steep : 1e18);
}

Vec3 direction(Vec2 flat, double plane, double rise) {
    const double size = std::hypot(plane, rise);
    return {flat.x * plane / size, flat.y * plane / size, rise / size};
}

/// The speed through a bend: on a circle that touches both ways and passes their corner at a distance of `room`.
double throughBend(Vec3 in, Vec3 out, double acceleration, double room) {
    const double straight = std::clamp(in.x * out.x + in.y * out.y + in.z * out.z, -1.0, 1.0);
    const double halfTurn = std::acos(straight) / 2; // half the change of direction
    const double cosine = std::cos(halfTurn);
    if (cosine > 1 - 2.5e-7) return 1e18;
    if (cosine < 0.001) return 0;
    return std::sqrt(acceleration * room * cosine / (1 - cosine));
}

} // namespace

bool Travel::add(const Move& move) {
    Way way;
    way.from = end_;
    way.move = move;
    const Segment flat = move.flat();
    const double plane = lengthOf(end_.flat(), flat), rise = move.to.z - end_.z;
    way.length = std::hypot(plane, rise);
    if (way.length < 1e-9) return false;
    way.sets = direction(tangentAt(end_.flat(), flat, 0), plane, rise);
    way.leaves = direction(tangentAt(end_.flat(), flat, 1), plane, rise);
    const bool rapid = move.kind == Move::Kind::rapid;
    way.top = along(way.sets, rapid ? machine_.rapid : machine_.maxFeed, rapid ? machine_.rapidZ : machine_.maxFeedZ);
    if (!rapid) way.top = std::min(way.top, static_cast<double>(move.feed));
    way.top /= 60;
    way.acceleration = along(way.sets, machine_.acceleration, machine_.accelerationZ);
    if (move.kind == Move::Kind::arc) {
        const double radius = ferro::distance(move.to.flat(), move.centre);
        way.top = std::min(way.top, std::sqrt(machine_.acceleration * std::max(radius, 1e-6)));
    }
    if (!ways_.empty()) {
        const Way& before = ways_.back();
        way.gate = std::min(
            {before.top, way.top,
             throughBend(before.leaves, way.sets, std::min(before.acceleration, way.acceleration), machine_.junction)});
    }
    end_ = move.to;
    ways_.push_back(way);
    look();
    return true;
}

void Travel::look() {
    // Whatever comes after the last that is known, it has to be able to stop there.
    double leave = 0;
    for (std::size_t i = std::min(ways_.size(), lookAhead); i-- > 0;) {
        Way& way = ways_[i];
        way.leave = leave;
        leave = std::min(way.gate, std::sqrt(leave * leave + 2 * way.acceleration * way.length));
    }
}

Vec3 Travel::placeOn(const Way& way, double far) const {
    const double t = std::clamp(far / way.length, 0.0, 1.0);
    const Vec2 p = pointAt(way.from.flat(), way.move.flat(), t);
    return {p.x, p.y, way.from.z + (way.move.to.z - way.from.z) * t};
}

void Travel::tick(double& seconds, bool holding, Passed& passed) {
    Way& way = ways_.front();
    double time = std::min(seconds, slice);
    const double left = way.length - along_;
    double next =
        holding ? std::max(0.0, speed_ - way.acceleration * time) : std::min(speed_ + way.acceleration * time, way.top);
    double far = (speed_ + next) / 2 * time;
    // No quicker than it can still brake from, to what is allowed at the end.
    const double most = std::sqrt(way.leave * way.leave + 2 * way.acceleration * std::max(0.0, left - far));
    if (next > most) {
        next = std::max(most, speed_ - way.acceleration * time);
        far = (speed_ + next) / 2 * time;
    }
    const bool ends = far >= left - 1e-7 || (!holding && next < 1e-6);
    if (ends) {
        const double mean = (speed_ + next) / 2;
        time = mean > 1e-9 ? std::min(time, left / mean) : time;
        at_ = way.move.to;
        speed_ = std::min(next, way.leave);
        along_ = 0;
        ways_.pop_front();
        ++passed.ended;
        look();
    } else {
        along_ += far;
        speed_ = next;
        at_ = placeOn(way, along_);
    }
    seconds -= time;
    passed.seconds += time;
}

Travel::Passed Travel::advance(double seconds, bool holding, std::size_t most) {
    Passed passed;
    while (seconds > 1e-12 && !ways_.empty() && passed.ended < most && !(holding && speed_ <= 0))
        tick(seconds, holding, passed);
    if (ways_.empty()) speed_ = 0;
    return passed;
}

void Travel::halt() {
    ways_.clear();
    along_ = speed_ = 0;
    end_ = at_;
}

} // namespace ferro::standin

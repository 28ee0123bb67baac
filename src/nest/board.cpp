#include "nest/board_internal.h"

namespace ferro::nest {

void Item::take(const Pose& next) {
    pose = next;
    if (!body->turns.empty()) return;
    auto made = std::make_shared<Turned>();
    turn(body->upright, next.angle, next.mirrored, *made);
    own = std::move(made);
}

bool Board::isFree(const Turned& turned, Vec2 at, std::size_t but) const {
    const Box box{turned.box.low + at, turned.box.high + at};
    if (!contains(box)) return false;
    for (std::size_t i = 0; i < items.size(); ++i) {
        const Turned& other = items[i].turned();
        const Vec2 to = items[i].pose.at;
        if (other.box.low.x + to.x > box.high.x || other.box.high.x + to.x < box.low.x ||
            other.box.low.y + to.y > box.high.y || other.box.high.y + to.y < box.low.y || i == but)
            continue;
        if (collide(turned, at, other, to)) return false;
    }
    if (fixed)
        for (const auto& body : *fixed)
            if (collide(turned, at, body.upright, body.middle)) return false;
    return true;
}

Edge edgeOf(const Item& item, std::size_t edge) {
    const Vec2 from = item.turned().from[edge] + item.pose.at, to = item.turned().to[edge] + item.pose.at;
    return item.pose.mirrored ? Edge{to, from} : Edge{from, to}; // face down it runs the other way round its part
}

Edge rimOf(const Board& board, std::size_t side) {
    const Vec2 corners[] = {{0, 0}, {0, board.height}, {board.width, board.height}, {board.width, 0}};
    return {corners[side], corners[(side + 1) % 4]};
}

Vec2 edgeToEdge(const Turned& turned, std::size_t own, bool mirrored, Vec2 from, Vec2 to, bool atEnd) {
    constexpr double apart = 1e-5;
    const Vec2 first = mirrored ? turned.to[own] : turned.from[own],
               last = mirrored ? turned.from[own] : turned.to[own];
    const Vec2 along = unit(to - from) * apart, off = -perpendicular(along);
    return atEnd ? to - first - along + off : from - last + along + off;
}

bool Trial::turnAlong(Pose& pose, std::size_t own, Vec2 direction, Chance& chance) const {
    const auto edge = [&](const Turned& t, bool mirrored) {
        return mirrored ? t.from[own] - t.to[own] : t.to[own] - t.from[own];
    };
    if (body_.turns.empty()) {
        pose.mirrored = body_.mirror && chance.share() < 0.5;
        Vec2 v = edge(body_.upright, false);
        if (pose.mirrored)
            v = body_.upright.overX ? Vec2{-v.x, v.y} : Vec2{v.x, -v.y}; // turned over, and run the other way
        pose.angle = std::atan2(cross(v, direction), dot(v, direction));
        return true;
    }
    const std::size_t half = body_.mirror ? body_.turns.size() / 2 : body_.turns.size();
    const std::size_t first = chance.below(body_.turns.size());
    for (std::size_t k = 0; k < body_.turns.size(); ++k) {
        const std::size_t t = (first + k) % body_.turns.size();
        const Vec2 v = edge(body_.turns[t], t >= half);
        const double along = dot(v, direction), across = cross(v, direction);
        if (along <= 0 || std::abs(across) > 0.005 * along) continue;
        pose.turn = t;
        pose.angle = static_cast<double>(t % half) * body_.turnStep;
        pose.mirrored = t >= half;
        return true;
    }
    return false;
}

void Trial::turnByChance(Pose& pose, Chance& chance) const {
    if (!body_.turns.empty()) {
        pose.turn = chance.below(body_.turns.size());
        const std::size_t half = body_.mirror ? body_.turns.size() / 2 : body_.turns.size();
        pose.angle = static_cast<double>(pose.turn % half) * body_.turnStep;
        pose.mirrored = pose.turn >= half;
        return;
    }
    pose.angle = chance.between(0, 2 * pi);
    pose.mirrored = body_.mirror && chance.share() < 0.5;
}

} // namespace ferro::nest

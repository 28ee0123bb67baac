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
    for (std::size_t i = 0; i < items.size(); ++i)
        if (i != but && collide(turned, at, items[i].turned(), items[i].pose.at)) return false;
    if (fixed)
        for (const auto& body : *fixed)
            if (collide(turned, at, body.upright, body.middle)) return false;
    return true;
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

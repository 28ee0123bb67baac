// Laying one part after the other where there is room: the left end first, then low.
#include "nest/board_internal.h"

namespace ferro::nest {

namespace {

/// What is least where a body lies best: how far it reaches along the sheet, and a little how high.
double reachOf(const Turned& turned, Vec2 at, const Board& board) {
    return turned.box.high.x + at.x + 0.05 * (turned.box.high.y + at.y) * board.width / std::max(board.height, 1.0);
}

/// Pushes a body left and down as far as it goes without touching.
Vec2 pushed(const Board& board, const Turned& turned, Vec2 at, std::size_t but = ~std::size_t{0}, double least = 0.02) {
    for (int round = 0; round < 6; ++round) {
        const Vec2 before = at;
        for (const Vec2 by : {Vec2{-1, 0}, Vec2{0, -1}})
            for (double step = std::max(turned.box.width(), turned.box.height()); step > least;) {
                const Vec2 next = at + by * step;
                if (board.isFree(turned, next, but))
                    at = next;
                else
                    step /= 2;
            }
        if (distance(before, at) < 0.05) break;
    }
    return at;
}

} // namespace

void settle(Board& board) {
    std::vector<std::size_t> order(board.items.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return board.items[a].box().low.x < board.items[b].box().low.x;
    });
    for (int round = 0; round < 2; ++round)
        for (const std::size_t i : order) {
            Pose pose = board.items[i].pose;
            pose.at = pushed(board, board.items[i].turned(), pose.at, i, 1e-4);
            board.items[i].take(pose);
        }
}

bool lay(Board& board, const Body& body, std::size_t part, Chance& chance, double from) {
    Trial trial(body);
    std::optional<std::pair<Pose, double>> best;
    const auto take = [&](Pose pose) {
        const Turned& turned = trial.turned(pose);
        pose.at = pushed(board, turned, pose.at);
        const double reach = reachOf(turned, pose.at, board);
        if (!best || reach < best->second - 1e-9) best = {pose, reach};
    };
    // Beside what lies there: edge to edge of bounds, the nearest such place for each turn.
    std::vector<Pose> turns;
    const std::size_t half = body.mirror ? body.turns.size() / 2 : body.turns.size();
    if (body.turns.empty()) {
        for (int m = 0; m < (body.mirror ? 2 : 1); ++m)
            for (int k = 0; k < 4; ++k) turns.push_back({{}, k * pi / 2, m == 1, 0});
    } else {
        const std::size_t step = std::max<std::size_t>(1, body.turns.size() / 16);
        for (std::size_t t = 0; t < body.turns.size(); t += step)
            turns.push_back({{}, static_cast<double>(t % half) * body.turnStep, t >= half, t});
    }
    std::vector<double> xs{0}, ys{0};
    for (const auto& item : board.items) {
        const Box box = item.box();
        xs.push_back(box.high.x + 1e-6), ys.push_back(box.high.y + 1e-6);
    }
    for (auto* some : {&xs, &ys}) {
        std::sort(some->begin(), some->end());
        some->erase(std::unique(some->begin(), some->end(), [](double a, double b) { return b - a < 1e-3; }),
                    some->end());
    }
    for (auto pose : turns) {
        const Turned& turned = trial.turned(pose);
        bool found = false;
        for (const double x : xs) {
            if (x < from) continue;
            if (found || (best && x + turned.box.width() > best->second)) break;
            for (const double y : ys) {
                pose.at = Vec2{x, y} - turned.box.low;
                if (turned.box.high.y + pose.at.y > board.height) break;
                if (!board.isFree(turned, pose.at)) continue;
                take(pose);
                found = true;
                break;
            }
        }
    }
    // And wherever chance finds room, in openings too.
    for (int k = 0, found = 0; k < (from > 0 ? 60 : 250) && found < 8; ++k) {
        Pose pose;
        trial.turnByChance(pose, chance);
        const Turned& turned = trial.turned(pose);
        const double w = board.width - turned.box.width(), h = board.height - turned.box.height();
        if (w < 0 || h < 0) continue;
        pose.at = Vec2{chance.between(0, w), chance.between(0, h)} - turned.box.low;
        if (best && reachOf(turned, pose.at, board) > best->second + 0.3 * board.width) continue;
        if (!board.isFree(turned, pose.at)) continue;
        ++found;
        take(pose);
    }
    if (!best) return false;
    Item item{part, &body, {}, {}};
    item.take(best->first);
    board.items.push_back(std::move(item));
    return true;
}

} // namespace ferro::nest

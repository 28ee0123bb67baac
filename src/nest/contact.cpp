// Laying parts so that as much of their edges as can be runs along others or along the rim: touching perimeter (Lodi,
// Martello & Vigo 1999), for edges in any direction.
#include "nest/board_internal.h"

namespace ferro::nest {

namespace {

constexpr double near = 0.01; ///< mm: edges this near run along each other

struct Long {
    Edge edge;
    Vec2 along; ///< unit
    double length;
};

/// How much of a body's edges runs along those that are there.
double contactOf(const Turned& turned, bool mirrored, Vec2 at, const std::vector<Long>& there) {
    double sum = 0;
    const Box box = Box{turned.box.low + at, turned.box.high + at}.grown(near);
    for (const auto& other : there) {
        Box reach;
        reach.take(other.edge.from);
        reach.take(other.edge.to);
        if (!reach.meets(box)) continue;
        for (std::size_t i = 0; i < turned.from.size(); ++i) {
            Vec2 a = turned.from[i] + at, b = turned.to[i] + at;
            if (mirrored) std::swap(a, b);
            const double offA = cross(other.along, a - other.edge.from), offB = cross(other.along, b - other.edge.from);
            if (std::abs(offA) > near || std::abs(offB) > near) continue;
            const double endA = dot(other.along, a - other.edge.from), endB = dot(other.along, b - other.edge.from);
            if (endB < endA) sum += std::max(0.0, std::min(endA, other.length) - std::max(endB, 0.0));
        }
    }
    return sum;
}

} // namespace

std::vector<std::size_t> fillByContact(Board& board, std::vector<Ready> ready, Chance& chance, double noise,
                                       std::uint64_t& spent, const Stop& stop) {
    // What counts how much is left to chance too: no one rule suits all sets.
    const double left = noise > 0 ? chance.between(0, 0.8) : 0.3, large = noise > 0 ? chance.between(0, 0.4) : 0.1;
    std::vector<Long> there;
    const auto add = [&](const Edge& edge, double least) {
        const double size = distance(edge.from, edge.to);
        if (size >= least) there.push_back({edge, (edge.to - edge.from) / size, size});
    };
    for (const std::size_t side : {0, 1, 3}) add(rimOf(board, side), 0); // not the open end
    std::vector<double> around;                                          // perimeter of each that is ready
    for (const auto& one : ready) {
        double sum = 0;
        const auto& t = one.body->upright;
        for (std::size_t i = 0; i < t.from.size(); ++i) sum += distance(t.from[i], t.to[i]);
        around.push_back(sum);
    }
    std::vector<std::size_t> without;
    std::vector<char> laid(ready.size(), 0);
    for (std::size_t count = 0; count < ready.size(); ++count) {
        struct Best {
            double score = 0;
            std::size_t which = 0;
            Pose pose;
        } best;
        for (std::size_t w = 0; w < ready.size(); ++w) {
            if (laid[w] || (w > 0 && !laid[w - 1] && ready[w].body == ready[w - 1].body)) continue;
            const Body& body = *ready[w].body;
            Trial trial(body);
            const double least = 0.12 * body.bulk;
            for (std::size_t f = 0; f < body.upright.from.size(); ++f) {
                if (distance(body.upright.from[f], body.upright.to[f]) < least) continue;
                for (const auto& other : there) {
                    if (other.length < least) continue;
                    Pose pose;
                    if (!trial.turnAlong(pose, f, -other.along, chance)) continue;
                    const Turned& turned = trial.turned(pose);
                    for (const bool atEnd : {false, true}) {
                        pose.at = edgeToEdge(turned, f, pose.mirrored, other.edge.from, other.edge.to, atEnd);
                        const Box box{turned.box.low + pose.at, turned.box.high + pose.at};
                        if (!board.contains(box)) continue;
                        spent += 2;
                        if (!board.isFree(turned, pose.at)) continue;
                        spent += 6; // it takes so much longer
                        const double touch = contactOf(turned, pose.mirrored, pose.at, there) / around[w];
                        // Much contact, far from the open end, large ones before small ones.
                        const double score = touch * (1 + noise * chance.share()) +
                                             left * (1 - box.high.x / board.width) + large * body.bulk / board.height;
                        if (score <= best.score) continue;
                        best = {score, w, pose};
                    }
                }
            }
        }
        if (best.score <= 0 || stop()) break;
        Item item{ready[best.which].part, ready[best.which].body, {}, {}};
        item.take(best.pose);
        board.items.push_back(item);
        laid[best.which] = 1;
        for (std::size_t e = 0; e < item.turned().from.size(); ++e) add(edgeOf(item, e), 0.1 * item.body->bulk);
    }
    // Where so many have nothing to go along, laying by contact is not the way.
    const bool few = board.items.size() * 5 < ready.size() * 4;
    for (std::size_t w = 0; w < ready.size(); ++w)
        if (!laid[w] && few)
            without.push_back(w);
        else if (!laid[w] && !lay(board, *ready[w].body, ready[w].part, chance))
            without.push_back(w);
    return without;
}

} // namespace ferro::nest

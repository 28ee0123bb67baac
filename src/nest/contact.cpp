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

/// Those of one body that are still to be laid.
struct Kind {
    const Body* body;
    std::vector<std::size_t> waiting; ///< indices of what is ready, the next one last
    double around = 0;                ///< mm, its perimeter
};
/// A place where one of a kind would touch others.
struct Candidate {
    std::size_t kind;
    Item item;
    Box box;
    double touch = 0; ///< share of its perimeter
    double luck = 0;
};

/// Lays by contact, step by step: what is known of places stays known, only what was laid last is looked at anew.
class ByContact {
public:
    ByContact(Board& board, const std::vector<Ready>& ready, Chance& chance, double noise, std::uint64_t& spent)
        : board_(board), ready_(ready), chance_(chance), noise_(noise), spent_(spent),
          // What counts how much is left to chance too: no one rule suits all sets.
          left_(noise > 0 ? chance.between(0, 0.8) : 0.3), large_(noise > 0 ? chance.between(0, 0.4) : 0.1) {
        for (std::size_t w = ready.size(); w-- > 0;) {
            if (kinds_.empty() || kinds_.back().body != ready[w].body) kinds_.push_back({ready[w].body, {}, 0});
            kinds_.back().waiting.push_back(w);
        }
        for (auto& kind : kinds_) {
            const auto& t = kind.body->upright;
            for (std::size_t i = 0; i < t.from.size(); ++i) kind.around += distance(t.from[i], t.to[i]);
        }
    }

    /// Which of those ready were laid.
    std::vector<char> run(const Stop& stop) {
        std::vector<char> laid(ready_.size(), 0);
        for (const std::size_t side : {0, 1, 3}) add(rimOf(board_, side), 0); // not the open end
        look(0);
        while (!candidates_.empty() && !stop()) {
            const auto best = std::max_element(candidates_.begin(), candidates_.end(),
                                               [&](const auto& a, const auto& b) { return scoreOf(a) < scoreOf(b); });
            auto& kind = kinds_[best->kind];
            Item item = best->item;
            item.part = ready_[kind.waiting.back()].part;
            laid[kind.waiting.back()] = 1;
            kind.waiting.pop_back();
            board_.items.push_back(item);
            const std::size_t before = there_.size();
            for (std::size_t e = 0; e < item.turned().from.size(); ++e) add(edgeOf(item, e), 0.1 * item.body->bulk);
            keepUp(item, before);
            look(before);
        }
        return laid;
    }

private:
    void add(const Edge& edge, double least) {
        const double size = distance(edge.from, edge.to);
        if (size >= least && size > 0) there_.push_back({edge, (edge.to - edge.from) / size, size});
    }
    /// Much contact, far from the open end, large ones before small ones.
    [[nodiscard]] double scoreOf(const Candidate& one) const {
        return one.touch * (1 + noise_ * one.luck) + left_ * (1 - one.box.high.x / board_.width) +
               large_ * kinds_[one.kind].body->bulk / board_.height;
    }
    /// Places that are taken now, or whose kind is all laid, go; others may touch what was laid.
    void keepUp(const Item& item, std::size_t fresh) {
        const std::vector<Long> edges(there_.begin() + static_cast<std::ptrdiff_t>(fresh), there_.end());
        const Box box = item.box().grown(near);
        std::erase_if(candidates_, [&](Candidate& one) {
            if (kinds_[one.kind].waiting.empty()) return true;
            if (!one.box.meets(box)) return false;
            spent_ += 1;
            if (collide(one.item.turned(), one.item.pose.at, item.turned(), item.pose.at)) return true;
            one.touch +=
                contactOf(one.item.turned(), one.item.pose.mirrored, one.item.pose.at, edges) / kinds_[one.kind].around;
            return false;
        });
    }
    /// New places along the edges from `fresh` on.
    void look(std::size_t fresh) {
        for (std::size_t k = 0; k < kinds_.size(); ++k) {
            if (kinds_[k].waiting.empty()) continue;
            const Body& body = *kinds_[k].body;
            Trial trial(body);
            const double least = 0.12 * body.bulk;
            for (std::size_t f = 0; f < body.upright.from.size(); ++f) {
                if (distance(body.upright.from[f], body.upright.to[f]) < least) continue;
                for (std::size_t e = fresh; e < there_.size(); ++e) {
                    const auto& other = there_[e];
                    Pose pose;
                    if (other.length < least || !trial.turnAlong(pose, f, -other.along, chance_)) continue;
                    const Turned& turned = trial.turned(pose);
                    for (const bool atEnd : {false, true}) {
                        pose.at = edgeToEdge(turned, f, pose.mirrored, other.edge.from, other.edge.to, atEnd);
                        spent_ += 2;
                        if (!board_.isFree(turned, pose.at)) continue;
                        spent_ += 6; // it takes so much longer
                        Candidate one{
                            k, {0, &body, {}, {}}, {turned.box.low + pose.at, turned.box.high + pose.at}, 0, 0};
                        one.item.take(pose);
                        one.touch = contactOf(turned, pose.mirrored, pose.at, there_) / kinds_[k].around;
                        one.luck = chance_.share();
                        candidates_.push_back(std::move(one));
                    }
                }
            }
        }
    }

    Board& board_;
    const std::vector<Ready>& ready_;
    Chance& chance_;
    double noise_;
    std::uint64_t& spent_;
    double left_, large_;
    std::vector<Kind> kinds_;
    std::vector<Long> there_;
    std::vector<Candidate> candidates_;
};

} // namespace

std::vector<std::size_t> fillByContact(Board& board, const std::vector<Ready>& ready, Chance& chance, double noise,
                                       std::uint64_t& spent, const Stop& stop) {
    const auto laid = ByContact(board, ready, chance, noise, spent).run(stop);
    std::vector<std::size_t> without;
    // Where so many have nothing to go along, laying by contact is not the way.
    const bool few = board.items.size() * 5 < ready.size() * 4;
    for (std::size_t w = 0; w < ready.size(); ++w)
        if (!laid[w] && (few || !lay(board, *ready[w].body, ready[w].part, chance))) without.push_back(w);
    return without;
}

} // namespace ferro::nest

#include "base/parallel.h"
#include "nest/board_internal.h"

namespace ferro::nest {

namespace {

constexpr std::size_t workers = 2; ///< always, so that the number of cores changes nothing

/// How far a box lies outside of the board, in the measure of overlaps.
double outsideOf(const Board& board, const Box& box, double bulk) {
    if (board.contains(box)) return 0;
    const double w = std::min(box.high.x, board.width) - std::max(box.low.x, 0.0),
                 h = std::min(box.high.y, board.height) - std::max(box.low.y, 0.0);
    const double area = box.width() * box.height();
    const double out = w > 0 && h > 0 ? area - w * h + 1e-4 * area
                                      : area + distance(box.centre(), Vec2{board.width, board.height} / 2) * bulk;
    return 2 * std::sqrt(out) * bulk;
}

/// The weights of overlaps: those that last grow, so that no two parts stay stuck in each other.
class Weights {
public:
    Weights(std::size_t items, std::size_t others) : items_(items), others_(others), of_(items * (others + 1), 1.0F) {}
    float& of(std::size_t item, std::size_t other) { return of_[item * (others_ + 1) + other]; }
    [[nodiscard]] float of(std::size_t item, std::size_t other) const { return of_[item * (others_ + 1) + other]; }
    float& ofEdge(std::size_t item) { return of(item, others_); }
    [[nodiscard]] float ofEdge(std::size_t item) const { return of(item, others_); }

private:
    std::size_t items_, others_;
    std::vector<float> of_;
};

/// The board in the middle of being sorted out: all overlaps known. Others are the items, then what is fixed.
class Tangle {
public:
    explicit Tangle(Board board) : board_(std::move(board)), items_(board_.items.size()) {
        others_ = items_ + (board_.fixed ? board_.fixed->size() : 0);
        overlaps_.assign(items_ * others_, 0.0F);
        outside_.assign(items_, 0.0F);
        for (std::size_t o = 0; o < others_; ++o) {
            const auto [other, where, size] = at_(o);
            boxes_.push_back({other->box.low + where, other->box.high + where});
        }
        for (std::size_t i = 0; i < items_; ++i) measure(i);
    }
    [[nodiscard]] std::size_t items() const { return items_; }
    [[nodiscard]] std::size_t others() const { return others_; }
    [[nodiscard]] const Board& board() const { return board_; }
    [[nodiscard]] float overlap(std::size_t i, std::size_t o) const { return overlaps_[i * others_ + o]; }
    [[nodiscard]] float outside(std::size_t i) const { return outside_[i]; }
    [[nodiscard]] double total() const {
        double sum = 0;
        for (std::size_t i = 0; i < items_; ++i) {
            sum += static_cast<double>(outside_[i]);
            for (std::size_t o = i + 1; o < others_; ++o) sum += static_cast<double>(overlap(i, o));
        }
        return sum;
    }
    [[nodiscard]] double weighted(const Weights& weights) const {
        double sum = 0;
        for (std::size_t i = 0; i < items_; ++i) {
            sum += static_cast<double>(outside_[i] * weights.ofEdge(i));
            for (std::size_t o = i + 1; o < others_; ++o) sum += static_cast<double>(overlap(i, o) * weights.of(i, o));
        }
        return sum;
    }
    [[nodiscard]] bool isTangled(std::size_t i) const {
        if (outside_[i] > 0) return true;
        for (std::size_t o = 0; o < others_; ++o)
            if (overlap(i, o) > 0) return true;
        return false;
    }
    [[nodiscard]] double cost(std::size_t i, const Weights& weights) const {
        double sum = static_cast<double>(outside_[i] * weights.ofEdge(i));
        for (std::size_t o = 0; o < others_; ++o) sum += static_cast<double>(overlap(i, o) * weights.of(i, o));
        return sum;
    }
    /// What item `i` would cost elsewhere; anything above `bound` where it is no less than that.
    [[nodiscard]] double costAt(std::size_t i, const Turned& turned, Vec2 at, const Weights& weights,
                                double bound) const {
        const Box box{turned.box.low + at, turned.box.high + at};
        const double bulk = board_.items[i].body->bulk;
        double sum = outsideOf(board_, box, bulk) * static_cast<double>(weights.ofEdge(i));
        for (std::size_t o = 0; o < others_ && sum < bound; ++o) {
            if (o == i) continue;
            if (!boxes_[o].meets(box)) continue;
            const auto [other, where, size] = at_(o);
            if (collide(turned, at, *other, where))
                sum += overlapOf(turned, at, *other, where, bulk, size) * static_cast<double>(weights.of(i, o));
        }
        return sum;
    }
    void move(std::size_t i, const Pose& pose) {
        board_.items[i].take(pose);
        measure(i);
    }

private:
    struct Other {
        const Turned* turned;
        Vec2 at;
        double bulk;
    };
    [[nodiscard]] Other at_(std::size_t o) const {
        if (o < items_) {
            const auto& item = board_.items[o];
            return {&item.turned(), item.pose.at, item.body->bulk};
        }
        const auto& body = (*board_.fixed)[o - items_];
        return {&body.upright, body.middle, body.bulk};
    }
    void measure(std::size_t i) {
        const auto& item = board_.items[i];
        boxes_[i] = item.box();
        outside_[i] = static_cast<float>(outsideOf(board_, item.box(), item.body->bulk));
        for (std::size_t o = 0; o < others_; ++o) {
            if (o == i) continue;
            const auto [other, where, size] = at_(o);
            const double over = collide(item.turned(), item.pose.at, *other, where)
                                    ? overlapOf(item.turned(), item.pose.at, *other, where, item.body->bulk, size)
                                    : 0;
            overlaps_[i * others_ + o] = static_cast<float>(over);
            if (o < items_) overlaps_[o * others_ + i] = static_cast<float>(over);
        }
    }

    Board board_;
    std::size_t items_, others_ = 0;
    std::vector<float> overlaps_, outside_;
    std::vector<Box> boxes_; ///< of all others
};

/// Looks for the pose of one item where weighted overlap is least: poses by chance all over and near where it is, the
/// best of them drawn downhill along the axes and diagonals.
class Search {
public:
    Search(const Tangle& tangle, std::size_t item, const Weights& weights, Chance& chance, std::uint64_t& spent)
        : tangle_(tangle), item_(item), body_(*tangle.board().items[item].body), weights_(weights), chance_(chance),
          spent_(spent), trial_(body_) {}

    std::pair<Pose, double> run() {
        const auto& now = tangle_.board().items[item_];
        const double before = tangle_.cost(item_, weights_);
        best_.push_back({now.pose, before});
        const Box box = now.box();
        for (int k = 0; k < 10; ++k)
            sample({box.low - (box.high - box.low) * 0.1, box.high + (box.high - box.low) * 0.1});
        const Board& board = tangle_.board();
        for (int k = 0; k < 16; ++k) sample({{0, 0}, {board.width, board.height}});
        for (int k = 0, matched = 0; k < 300 && matched < 30; ++k) matched += match();
        for (auto& one : best_) one = downhill(one.first, one.second, 0.25, 0.02);
        auto least = *std::min_element(best_.begin(), best_.end(),
                                       [](const auto& a, const auto& b) { return a.second < b.second; });
        return downhill(least.first, least.second, 0.01, 0.0005);
    }

private:
    double costAt(const Pose& pose, double bound) {
        spent_ += body_.turns.empty() ? 3 : 1; // what has to be turned anew takes so much longer
        return tangle_.costAt(item_, trial_.turned(pose), pose.at, weights_, bound);
    }
    void sample(const Box& over) {
        Pose pose;
        trial_.turnByChance(pose, chance_);
        const Box& box = trial_.turned(pose).box;
        // Where all of it lies within the board, as far as that may be.
        const Board& board = tangle_.board();
        const auto between = [&](double low, double high, double least, double most) {
            low = std::max(low, least), high = std::min(high, most);
            return low < high ? chance_.between(low, high)
                              : std::clamp((low + high) / 2, std::min(least, most), std::max(least, most));
        };
        const Box middles{over.low - box.low, over.high - box.high};
        pose.at = {between(std::min(middles.low.x, middles.high.x), std::max(middles.low.x, middles.high.x), -box.low.x,
                           board.width - box.high.x),
                   between(std::min(middles.low.y, middles.high.y), std::max(middles.low.y, middles.high.y), -box.low.y,
                           board.height - box.high.y)};
        consider(pose);
    }
    void consider(const Pose& pose) {
        const double worst = best_.size() < 3 ? 1e300 : best_.back().second;
        const double cost = costAt(pose, worst);
        if (cost >= worst) return;
        if (best_.size() >= 3) best_.pop_back();
        best_.insert(std::upper_bound(best_.begin(), best_.end(), cost,
                                      [](double c, const auto& one) { return c < one.second; }),
                     {pose, cost});
    }
    /// Edge to edge with another part, or with the board's rim, end at end: where straight edges go together.
    bool match() {
        const Board& board = tangle_.board();
        const std::size_t o = chance_.below(tangle_.items() + 1);
        if (o == item_) return false;
        const auto [from, to] = o < tangle_.items()
                                    ? edgeOf(board.items[o], chance_.below(board.items[o].turned().from.size()))
                                    : rimOf(board, chance_.below(4));
        const std::size_t f = chance_.below(body_.upright.from.size());
        Pose pose;
        if (!trial_.turnAlong(pose, f, from - to, chance_)) return false;
        pose.at = edgeToEdge(trial_.turned(pose), f, pose.mirrored, from, to, chance_.share() < 0.5);
        consider(pose);
        return true;
    }
    std::pair<Pose, double> downhill(Pose pose, double cost, double first, double last) {
        double x = first * body_.least, y = x, turn = first * 0.5;
        const double limit = last * body_.least;
        const bool turns = body_.turns.empty();
        while (cost > 0 && (x > limit || y > limit || (turns && turn > last * 0.1))) {
            const std::size_t axis = chance_.below(turns ? 5 : 4);
            Pose steps[2] = {pose, pose};
            const double sx = axis == 1 || axis == 4 ? 0 : x, sy = axis == 0 || axis == 4 ? 0 : axis == 3 ? -y : y;
            steps[0].at += {sx, sy};
            steps[1].at += {-sx, -sy};
            if (axis == 4) steps[0].angle += turn, steps[1].angle -= turn;
            bool better = false;
            for (const auto& step : steps)
                if (const double c = costAt(step, cost); c < cost) cost = c, pose = step, better = true;
            const double by = better ? 1.1 : 0.5;
            if (axis == 0 || axis == 2 || axis == 3) x *= axis == 0 ? by : better ? by : 0.7071;
            if (axis == 1 || axis == 2 || axis == 3) y *= axis == 1 ? by : better ? by : 0.7071;
            if (axis == 4) turn *= by;
        }
        return {pose, cost};
    }

    const Tangle& tangle_;
    std::size_t item_;
    const Body& body_;
    const Weights& weights_;
    Chance& chance_;
    std::uint64_t& spent_;
    Trial trial_;
    std::vector<std::pair<Pose, double>> best_;
};

/// Moves every item that overlaps, in an order by chance, to where its weighted overlap is least.
void moveAll(Tangle& tangle, const Weights& weights, Chance chance, std::uint64_t& spent) {
    std::vector<std::size_t> tangled;
    for (std::size_t i = 0; i < tangle.items(); ++i)
        if (tangle.isTangled(i)) tangled.push_back(i);
    for (std::size_t k = tangled.size(); k > 1; --k) std::swap(tangled[k - 1], tangled[chance.below(k)]);
    for (const std::size_t i : tangled) {
        if (!tangle.isTangled(i)) continue; // another has made room
        const double before = tangle.cost(i, weights);
        const auto [pose, cost] = Search(tangle, i, weights, chance, spent).run();
        if (cost < before) tangle.move(i, pose);
    }
}

void raise(Weights& weights, const Tangle& tangle) {
    constexpr float fall = 0.95F, least = 1.2F, most = 2.0F;
    float largest = 0;
    for (std::size_t i = 0; i < tangle.items(); ++i) {
        largest = std::max(largest, tangle.outside(i));
        for (std::size_t o = 0; o < tangle.others(); ++o) largest = std::max(largest, tangle.overlap(i, o));
    }
    const auto next = [&](float weight, float over) {
        return over > 0 ? weight * (least + (most - least) * over / largest) : std::max(1.0F, weight * fall);
    };
    for (std::size_t i = 0; i < tangle.items(); ++i) {
        weights.ofEdge(i) = next(weights.ofEdge(i), tangle.outside(i));
        for (std::size_t o = 0; o < tangle.others(); ++o)
            weights.of(i, o) = next(weights.of(i, o), tangle.overlap(i, o));
    }
}

} // namespace

double separate(Board& board, const Patience& patience, std::uint64_t seed, std::uint64_t& spent, std::uint64_t budget,
                const Stop& stop) {
    Tangle now(board), best = now;
    double least = now.total();
    if (least <= 0) return 0;
    Weights weights(now.items(), now.others());
    Chance chance(seed);
    for (int strikes = 0; strikes < patience.strikes;) {
        const double begun = least;
        for (int rounds = 0; rounds < patience.rounds;) {
            if (spent >= budget || stop()) {
                board = best.board();
                return least;
            }
            // The same board goes to all workers; the one that gets farthest is gone on from.
            std::vector<Tangle> tried(workers, now);
            std::uint64_t each[workers] = {}, seeds[workers];
            for (auto& s : seeds) s = chance.next();
            parallelFor(workers, {}, [&](std::size_t w) { moveAll(tried[w], weights, Chance(seeds[w]), each[w]); });
            for (const auto s : each) spent += s;
            std::size_t first = 0;
            for (std::size_t w = 1; w < workers; ++w)
                if (tried[w].weighted(weights) < tried[first].weighted(weights)) first = w;
            now = std::move(tried[first]);
            const double total = now.total();
            if (total <= 0) {
                board = now.board();
                return 0;
            }
            if (total < least) {
                if (total < 0.98 * least) rounds = -1;
                least = total;
                best = now;
            }
            ++rounds;
            raise(weights, now);
        }
        strikes = least < 0.98 * begun ? 0 : strikes + 1;
        now = best;
    }
    board = best.board();
    return least;
}

} // namespace ferro::nest

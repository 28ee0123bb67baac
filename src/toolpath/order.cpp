// In which order work is cut: what holds parts first, then the shorter way.
#include "toolpath/work_internal.h"

namespace ferro::toolpath {

namespace {

/// A run of tasks that may be cut in any order, each from its entry to its exit.
class Round {
public:
    Round(const std::vector<Task>& tasks, std::vector<std::size_t>& order, std::size_t begin, std::size_t end,
          Vec2 from)
        : tasks_(tasks), order_(order), begin_(begin), end_(end), from_(from) {}

    /// Always on to the nearest of the next `window`.
    void nearestNext(std::size_t window) {
        Vec2 at = from_;
        for (std::size_t i = begin_; i < end_; ++i) {
            std::size_t nearest = i;
            double far = std::numeric_limits<double>::infinity();
            for (std::size_t k = i; k < std::min(end_, i + window); ++k)
                if (const double d = distance(at, tasks_[order_[k]].entry); d < far) far = d, nearest = k;
            std::rotate(place(i), place(nearest), place(nearest) + 1);
            at = tasks_[order_[i]].exit;
        }
    }

    /// Turns stretches of it round (2-opt, Croes 1958) and moves up to three neighbours elsewhere (Or-opt, Or 1976) as
    /// long as that makes the way shorter, `most` times over it all at most. Tasks keep their direction.
    void shorten(int most) {
        if (end_ - begin_ < 3) return;
        for (int k = 0; k < most; ++k) {
            const bool turned = turnStretches(), moved = moveNeighbours();
            if (!turned && !moved) return;
        }
    }
    [[nodiscard]] Vec2 at() const { return tasks_[order_[end_ - 1]].exit; }

private:
    static constexpr double enough = 1e-6; ///< mm: less is rounding
    [[nodiscard]] std::vector<std::size_t>::iterator place(std::size_t i) const {
        return order_.begin() + static_cast<std::ptrdiff_t>(i);
    }
    [[nodiscard]] Vec2 entry(std::size_t i) const { return tasks_[order_[i]].entry; }
    [[nodiscard]] Vec2 exit(std::size_t i) const { return i == begin_ - 1 ? from_ : tasks_[order_[i]].exit; }
    /// The way from one to another; nowhere behind the last.
    [[nodiscard]] double way(std::size_t i, std::size_t k) const { return k == end_ ? 0 : distance(exit(i), entry(k)); }

    bool turnStretches() {
        bool any = false;
        for (std::size_t i = begin_; i + 1 < end_; ++i) {
            double ahead = 0, back = 0; // the ways within the stretch, as it is and turned
            for (std::size_t k = i + 1; k < end_; ++k) {
                ahead += way(k - 1, k);
                back += way(k, k - 1);
                const double now = way(i - 1, i) + ahead + way(k, k + 1), then = way(i - 1, k) + back + way(i, k + 1);
                if (then >= now - enough) continue;
                std::reverse(place(i), place(k + 1));
                any = true;
                std::swap(ahead, back);
            }
        }
        return any;
    }
    bool moveNeighbours() {
        bool any = false;
        for (std::size_t size = 1; size <= 3; ++size)
            for (std::size_t i = begin_; i + size <= end_; ++i) {
                const std::size_t after = i + size;
                const double freed = way(i - 1, i) + way(after - 1, after) - way(i - 1, after);
                if (freed <= enough) continue;
                double best = freed - enough;
                std::size_t to = end_ + 1;
                for (std::size_t k = begin_; k <= end_; ++k) { // between k - 1 and k
                    if (k >= i && k <= after) continue;
                    if (const double cost = way(k - 1, i) + way(after - 1, k) - way(k - 1, k); cost < best)
                        best = cost, to = k;
                }
                if (to > end_) continue;
                if (to < i)
                    std::rotate(place(to), place(i), place(after));
                else
                    std::rotate(place(i), place(after), place(to));
                any = true;
            }
        return any;
    }

    const std::vector<Task>& tasks_;
    std::vector<std::size_t>& order_;
    std::size_t begin_, end_;
    Vec2 from_;
};

} // namespace

std::vector<std::size_t> workOrder(const std::vector<Task>& tasks, Vec2 at) {
    const auto key = [&](std::size_t i) {
        // Deeper in the nesting first; within that by size in steps of ten, so that nearness still has a say.
        return std::tuple(tasks[i].last, -tasks[i].intent.nesting,
                          static_cast<int>(std::floor(std::log10(std::max(tasks[i].size, 1e-3)) * 2)));
    };
    std::vector<std::size_t> order(tasks.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return key(a) < key(b); });
    // As far as is looked round at once: keeps 20 000 pieces from being quadratic.
    constexpr std::size_t window = 2000, part = 500;
    for (std::size_t begin = 0; begin < order.size();) {
        std::size_t end = begin;
        while (end < order.size() && key(order[end]) == key(order[begin])) ++end;
        const bool many = end - begin > window;
        if (many) // far too many for one look round: go by strips first
            std::stable_sort(order.begin() + static_cast<std::ptrdiff_t>(begin),
                             order.begin() + static_cast<std::ptrdiff_t>(end), [&](std::size_t a, std::size_t b) {
                                 const auto strip = [&](std::size_t i) { return std::floor(tasks[i].entry.y / 20); };
                                 return std::pair(strip(a), tasks[a].entry.x) < std::pair(strip(b), tasks[b].entry.x);
                             });
        Round(tasks, order, begin, end, at).nearestNext(window);
        for (std::size_t from = begin; from < end;) {
            const std::size_t to = many ? std::min(end, from + part) : end;
            Round round(tasks, order, from, to, at);
            round.shorten(many ? 4 : 30);
            at = round.at();
            from = to;
        }
        begin = end;
    }
    return order;
}

} // namespace ferro::toolpath

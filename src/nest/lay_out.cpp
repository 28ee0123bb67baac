#include "base/parallel.h"
#include "nest/prepare_internal.h"

namespace ferro::nest {

namespace {

/// Ways that are tried side by side: always so many, so that the number of cores changes nothing.
constexpr int abreast = 2;

double usedOf(const Board& board) {
    double used = 0;
    for (const auto& item : board.items) used = std::max(used, item.box().high.x);
    return used;
}
double areaOn(const Board& board) {
    double sum = 0;
    for (const auto& item : board.items) sum += item.body->area;
    return sum;
}

class Work {
public:
    Work(const std::vector<Part>& parts, const Settings& settings, Progress& progress, const Watch& watch)
        : parts_(parts), settings_(settings), world_(settings), progress_(progress), watch_(watch),
          chance_(settings.seed) {}

    Result<Layout> run(const std::vector<Sheet>& sheets) {
        for (std::size_t s = 0; s < sheets.size(); ++s) {
            auto ground = groundOf(sheets[s], settings_, world_);
            if (!ground) return ground.problem().within(fmt::format("sheet {}", s + 1));
            boards_.push_back(ground->empty);
            grounds_.push_back(std::move(*ground));
        }
        prepare();
        fill();
        if (progress_.cancelled()) return Problem::cancelled();
        bool goOn = tell();
        // Most of the work for what may save a sheet, the rest for a shorter one.
        if (goOn) goOn = insertLeft(settings_.effort / 2);
        if (goOn && left_.empty()) goOn = emptySheets(settings_.effort / 2);
        if (goOn) goOn = fillEarlier(settings_.effort / 5);
        if (goOn) shorten();
        if (progress_.cancelled()) return Problem::cancelled();
        for (auto& board : boards_) settle(board);
        return layout();
    }

private:
    void prepare() {
        bodies_.resize(parts_.size());
        for (std::size_t p = 0; p < parts_.size(); ++p) {
            if (parts_[p].quantity <= 0) continue;
            auto body = bodyOf(parts_[p], settings_, world_);
            if (!body) {
                cannot_.push_back({p, parts_[p].quantity, body.problem().what});
                continue;
            }
            bodies_[p] = std::move(*body);
            for (int k = 0; k < parts_[p].quantity; ++k) left_.push_back({p, &*bodies_[p]});
        }
        // Large ones first; fillers last.
        std::stable_sort(left_.begin(), left_.end(), [&](const Ready& a, const Ready& b) {
            return isFiller(a.part) != isFiller(b.part) ? isFiller(b.part) : a.body->bulk > b.body->bulk;
        });
    }

    void fill() {
        std::vector<Ready> rest;
        std::map<std::pair<std::size_t, std::size_t>, bool>
            full; // a part that once had no room on a sheet has none later
        std::map<std::pair<std::size_t, std::size_t>, double> from; // where the last of its kind found some
        std::size_t done = 0;
        for (const auto& one : left_) {
            bool laid = false;
            for (std::size_t s = 0; s < boards_.size() && !laid; ++s) {
                if (full[{one.part, s}] || areaOn(boards_[s]) + one.body->area > grounds_[s].area) continue;
                laid = lay(boards_[s], *one.body, one.part, chance_, from[{one.part, s}]);
                if (laid)
                    from[{one.part, s}] = boards_[s].items.back().box().low.x - 1e-3;
                else
                    full[{one.part, s}] = true;
            }
            if (!laid) rest.push_back(one);
            progress_.at(0.1 * static_cast<double>(++done) / static_cast<double>(left_.size()));
            if (progress_.cancelled()) return;
        }
        left_ = std::move(rest);
        // What does not even fit onto an empty sheet is told so.
        std::map<std::size_t, bool> fits;
        std::erase_if(left_, [&](const Ready& one) {
            const auto [seen, fresh] = fits.try_emplace(one.part, false);
            if (fresh)
                for (std::size_t s = 0; s < grounds_.size() && !seen->second; ++s) seen->second = fitsAlone(s, one);
            if (!seen->second) tooLarge_[one.part]++;
            return !seen->second;
        });
    }
    /// Slanting too, where only that will do.
    [[nodiscard]] bool fitsAlone(std::size_t sheet, const Ready& one) {
        Board empty = grounds_[sheet].empty;
        if (lay(empty, *one.body, one.part, chance_)) return true;
        for (int k = 0; k < 4; ++k) {
            const Vec2 at{chance_.between(0, empty.width), chance_.between(0, empty.height)};
            Board trial = empty;
            if (makeRoom(trial, trial, one, at, grounds_[sheet].area, settings_.effort)) return true;
        }
        return false;
    }

    [[nodiscard]] bool isFiller(std::size_t part) const { return parts_[part].filler; }
    [[nodiscard]] bool spend() const { return spent_ < settings_.effort && !stop_(); }

    /// Places to try for one more item on a board: the more lie there, the longer it takes them to make room.
    [[nodiscard]] static std::uint64_t enoughFor(const Board& board, std::uint64_t budget) {
        return std::max<std::uint64_t>({50'000, budget / 40, 3'000 * board.items.size()});
    }

    /// The first so many boards, those with the most room first.
    [[nodiscard]] std::vector<std::size_t> byRoom(std::size_t count) const {
        std::vector<std::pair<double, std::size_t>> rooms;
        for (std::size_t s = 0; s < count; ++s) rooms.emplace_back(areaOn(boards_[s]) - grounds_[s].area, s);
        std::sort(rooms.begin(), rooms.end());
        std::vector<std::size_t> order;
        for (const auto& room : rooms) order.push_back(room.second);
        return order;
    }

    /// One more item on a board, at first at a place where it overlaps, the others making room for it; the board stays
    /// as it was where that fails.
    bool makeRoom(Board& board, Board trial, const Ready& one, Vec2 at, double area, std::uint64_t budget) {
        if (areaOn(trial) + one.body->area > 0.998 * area) return false;
        Pose pose;
        Trial(*one.body).turnByChance(pose, chance_);
        pose.at = at;
        Item item{one.part, one.body, {}, {}};
        item.take(pose);
        trial.items.push_back(std::move(item));
        const std::uint64_t until = std::min(spent_ + enoughFor(trial, budget), settings_.effort);
        if (separate(trial, {60, 2}, chance_.next(), spent_, until, stop_) > 0) return false;
        board = std::move(trial);
        return true;
    }
    bool squeeze(std::size_t sheet, const Ready& one, std::uint64_t budget) {
        auto& board = boards_[sheet];
        const Vec2 at{chance_.between(0, board.width), chance_.between(0, board.height)};
        return makeRoom(board, board, one, at, grounds_[sheet].area, budget);
    }

    /// What found no room: by making some, or in the place of something smaller.
    bool insertLeft(std::uint64_t budget) {
        const std::uint64_t until = std::min(settings_.effort, spent_ + budget);
        bool gained = true;
        for (int round = 0; !left_.empty() && spent_ < until && !stop_(); ++round) {
            gained = false;
            for (std::size_t i = 0; i < left_.size() && spent_ < until;) {
                bool laid = false;
                for (const std::size_t s : byRoom(boards_.size()))
                    if (!laid && spent_ < until) laid = squeeze(s, left_[i], budget);
                if (laid) {
                    left_.erase(left_.begin() + static_cast<std::ptrdiff_t>(i));
                    gained = true;
                    if (!tell()) return false;
                } else {
                    ++i;
                }
            }
            for (int k = 0; k < 4 && spent_ < until && !left_.empty(); ++k)
                if (exchange(budget)) {
                    gained = true;
                    if (!tell()) return false;
                }
            if (!gained && round >= 6 && !exchangeable()) break;
            progress_.at(0.1 + 0.9 * static_cast<double>(spent_) / static_cast<double>(settings_.effort));
        }
        return true;
    }
    [[nodiscard]] bool exchangeable() const {
        for (const auto& board : boards_)
            for (const auto& item : board.items)
                for (const auto& one : left_)
                    if (item.body->area < one.body->area) return true;
        return false;
    }
    /// A smaller item off a board, a larger one of those left in its stead. Never a filler for one that has to be
    /// there.
    bool exchange(std::uint64_t budget) {
        const std::size_t l = chance_.below(left_.size()), s = chance_.below(boards_.size());
        if (boards_[s].items.empty()) return false;
        const std::size_t i = chance_.below(boards_[s].items.size());
        const Item off = boards_[s].items[i];
        const Ready one = left_[l];
        const bool worth =
            isFiller(off.part) != isFiller(one.part) ? isFiller(off.part) : one.body->area > off.body->area * 1.0001;
        if (!worth) return false;
        Board trial = boards_[s];
        trial.items.erase(trial.items.begin() + static_cast<std::ptrdiff_t>(i));
        if (!makeRoom(boards_[s], std::move(trial), one, off.pose.at, grounds_[s].area, budget)) return false;
        left_[l] = {off.part, off.body};
        return true;
    }

    /// Does without the last sheet in use, as long as that succeeds.
    bool emptySheets(std::uint64_t budget) {
        const std::uint64_t until = std::min(settings_.effort, spent_ + budget);
        while (spent_ < until && !stop_()) {
            std::size_t last = boards_.size();
            while (last > 0 && boards_[last - 1].items.empty()) --last;
            if (last <= 1) return true;
            double room = 0, needed = areaOn(boards_[last - 1]);
            for (std::size_t s = 0; s + 1 < last; ++s) room += grounds_[s].area - areaOn(boards_[s]);
            if (needed > 0.9 * room) return true;
            const auto before = boards_;
            auto items = boards_[last - 1].items;
            boards_[last - 1].items.clear();
            std::stable_sort(items.begin(), items.end(),
                             [](const Item& a, const Item& b) { return a.body->bulk > b.body->bulk; });
            bool all = true;
            for (const auto& item : items) {
                const Ready one{item.part, item.body};
                bool laid = false;
                for (std::size_t s = 0; s + 1 < last && !laid; ++s)
                    laid = lay(boards_[s], *one.body, one.part, chance_);
                for (const std::size_t s : byRoom(last - 1))
                    if (!laid && spent_ < until) laid = squeeze(s, one, budget);
                if (!laid) {
                    all = false;
                    break;
                }
            }
            if (!all) {
                boards_ = before;
                return true;
            }
            if (!tell()) return false;
        }
        return true;
    }

    /// From the last sheet in use onto those before, the others there making room.
    bool fillEarlier(std::uint64_t budget) {
        std::size_t last = boards_.size();
        while (last > 0 && boards_[last - 1].items.empty()) --last;
        if (last < 2) return true;
        const std::uint64_t until = std::min(settings_.effort, spent_ + budget);
        auto& items = boards_[last - 1].items;
        for (std::size_t fails = 0; fails < 3 * items.size() && items.size() > 1 && spent_ < until && !stop_();) {
            const std::size_t i = chance_.below(items.size()), s = chance_.below(last - 1);
            const Ready one{items[i].part, items[i].body};
            if (!squeeze(s, one, budget)) {
                ++fails;
                continue;
            }
            fails = 0;
            items.erase(items.begin() + static_cast<std::ptrdiff_t>(i));
            if (!tell()) return false;
        }
        return true;
    }

    /// Ever shorter, the last sheet that is in use: the far end comes nearer by a bit and what overlaps then is taken
    /// apart; where that fails two large parts change places and it is tried again; in the end by ever smaller bits.
    void shorten() {
        std::size_t last = boards_.size();
        while (last > 0 && boards_[last - 1].items.empty()) --last;
        if (last == 0 || boards_[last - 1].items.size() < 2) return;
        Board& best = boards_[last - 1];
        const double whole = best.width;
        const std::uint64_t begun = spent_, all = settings_.effort > begun ? settings_.effort - begun : 0;
        const std::uint64_t explore = begun + all * 8 / 10;
        const auto accept = [&](Board& trial) {
            best = std::move(trial);
            best.width = whole;
            progress_.at(0.1 + 0.9 * static_cast<double>(spent_) / static_cast<double>(settings_.effort));
            return tell();
        };
        // First by laying all anew with much contact, again and again: quick, and for straight edges often the best.
        const std::uint64_t byContact = begun + std::min<std::uint64_t>(all / 4, 12'000'000);
        std::vector<Ready> ready;
        for (const auto& item : best.items) ready.push_back({item.part, item.body});
        std::stable_sort(ready.begin(), ready.end(),
                         [](const Ready& a, const Ready& b) { return a.body->bulk > b.body->bulk; });
        for (int k = 0, gains = 0; k < 4000 && (k < 60 || gains > 0) && spent_ < byContact && !stop_(); k += abreast) {
            std::vector<Board> trials(abreast, grounds_[last - 1].empty);
            std::vector<Chance> chances;
            for (auto& trial : trials) chances.emplace_back(chance_.next()), trial.items.reserve(ready.size());
            std::uint64_t each[abreast] = {};
            bool full[abreast] = {};
            parallelFor(abreast, {}, [&](std::size_t w) {
                const double noise = k == 0 && w == 0 ? 0 : chances[w].between(0.02, 0.4);
                full[w] = fillByContact(trials[w], ready, chances[w], noise, each[w], stop_).empty();
            });
            for (std::size_t w = 0; w < abreast; ++w) {
                spent_ += each[w];
                if (!full[w] || usedOf(trials[w]) > usedOf(best) - 1e-6) continue;
                ++gains;
                if (!accept(trials[w])) return;
            }
        }
        double step = 0.02;
        std::vector<std::pair<double, Board>> pool;
        while (spend() && spent_ < explore) {
            Board trial = best;
            if (!pool.empty()) { // from one of the least bad of those that failed, two of its parts changed
                trial = pool[static_cast<std::size_t>(static_cast<double>(pool.size()) * std::pow(chance_.share(), 2))]
                            .second;
                disturb(trial);
            }
            trial.width = usedOf(best) * (1 - step);
            const std::uint64_t before = spent_;
            const double over = separate(trial, step > 0.001 ? Patience{20, 1} : Patience{50, 1}, chance_.next(),
                                         spent_, explore, stop_);
            if (spent_ - before > 3000 * best.items.size()) step = std::max(0.001, step / 2);
            if (over <= 0) {
                pool.clear();
                if (!accept(trial)) return;
                continue;
            }
            if (step > 0.001) {
                step = std::max(0.001, step / 3);
                continue;
            }
            pool.insert(std::upper_bound(pool.begin(), pool.end(), over,
                                         [](double o, const auto& one) { return o < one.first; }),
                        {over, std::move(trial)});
            if (pool.size() > 12) pool.pop_back();
        }
        for (step = 0.0005; spend() && step > 1e-5;) {
            Board trial = best;
            narrow(trial, usedOf(best) * (1 - step));
            if (separate(trial, {60, 1}, chance_.next(), spent_, settings_.effort, stop_) <= 0) {
                if (!accept(trial)) return;
            } else {
                step /= 2;
            }
        }
    }
    /// Made shorter at a place by chance: what lies beyond moves up.
    void narrow(Board& board, double width) {
        const double used = usedOf(board), cut = chance_.between(0, used);
        for (auto& item : board.items)
            if (item.pose.at.x > cut) {
                Pose pose = item.pose;
                pose.at.x -= used - width;
                item.take(pose);
            }
        board.width = width;
    }
    void disturb(Board& board) {
        std::vector<std::size_t> large(board.items.size());
        std::iota(large.begin(), large.end(), std::size_t{0});
        std::stable_sort(large.begin(), large.end(), [&](std::size_t a, std::size_t b) {
            return board.items[a].body->bulk > board.items[b].body->bulk;
        });
        large.resize(std::max<std::size_t>(2, large.size() * 3 / 4));
        const std::size_t a = large[chance_.below(large.size())], b = large[chance_.below(large.size())];
        Pose pa = board.items[a].pose, pb = board.items[b].pose;
        std::swap(pa.at, pb.at);
        board.items[a].take(pa);
        board.items[b].take(pb);
    }

    [[nodiscard]] Layout layout() const {
        Layout out;
        double covered = 0, whole = 0;
        for (std::size_t s = 0; s < boards_.size(); ++s) {
            if (!boards_[s].items.empty()) out.sheets = s + 1;
            std::vector<Placement> here;
            for (const auto& item : boards_[s].items) {
                here.push_back({item.part, s, placeOf(item, grounds_[s], world_)});
                covered += areaOf(parts_[item.part]);
            }
            std::stable_sort(here.begin(), here.end(), [](const auto& a, const auto& b) { return a.part < b.part; });
            out.placed.insert(out.placed.end(), here.begin(), here.end());
        }
        for (std::size_t s = 0; s < out.sheets; ++s) whole += grounds_[s].whole;
        if (out.sheets > 0) {
            out.share = whole > 0 ? covered / whole : 0;
            // The board begins half a spacing before the margin, and bodies reach half a spacing over their parts.
            out.used = settings_.margin + usedOf(boards_[out.sheets - 1]) - settings_.spacing;
        }
        out.left = cannot_;
        for (const auto& [part, count] : tooLarge_)
            out.left.push_back({part, count, "It fits onto none of the sheets by itself, as it may be turned."});
        std::map<std::size_t, int> noRoom;
        for (const auto& one : left_) noRoom[one.part]++;
        for (const auto& [part, count] : noRoom) out.left.push_back({part, count, "There is no room left for it."});
        std::stable_sort(out.left.begin(), out.left.end(),
                         [](const Left& a, const Left& b) { return a.part < b.part; });
        return out;
    }
    /// A better one is there; false: nobody waits for more.
    bool tell() const {
        if (watch_.better) watch_.better(layout());
        return !stop_();
    }

    const std::vector<Part>& parts_;
    const Settings& settings_;
    World world_;
    Progress& progress_;
    const Watch& watch_;
    Chance chance_;
    std::vector<Ground> grounds_;
    std::vector<Board> boards_;
    std::vector<std::optional<Body>> bodies_;
    std::vector<Ready> left_;
    std::vector<Left> cannot_;
    std::map<std::size_t, int> tooLarge_;
    std::uint64_t spent_ = 0;
    const Stop stop_ = [this] { return progress_.cancelled() || (watch_.isEnough && watch_.isEnough()); };
};

} // namespace

double areaOf(const Part& part) {
    double sum = 0;
    for (const auto& piece : part.pieces) sum += ferro::areaOf(piece);
    return sum;
}

Result<Layout> laidOut(const std::vector<Part>& parts, const std::vector<Sheet>& sheets, const Settings& settings,
                       Progress& progress, const Watch& watch) {
    const auto wrong = [](std::string what, std::string mend) {
        return Problem{.what = std::move(what), .where = {}, .mend = std::move(mend)};
    };
    if (sheets.empty()) return wrong("There is no sheet to lay parts on.", "Add one.");
    if (!(settings.spacing >= 0 && settings.spacing <= 500 && settings.margin >= 0 && settings.margin <= 500))
        return wrong("Spacing and margin are from 0 to 500 mm.", "Type them anew.");
    std::size_t count = 0;
    for (const auto& part : parts) {
        if (part.quantity < 0 || part.quantity > 100'000)
            return wrong("A part's quantity is from 0 to 100 000.", "Type it anew.");
        count += static_cast<std::size_t>(part.quantity);
    }
    if (count > 100'000) return wrong("That is more than 100 000 parts.", "Lay them out in several jobs.");
    return Work(parts, settings, progress, watch).run(sheets);
}

} // namespace ferro::nest

#include "mend/repair.h"

#include "artwork/edits.h"
#include "artwork/groups.h"
#include "artwork/widths.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"
#include "geometry/spatial.h"
#include "geometry/thin.h"
#include "mend/chain.h"

#include <map>
#include <set>

namespace ferro::mend {

namespace {

using artwork::Item;

class Mender {
public:
    Mender(Artwork art, const Tolerances& tolerances, const Piece& blank)
        : art_(std::move(art)), tolerances_(tolerances), stock_(boundsOf(blank.outline)) {}

    Result<Mended> mend(std::span<const Flaw> flaws) {
        for (const Fault fault : faults) {
            std::vector<const Flaw*> of;
            for (const auto& f : flaws)
                if (f.fault == fault && itemOf(f.item)) of.push_back(&f);
            if (of.empty()) continue;
            std::size_t count = 0;
            switch (fault) {
            case Fault::speck:
            case Fault::border:
            case Fault::doubled: count = drop(of); break;
            case Fault::gap: count = join(of); break;
            case Fault::beyond: count = moveIn(of); break;
            case Fault::stub:
            case Fault::crossing:
            case Fault::crowded:
                for (const auto* f : of) {
                    auto fine = reshape(*f);
                    if (!fine) return fine.problem();
                    count += *fine;
                }
                break;
            }
            note(fault, count);
        }
        std::string left;
        const auto stays = [&](std::size_t count, std::string_view why) {
            if (count > 0)
                left +=
                    fmt::format("{}{} {} and {}", left.empty() ? "" : ", ", count, why, count == 1 ? "stays" : "stay");
        };
        stays(tooLarge_, "larger than the stock");
        stays(held_, "grouped with what is locked");
        stays(beside_, "not on the blank, as it is cut (move it by hand)");
        stays(far_, "far off the stock (delete what is not wanted)");
        return Mended{std::move(art_), count_, did_.empty() ? "nothing to mend" : did_, std::move(left)};
    }

private:
    Item* itemOf(ItemId id) {
        const auto at = std::find_if(art_.items.begin(), art_.items.end(), [&](const Item& i) { return i.id == id; });
        return at == art_.items.end() || !artwork::shapeOf(*at) ? nullptr : &*at;
    }
    void write(Item& item, const Piece& onSheet) {
        const artwork::Inked ink = artwork::inkedOnSheet(item);
        write(item, onSheet, {&ink, 1});
    }
    /// A piece that goes on from others, with their ink's widths.
    static void write(Item& item, const Piece& onSheet, std::span<const artwork::Inked> ink) {
        const auto back = item.place.inverse();
        auto widths = artwork::widthsFor(onSheet.outline, ink);
        for (double& width : widths) width *= back ? std::sqrt(std::abs(back->determinant())) : 1;
        Piece own = transformed(onSheet, back ? *back : Transform{});
        if (widths.size() != own.outline.segments.size() + 1) widths.clear();
        item.leaf = artwork::leafOf(std::move(own), std::move(widths));
        if (!back) item.place = item.original = {};
    }
    void note(Fault fault, std::size_t count) {
        if (count == 0) return;
        constexpr std::array<std::array<std::string_view, 3>, 8> did{
            {{"speck", "specks", "dropped"},
             {"outline", "outlines", "rid of stubs"},
             {"double", "doubles", "dropped"},
             {"gap", "gaps", "closed"},
             {"crossing outline", "crossing outlines", "parted"},
             {"outline", "outlines", "thinned"},
             {"piece", "pieces", "moved onto the stock"},
             {"border", "borders", "taken out"}}};
        const auto& [one, many, verb] = did[static_cast<std::size_t>(fault)];
        did_ += fmt::format("{}{} {} {}", did_.empty() ? "" : ", ", count, count == 1 ? one : many, verb);
        if (fault == Fault::crowded) did_ += fmt::format(" ({} points fewer, off by {:.3f} mm at most)", fewer_, off_);
        count_ += count;
    }

    std::size_t drop(const std::vector<const Flaw*>& of) {
        std::set<ItemId> whole;
        std::map<ItemId, std::set<int>> openings;
        // From the last stretch of a line to the first, so that those before it stay where they are along it.
        for (auto at = of.rbegin(); at != of.rend(); ++at)
            if ((*at)->stretch) cutOut(**at);
        for (const auto* f : of)
            if (f->stretch)
                continue;
            else if (f->opening < 0)
                whole.insert(f->item);
            else
                openings[f->item].insert(f->opening);
        for (const auto& [id, gone] : openings) {
            auto* item = itemOf(id);
            if (whole.contains(id)) continue;
            Piece piece = artwork::placed(*item);
            for (auto at = gone.rbegin(); at != gone.rend(); ++at)
                if (static_cast<std::size_t>(*at) < piece.openings.size())
                    piece.openings.erase(piece.openings.begin() + *at);
            write(*item, piece);
        }
        if (!whole.empty())
            if (auto rest = artwork::withRemoved(art_, {whole.begin(), whole.end()})) art_ = std::move(*rest);
        return of.size();
    }

    /// Takes a stretch out of an open line; what is left beyond it becomes a piece of its own.
    void cutOut(const Flaw& f) {
        auto* item = itemOf(f.item);
        if (!item) return;
        const Ruler ruler(artwork::placed(*item).outline);
        const auto [from, to] = *f.stretch;
        constexpr double least = 1e-4; // mm: a remainder that is none
        std::vector<Path> left;
        if (from > least) left.push_back({ruler.path().start, ruler.stretch(0, from), false});
        if (to < ruler.length() - least) left.push_back({ruler.at(to).point, ruler.stretch(to, ruler.length()), false});
        if (left.empty()) {
            if (auto rest = artwork::withRemoved(art_, {f.item})) art_ = std::move(*rest);
            return;
        }
        write(*item, {std::move(left[0]), {}});
        if (left.size() < 2) return;
        Item more = *item;
        more.id = {++art_.lastId};
        write(more, {std::move(left[1]), {}});
        art_.items.push_back(std::move(more));
    }

    std::size_t join(const std::vector<const Flaw*>& of) {
        std::vector<ItemId> ids; // in drawing order
        std::set<ItemId> wanted;
        for (const auto* f : of) wanted.insert({f->item, f->other});
        std::vector<Path> paths;
        for (const auto& item : art_.items)
            if (wanted.contains(item.id) && artwork::shapeOf(item)) {
                ids.push_back(item.id);
                paths.push_back(artwork::placed(item).outline);
            }
        std::set<ItemId> spent;
        std::size_t joints = 0;
        for (auto& chain : chained(paths, tolerances_.gap)) {
            const std::size_t here = chain.from.size() - 1 + chain.path.closed;
            if (here == 0) continue;
            joints += here;
            const auto first = *std::min_element(chain.from.begin(), chain.from.end());
            for (const auto i : chain.from)
                if (i != first) spent.insert(ids[i]);
            if (chain.path.closed) chain.path = wound(std::move(chain.path), true);
            std::vector<artwork::Inked> ink;
            for (const auto i : chain.from) ink.push_back(artwork::inkedOnSheet(*itemOf(ids[i])));
            write(*itemOf(ids[first]), {std::move(chain.path), {}}, ink);
        }
        if (!spent.empty())
            if (auto rest = artwork::withRemoved(art_, {spent.begin(), spent.end()})) art_ = std::move(*rest);
        return joints;
    }

    /// A text or group goes as a whole, or stays and is told of, as does what is too large or lies far off.
    std::size_t moveIn(const std::vector<const Flaw*>& of) {
        const auto outermost = artwork::outermostGroups(art_);
        // What moves together: by the outermost group, or an item by itself.
        std::map<std::pair<artwork::GroupId, ItemId>, std::vector<Item*>> together;
        const auto keyOf = [&](const Item& item) {
            const auto known = outermost.find(item.group);
            const auto top = known == outermost.end() ? artwork::GroupId{} : known->second;
            return std::pair(top, top ? ItemId{} : item.id);
        };
        std::map<ItemId, std::pair<artwork::GroupId, ItemId>> keys;
        for (auto& item : art_.items) {
            const auto key = keys[item.id] = keyOf(item);
            together[key].push_back(&item);
        }
        std::size_t count = 0;
        std::set<std::pair<artwork::GroupId, ItemId>> seen;
        for (const auto* f : of) {
            const auto& key = keys.at(f->item);
            if (!seen.insert(key).second) continue;
            const auto& mates = together.at(key);
            Box box;
            for (const auto* item : mates) box.take(artwork::boundsOf(*item));
            const Vec2 by{std::max(0.0, stock_.low.x - box.low.x) + std::min(0.0, stock_.high.x - box.high.x),
                          std::max(0.0, stock_.low.y - box.low.y) + std::min(0.0, stock_.high.y - box.high.y)};
            if (isFarFrom(stock_, box)) {
                ++far_;
            } else if (stock_.empty() || box.width() > stock_.width() || box.height() > stock_.height()) {
                ++tooLarge_;
            } else if (std::any_of(mates.begin(), mates.end(),
                                   [&](const Item* item) { return artwork::isLocked(art_, *item); })) {
                ++held_;
            } else if (by == Vec2{}) {
                ++beside_; // within the box about the blank, and there is none of it there
            } else {
                for (auto* item : mates) item->place = Transform::moved(by) * item->place;
                ++count;
            }
        }
        return count;
    }

    Result<std::size_t> reshape(const Flaw& f) {
        auto* item = itemOf(f.item);
        if (!item) return std::size_t{0};
        Piece piece = artwork::placed(*item);
        if (f.opening >= static_cast<int>(piece.openings.size())) return std::size_t{0};
        Path& path = f.opening < 0 ? piece.outline : piece.openings[static_cast<std::size_t>(f.opening)];
        if (f.fault == Fault::stub) {
            Vec2 from = path.start;
            std::erase_if(path.segments, [&](const Segment& s) {
                const bool none = lengthOf(from, s) < 1e-6;
                if (!none) from = s.end;
                return none;
            });
        } else if (f.fault == Fault::crowded) {
            auto thin = thinnedPath(path, tolerances_.thin);
            if (pointsOf(thin.path) >= pointsOf(path)) return std::size_t{0};
            fewer_ += pointsOf(path) - pointsOf(thin.path);
            off_ = std::max(off_, thin.deviation);
            path = std::move(thin.path);
        } else {
            auto parted = offsetPaths({flattened(path, 0.002)}, 0, {.tolerance = 0.004});
            if (!parted) return parted.problem();
            auto paths = std::move(*parted);
            if (f.opening < 0) {
                paths.insert(paths.end(), piece.openings.begin(), piece.openings.end());
                auto pieces = nested(std::move(paths));
                if (pieces.empty()) return std::size_t{0};
                write(*item, pieces.front());
                const Item kept = *item;
                for (std::size_t i = 1; i < pieces.size(); ++i) {
                    Item more = kept;
                    more.id = {++art_.lastId};
                    write(more, pieces[i]);
                    art_.items.push_back(std::move(more));
                }
                return std::size_t{1};
            }
            piece.openings.erase(piece.openings.begin() + f.opening);
            for (auto& p : paths) piece.openings.push_back(wound(std::move(p), false));
        }
        write(*item, piece);
        return std::size_t{1};
    }

    Artwork art_;
    const Tolerances& tolerances_;
    Box stock_;
    std::string did_;
    std::size_t count_ = 0, fewer_ = 0, far_ = 0, beside_ = 0, tooLarge_ = 0, held_ = 0;
    double off_ = 0;
};

} // namespace

Result<Mended> withMended(const Artwork& artwork, std::span<const Flaw> flaws, const Tolerances& tolerances,
                          const Piece& blank) {
    return Mender(artwork, tolerances, blank).mend(flaws);
}

namespace {

/// Open lines that lie on an earlier one from end to end, either way round.
std::vector<std::size_t> drawnAgain(const std::vector<Path>& paths) {
    constexpr double same = 0.01; // mm
    std::vector<std::size_t> open;
    std::vector<Box> middles;
    std::vector<Vec2> at;
    for (std::size_t i = 0; i < paths.size(); ++i) {
        if (paths[i].closed || paths[i].segments.empty()) continue;
        const Ruler ruler(paths[i]);
        open.push_back(i);
        at.push_back(ruler.at(ruler.length() / 2).point);
        middles.push_back(Box{at.back(), at.back()}.grown(same));
    }
    const SpatialIndex index(middles);
    std::vector<std::size_t> again;
    for (std::size_t i = 0; i < open.size(); ++i)
        for (const auto k : index.meeting(middles[i])) {
            if (k >= i || distance(at[i], at[k]) > same) continue;
            const Path &a = paths[open[k]], &b = paths[open[i]];
            const bool sameWay = distance(a.start, b.start) <= same && distance(a.end(), b.end()) <= same,
                       otherWay = distance(a.start, b.end()) <= same && distance(a.end(), b.start) <= same;
            if (!(sameWay || otherWay) || std::abs(lengthOf(a) - lengthOf(b)) > 4 * same) continue;
            again.push_back(open[i]);
            break;
        }
    return again;
}

/// Loose lines of one layer and group, made into outlines in place.
class OutlineMaker {
public:
    OutlineMaker(const Artwork& art, double reach)
        : art_(art), reach_(reach), made_(art.items.size()), spent_(art.items.size()) {}

    void take(const std::vector<std::size_t>& set) {
        std::vector<Path> paths; // by place in `set`; empty once it has become part of another
        for (const std::size_t i : set) paths.push_back(artwork::placed(art_.items[i]).outline);
        // A line drawn twice would be joined to itself, there and back: the second is left for the audit.
        auto once = paths;
        for (const auto k : drawnAgain(paths)) once[k] = {};
        for (auto& chain : chained(once, reach_)) {
            if (chain.from.size() == 1 && !chain.path.closed) continue;
            const auto first = *std::min_element(chain.from.begin(), chain.from.end());
            for (const auto k : chain.from) {
                paths[k] = {};
                spent_[set[k]] = k != first;
            }
            joined_ += chain.from.size();
            ++outlines_;
            paths[first] = chain.path.closed ? wound(std::move(chain.path), true) : std::move(chain.path);
            made_[set[first]] = Piece{paths[first], {}};
        }
        // Every second level of closed ones is an opening; what has openings already stays as it is.
        for (std::size_t k = 0; k < set.size(); ++k)
            if (!artwork::shapeOf(art_.items[set[k]])->piece.openings.empty()) paths[k] = {};
        const auto parents = parentsOf(paths);
        const auto up = [&](std::size_t k) { return static_cast<std::size_t>(parents[k]); };
        for (std::size_t k = 0; k < set.size(); ++k) {
            int level = 0;
            for (std::size_t at = k; parents[at] >= 0; at = up(at)) ++level;
            if (level % 2 == 0) continue;
            auto& round = made_[set[up(k)]];
            if (!round) round = Piece{paths[up(k)], {}};
            round->openings.push_back(wound(paths[k], false));
            spent_[set[k]] = true;
            ++openings_;
        }
    }

    Mended finished() {
        Artwork out = art_;
        out.items.clear();
        std::map<artwork::GroupId, std::size_t> members, before; // a group's own items and groups
        for (const auto& group : art_.groups) ++members[group.parent], ++before[group.parent];
        for (std::size_t i = 0; i < art_.items.size(); ++i) {
            ++before[art_.items[i].group];
            if (spent_[i]) continue;
            out.items.push_back(art_.items[i]);
            auto& item = out.items.back();
            ++members[item.group];
            if (!made_[i]) continue;
            const auto back = item.place.inverse();
            item.leaf = artwork::leafOf(transformed(*made_[i], *back));
            if (!artwork::shapeOf(art_.items[i])->piece.outline.closed) item.name = "outline";
        }
        // A group of which one is left is none: that goes up to the group round it.
        for (const auto& group : art_.groups) {
            if (members[group.id] != 1 || before[group.id] == 1) continue;
            const auto at = std::find_if(out.groups.begin(), out.groups.end(),
                                         [&](const artwork::Group& g) { return g.id == group.id; });
            const auto up = at->parent; // as it is by now
            out.groups.erase(at);
            for (auto& item : out.items)
                if (item.group == group.id) item.group = up;
            for (auto& inner : out.groups)
                if (inner.parent == group.id) inner.parent = up;
        }
        artwork::dropEmptyGroups(out);
        std::string did = fmt::format("{} lines joined into {} outlines", joined_, outlines_);
        if (openings_) did += fmt::format(", {} of all outlines are openings now", openings_);
        return {std::move(out), joined_ + openings_, joined_ + openings_ ? did : "nothing to join"};
    }

private:
    const Artwork& art_;
    double reach_;
    std::vector<std::optional<Piece>> made_; // on the sheet, by item
    std::vector<bool> spent_;
    std::size_t joined_ = 0, outlines_ = 0, openings_ = 0;
};

} // namespace

Mended withOutlines(const Artwork& artwork, std::span<const ItemId> items, double reach) {
    const std::set<ItemId> wanted(items.begin(), items.end());
    std::map<std::pair<artwork::LayerId, artwork::GroupId>, std::vector<std::size_t>> sets;
    for (std::size_t i = 0; i < artwork.items.size(); ++i) {
        const auto& item = artwork.items[i];
        if (wanted.contains(item.id) && artwork::shapeOf(item) && !item.locked && item.place.inverse())
            sets[{item.layer, item.group}].push_back(i);
    }
    OutlineMaker maker(artwork, reach);
    for (const auto& [key, set] : sets) maker.take(set);
    return maker.finished();
}

artwork::Added withOutlines(artwork::Added added, double reach, std::string* did) {
    auto made = withOutlines(added.artwork, added.ids, reach);
    if (did) *did = std::move(made.did);
    added.artwork = std::move(made.artwork);
    std::set<ItemId> left;
    for (const auto& item : added.artwork.items) left.insert(item.id);
    std::erase_if(added.ids, [&](ItemId id) { return !left.contains(id); });
    return added;
}

Result<Mended> withThinned(const Artwork& artwork, std::span<const ItemId> items, double tolerance) {
    if (!(tolerance > 0))
        return Problem{.what = "The tolerance must be above 0.", .where = {}, .mend = "Give a length in mm."};
    if (items.empty())
        return Problem{.what = "Nothing is chosen.", .where = {}, .mend = "Choose one or more pieces first."};
    std::vector<Flaw> all;
    std::size_t before = 0, after = 0;
    for (const ItemId id : items) {
        const auto* item = artwork::find(artwork, id);
        if (!item)
            return Problem{.what = fmt::format("There is no item {}.", id.value),
                           .where = {},
                           .mend = "List the items to see their numbers."};
        if (artwork::isLocked(artwork, *item))
            return Problem{
                .what = fmt::format("“{}” is locked.", item->name), .where = {}, .mend = "Unlock it, or leave it out."};
        const auto* shape = artwork::shapeOf(*item);
        if (!shape) continue;
        before += pointsOf(shape->piece);
        for (int k = -1; k < static_cast<int>(shape->piece.openings.size()); ++k)
            all.push_back({Fault::crowded, id, k, {}, {}, 0, {}});
    }
    auto thinned = withMended(artwork, all, {.thin = tolerance}, {});
    if (!thinned) return thinned;
    for (const ItemId id : items)
        if (const auto* item = artwork::find(thinned->artwork, id))
            if (const auto* shape = artwork::shapeOf(*item)) after += pointsOf(shape->piece);
    thinned->count = before - after;
    if (after == before) thinned->did = fmt::format("{} points, none to spare", before);
    return thinned;
}

Result<Mended> withAllMended(const Artwork& artwork, std::span<const Fault> which, const Tolerances& tolerances,
                             const Piece& blank, Progress& progress) {
    Mended all{artwork, 0, {}};
    for (int round = 0; round < 4; ++round) {
        auto audit = audited(all.artwork, tolerances, blank, progress);
        if (!audit) return audit.problem();
        std::erase_if(audit->flaws,
                      [&](const Flaw& f) { return std::find(which.begin(), which.end(), f.fault) == which.end(); });
        auto next = withMended(all.artwork, audit->flaws, tolerances, blank);
        if (!next) return next.problem();
        all.left = next->left;
        if (next->count == 0) break;
        all.artwork = std::move(next->artwork);
        all.count += next->count;
        all.did += (all.did.empty() ? "" : "; then ") + next->did;
    }
    if (all.did.empty()) all.did = "nothing to mend";
    return all;
}

Changes changesOf(const Artwork& before, const Artwork& after) {
    Changes all;
    const auto take = [](std::vector<Path>& into, const artwork::Item& item) {
        const Piece piece = artwork::placed(item);
        into.push_back(piece.outline);
        into.insert(into.end(), piece.openings.begin(), piece.openings.end());
    };
    for (const auto& item : after.items) {
        const auto* was = artwork::find(before, item.id);
        if (artwork::shapeOf(item) && (!was || !(was->leaf == item.leaf) || !(was->place == item.place)))
            take(all.becomes, item);
    }
    for (const auto& item : before.items)
        if (artwork::shapeOf(item) && !artwork::find(after, item.id)) take(all.goes, item);
    return all;
}

} // namespace ferro::mend

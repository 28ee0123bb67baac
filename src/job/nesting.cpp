#include "job/nesting.h"

#include "artwork/copies.h"
#include "artwork/groups.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "job/boards.h"
#include "nest/check.h"
#include "plan/selection.h"

#include <chrono>
#include <set>

namespace ferro::job {

namespace {

using artwork::Ids;
using artwork::Item;
using artwork::ItemId;

/// What leaves one sheet together, as it lies.
struct Cluster {
    Ids items;
    std::vector<Piece> pieces;
    ItemId outermost;
    SheetId sheet;
    bool locked = false;
};

/// Parts of one sheet by nesting, with openings that are cut through as such.
class Clusters {
public:
    Clusters(const Job& job, SheetId sheet) : job_(job), art_(*job.artwork), sheet_(sheet) {
        if (!sheet) { // beside all sheets nothing counts as cut: looked at as if it were one more
            art_.sheet = {++art_.lastId};
            for (auto& item : art_.items)
                if (!item.sheet) item.sheet = art_.sheet;
        } else {
            art_.sheet = sheet;
        }
        pieces_ = plan::piecesOf(job.plan, art_, job.tools);
        findThrough();
    }

    std::vector<Cluster> all() {
        // The outermost outline of each contour that bounds stock: up through material, stopping at openings.
        const auto& contours = pieces_.contours;
        std::map<std::size_t, std::size_t> rootOf; // by contour
        for (std::size_t c = 0; c < contours.size(); ++c) {
            std::size_t at = c;
            while (contours[at].parent >= 0 && !through_[static_cast<std::size_t>(contours[at].parent)])
                at = static_cast<std::size_t>(contours[at].parent);
            rootOf[c] = at;
        }
        // What is grouped goes together, whatever lies between: the first of a group takes the others in.
        const auto groups = artwork::outermostGroups(art_);
        std::map<artwork::GroupId, std::size_t> firstOfGroup;
        std::map<ItemId, std::size_t> ofItem;
        std::map<std::size_t, std::size_t> joined; // root to root
        const auto find = [&](std::size_t root) {
            while (joined.contains(root)) root = joined[root];
            return root;
        };
        const auto join = [&](std::size_t a, std::size_t b) {
            a = find(a), b = find(b);
            if (a != b) joined[std::max(a, b)] = std::min(a, b);
        };
        for (std::size_t c = 0; c < contours.size(); ++c) {
            if (const auto [seen, fresh] = ofItem.try_emplace(contours[c].item, rootOf[c]); !fresh)
                join(seen->second, rootOf[c]);
            const auto* item = artwork::find(art_, contours[c].item);
            if (!item || !item->group) continue;
            const auto group = groups.at(item->group);
            if (const auto [seen, fresh] = firstOfGroup.try_emplace(group, rootOf[c]); !fresh)
                join(seen->second, rootOf[c]);
        }
        std::map<std::size_t, Cluster> made;
        std::map<std::size_t, std::size_t> pieceOf; // by root contour, in its cluster
        for (std::size_t c = 0; c < contours.size(); ++c) {
            if (!contours[rootOf[c]].path.closed) continue; // an open line by itself
            const std::size_t root = find(rootOf[c]);
            auto& cluster = made[root];
            cluster.outermost = contours[root].item;
            cluster.sheet = sheet_;
            if (rootOf[c] != c) continue;
            pieceOf[c] = cluster.pieces.size();
            cluster.pieces.push_back({wound(contours[c].path, true), {}});
        }
        for (std::size_t o = 0; o < contours.size(); ++o) {
            const auto in =
                contours[o].parent >= 0 ? pieceOf.find(static_cast<std::size_t>(contours[o].parent)) : pieceOf.end();
            if (in != pieceOf.end() && through_[o] && contours[o].path.closed)
                made[find(in->first)].pieces[in->second].openings.push_back(wound(contours[o].path, false));
        }
        const auto at = [&](std::size_t root) {
            const auto it = made.find(find(root));
            return it != made.end() ? &it->second : nullptr;
        };
        const Around around(made);
        // All items: those with contours by these, others (notes, texts, points) by what they lie in or are grouped
        // with.
        for (const auto& item : art_.items) {
            if (item.sheet != art_.sheet || item.underlay || artwork::pictureOf(item)) continue;
            const auto known = ofItem.find(item.id);
            Cluster* mine = known != ofItem.end() ? at(known->second)
                            : item.group && firstOfGroup.contains(groups.at(item.group))
                                ? at(firstOfGroup[groups.at(item.group)])
                                : around.smallest(artwork::boundsOf(item).centre());
            if (!mine) continue;
            mine->items.push_back(item.id);
            mine->locked |= artwork::isLocked(art_, item);
        }
        std::vector<Cluster> out;
        for (auto& [root, cluster] : made)
            if (!cluster.items.empty() && !cluster.pieces.empty()) out.push_back(std::move(cluster));
        return out;
    }

private:
    /// Which cluster lies round a place.
    class Around {
    public:
        explicit Around(std::map<std::size_t, Cluster>& clusters) {
            for (auto& [root, cluster] : clusters)
                for (const auto& piece : cluster.pieces)
                    outlines_.push_back({boundsOf(piece.outline), flattened(piece.outline, 0.05),
                                         std::abs(areaOf(piece.outline)), &cluster});
        }
        [[nodiscard]] Cluster* smallest(Vec2 place) const {
            const Outline* best = nullptr;
            for (const auto& one : outlines_)
                if (one.box.contains(place) && (!best || one.area < best->area) && contains(one.ring, place))
                    best = &one;
            return best ? best->cluster : nullptr;
        }

    private:
        struct Outline {
            Box box;
            Ring ring;
            double area;
            Cluster* cluster;
        };
        std::vector<Outline> outlines_;
    };

    /// Contours that a step cuts through inside of.
    void findThrough() {
        through_.assign(pieces_.contours.size(), 0);
        for (std::size_t s = 0; s < job_.plan.steps.size(); ++s) {
            const auto& step = job_.plan.steps[s];
            const auto* depth = plan::depthIn(step);
            if (!step.enabled || !depth || !depth->through || !plan::kindOf(step).freesParts) continue;
            for (const std::size_t c : pieces_.taken[s])
                if (pieces_.contours[c].role == plan::Role::openings) through_[c] = 1;
        }
    }
    const Job& job_;
    artwork::Artwork art_;
    SheetId sheet_;
    plan::Pieces pieces_;
    std::vector<char> through_;
};

struct Class {
    std::string material;
    double thickness;
    friend auto operator<=>(const Class&, const Class&) = default;
};
Class classOf(const Job& job, const Sheet& sheet) {
    return {sheet.material ? sheet.material->key : job.material.key, sheet.stock.thickness};
}

double stepOf(artwork::Turns turns) {
    switch (turns) {
    case artwork::Turns::none: return 2 * pi;
    case artwork::Turns::half: return pi;
    case artwork::Turns::quarter: return pi / 2;
    case artwork::Turns::any: break;
    }
    return 0;
}

nest::Sheet plainSheet(const Sheet& sheet) {
    nest::Sheet plain;
    plain.area = blankOf(sheet.stock);
    for (const auto& clamp : sheet.clamps) plain.taken.push_back({rectangle(clamp.area.low, clamp.area.high), {}});
    return plain;
}

std::string nameOf(const Job& job, const Nesting& nesting, std::size_t part) {
    const auto* item = artwork::find(*job.artwork, nesting.items[part].front());
    return item ? item->name : std::string();
}

} // namespace

LayingOut usualLayingOut(const Job& job) {
    LayingOut wish;
    double widest = 0;
    bool tabbed = false, shared = false;
    for (const auto& step : job.plan.steps) {
        const auto* tool = toolOf(job, step);
        if (!tool || !step.enabled || !plan::kindOf(step).freesParts) continue;
        widest = std::max(widest, tool->diameter);
        const auto* hold = plan::choiceNamed(plan::kindOf(step), "hold");
        const auto* both = plan::choiceNamed(plan::kindOf(step), "shared");
        shared = shared || (both && both->get(step) != 0);
        tabbed = tabbed || (hold && hold->words[static_cast<std::size_t>(hold->get(step))] == "tabs");
    }
    if (widest == 0) widest = job.machine.mainProcess() == shop::Process::rotary ? 6 : 0.2;
    const double air = job.machine.mainProcess() == shop::Process::rotary ? 1 : 1.8;
    wish.how.margin = widest + air;
    wish.how.spacing = (tabbed ? 2 : 1) * widest + air; // tabs need stock beyond the cut that no neighbour takes
    if (shared && !tabbed) wish.how.spacing = widest;   // one cut between two parts serves both
    return wish;
}

Result<std::vector<Nesting>> nestingsOf(const Job& job, const LayingOut& wish) {
    std::map<Class, Nesting> byClass;
    for (const auto& sheet : job.sheets) {
        const auto key = classOf(job, sheet);
        auto& nesting = byClass[key];
        nesting.material = key.material;
        nesting.thickness = key.thickness;
        nesting.sheets.push_back(plainSheet(sheet));
        nesting.ids.push_back(sheet.id);
    }
    std::vector<SheetId> places{SheetId{}};
    for (const auto& sheet : job.sheets) places.push_back(sheet.id);
    std::vector<Cluster> clusters;
    for (const auto id : places)
        for (auto& cluster : Clusters(job, id).all()) clusters.push_back(std::move(cluster));
    const auto originalOf = [&](const Cluster& cluster) {
        const auto* item = artwork::find(*job.artwork, cluster.outermost);
        return item->of ? item->of : item->id;
    };
    struct Kin { // an original and its copies
        int there = 0;
        bool movable = false;
    };
    std::map<ItemId, Kin> kin;
    for (const auto& cluster : clusters) {
        auto& one = kin[originalOf(cluster)];
        ++one.there;
        one.movable |= !cluster.locked;
    }
    std::set<ItemId> counted;
    for (auto& cluster : clusters) {
        const auto* sheet = find(job, cluster.sheet);
        const auto& facts = artwork::partOf(*job.artwork, *artwork::find(*job.artwork, cluster.outermost));
        Class key = classOf(job, sheet ? *sheet : job.sheets.front());
        if (!facts.material.empty()) key.material = facts.material;
        if (facts.thickness > 0) key.thickness = facts.thickness;
        auto& nesting = byClass[key];
        nesting.material = key.material;
        nesting.thickness = key.thickness;
        const auto original = originalOf(cluster);
        const int more = std::max(0, facts.quantity - kin[original].there);
        if (cluster.locked) {
            // It stays on its sheet, whatever that is made of.
            for (auto& [other, same] : byClass)
                for (std::size_t s = 0; s < same.ids.size(); ++s)
                    if (sheet && same.ids[s] == sheet->id)
                        for (const auto& piece : cluster.pieces) same.sheets[s].taken.push_back(piece);
            ++nesting.stays;
            if (!kin[original].movable && counted.insert(original).second)
                nesting.missing += static_cast<std::size_t>(more);
            continue;
        }
        const bool first = counted.insert(original).second;
        nesting.parts.push_back({std::move(cluster.pieces), 1 + (first ? more : 0), stepOf(facts.turns), facts.mirror,
                                 facts.priority == artwork::Priority::filler});
        nesting.items.push_back(std::move(cluster.items));
    }
    if (clusters.empty())
        return Problem{.what = "There are no parts to lay out.",
                       .where = {},
                       .mend = "Draw or bring in closed outlines, and unlock those that are to be moved."};
    std::vector<Nesting> all;
    for (auto& [key, nesting] : byClass) {
        if (nesting.parts.empty()) continue;
        nesting.boards.resize(nesting.ids.size());
        if (const auto shelf = boardsFor(wish.book, nesting.material, nesting.thickness);
            wish.mayAddSheets && !shelf.empty()) {
            for (const auto& board : shelf) {
                const auto stock = stockOf(board, {});
                if (!stock) return stock.problem();
                const auto here = std::count_if(job.sheets.begin(), job.sheets.end(),
                                                [&](const Sheet& sheet) { return sheet.board == board.key; });
                for (int k = static_cast<int>(here); k < board.count && nesting.sheets.size() < 1000; ++k) {
                    nesting.sheets.push_back({blankOf(*stock), {}});
                    nesting.ids.push_back({});
                    nesting.boards.push_back(board.key);
                }
            }
        } else if (wish.mayAddSheets && !nesting.ids.empty()) {
            // As many as could be needed at the very most: more are never begun.
            const auto* last = find(job, nesting.ids.back());
            double area = 0;
            std::size_t count = 0;
            for (const auto& part : nesting.parts)
                area += part.quantity * nest::areaOf(part), count += static_cast<std::size_t>(part.quantity);
            const double sheet = last->stock.width * last->stock.height;
            const auto most = std::min<std::size_t>({count, static_cast<std::size_t>(4 * area / sheet) + 2,
                                                     1000 - std::min<std::size_t>(1000, job.sheets.size())});
            Sheet plain = *last;
            plain.clamps.clear();
            plain.tray.reset();
            for (std::size_t k = 0; k < most; ++k) {
                nesting.sheets.push_back(plainSheet(plain));
                nesting.ids.push_back({});
                nesting.boards.emplace_back();
            }
        }
        all.push_back(std::move(nesting));
    }
    if (all.empty())
        return Problem{
            .what = "All parts are locked where they are.", .where = {}, .mend = "Unlock those to be moved."};
    return all;
}

Result<Job> withLayouts(const Job& job, const std::vector<Nesting>& nestings, const std::vector<nest::Layout>& layouts,
                        const shop::Book& book) {
    Job out = job;
    struct Move {
        Transform by;
        SheetId sheet;
    };
    std::map<ItemId, Move> moves;
    for (std::size_t n = 0; n < nestings.size(); ++n) {
        const auto& nesting = nestings[n];
        const auto& layout = layouts[n];
        std::vector<SheetId> ids = nesting.ids;
        SheetId last = job.sheets.back().id;
        for (std::size_t s = 0; s < layout.sheets && s < ids.size(); ++s) {
            if (ids[s]) last = ids[s];
            const bool used = std::any_of(layout.placed.begin(), layout.placed.end(),
                                          [&](const auto& placement) { return placement.sheet == s; });
            if (ids[s] || !used) continue; // an off-cut may be too small for any
            auto like = atSheet(out, last);
            if (like) like = withSheetAdded(*like);
            if (like && !nesting.boards[s].empty()) like = withBoard(*like, book, nesting.boards[s]);
            if (!like) return like.problem();
            last = like->artwork->sheet;
            ids[s] = like->artwork->sheet;
            out = std::move(*like);
        }
        std::vector<std::vector<const nest::Placement*>> ofPart(nesting.parts.size());
        for (const auto& placement : layout.placed) ofPart[placement.part].push_back(&placement);
        for (std::size_t p = 0; p < nesting.parts.size(); ++p) {
            // Where more are laid than are there, copies are made of it where it lies.
            std::vector<artwork::Ids> instances{nesting.items[p]};
            if (ofPart[p].size() > 1) {
                const auto count = static_cast<int>(ofPart[p].size() - 1);
                auto added = artwork::withCopies(*out.artwork, nesting.items[p], {0, 0}, count);
                if (!added) return added.problem();
                const auto each = static_cast<std::ptrdiff_t>(nesting.items[p].size());
                for (auto at = added->ids.begin(); at != added->ids.end(); at += each)
                    instances.emplace_back(at, at + each);
                out = withArtwork(out, std::move(added->artwork));
            }
            for (std::size_t k = 0; k < instances.size(); ++k)
                for (const auto id : instances[k])
                    moves[id] = k < ofPart[p].size() ? Move{ofPart[p][k]->place, ids[ofPart[p][k]->sheet]}
                                                     : Move{{}, SheetId{}};
        }
    }
    artwork::Artwork art = *out.artwork;
    for (auto& item : art.items)
        if (const auto move = moves.find(item.id); move != moves.end()) {
            item.place = move->second.by * item.place;
            item.sheet = move->second.sheet;
        }
    if (job.artwork->sheet) art.sheet = job.artwork->sheet;
    return withArtwork(out, std::move(art));
}

Result<Job> withLayoutOf(const Job& job, const Job& laid) {
    Job out = job;
    for (const auto& sheet : laid.sheets)
        if (!find(out, sheet.id)) out.sheets.push_back(sheet);
    artwork::Artwork art = *job.artwork;
    // What was drawn after it was laid may have the number of a copy that was made then: those are not the same.
    const auto placeOf = [&](const artwork::Item& item) {
        const auto* other = artwork::find(*laid.artwork, item.id);
        return other && other->of == item.of ? other : nullptr;
    };
    std::set<ItemId> same;
    for (auto& item : art.items) {
        const auto* laidAt = placeOf(item);
        if (!laidAt) continue;
        const auto *is = artwork::shapeOf(item), *was = artwork::shapeOf(*laidAt);
        if (is != was && !(is && was && is->piece == was->piece))
            return Problem{.what = fmt::format("“{}” is not what was laid out: it has another shape.", item.name),
                           .where = {},
                           .mend = "Lay out anew."};
        item.place = laidAt->place;
        item.sheet = laidAt->sheet;
        same.insert(item.id);
    }
    std::erase_if(art.items, [&](const artwork::Item& item) {
        return item.of && same.contains(item.of) && !same.contains(item.id);
    });
    for (auto item : laid.artwork->items) {
        if (!item.of || same.contains(item.id) || !same.contains(item.of)) continue;
        item.id = ItemId{++art.lastId};
        art.items.push_back(std::move(item));
    }
    return withArtwork(out, std::move(art));
}

Result<LaidOut> laidOut(const Job& job, const LayingOut& wish, Progress& progress, const LayingWatch& watch) {
    const auto nestings = nestingsOf(job, wish);
    if (!nestings) return nestings.problem();
    std::vector<nest::Layout> layouts(nestings->size());
    for (std::size_t n = 0; n < nestings->size(); ++n) // as long as nothing is known: all is left
        for (std::size_t p = 0; p < (*nestings)[n].parts.size(); ++p)
            layouts[n].left.push_back({p, (*nestings)[n].parts[p].quantity, "It is not laid yet."});
    const auto summed = [&]() -> Result<LaidOut> {
        auto made = withLayouts(job, *nestings, layouts, wish.book);
        if (!made) return made.problem();
        LaidOut out{std::move(*made)};
        double covered = 0, whole = 0;
        std::map<std::pair<std::string, std::string>, std::size_t> reasons;
        for (std::size_t n = 0; n < nestings->size(); ++n) {
            const auto& nesting = (*nestings)[n];
            const auto& layout = layouts[n];
            for (const auto& placement : layout.placed) covered += nest::areaOf(nesting.parts[placement.part]);
            std::vector<char> inUse(layout.sheets, 0);
            for (const auto& placement : layout.placed) inUse[placement.sheet] = 1;
            out.sheets += static_cast<std::size_t>(std::count(inUse.begin(), inUse.end(), 1));
            for (std::size_t s = 0; s < layout.sheets; ++s) {
                if (!inUse[s]) continue;
                const Box box = boundsOf(nesting.sheets[s].area);
                const bool last = s + 1 == layout.sheets;
                const double along = wish.how.keeps == nest::Along::width ? box.width() : box.height();
                const double across = box.width() * box.height() / along;
                const double used = last ? std::min(along, layout.used + wish.how.margin) : along;
                whole += used * across;
                if (!last) continue;
                out.used = layout.used;
                out.rest += (along - used) * across;
            }
            out.stays += nesting.stays;
            if (nesting.missing > 0) {
                out.leftCount += nesting.missing;
                out.left.push_back(fmt::format(
                    "{} more are wanted of parts that are locked: unlock one to have it copied.", nesting.missing));
            }
            for (const auto& left : layout.left)
                reasons[{nameOf(job, nesting, left.part), left.why}] += static_cast<std::size_t>(left.count);
        }
        for (const auto& [what, count] : reasons) { // copies by one name are told together
            out.leftCount += count;
            out.left.push_back(fmt::format("{} × “{}”: {}", count, what.first, what.second));
        }
        out.share = whole > 0 ? covered / whole : 0;
        return out;
    };
    std::optional<std::chrono::steady_clock::time_point> shown; // what is watched only; the layout knows no clock
    for (std::size_t n = 0; n < nestings->size(); ++n) {
        const auto& nesting = (*nestings)[n];
        if (nesting.sheets.empty()) {
            for (auto& left : layouts[n].left)
                left.why = fmt::format("There is no sheet of {}, {} thick.", nesting.material, mm(nesting.thickness));
            continue;
        }
        progress.stage(static_cast<double>(n) / static_cast<double>(nestings->size()),
                       static_cast<double>(n + 1) / static_cast<double>(nestings->size()));
        nest::Watch inner{[&](const nest::Layout& layout) {
                              layouts[n] = layout;
                              const auto now = std::chrono::steady_clock::now();
                              if (!watch.better || (shown && now - *shown < std::chrono::milliseconds(120))) return;
                              shown = now;
                              if (const auto made = summed()) watch.better(*made);
                          },
                          watch.isEnough};
        auto layout = nest::laidOut(nesting.parts, nesting.sheets, wish.how, progress, inner);
        if (!layout) return layout.problem();
        const auto faults = nest::faultsOf(nesting.parts, nesting.sheets, wish.how, *layout);
        if (!faults.empty())
            return Problem{.what = "The layout does not stand its check: " + faults.front().what,
                           .where = fmt::format("sheet {}", faults.front().sheet + 1),
                           .mend = "Nothing was moved. Try another seed, and send the job in."};
        layouts[n] = std::move(*layout);
    }
    return summed();
}

} // namespace ferro::job

#include "mend/bridges.h"

#include "artwork/edits.h"
#include "geometry/combine.h"
#include "geometry/flatten.h"
#include "mend/crossings_internal.h"

#include <numeric>
#include <set>

namespace ferro::mend {

namespace {

using artwork::Group;
using artwork::Item;

/// Pieces that may be cut: shown, free, closed, no notes.
bool isCut(const Artwork& art, const Item& item) {
    const auto* shape = artwork::shapeOf(item);
    return shape && shape->piece.outline.closed && !artwork::isHidden(art, item) && !artwork::isLocked(art, item) &&
           !artwork::isNote(art, item);
}

/// A piece with what lies in one of its openings: areas that stay.
struct Held {
    std::size_t item;
    int opening;
    std::vector<std::size_t> islands; ///< items
};

std::vector<Held> heldIn(const Artwork& art, const std::vector<std::size_t>& items) {
    struct Opening {
        std::size_t item;
        int opening;
        Ring ring;
        double area;
    };
    std::vector<Opening> openings;
    std::vector<Box> boxes;
    for (const auto i : items) {
        const Piece piece = artwork::placed(art.items[i]);
        for (int k = 0; k < static_cast<int>(piece.openings.size()); ++k) {
            const Path& path = piece.openings[static_cast<std::size_t>(k)];
            openings.push_back({i, k, flattened(path, 0.01), std::abs(areaOf(path))});
            boxes.push_back(boundsOf(path));
        }
    }
    std::vector<Held> held(openings.size());
    for (std::size_t o = 0; o < openings.size(); ++o) held[o] = {openings[o].item, openings[o].opening, {}};
    for (const auto i : items) {
        const Vec2 at = artwork::placed(art.items[i]).outline.start;
        int smallest = -1;
        for (std::size_t o = 0; o < openings.size(); ++o)
            if (openings[o].item != i && boxes[o].contains(at) && contains(openings[o].ring, at) &&
                (smallest < 0 || openings[o].area < openings[static_cast<std::size_t>(smallest)].area))
                smallest = static_cast<int>(o);
        if (smallest >= 0) held[static_cast<std::size_t>(smallest)].islands.push_back(i);
    }
    std::erase_if(held, [](const Held& h) { return h.islands.empty(); });
    return held;
}

std::vector<std::size_t> among(const Artwork& art, std::span<const ItemId> items) {
    const std::set<ItemId> wanted(items.begin(), items.end());
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < art.items.size(); ++i)
        if (isCut(art, art.items[i]) && (wanted.empty() || wanted.contains(art.items[i].id))) out.push_back(i);
    return out;
}

Piece band(const Bridge& bridge) {
    // A little into both sides, so that no sliver is left where the edge slants or bends.
    const Vec2 way = unit(bridge.to - bridge.from), side = perpendicular(way) * (bridge.width / 2),
               more = way * std::min(bridge.width / 2, 0.25 * distance(bridge.from, bridge.to) + 0.2);
    const Vec2 a = bridge.from - more, b = bridge.to + more;
    return {pathOf({a - side, b - side, b + side, a + side}, true), {}};
}

Result<std::vector<Bridge>> bridgesFor(const CutArea& area, const BridgeSettings& settings) {
    const std::size_t n = area.islands();
    std::vector<std::size_t> root(n + 1); // union-find; n: what stays outside
    std::iota(root.begin(), root.end(), std::size_t{0});
    const auto find = [&](std::size_t i) {
        while (root[i] != i) i = root[i];
        return i;
    };
    std::vector<Bridge> out;
    const auto take = [&](std::size_t island, const Crossing& c) {
        out.push_back({c.from, c.to, settings.width});
        root[find(island)] = find(c.onto < 0 ? n : static_cast<std::size_t>(c.onto));
    };
    for (std::size_t i = 0; i < n; ++i) {
        const auto some = settings.lie == BridgeSettings::Lie::inLine
                              ? inLineCrossings(area, i, settings.number, settings.width)
                              : acrossCrossings(area, i, settings.number, settings.width);
        for (const auto& c : some) {
            // Two islands that face each other would both bridge the same place.
            const bool there = std::any_of(out.begin(), out.end(), [&](const Bridge& b) {
                return distance((b.from + b.to) / 2, (c.from + c.to) / 2) < settings.width;
            });
            if (!there) take(i, c);
        }
    }
    // Islands that only hold on to each other need a way out.
    for (std::size_t i = 0; i < n; ++i) {
        if (find(i) == find(n)) continue;
        std::optional<std::pair<std::size_t, Crossing>> best;
        for (std::size_t k = 0; k < n; ++k) {
            if (find(k) != find(i)) continue;
            for (const auto& c : acrossCrossings(area, k, 12, settings.width)) {
                const std::size_t onto = c.onto < 0 ? n : static_cast<std::size_t>(c.onto);
                if (find(onto) != find(i) && (!best || c.cost < best->second.cost)) best = {k, c};
            }
        }
        if (!best)
            return Problem{.what = "There is no room for a bridge of this width.",
                           .where = {},
                           .mend = "Make the bridges narrower."};
        take(best->first, best->second);
    }
    return out;
}

/// The cut area round the islands: of one piece, or of one opening with what lies in it.
CutArea areaOfFallOut(const Piece& piece, Rings beyond) { return {piece.outline, piece.openings, std::move(beyond)}; }
CutArea areaOfStay(const Path& opening, const std::vector<Piece>& islands) {
    std::vector<Path> outlines;
    for (const auto& island : islands) outlines.push_back(island.outline);
    return {opening, outlines, {}};
}

/// All areas of a bridged group in its own coordinates.
std::vector<CutArea> cutAreas(const Bridged& bridged) {
    std::vector<CutArea> out;
    if (bridged.areas == Bridged::Areas::fallOut) {
        for (const auto& piece : bridged.whole)
            if (!piece.openings.empty()) out.push_back(areaOfFallOut(piece, {}));
        return out;
    }
    // The first is what holds, the rest lie in its openings.
    for (const auto& opening : bridged.whole.front().openings) {
        const Ring ring = flattened(opening, 0.01);
        std::vector<Piece> inside;
        for (std::size_t i = 1; i < bridged.whole.size(); ++i)
            if (contains(ring, bridged.whole[i].outline.start)) inside.push_back(bridged.whole[i]);
        if (!inside.empty()) out.push_back(areaOfStay(opening, inside));
    }
    return out;
}

Problem noGroup() {
    return {.what = "These pieces have no bridges.", .where = {}, .mend = "Bridge their drop-outs first."};
}
Problem noBridge(std::size_t index) {
    return {.what = fmt::format("There is no bridge {}.", index), .where = {}, .mend = {}};
}

const Group* bridgedGroup(const Artwork& art, GroupId id) {
    for (const auto& group : art.groups)
        if (group.id == id && group.bridged) return &group;
    return nullptr;
}

/// Puts pieces in place of the members of a group; the first member's place goes on, its layer and name too for pieces
/// that `was` does not know.
Result<Artwork> withMembers(const Artwork& art, GroupId id, const std::vector<Piece>& pieces,
                            const std::vector<Bridged::Was>& was, std::shared_ptr<const Bridged> bridged) {
    std::optional<Item> model;
    for (const auto& item : art.items)
        if (item.group == id) {
            if (!model) model = item;
            if (item.locked)
                return Problem{
                    .what = fmt::format("“{}” is locked.", item.name), .where = {}, .mend = "Unlock it first."};
            if (item.place != model->place)
                return Problem{.what = "The parts of these pieces have been moved apart.",
                               .where = {},
                               .mend = "Undo that, or go on without moving the bridges."};
        }
    if (!model) return noGroup();
    GroupId parent;
    for (const auto& group : art.groups)
        if (group.id == id) parent = group.parent;
    Artwork out = art;
    out.items.clear();
    bool put = false;
    for (const auto& item : art.items) {
        if (item.group != id) {
            out.items.push_back(item);
            continue;
        }
        if (put) continue;
        put = true;
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            Item made = *model;
            if (i) made.id = {++out.lastId};
            made.leaf = artwork::leafOf(pieces[i]);
            if (i < was.size()) {
                made.name = was[i].name;
                const bool isThere = std::any_of(art.layers.begin(), art.layers.end(),
                                                 [&](const auto& layer) { return layer.id == was[i].layer; });
                if (isThere) made.layer = was[i].layer; // it may have been taken away since
            }
            if (!bridged) made.group = parent;
            out.items.push_back(std::move(made));
        }
    }
    if (!bridged) // it was made for them
        std::erase_if(out.groups, [&](const Group& g) { return g.id == id; });
    else
        for (auto& group : out.groups)
            if (group.id == id) group.bridged = bridged;
    return out;
}

Result<Artwork> withBridgesChanged(const Artwork& art, GroupId id, Bridged bridged) {
    if (bridged.bridges.empty()) return withMembers(art, id, bridged.whole, bridged.was, nullptr);
    auto pieces = bridgedPieces(bridged);
    if (!pieces) return pieces.problem();
    return withMembers(art, id, *pieces, {}, std::make_shared<const Bridged>(std::move(bridged)));
}

/// Collects the groups to be made, then makes them all in one artwork.
class Bridger {
public:
    Bridger(const Artwork& art, const BridgeSettings& settings) : art_(art), settings_(settings) {}

    std::optional<Problem> fallOut(const std::vector<std::size_t>& items, Progress& progress) {
        Rings edges;
        for (const auto i : items) edges.push_back(flattened(artwork::placed(art_.items[i]).outline, 0.05));
        for (std::size_t k = 0; k < items.size(); ++k) {
            if (progress.cancelled()) return Problem::cancelled();
            progress.at(static_cast<double>(k) / static_cast<double>(items.size()));
            const Piece piece = artwork::placed(art_.items[items[k]]);
            if (piece.openings.empty()) continue;
            Rings beyond;
            const Box near = boundsOf(piece).grown(2 * settings_.width);
            for (std::size_t o = 0; o < items.size(); ++o)
                if (o != k && near.meets(artwork::boundsOf(art_.items[items[o]]))) beyond.push_back(edges[o]);
            const CutArea area = areaOfFallOut(piece, std::move(beyond));
            auto bridges = bridgesFor(area, settings_);
            if (!bridges) return bridges.problem().within(nameOf({items[k]}));
            islands_ += area.islands();
            put({items[k]}, {piece}, std::move(*bridges));
        }
        return std::nullopt;
    }
    std::optional<Problem> stay(const std::vector<std::size_t>& items, Progress& progress) {
        std::map<std::size_t, std::vector<Held>> byPiece;
        for (auto& held : heldIn(art_, items)) byPiece[held.item].push_back(std::move(held));
        for (auto& [item, openings] : byPiece) {
            if (progress.cancelled()) return Problem::cancelled();
            std::vector<std::size_t> members{item};
            std::vector<Piece> whole{artwork::placed(art_.items[item])};
            std::vector<Bridge> bridges;
            for (const auto& held : openings) {
                std::vector<Piece> islands;
                for (const auto i : held.islands) {
                    members.push_back(i);
                    islands.push_back(artwork::placed(art_.items[i]));
                    whole.push_back(islands.back());
                }
                const CutArea area = areaOfStay(whole[0].openings[static_cast<std::size_t>(held.opening)], islands);
                auto some = bridgesFor(area, settings_);
                if (!some) return some.problem().within(nameOf(members));
                islands_ += area.islands();
                bridges.insert(bridges.end(), some->begin(), some->end());
            }
            put(std::move(members), std::move(whole), std::move(bridges));
        }
        return std::nullopt;
    }

    Result<WithBridges> finished() {
        if (sets_.empty())
            return Problem{.what = "Nothing here would drop out.",
                           .where = {},
                           .mend = settings_.areas == Bridged::Areas::fallOut
                                       ? "Choose pieces with openings, or say that the areas stay."
                                       : "Choose a piece with others in its openings, or say that the areas fall out."};
        WithBridges out{art_, islands_, 0, {}};
        for (auto& set : sets_) {
            const GroupId id{++out.artwork.lastId};
            const std::set<std::size_t> members(set.members.begin(), set.members.end());
            const auto& first = art_.items[set.members[0]];
            out.artwork.groups.push_back({id, first.group, first.name, {}, {}});
            std::set<ItemId> ids;
            for (const auto m : members) ids.insert(art_.items[m].id);
            for (auto& item : out.artwork.items)
                if (ids.contains(item.id)) item.group = id, item.place = item.original = {};
            out.bridges += set.bridged.bridges.size();
            auto changed = withBridgesChanged(out.artwork, id, std::move(set.bridged));
            if (!changed) return changed.problem().within(fmt::format("“{}”", first.name));
            out.artwork = std::move(*changed);
        }
        out.did =
            fmt::format("{} {} held by {} bridges", out.islands, out.islands == 1 ? "island" : "islands", out.bridges);
        return out;
    }

private:
    [[nodiscard]] std::string nameOf(const std::vector<std::size_t>& members) const {
        return fmt::format("“{}”", art_.items[members[0]].name);
    }
    void put(std::vector<std::size_t> members, std::vector<Piece> whole, std::vector<Bridge> bridges) {
        std::vector<Bridged::Was> was;
        for (const auto m : members) was.push_back({art_.items[m].layer, art_.items[m].name});
        sets_.push_back({std::move(members), {std::move(whole), std::move(was), std::move(bridges), settings_.areas}});
    }
    struct Set {
        std::vector<std::size_t> members;
        Bridged bridged;
    };
    const Artwork& art_;
    const BridgeSettings& settings_;
    std::vector<Set> sets_;
    std::size_t islands_ = 0;
};

} // namespace

std::vector<DropOut> dropOuts(const Artwork& artwork, std::span<const ItemId> items, Bridged::Areas areas) {
    std::vector<DropOut> out;
    const auto some = among(artwork, items);
    if (areas == Bridged::Areas::stay) {
        for (const auto& held : heldIn(artwork, some))
            for (const auto i : held.islands) {
                const Path path = artwork::placed(artwork.items[i]).outline;
                out.push_back({artwork.items[i].id, -1, path.start, std::abs(areaOf(path))});
            }
        return out;
    }
    for (const auto i : some) {
        const Piece piece = artwork::placed(artwork.items[i]);
        for (std::size_t k = 0; k < piece.openings.size(); ++k)
            out.push_back({artwork.items[i].id, static_cast<int>(k), boundsOf(piece.openings[k]).centre(),
                           std::abs(areaOf(piece.openings[k]))});
    }
    return out;
}

Result<std::vector<Piece>> bridgedPieces(const Bridged& bridged) {
    std::vector<Piece> bands;
    for (const auto& bridge : bridged.bridges) bands.push_back(band(bridge));
    if (bridged.areas == Bridged::Areas::fallOut) return combinedPieces(bridged.whole, bands, Combine::takeAway);
    // Only what crosses the openings is added: the bands reach a little into what they hold anyway.
    std::vector<Piece> openings;
    for (const auto& opening : bridged.whole.front().openings) openings.push_back({wound(opening, true), {}});
    const auto across = combinedPieces(bands, openings, Combine::overlap);
    if (!across) return across.problem();
    return combinedPieces(bridged.whole, *across, Combine::join);
}

Result<WithBridges> withBridges(const Artwork& artwork, std::span<const ItemId> items, const BridgeSettings& settings,
                                Progress& progress) {
    if (!(settings.width > 0) || settings.number < 1 || settings.number > 12)
        return Problem{
            .what = "A bridge needs a width above 0, and each island 1 to 12 of them.", .where = {}, .mend = {}};
    Bridger bridger(artwork, settings);
    const auto some = among(artwork, items);
    const auto problem =
        settings.areas == Bridged::Areas::fallOut ? bridger.fallOut(some, progress) : bridger.stay(some, progress);
    if (problem) return *problem;
    return bridger.finished();
}

std::vector<BridgePlace> bridgesOf(const Artwork& artwork) {
    std::vector<BridgePlace> out;
    for (const auto& group : artwork.groups) {
        if (!group.bridged) continue;
        const auto member = std::find_if(artwork.items.begin(), artwork.items.end(),
                                         [&](const Item& item) { return item.group == group.id; });
        if (member == artwork.items.end()) continue;
        const auto& place = member->place;
        const double scale = std::sqrt(std::abs(place.determinant()));
        for (std::size_t i = 0; i < group.bridged->bridges.size(); ++i) {
            const auto& b = group.bridged->bridges[i];
            out.push_back({group.id, i, {place(b.from), place(b.to), b.width * scale}});
        }
    }
    return out;
}

Result<Artwork> withBridgeMoved(const Artwork& artwork, GroupId id, std::size_t index, Vec2 to) {
    const auto* group = bridgedGroup(artwork, id);
    if (!group) return noGroup();
    if (index >= group->bridged->bridges.size()) return noBridge(index);
    const auto member =
        std::find_if(artwork.items.begin(), artwork.items.end(), [&](const Item& item) { return item.group == id; });
    const auto back = member == artwork.items.end() ? std::nullopt : member->place.inverse();
    if (!back) return noGroup();
    Bridged bridged = *group->bridged;
    auto& bridge = bridged.bridges[index];
    std::optional<std::pair<std::size_t, Crossing>> best;
    double nearest = 1e9;
    for (const auto& area : cutAreas(bridged))
        if (const auto c = area.through((*back)(to), bridge.width)) {
            const double off = distance((c->second.from + c->second.to) / 2, (*back)(to));
            if (off < nearest) nearest = off, best = c;
        }
    if (!best)
        return Problem{
            .what = "There is no room for the bridge there.", .where = {}, .mend = "Let go of it elsewhere."};
    bridge.from = best->second.from, bridge.to = best->second.to;
    return withBridgesChanged(artwork, id, std::move(bridged));
}

Result<Artwork> withoutBridge(const Artwork& artwork, GroupId id, std::size_t index) {
    const auto* group = bridgedGroup(artwork, id);
    if (!group) return noGroup();
    if (index >= group->bridged->bridges.size()) return noBridge(index);
    Bridged bridged = *group->bridged;
    bridged.bridges.erase(bridged.bridges.begin() + static_cast<std::ptrdiff_t>(index));
    return withBridgesChanged(artwork, id, std::move(bridged));
}

Result<Artwork> withoutBridges(const Artwork& artwork, GroupId id) {
    const auto* group = bridgedGroup(artwork, id);
    if (!group) return noGroup();
    return withMembers(artwork, id, group->bridged->whole, group->bridged->was, nullptr);
}

} // namespace ferro::mend

#include "mend/reshape.h"

#include "geometry/flatten.h"
#include "geometry/nesting.h"

#include <set>

namespace ferro::mend {

namespace {

using artwork::Item;

struct Chosen {
    const Item* item;
    Piece piece; ///< on the sheet
};

enum class Wanted { areas, any };

/// The chosen pieces in the order in which they were chosen.
Result<std::vector<Chosen>> chosen(const Artwork& art, const Ids& items, Wanted wanted) {
    std::vector<Chosen> out;
    for (const auto id : items) {
        const auto* item = artwork::find(art, id);
        if (!item)
            return Problem{.what = fmt::format("There is no item {}.", id.value),
                           .where = {},
                           .mend = "List the items to see their numbers."};
        const auto* shape = artwork::shapeOf(*item);
        if (!shape || (wanted == Wanted::areas && !shape->piece.outline.closed)) continue;
        if (artwork::isLocked(art, *item))
            return Problem{
                .what = fmt::format("“{}” is locked.", item->name), .where = {}, .mend = "Unlock it, or leave it out."};
        out.push_back({item, artwork::placed(*item)});
    }
    if (out.empty())
        return Problem{.what = wanted == Wanted::areas ? "No closed outline is chosen." : "Nothing is chosen.",
                       .where = {},
                       .mend = "Choose one or more pieces first."};
    return out;
}

/// The first of the chosen becomes the first of `pieces`, the rest of the pieces follow it, the rest of the chosen go.
Result<Artwork> replaced(const Artwork& art, const std::vector<Chosen>& what, std::vector<Piece> pieces) {
    if (pieces.empty())
        return Problem{.what = "Nothing would be left.", .where = {}, .mend = "Choose pieces that overlap, or others."};
    std::set<artwork::ItemId> gone;
    for (const auto& c : what) gone.insert(c.item->id);
    Artwork out = art;
    out.items.clear();
    for (const auto& item : art.items) {
        if (item.id == what[0].item->id) {
            for (std::size_t i = 0; i < pieces.size(); ++i) {
                Item made = item;
                if (i) made.id = {++out.lastId};
                made.place = made.original = {};
                made.leaf = artwork::leafOf(std::move(pieces[i]));
                out.items.push_back(std::move(made));
            }
        } else if (!gone.contains(item.id)) {
            out.items.push_back(item);
        }
    }
    artwork::dropEmptyGroups(out);
    return out;
}

Result<std::vector<Piece>> splitApart(const std::vector<Chosen>& what) {
    // Part by part: what is common to a part and the next area, what the part has alone, what the area has alone.
    std::vector<Piece> parts{what[0].piece};
    for (std::size_t i = 1; i < what.size(); ++i) {
        const std::vector<Piece> next{what[i].piece};
        auto rest = next;
        std::vector<Piece> cut;
        for (const auto& part : parts) {
            for (const auto how : {Combine::takeAway, Combine::overlap}) {
                auto some = combinedPieces({part}, next, how);
                if (!some) return some;
                cut.insert(cut.end(), some->begin(), some->end());
            }
            auto less = combinedPieces(rest, {part}, Combine::takeAway);
            if (!less) return less;
            rest = std::move(*less);
        }
        cut.insert(cut.end(), rest.begin(), rest.end());
        parts = std::move(cut);
    }
    return parts;
}

} // namespace

Result<Artwork> withCombined(const Artwork& artwork, const Ids& items, Together how) {
    const auto what = chosen(artwork, items, Wanted::areas);
    if (!what) return what.problem();
    if (what->size() < 2)
        return Problem{.what = "This needs at least two areas.", .where = {}, .mend = "Choose more closed outlines."};
    if (how == Together::split) {
        auto parts = splitApart(*what);
        if (!parts) return parts.problem();
        return replaced(artwork, *what, std::move(*parts));
    }
    std::vector<Piece> made{(*what)[0].piece}, others;
    for (std::size_t i = 1; i < what->size(); ++i) others.push_back((*what)[i].piece);
    if (how == Together::overlap) {
        for (const auto& other : others) {
            auto next = combinedPieces(made, {other}, Combine::overlap);
            if (!next) return next.problem();
            made = std::move(*next);
        }
    } else {
        auto next = combinedPieces(made, others, how == Together::join ? Combine::join : Combine::takeAway);
        if (!next) return next.problem();
        made = std::move(*next);
    }
    return replaced(artwork, *what, std::move(made));
}

Result<artwork::Added> withOffset(const Artwork& artwork, const Ids& items, double by, Corner corner) {
    if (by == 0 || !std::isfinite(by))
        return Problem{.what = "An offset must be above or below 0.", .where = {}, .mend = "Give a length in mm."};
    const auto what = chosen(artwork, items, Wanted::areas);
    if (!what) return what.problem();
    std::map<artwork::LayerId, Rings> byLayer; // in the layers' order
    for (const auto& c : *what)
        for (auto& ring : flattened(c.piece, 0.002)) byLayer[c.item->layer].push_back(std::move(ring));
    std::vector<artwork::NamedPieces> sets;
    bool any = false;
    for (const auto& [layer, rings] : byLayer) {
        auto paths = offsetPaths(rings, by, {.tolerance = 0.01, .corner = corner});
        if (!paths) return paths.problem();
        const auto* on = artwork::find(artwork, layer);
        sets.push_back({nested(std::move(*paths)), on ? on->name : "drawing", "offset", false, {}});
        any |= !sets.back().pieces.empty();
    }
    if (!any) return Problem{.what = "Nothing is left so far inside.", .where = {}, .mend = "Make the offset smaller."};
    return artwork::withAllPieces(artwork, std::move(sets));
}

Result<Artwork> withLinesWidened(const Artwork& artwork, const Ids& items, double width, Cap cap) {
    if (!(width > 0)) return Problem{.what = "The width must be above 0.", .where = {}, .mend = "Give a length in mm."};
    const auto what = chosen(artwork, items, Wanted::any);
    if (!what) return what.problem();
    std::vector<Path> paths;
    for (const bool closed : {false, true}) {
        Rings lines;
        for (const auto& c : *what) {
            if (c.piece.outline.closed == closed) lines.push_back(flattened(c.piece.outline, 0.002));
            for (const auto& opening : c.piece.openings)
                if (closed) lines.push_back(flattened(opening, 0.002));
        }
        if (lines.empty()) continue;
        auto wide = widenedPaths(lines, closed, width, cap, {.tolerance = 0.01});
        if (!wide) return wide.problem();
        paths.insert(paths.end(), wide->begin(), wide->end());
    }
    auto areas = combinedPieces(nested(std::move(paths)), {}, Combine::join);
    if (!areas) return areas.problem();
    return replaced(artwork, *what, std::move(*areas));
}

Result<Artwork> withNegative(const Artwork& artwork, const Ids& items, double margin, double cornerRadius) {
    if (!(margin >= 0)) return Problem{.what = "The border cannot be below 0.", .where = {}, .mend = {}};
    const auto what = chosen(artwork, items, Wanted::areas);
    if (!what) return what.problem();
    Box box;
    std::vector<Piece> areas;
    for (const auto& c : *what) box.take(boundsOf(c.piece)), areas.push_back(c.piece);
    box = box.grown(margin);
    auto rest = combinedPieces({{rectangle(box.low, box.high, cornerRadius), {}}}, areas, Combine::takeAway);
    if (!rest) return rest.problem();
    auto out = replaced(artwork, *what, std::move(*rest));
    if (!out) return out;
    // What was a stencil's area or a text is a plate now: neither bridges nor letters can be had back from it.
    std::set<artwork::GroupId> groups;
    for (const auto& c : *what) groups.insert(c.item->group);
    for (auto& group : out->groups)
        if (groups.contains(group.id)) group.bridged.reset(), group.lettering.reset();
    return out;
}

} // namespace ferro::mend

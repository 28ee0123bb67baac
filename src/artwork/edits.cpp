#include "artwork/edits.h"

#include <set>

namespace ferro::artwork {

namespace {

template<class ThingId> ThingId freshId(Artwork& artwork) { return {++artwork.lastId}; }

LayerId layerFor(Artwork& artwork, std::string_view name) {
    if (const auto* layer = layerNamed(artwork, name)) return layer->id;
    artwork.layers.push_back({.id = freshId<LayerId>(artwork), .name = std::string(name), .colour = {}});
    return artwork.layers.back().id;
}

enum class Need { any, unlocked };

/// The frame of every edit: checks the ids, copies, calls `change` for each named item.
template<class Change> Result<Artwork> edited(const Artwork& artwork, const Ids& items, Need need, Change&& change) {
    if (items.empty())
        return Problem{.what = "Nothing is chosen.", .where = {}, .mend = "Choose one or more pieces first."};
    const std::set<ItemId> wanted(items.begin(), items.end());
    Artwork out = artwork;
    std::size_t seen = 0;
    for (auto& item : out.items) {
        if (!wanted.contains(item.id)) continue;
        ++seen;
        if (need == Need::unlocked && isLocked(out, item))
            return Problem{
                .what = fmt::format("“{}” is locked.", item.name), .where = {}, .mend = "Unlock it, or leave it out."};
        change(item);
    }
    if (seen != wanted.size()) {
        for (const ItemId id : wanted)
            if (!find(artwork, id))
                return Problem{.what = fmt::format("There is no item {}.", id.value),
                               .where = {},
                               .mend = "List the items to see their numbers."};
    }
    return out;
}

} // namespace

void dropEmptyGroups(Artwork& artwork) {
    for (bool dropped = true; dropped;) {
        std::set<GroupId> used;
        for (const auto& item : artwork.items) used.insert(item.group);
        for (const auto& group : artwork.groups) used.insert(group.parent);
        dropped = std::erase_if(artwork.groups, [&](const Group& group) { return !used.contains(group.id); }) > 0;
    }
}

Added withPieces(const Artwork& artwork, std::vector<Piece> pieces, std::string_view layer, std::string_view name) {
    std::vector<NamedPieces> one(1);
    one[0] = {std::move(pieces), std::string(layer), std::string(name), false, {}};
    return withAllPieces(artwork, std::move(one));
}

Added withAllPieces(const Artwork& artwork, std::vector<NamedPieces> sets) {
    Added added{artwork, {}};
    std::map<std::string, LayerId> layers; // asked once each
    for (auto& [pieces, layer, name, grouped, widths] : sets) {
        auto [on, isNew] = layers.try_emplace(layer);
        if (isNew) on->second = layerFor(added.artwork, layer);
        const bool many = pieces.size() > 1;
        GroupId group;
        if (grouped && many) {
            group = freshId<GroupId>(added.artwork);
            added.artwork.groups.push_back({group, {}, name, {}, {}});
        }
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            const ItemId id = freshId<ItemId>(added.artwork);
            added.artwork.items.push_back(
                {.id = id,
                 .layer = on->second,
                 .group = group,
                 .sheet = artwork.sheet,
                 .name = many ? fmt::format("{} {}", name, i + 1) : name,
                 .place = {},
                 .original = {},
                 .leaf =
                     leafOf(std::move(pieces[i]), i < widths.size() ? std::move(widths[i]) : std::vector<double>{})});
            added.ids.push_back(id);
        }
    }
    return added;
}

Added withPicture(const Artwork& artwork, PictureLeaf leaf, Vec2 at) {
    Added added{artwork, {}};
    const LayerId on = layerFor(added.artwork, "pictures");
    const ItemId id = freshId<ItemId>(added.artwork);
    const Transform place = Transform::moved(at);
    added.artwork.items.push_back({.id = id,
                                   .layer = on,
                                   .group = {},
                                   .sheet = artwork.sheet,
                                   .name = leaf.file,
                                   .place = place,
                                   .original = place,
                                   .leaf = std::make_shared<const PictureLeaf>(std::move(leaf))});
    added.ids.push_back(id);
    return added;
}

const picture::Picture& originalOf(const PictureLeaf& leaf) {
    return leaf.original.pixels ? leaf.original : leaf.picture;
}
double ownPxPerMm(const PictureLeaf& leaf) { return leaf.picture.width / leaf.size.x; }

Result<Artwork> withCleanUp(const Artwork& artwork, ItemId item, const std::vector<picture::CleanStep>& steps,
                            Progress& progress) {
    const auto* found = find(artwork, item);
    const auto* leaf = found ? pictureOf(*found) : nullptr;
    if (!leaf)
        return Problem{
            .what = fmt::format("Item {} is no picture.", item.value), .where = {}, .mend = "Choose a picture."};
    const double pxPerMm = ownPxPerMm(*leaf);
    const auto& original = originalOf(*leaf);
    auto cleaned = picture::cleaned(original, steps, pxPerMm, progress);
    if (!cleaned) return cleaned.problem().within(leaf->file);
    PictureLeaf next = *leaf;
    next.original = original;
    next.clean = steps;
    next.picture = std::move(cleaned->picture);
    next.size = Vec2{static_cast<double>(next.picture.width), static_cast<double>(next.picture.height)} / pxPerMm;
    next.low = cleaned->low;
    const Transform shift = Transform::moved(next.low - leaf->low);
    Artwork out = artwork;
    for (auto& i : out.items)
        if (i.id == item) {
            i.place = i.place * shift;
            i.original = i.original * shift;
            i.leaf = std::make_shared<const PictureLeaf>(std::move(next));
        }
    return out;
}

Result<Artwork> withRemoved(const Artwork& artwork, const Ids& items) {
    // A picture that was accepted as underlay may be removed although it is locked: it is never cut.
    auto checked = edited(artwork, items, Need::any, [](Item&) {});
    if (!checked) return checked.problem();
    const std::set<ItemId> wanted(items.begin(), items.end());
    for (const auto& item : artwork.items)
        if (wanted.contains(item.id) && isLocked(artwork, item) && !item.underlay)
            return Problem{
                .what = fmt::format("“{}” is locked.", item.name), .where = {}, .mend = "Unlock it, or leave it out."};
    std::erase_if(checked->items, [&](const Item& item) { return wanted.contains(item.id); });
    dropEmptyGroups(*checked);
    return checked;
}

Result<Artwork> withTransformed(const Artwork& artwork, const Ids& items, const Transform& by) {
    const double det = by.determinant();
    if (!std::isfinite(det) || std::abs(det) < 1e-12 || !isFinite({by.tx, by.ty}))
        return Problem{
            .what = "This would flatten the pieces to nothing.", .where = {}, .mend = "Give a size above 0."};
    return edited(artwork, items, Need::unlocked, [&](Item& item) { item.place = by * item.place; });
}

Result<Artwork> fittedInto(const Artwork& artwork, const Ids& items, const Box& box) {
    const Box from = boundsOf(artwork, items);
    if (from.empty() || box.empty())
        return Problem{.what = "There is nothing to fit.", .where = {}, .mend = "Choose pieces or a picture."};
    double scale = 1;
    if (from.width() > 0 || from.height() > 0)
        scale = std::min(from.width() > 0 ? box.width() / from.width() : 1e300,
                         from.height() > 0 ? box.height() / from.height() : 1e300);
    return withTransformed(artwork, items,
                           Transform::moved(box.centre() - from.centre()) *
                               Transform::scaled(scale, scale, from.centre()));
}

Result<Artwork> withSize(const Artwork& artwork, const Ids& items, double width, double height, Vec2 stays) {
    const Box box = boundsOf(artwork, items);
    double sx = width > 0 && box.width() > 0 ? width / box.width() : 0;
    double sy = height > 0 && box.height() > 0 ? height / box.height() : 0;
    if (sx <= 0) sx = sy;
    if (sy <= 0) sy = sx;
    if (!(sx > 0))
        return Problem{.what = "A size must be above 0 mm.", .where = {}, .mend = "Type a width or a height."};
    return withTransformed(artwork, items, Transform::scaled(sx, sy, placeIn(box, stays)));
}

namespace {
/// From its original place to its present one; a mirrored one is compared with its mirror image.
double turnedBy(const Item& item) {
    const bool mirrored = item.place.determinant() * item.original.determinant() < 0;
    const Transform base = mirrored ? item.original * Transform::scaled(-1, 1) : item.original;
    return std::remainder(std::atan2(item.place.b, item.place.a) - std::atan2(base.b, base.a), 2 * pi);
}
} // namespace

std::optional<double> turnOf(const Artwork& artwork, const Ids& items) {
    std::optional<double> turn;
    for (const auto id : items) {
        const auto* item = find(artwork, id);
        if (!item) continue;
        const double here = turnedBy(*item);
        if (turn && std::abs(std::remainder(here - *turn, 2 * pi)) > 1e-6) return {};
        if (!turn) turn = here;
    }
    return turn;
}

Result<Artwork> withOriginalSize(const Artwork& artwork, const Ids& items) {
    return edited(artwork, items, Need::unlocked, [](Item& item) {
        const Vec2 centre = boundsOf(item).centre();
        // Turn and mirror are read off the present place, size off the original one.
        const auto &now = item.place, &then = item.original;
        const bool mirrored = now.determinant() * then.determinant() < 0;
        const Transform base = mirrored ? then * Transform::scaled(-1, 1) : then;
        item.place = Transform::rotated(turnedBy(item)) * base;
        const Vec2 back = centre - boundsOf(item).centre();
        item.place = Transform::moved(back) * item.place;
    });
}

Result<Added> withDuplicates(const Artwork& artwork, const Ids& items, Vec2 by) {
    auto checked = edited(artwork, items, Need::any, [](Item&) {});
    if (!checked) return checked.problem();
    Added added{std::move(*checked), {}};
    const std::set<ItemId> wanted(items.begin(), items.end());
    std::map<GroupId, GroupId> copies;
    for (const auto& item : artwork.items) {
        if (!wanted.contains(item.id)) continue;
        Item copy = item;
        copy.id = freshId<ItemId>(added.artwork);
        copy.place = Transform::moved(by) * copy.place;
        copy.locked = false;
        copy.origin.reset();
        if (copy.of) { // on its own, with what was known of it
            const auto* original = find(artwork, copy.of);
            copy.part = original ? original->part : nullptr;
            copy.of = {};
        }
        if (copy.group) {
            auto& twin = copies[copy.group];
            if (!twin) {
                twin = freshId<GroupId>(added.artwork);
                const auto source = std::find_if(artwork.groups.begin(), artwork.groups.end(),
                                                 [&](const Group& g) { return g.id == item.group; });
                if (source == artwork.groups.end())
                    added.artwork.groups.push_back({twin, {}, "", {}, {}});
                else
                    added.artwork.groups.push_back({twin, {}, source->name, source->bridged, source->lettering});
            }
            copy.group = twin;
        }
        added.ids.push_back(copy.id);
        added.artwork.items.push_back(std::move(copy));
    }
    return added;
}

Result<Artwork> withGrouped(const Artwork& artwork, const Ids& items, std::string_view name) {
    auto out = edited(artwork, items, Need::any, [](Item&) {});
    if (!out) return out;
    if (items.size() < 2)
        return Problem{.what = "A group needs at least two pieces.", .where = {}, .mend = "Choose more pieces first."};
    const GroupId id = freshId<GroupId>(*out);
    std::map<GroupId, GroupId> parent;
    for (const auto& group : out->groups) parent[group.id] = group.parent;
    const std::set<ItemId> wanted(items.begin(), items.end());
    std::set<GroupId> tops;
    for (auto& item : out->items) {
        if (!wanted.contains(item.id)) continue;
        GroupId top = item.group;
        while (top && parent[top]) top = parent[top];
        if (top)
            tops.insert(top);
        else
            item.group = id;
    }
    for (auto& group : out->groups)
        if (tops.contains(group.id)) group.parent = id;
    out->groups.push_back({id, {}, std::string(name), {}, {}});
    return out;
}

Result<Artwork> withUngrouped(const Artwork& artwork, const Ids& items) {
    auto out = edited(artwork, items, Need::any, [](Item&) {});
    if (!out) return out;
    std::map<GroupId, GroupId> parent;
    for (const auto& group : out->groups) parent[group.id] = group.parent;
    std::set<GroupId> tops;
    const std::set<ItemId> wanted(items.begin(), items.end());
    for (const auto& item : out->items)
        if (wanted.contains(item.id) && item.group) {
            GroupId top = item.group;
            while (parent[top]) top = parent[top];
            tops.insert(top);
        }
    if (tops.empty()) return Problem{.what = "None of these pieces is in a group.", .where = {}, .mend = {}};
    for (auto& item : out->items)
        if (tops.contains(item.group)) item.group = {};
    for (auto& group : out->groups)
        if (tops.contains(group.parent)) group.parent = {};
    std::erase_if(out->groups, [&](const Group& group) { return tops.contains(group.id); });
    return out;
}

Result<Artwork> withLayer(const Artwork& artwork, const Ids& items, std::string_view layer) {
    if (layer.empty()) return Problem{.what = "A layer needs a name.", .where = {}, .mend = {}};
    auto out = edited(artwork, items, Need::any, [](Item&) {});
    if (!out) return out;
    for (const auto id : items) // a picture that lies below is locked only so that it is not moved by accident
        if (const auto* item = find(artwork, id); isLocked(artwork, *item) && !item->underlay)
            return Problem{
                .what = fmt::format("“{}” is locked.", item->name), .where = {}, .mend = "Unlock it, or leave it out."};
    const LayerId on = layerFor(*out, layer);
    const std::set<ItemId> wanted(items.begin(), items.end());
    for (auto& item : out->items)
        if (wanted.contains(item.id)) item.layer = on;
    return out;
}

Result<Artwork> withFlag(const Artwork& artwork, const Ids& items, Flag flag, bool on) {
    return edited(artwork, items, Need::any, [&](Item& item) {
        (flag == Flag::locked ? item.locked : flag == Flag::hidden ? item.hidden : item.underlay) = on;
    });
}

Result<Artwork> withFade(const Artwork& artwork, const Ids& items, double fade) {
    if (!(fade >= 0 && fade <= 1))
        return Problem{.what = "A picture is faded from 0 to 1.", .where = {}, .mend = "Give a part of 1."};
    for (const auto id : items)
        if (const auto* item = find(artwork, id); item && !pictureOf(*item))
            return Problem{.what = fmt::format("“{}” is no picture.", item->name), .where = {}, .mend = {}};
    return edited(artwork, items, Need::any, [&](Item& item) { item.fade = fade; });
}

Result<Artwork> withLayerFlag(const Artwork& artwork, std::string_view name, Flag flag, bool on) {
    if (!layerNamed(artwork, name))
        return Problem{.what = fmt::format("There is no layer “{}”.", name), .where = {}, .mend = {}};
    Artwork out = artwork;
    for (auto& layer : out.layers)
        if (layer.name == name)
            (flag == Flag::locked ? layer.locked : flag == Flag::hidden ? layer.hidden : layer.notes) = on;
    return out;
}

Result<Artwork> withName(const Artwork& artwork, const Ids& items, std::string_view name) {
    return edited(artwork, items, Need::any, [&](Item& item) { item.name = name; });
}

} // namespace ferro::artwork

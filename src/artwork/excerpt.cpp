#include "artwork/excerpt.h"

#include "artwork/copies.h"

#include <set>

namespace ferro::artwork {

namespace {
/// The groups of the items with all that these lie in.
std::set<GroupId> groupsAround(const Artwork& artwork, const std::vector<Item>& items) {
    std::map<GroupId, GroupId> parents;
    for (const auto& group : artwork.groups) parents[group.id] = group.parent;
    std::set<GroupId> all;
    for (const auto& item : items)
        for (GroupId id = item.group; id && all.insert(id).second;) id = parents[id];
    return all;
}
} // namespace

Artwork excerptOf(const Artwork& artwork, const Ids& items) {
    Artwork out;
    out.lastId = artwork.lastId;
    out.sheet = artwork.sheet;
    const std::set<ItemId> wanted(items.begin(), items.end());
    std::set<LayerId> layers;
    for (const auto& item : artwork.items) {
        if (!wanted.contains(item.id)) continue;
        out.items.push_back(item);
        layers.insert(item.layer);
        if (auto& copy = out.items.back(); copy.of && !wanted.contains(copy.of)) {
            const auto* original = find(artwork, copy.of);
            copy.part = original ? original->part : nullptr;
            copy.of = {};
        }
    }
    const auto groups = groupsAround(artwork, out.items);
    for (const auto& group : artwork.groups) {
        if (!groups.contains(group.id)) continue;
        out.groups.push_back(group);
        if (group.bridged)
            for (const auto& was : group.bridged->was) layers.insert(was.layer);
    }
    for (const auto& layer : artwork.layers)
        if (layers.contains(layer.id)) out.layers.push_back(layer);
    return out;
}

Added withExcerpt(const Artwork& artwork, const Artwork& excerpt, Vec2 by) {
    Added added{artwork, {}};
    auto& out = added.artwork;
    const auto fresh = [&] { return ++out.lastId; };
    std::map<LayerId, LayerId> layers;
    for (auto layer : excerpt.layers) {
        auto& mine = layers[layer.id];
        if (const auto* here = layerNamed(artwork, layer.name)) {
            mine = here->id;
            continue;
        }
        layer.id = mine = {fresh()};
        layer.locked = layer.hidden = false;
        out.layers.push_back(std::move(layer));
    }
    std::map<GroupId, GroupId> groups;
    for (const auto& group : excerpt.groups) groups[group.id] = {fresh()};
    for (auto group : excerpt.groups) {
        group.id = groups[group.id];
        if (group.parent) group.parent = groups[group.parent];
        if (group.bridged) {
            auto bridged = *group.bridged;
            for (auto& was : bridged.was) was.layer = layers[was.layer];
            group.bridged = std::make_shared<const Bridged>(std::move(bridged));
        }
        out.groups.push_back(std::move(group));
    }
    std::map<ItemId, ItemId> items;
    for (const auto& item : excerpt.items) items[item.id] = {fresh()};
    for (auto item : excerpt.items) {
        item.id = items[item.id];
        item.layer = layers[item.layer];
        if (item.group) item.group = groups[item.group];
        if (item.of) item.of = items[item.of];
        if (item.origin) { // it goes on with its picture, or is a piece like any other
            const auto with = items.find(item.origin->picture);
            if (with == items.end())
                item.origin.reset();
            else
                item.origin->picture = with->second;
        }
        const bool untouched = item.origin && item.origin->print == printOf(item);
        item.sheet = artwork.sheet;
        item.place = Transform::moved(by) * item.place;
        item.locked = item.underlay; // a picture that lies below stays out of the way
        item.hidden = false;
        if (untouched) item.origin->print = printOf(item);
        added.ids.push_back(item.id);
        out.items.push_back(std::move(item));
    }
    return added;
}

} // namespace ferro::artwork

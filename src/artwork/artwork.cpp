#include "artwork/artwork.h"

#include "artwork/groups.h"
#include "base/hash.h"

#include <set>

namespace ferro::artwork {

bool operator==(const Item& a, const Item& b) {
    const bool same = a.id == b.id && a.layer == b.layer && a.group == b.group && a.name == b.name &&
                      a.place == b.place && a.original == b.original && a.locked == b.locked && a.hidden == b.hidden &&
                      a.underlay == b.underlay && a.sheet == b.sheet && a.of == b.of && a.fade == b.fade &&
                      a.origin == b.origin && (a.part == b.part || (a.part && b.part && *a.part == *b.part)) &&
                      (a.recipe == b.recipe || (a.recipe && b.recipe && *a.recipe == *b.recipe)) &&
                      a.leaf.index() == b.leaf.index();
    if (!same || a.leaf == b.leaf) return same;
    if (const auto* shape = shapeOf(a)) return shape->piece == shapeOf(b)->piece && shape->widths == shapeOf(b)->widths;
    const auto *p = pictureOf(a), *q = pictureOf(b);
    return p->file == q->file && p->size == q->size && p->clean == q->clean && *p->bytes == *q->bytes;
}

bool operator==(const Group& a, const Group& b) {
    return a.id == b.id && a.parent == b.parent && a.name == b.name &&
           (a.bridged == b.bridged || (a.bridged && b.bridged && *a.bridged == *b.bridged)) &&
           (a.lettering == b.lettering || (a.lettering && b.lettering && *a.lettering == *b.lettering));
}

bool operator==(const Artwork& a, const Artwork& b) {
    return a.lastId == b.lastId && a.layers == b.layers && a.groups == b.groups && a.items == b.items;
}

Leaf leafOf(Piece piece, std::vector<double> widths) {
    const Box box = ferro::boundsOf(piece);
    return std::make_shared<const Shape>(Shape{std::move(piece), box, std::move(widths)});
}

const Shape* shapeOf(const Item& item) {
    const auto* leaf = std::get_if<std::shared_ptr<const Shape>>(&item.leaf);
    return leaf ? leaf->get() : nullptr;
}
const PictureLeaf* pictureOf(const Item& item) {
    const auto* leaf = std::get_if<std::shared_ptr<const PictureLeaf>>(&item.leaf);
    return leaf ? leaf->get() : nullptr;
}

namespace {
/// Numbers are given in order, and things mostly lie as they were made: a search by halves finds nearly all of them,
/// and where it does not they are looked through.
template<class Things, class ThingId> auto* found(const Things& things, ThingId id) {
    const auto likely = std::lower_bound(things.begin(), things.end(), id,
                                         [](const auto& thing, ThingId wanted) { return thing.id < wanted; });
    if (likely != things.end() && likely->id == id) return &*likely;
    const auto at = std::find_if(things.begin(), things.end(), [&](const auto& thing) { return thing.id == id; });
    return at == things.end() ? nullptr : &*at;
}
} // namespace

const Item* find(const Artwork& artwork, ItemId id) { return found(artwork.items, id); }
const Layer* find(const Artwork& artwork, LayerId id) { return found(artwork.layers, id); }
const Layer* layerNamed(const Artwork& artwork, std::string_view name) {
    const auto at = std::find_if(artwork.layers.begin(), artwork.layers.end(),
                                 [&](const Layer& layer) { return layer.name == name; });
    return at == artwork.layers.end() ? nullptr : &*at;
}

std::uint64_t printOf(const Item& item) {
    Hash hash;
    const auto& t = item.place;
    for (const double part : {t.a, t.b, t.c, t.d, t.tx, t.ty}) hash(part);
    hash(item.sheet.value)(item.of.value);
    if (const auto* shape = shapeOf(item)) {
        hash(toText(shape->piece.outline));
        for (const auto& opening : shape->piece.openings) hash(toText(opening));
        for (const double width : shape->widths) hash(width);
    }
    return hash.value();
}

Piece placed(const Item& item) {
    const auto* shape = shapeOf(item);
    return shape ? transformed(shape->piece, item.place) : Piece{};
}

Box boundsOf(const Item& item) {
    const auto* shape = shapeOf(item);
    const Box own = shape ? shape->bounds : Box{{0, 0}, pictureOf(item)->size};
    const auto& t = item.place;
    const bool upright = (t.b == 0 && t.c == 0) || (t.a == 0 && t.d == 0);
    if (shape && !upright) return ferro::boundsOf(transformed(shape->piece, t));
    Box box;
    for (const Vec2 corner : {own.low, Vec2{own.high.x, own.low.y}, own.high, Vec2{own.low.x, own.high.y}})
        box.take(t(corner));
    return box;
}

Box boundsOf(const Artwork& artwork, const std::vector<ItemId>& items) {
    const std::set<ItemId> wanted(items.begin(), items.end());
    Box box;
    for (const auto& item : artwork.items)
        if (wanted.contains(item.id)) box.take(boundsOf(item));
    return box;
}

bool isHidden(const Artwork& artwork, const Item& item) {
    const auto* layer = find(artwork, item.layer);
    return item.hidden || item.sheet != artwork.sheet || (layer && layer->hidden);
}
bool isLocked(const Artwork& artwork, const Item& item) {
    const auto* layer = find(artwork, item.layer);
    return item.locked || (layer && layer->locked);
}
bool isNote(const Artwork& artwork, const Item& item) {
    const auto* layer = find(artwork, item.layer);
    return layer && layer->notes;
}

std::map<GroupId, GroupId> outermostGroups(const Artwork& artwork) {
    std::map<GroupId, GroupId> parent, top;
    for (const auto& group : artwork.groups) parent[group.id] = group.parent;
    for (const auto& group : artwork.groups) {
        std::vector<GroupId> way;
        GroupId at = group.id;
        for (; !top.contains(at); at = parent.at(at)) {
            way.push_back(at);
            if (!parent.contains(parent.at(at))) break; // in none, or in one that is not told of
        }
        const GroupId end = top.contains(at) ? top[at] : at;
        for (const auto id : way) top[id] = end;
    }
    return top;
}

std::vector<ItemId> withGroupMates(const Artwork& artwork, const std::vector<ItemId>& items) {
    const auto outermost = outermostGroups(artwork);
    const auto top = [&](GroupId group) {
        const auto known = outermost.find(group);
        return known == outermost.end() ? group : known->second;
    };
    const std::set<ItemId> wanted(items.begin(), items.end());
    std::set<GroupId> tops;
    for (const auto& item : artwork.items)
        if (item.group && wanted.contains(item.id)) tops.insert(top(item.group));
    std::vector<ItemId> out;
    for (const auto& item : artwork.items)
        if (wanted.contains(item.id) || (item.group && tops.contains(top(item.group)))) out.push_back(item.id);
    return out;
}

Counts countsOf(const Artwork& artwork) {
    Counts counts;
    for (const auto& item : artwork.items) {
        if (const auto* shape = shapeOf(item)) {
            ++counts.pieces;
            counts.points += pointsOf(shape->piece);
            counts.open += !shape->piece.outline.closed && !shape->piece.outline.segments.empty();
        } else {
            ++counts.pictures;
        }
    }
    return counts;
}

} // namespace ferro::artwork

#include "artwork/choose.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"

#include <set>

namespace ferro::artwork {

namespace {

template<class Wanted> Ids chosen(const Artwork& artwork, Wanted&& wanted) {
    std::set<LayerId> shut; // asked once, not once for each of thousands
    for (const auto& layer : artwork.layers)
        if (layer.hidden || layer.locked) shut.insert(layer.id);
    Ids out;
    for (const auto& item : artwork.items)
        if (item.sheet == artwork.sheet && !item.hidden && !item.locked && !item.underlay &&
            !shut.contains(item.layer) && wanted(item))
            out.push_back(item.id);
    return out;
}

/// What does not change when a piece is moved, turned or mirrored.
struct Likeness {
    bool closed = false;
    std::size_t openings = 0;
    double length = 0, area = 0;
};
Likeness likenessOf(const Item& item) {
    const Piece piece = placed(item);
    Likeness out{piece.outline.closed, piece.openings.size(), lengthOf(piece.outline), std::abs(areaOf(piece.outline))};
    for (const auto& opening : piece.openings) out.length += lengthOf(opening), out.area -= std::abs(areaOf(opening));
    return out;
}
bool alike(const Likeness& a, const Likeness& b) {
    const auto near = [](double x, double y) { return std::abs(x - y) <= 0.02 * std::max(x, y) + 1e-9; };
    return a.closed == b.closed && a.openings == b.openings && near(a.length, b.length) &&
           (!a.closed || near(a.area, b.area));
}

} // namespace

Ids everything(const Artwork& artwork) {
    return chosen(artwork, [](const Item&) { return true; });
}

Ids inverted(const Artwork& artwork, const Ids& items) {
    const std::set<ItemId> not_(items.begin(), items.end());
    return chosen(artwork, [&](const Item& item) { return shapeOf(item) && !not_.contains(item.id); });
}

Ids onSameLayers(const Artwork& artwork, const Ids& items) {
    std::set<LayerId> layers;
    for (const auto id : items)
        if (const auto* item = find(artwork, id)) layers.insert(item->layer);
    return chosen(artwork, [&](const Item& item) { return layers.contains(item.layer); });
}

Ids upToSize(const Artwork& artwork, double size) {
    return chosen(artwork, [&](const Item& item) {
        if (!shapeOf(item)) return false;
        const Box box = boundsOf(item);
        return std::max(box.width(), box.height()) <= size;
    });
}

Ids ofForm(const Artwork& artwork, Form form) {
    return chosen(artwork, [&](const Item& item) {
        const auto* shape = shapeOf(item);
        if (!shape) return false;
        const Path& outline = shape->piece.outline;
        switch (form) {
        case Form::points: return outline.segments.empty();
        case Form::openLines: return !outline.closed && !outline.segments.empty();
        case Form::outlines: return outline.closed;
        case Form::circles: return circleOf(placed(item).outline, 0.02).has_value();
        }
        return false;
    });
}

Ids likeThese(const Artwork& artwork, const Ids& items) {
    std::vector<Likeness> wanted;
    for (const auto id : items)
        if (const auto* item = find(artwork, id); item && shapeOf(*item)) wanted.push_back(likenessOf(*item));
    return chosen(artwork, [&](const Item& item) {
        if (!shapeOf(item)) return false;
        const auto own = likenessOf(item);
        return std::any_of(wanted.begin(), wanted.end(), [&](const Likeness& w) { return alike(own, w); });
    });
}

Ids inside(const Artwork& artwork, const Ids& items) {
    std::vector<Ring> rings;
    std::vector<Box> boxes;
    const std::set<ItemId> not_(items.begin(), items.end());
    for (const auto id : items)
        if (const auto* item = find(artwork, id); item && shapeOf(*item) && shapeOf(*item)->piece.outline.closed) {
            rings.push_back(flattened(placed(*item).outline, 0.02));
            boxes.push_back(boundsOf(*item));
        }
    const SpatialIndex index(boxes);
    return chosen(artwork, [&](const Item& item) {
        if (!shapeOf(item) || not_.contains(item.id)) return false;
        const Box box = boundsOf(item);
        const Vec2 at = item.place(shapeOf(item)->piece.outline.start);
        for (const auto i : index.meeting({at, at}))
            if (boxes[i].contains(box) && contains(rings[i], at)) return true;
        return false;
    });
}

} // namespace ferro::artwork

#pragma once

#include "artwork/artwork.h"

#include <set>

namespace ferro::test {

/// What must hold of an artwork whatever was done to it.
inline void mustBeSound(const artwork::Artwork& art) {
    std::set<std::uint32_t> ids;
    std::set<artwork::GroupId> groups;
    for (const auto& layer : art.layers) CHECK(ids.insert(layer.id.value).second);
    for (const auto& group : art.groups) {
        CHECK(ids.insert(group.id.value).second);
        groups.insert(group.id);
    }
    for (const auto& group : art.groups) {
        CHECK((!group.parent || groups.contains(group.parent)));
        CHECK(group.parent != group.id);
    }
    for (const auto& item : art.items) {
        CHECK(ids.insert(item.id.value).second);
        CHECK(item.id.value <= art.lastId);
        CHECK(artwork::find(art, item.layer));
        CHECK((!item.group || groups.contains(item.group)));
        CHECK(item.place.determinant() != 0);
        const auto* shape = artwork::shapeOf(item);
        if (!shape) continue;
        const Box box = boundsOf(shape->piece);
        CHECK((std::isfinite(box.low.x) && std::isfinite(box.high.y)));
        if (shape->piece.outline.closed && shape->piece.outline.segments.size() > 1)
            for (const auto& opening : shape->piece.openings) {
                CAPTURE(item.id.value, item.name, toText(shape->piece.outline), toText(opening));
                CHECK(areaOf(opening) * areaOf(shape->piece.outline) <= 0);
            }
        if (!shape->widths.empty()) CHECK(shape->widths.size() == shape->piece.outline.segments.size() + 1);
    }
}

} // namespace ferro::test

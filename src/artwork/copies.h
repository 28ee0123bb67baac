#pragma once

#include "artwork/edits.h"

namespace ferro::artwork {

/// Copies of the items, each `by` farther than the one before. A copy has a place, a layer and a name of its own; its
/// shape is its original's, now and later. Copying a copy makes another copy of the original. `count` from 1 to 10 000.
[[nodiscard]] Result<Added> withCopies(const Artwork& artwork, const Ids& items, Vec2 by, int count);
/// The same, a copy of all of them for each map, from where they lie; none that flattens.
[[nodiscard]] Result<Added> withCopiesAt(const Artwork& artwork, const Ids& items, std::span<const Transform> maps);
/// Copies become pieces of their own, as they are now.
[[nodiscard]] Result<Artwork> withOwnShapes(const Artwork& artwork, const Ids& items);
/// The copies of an item's original, the original first; the item alone when it has none.
[[nodiscard]] Ids kinOf(const Artwork& artwork, ItemId item);

/// Lets copies follow, after any edit: a changed shape goes over to the original and all of its copies, each in its own
/// place. An original that is gone leaves its shape to its first copy. What was newly made out of a copy is none.
[[nodiscard]] Artwork followed(const Artwork& before, Artwork after);

/// Gives the outermost of the items (those that lie in no other of them) their facts. Numbers within their ranges, or
/// a problem.
[[nodiscard]] Result<Artwork> withPart(const Artwork& artwork, const Ids& items, const Part& part);
/// The facts of an item; a copy's are its original's. The plain ones where none were given.
[[nodiscard]] const Part& partOf(const Artwork& artwork, const Item& item);
[[nodiscard]] Result<void> checked(const Part& part);

/// Where the items lie from now on; no sheet: beside all of them. What is grouped with them goes along.
[[nodiscard]] Result<Artwork> withItemsOn(const Artwork& artwork, const Ids& items, SheetId sheet);

} // namespace ferro::artwork

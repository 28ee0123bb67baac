#pragma once

#include "artwork/artwork.h"

#include <optional>
#include <span>

namespace ferro::artwork {

/// Edits are functions from artwork to artwork. They take ids, leave the input as it is, and either do the whole edit
/// or say why not. What moves or deletes pieces refuses locked ones; an unknown id is a problem too.
using Ids = std::vector<ItemId>;

struct Added {
    Artwork artwork;
    Ids ids; ///< of the new items, in their order
};
/// `layer` is made when there is none of that name.
[[nodiscard]] Added withPieces(const Artwork& artwork, std::vector<Piece> pieces, std::string_view layer,
                               std::string_view name);
/// Pieces that belong together, with where they go; `grouped`: several become a group.
struct NamedPieces {
    std::vector<Piece> pieces;
    std::string layer, name;
    bool grouped = false;
    std::vector<std::vector<double>> widths = {}; ///< of strokes, by piece; empty: none are told
};
[[nodiscard]] Added withAllPieces(const Artwork& artwork, std::vector<NamedPieces> sets);
[[nodiscard]] Added withPicture(const Artwork& artwork, PictureLeaf leaf, Vec2 at);

/// What a picture is cleaned up from, with the pixels per mm of it.
[[nodiscard]] const picture::Picture& originalOf(const PictureLeaf& leaf);
[[nodiscard]] double ownPxPerMm(const PictureLeaf& leaf);
/// Cleans a picture up anew, from the original; what stays of it stays where it is on the sheet. No steps: as it came.
[[nodiscard]] Result<Artwork> withCleanUp(const Artwork& artwork, ItemId item,
                                          const std::vector<picture::CleanStep>& steps, Progress& progress);

[[nodiscard]] Result<Artwork> withRemoved(const Artwork& artwork, const Ids& items);
/// Moves, scales, turns and mirrors: all are one map. A map that flattens the items is refused.
[[nodiscard]] Result<Artwork> withTransformed(const Artwork& artwork, const Ids& items, const Transform& by);
/// Width and height of the items' common bounds in mm; 0 keeps the proportion. `stays`: what of the bounds stays where
/// it is, from -1,-1 for the lower left corner over 0,0 for the middle to 1,1.
[[nodiscard]] Result<Artwork> withSize(const Artwork& artwork, const Ids& items, double width, double height,
                                       Vec2 stays = {-1, -1});
/// As large as they go into a box, their middle in its.
[[nodiscard]] Result<Artwork> fittedInto(const Artwork& artwork, const Ids& items, const Box& box);
/// The corner, side or middle of a box that -1 to 1 of both its ways mean.
[[nodiscard]] inline Vec2 placeIn(const Box& box, Vec2 of) {
    return box.centre() + Vec2{of.x * box.width() / 2, of.y * box.height() / 2};
}
/// By how much the items are turned from how they came in, counter-clockwise, -180° to 180° in radians; none where they
/// differ.
[[nodiscard]] std::optional<double> turnOf(const Artwork& artwork, const Ids& items);
/// Each item back to the size it came in at, about its own centre; turns and mirrors stay.
[[nodiscard]] Result<Artwork> withOriginalSize(const Artwork& artwork, const Ids& items);
[[nodiscard]] Result<Added> withDuplicates(const Artwork& artwork, const Ids& items, Vec2 by);
[[nodiscard]] Result<Artwork> withGrouped(const Artwork& artwork, const Ids& items, std::string_view name);
/// Undoes the outermost groups of the items.
[[nodiscard]] Result<Artwork> withUngrouped(const Artwork& artwork, const Ids& items);
[[nodiscard]] Result<Artwork> withLayer(const Artwork& artwork, const Ids& items, std::string_view layer);
/// How far pictures that lie below are faded, 0 to 1.
[[nodiscard]] Result<Artwork> withFade(const Artwork& artwork, const Ids& items, double fade);
enum class Flag { locked, hidden, underlay, notes };
[[nodiscard]] Result<Artwork> withFlag(const Artwork& artwork, const Ids& items, Flag flag, bool on);
/// Locks, hides or marks a layer as notes.
[[nodiscard]] Result<Artwork> withLayerFlag(const Artwork& artwork, std::string_view layer, Flag flag, bool on);
[[nodiscard]] Result<Artwork> withName(const Artwork& artwork, const Ids& items, std::string_view name);

/// Takes out the groups that hold nothing any more.
void dropEmptyGroups(Artwork& artwork);

} // namespace ferro::artwork

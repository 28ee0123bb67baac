#pragma once

#include "artwork/artwork.h"

#include <span>

namespace ferro::artwork {

/// A place where parts of sheet material go into each other, as it is drawn.
struct Joint {
    enum class Kind {
        slot,  ///< a rectangular opening as wide as the sheet is thick: a tongue goes through
        notch, ///< an inlet of the outline as wide as the sheet is thick: for a sheet on edge
        finger ///< an inlet as deep as the sheet is thick, for a tongue of another part
    } kind = Kind::slot;
    ItemId item;
    int opening = -1;               ///< of the piece; -1: its outline
    Vec2 middle;                    ///< on the sheet
    double width = 0;               ///< mm across, from wall to wall
    double length = 0;              ///< mm along: a slot's, or how deep an inlet is
    std::vector<std::size_t> walls; ///< its two walls, and
    std::vector<std::size_t> ends;  ///< a slot's other two, as sides of `withoutSeams` of the placed outline
    /// The tongue that goes into it: of all that are nearly as wide as it is long (a finger: wide) the nearest.
    struct Tongue {
        ItemId item;
        Vec2 middle;
        double width = 0;
        int shared = 0; ///< walls that it has in common with fingers beside it
    };
    std::optional<Tongue> tongue;
};
inline constexpr double jointTolerance = 0.15; ///< of the thickness: what counts as as wide

/// The joints of the named pieces, all of them when none is named, that were drawn for sheets `thickness` mm thick; in
/// drawing order. Slots and inlets with square corners, sharp or rounded. Tongues are looked for among all pieces.
/// Fingers without a tongue are none. Notes and hidden pieces do not count.
[[nodiscard]] std::vector<Joint> jointsIn(const Artwork& artwork, std::span<const ItemId> items, double thickness);

} // namespace ferro::artwork

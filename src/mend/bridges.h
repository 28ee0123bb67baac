#pragma once

#include "artwork/artwork.h"
#include "base/progress.h"

#include <optional>
#include <span>

namespace ferro::mend {

using artwork::Artwork;
using artwork::Bridge;
using artwork::Bridged;
using artwork::GroupId;
using artwork::ItemId;

struct BridgeSettings {
    double width = 2; ///< mm, above 0
    int number = 2;   ///< for each island, 1 to 12
    Bridged::Areas areas = Bridged::Areas::fallOut;
    enum class Lie {
        inLine, ///< on straight lines through the island's middle, evenly round it; two are one straight line
        across  ///< square to the stroke, where it is narrowest, spread along the island
    } lie = Lie::inLine;
    friend bool operator==(const BridgeSettings&, const BridgeSettings&) = default;
};

/// What nothing holds once the cuts are made.
struct DropOut {
    ItemId item;      ///< the piece whose opening it is (areas fall out), or itself (areas stay)
    int opening = -1; ///< of that piece; -1: the piece itself
    Vec2 at;          ///< a point on it
    double area = 0;  ///< mm²
};
/// In drawing order. Areas fall out: each opening of a piece. Areas stay: each piece that lies in an opening of
/// another. Hidden and locked pieces, notes and open lines are passed over. `items`: only among these; empty: all.
[[nodiscard]] std::vector<DropOut> dropOuts(const Artwork& artwork, std::span<const ItemId> items,
                                            Bridged::Areas areas);

struct WithBridges {
    Artwork artwork;
    std::size_t islands = 0, bridges = 0;
    std::string did; ///< for a person
};
/// Bridges every drop-out among the items: by the shortest crossings, away from places where the plate beyond is
/// narrower than the bridge; an island that no bridge leads outward from is linked through its neighbours. The pieces
/// of one piece, or a piece with its islands, become a group that remembers what it was. Nothing to bridge is a
/// problem, as is a bridge wider than half of its island.
[[nodiscard]] Result<WithBridges> withBridges(const Artwork& artwork, std::span<const ItemId> items,
                                              const BridgeSettings& settings, Progress& progress);

/// Where a bridge is, on the sheet.
struct BridgePlace {
    GroupId group;
    std::size_t index = 0;
    Bridge bridge;
};
[[nodiscard]] std::vector<BridgePlace> bridgesOf(const Artwork& artwork);

/// Moves a bridge so that its middle comes as near to `to` (on the sheet) as the gap allows, across the gap there.
[[nodiscard]] Result<Artwork> withBridgeMoved(const Artwork& artwork, GroupId group, std::size_t index, Vec2 to);
/// Takes one bridge away, or with none left all that is known of them: the pieces are whole again, on the layers and
/// under the names that they had, and no group of their own.
[[nodiscard]] Result<Artwork> withoutBridge(const Artwork& artwork, GroupId group, std::size_t index);
[[nodiscard]] Result<Artwork> withoutBridges(const Artwork& artwork, GroupId group);

/// What is left of the whole pieces with their bridges.
[[nodiscard]] Result<std::vector<Piece>> bridgedPieces(const Bridged& bridged);

} // namespace ferro::mend

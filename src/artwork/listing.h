#pragma once

#include "artwork/artwork.h"

#include <functional>

namespace ferro::artwork {

/// One line of an artwork as a person reads it through: layers, the groups that have something on them, and the items.
struct Listed {
    enum class Kind : std::uint8_t { layer, group, item } kind = Kind::layer;
    std::uint32_t id = 0;             ///< of the layer, group or item
    std::size_t within = none;        ///< the line it stands under
    std::size_t place = 0;            ///< among its siblings
    std::vector<std::size_t> under{}; ///< lines, in the order asked for
    static constexpr std::size_t none = static_cast<std::size_t>(-1);
};
struct Listing {
    std::vector<Listed> lines;
    std::vector<std::size_t> top; ///< the layers
};

enum class ListOrder : std::uint8_t { drawing, name, size, points };

/// What lies on the sheet at hand, and every layer, empty ones too. `wanted`: by name; a layer or group that is wanted
/// shows all it holds; without it all are. A group that has items on two layers stands under both. Sorted are siblings,
/// groups by the sum of what they hold; equal ones stay in drawing order.
[[nodiscard]] Listing listingOf(const Artwork& artwork, const std::function<bool(const std::string&)>& wanted = {},
                                ListOrder order = ListOrder::drawing, bool descending = false);

/// What an item is, in the trade's words: "outline", "line", "dot", "picture"; "copy" for one that follows an original.
[[nodiscard]] std::string_view sortOf(const Item& item);
/// All items on lines below this one, itself included; in drawing order.
[[nodiscard]] std::vector<ItemId> itemsUnder(const Listing& listing, std::size_t line);

} // namespace ferro::artwork

#pragma once

#include "artwork/artwork.h"

#include <optional>
#include <span>

namespace ferro::mend {

/// Something near-exact that can be made exact.
enum class Truth {
    circle,    ///< an outline that is nearly one
    rectangle, ///< four nearly square corners, rounded alike or not at all
    arc,       ///< runs of lines and curves that are nearly one
    straight,  ///< points that lie nearly on one line
    level,     ///< a line nearly level or upright
    symmetry,  ///< an outline that is nearly the same on both sides of an axis
    size,      ///< circles or rectangles of nearly the same size: all get their mean
    centre,    ///< circles nearly about one middle
    joint      ///< not near-exact: made to go together (see mend/fits)
};
inline constexpr std::array truths{Truth::circle, Truth::rectangle, Truth::arc,  Truth::straight,
                                   Truth::level,  Truth::symmetry,  Truth::size, Truth::centre};
/// The word on the command line: "circle", "rectangle" …
[[nodiscard]] std::string_view wordOf(Truth truth);
[[nodiscard]] std::optional<Truth> truthFrom(std::string_view word);

struct Proposal {
    Truth truth;
    artwork::ItemId item;
    int opening = -1;     ///< of the piece, or -1: its outline
    Path becomes;         ///< on the sheet
    double deviation = 0; ///< mm: how far the old line leaves the new one at most
    std::string what;     ///< one line for a person
};

/// What could be trued up among the named pieces, each change within `tolerance` mm; empty: all pieces. Exact things
/// need none. Of one outline the first truth that fits counts, in their order; sizes and centres are proposed for what
/// is exact already. In drawing order.
[[nodiscard]] std::vector<Proposal> proposals(const artwork::Artwork& artwork, std::span<const artwork::ItemId> items,
                                              double tolerance);
/// Takes the proposals over. Locked pieces are never proposed; what is no longer there is passed over.
[[nodiscard]] artwork::Artwork withTruedUp(const artwork::Artwork& artwork, std::span<const Proposal> taken);

} // namespace ferro::mend

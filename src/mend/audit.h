#pragma once

#include "artwork/artwork.h"
#include "artwork/tolerances.h"
#include "base/progress.h"

#include <array>
#include <optional>
#include <span>

namespace ferro::mend {

using artwork::Artwork;
using artwork::ItemId;
using artwork::Tolerances;

/// What keeps a piece from being cut as it is meant. In the order in which they are best mended.
enum class Fault {
    speck,    ///< smaller than anything worth cutting
    stub,     ///< segments of no length
    doubled,  ///< lies on another line: all of it, or a stretch of an open one
    gap,      ///< two ends that nearly meet
    crossing, ///< an outline that crosses itself
    crowded,  ///< far more points than its shape needs
    beyond,   ///< reaches over the stock
    border,   ///< runs round all else, as the border of a page does
};
inline constexpr std::array faults{Fault::speck,    Fault::stub,    Fault::doubled, Fault::gap,
                                   Fault::crossing, Fault::crowded, Fault::beyond,  Fault::border};
/// Those that are mended with all the rest: whether a border is one, a person has to say.
inline constexpr auto surely = std::span(faults).first<faults.size() - 1>();
/// The word on the command line and in reports: "speck", "stub" …
[[nodiscard]] std::string_view wordOf(Fault fault);
[[nodiscard]] std::optional<Fault> faultFrom(std::string_view word);

struct Flaw {
    Fault fault;
    ItemId item;
    int opening = -1; ///< of the piece, or -1: its outline
    ItemId other;     ///< the piece at the other side of a gap, or the one that stays of two
    Vec2 at;          ///< on the sheet
    double size = 0;  ///< mm of a gap, mm² or mm of a speck, points too many
    std::string what; ///< one line for a person
    /// Of a doubled line only the stretch between these lengths along it; none: all of it.
    std::optional<std::pair<double, double>> stretch = {};
};

/// Whether a piece lies so far off the stock, by more than half of its longer side, that it is hardly meant for it.
[[nodiscard]] bool isFarFrom(const Box& stock, const Box& piece);

struct Audit {
    std::vector<Flaw> flaws; ///< by fault, then in drawing order
    [[nodiscard]] std::size_t count(Fault fault) const;
};

/// Looks at every piece that is neither hidden nor locked. `blank`: the stock's outline; without
/// segments there is none, and nothing is beyond it.
[[nodiscard]] Result<Audit> audited(const Artwork& artwork, const Tolerances& tolerances, const Piece& blank,
                                    Progress& progress);

} // namespace ferro::mend

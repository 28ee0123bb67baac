#pragma once

#include "artwork/edits.h"
#include "mend/audit.h"

#include <span>

namespace ferro::mend {

struct Mended {
    Artwork artwork;
    std::size_t count = 0; ///< flaws mended
    std::string did;       ///< what was done, for a person: "2 doubles dropped, 1 gap closed"
    std::string left = {}; ///< what a person has to decide: "1 far off the stock stays"

    [[nodiscard]] std::string told() const { return left.empty() ? did : did + "; " + left; }
};

/// Mends the flaws of an audit of this artwork, in the faults' own order; flaws about what is gone by then are
/// passed over. Specks and doubled lines are dropped, stubs taken out, gaps closed by chaining the pieces on their two
/// sides, crossings parted into what they enclose (non-zero), crowded outlines thinned within the tolerance, what
/// reaches over the stock is moved onto it where it fits. Pieces keep their number, layer and name where one of them
/// goes on.
[[nodiscard]] Result<Mended> withMended(const Artwork& artwork, std::span<const Flaw> flaws,
                                        const Tolerances& tolerances, const Piece& blank);

/// What an edit comes to on the sheet: the outlines of pieces that are new or another, as they are then, and those of
/// pieces that are gone, as they were.
struct Changes {
    std::vector<Path> becomes, goes;
};
[[nodiscard]] Changes changesOf(const Artwork& before, const Artwork& after);

/// Thins the outlines of the named pieces within `tolerance` mm, above 0; `did` tells how many points fewer and how far
/// off. A locked piece or an unknown number is a problem.
[[nodiscard]] Result<Mended> withThinned(const Artwork& artwork, std::span<const ItemId> items, double tolerance);

/// Makes outlines of loose lines: chains the open ones of the named pieces, each layer and group by itself, and makes
/// one piece of closed outlines that lie in one another. `reach` mm, 0 or more, between ends that belong together;
/// `did` tells what came of it. Locked or unknown pieces are left as they are.
[[nodiscard]] Mended withOutlines(const Artwork& artwork, std::span<const ItemId> items, double reach);
/// The same for what was just added: with what is left of it.
[[nodiscard]] artwork::Added withOutlines(artwork::Added added, double reach, std::string* did = nullptr);

/// Audits and mends, and looks again at what that has made, until nothing that can be mended is left: four times at
/// most. Only the faults named.
[[nodiscard]] Result<Mended> withAllMended(const Artwork& artwork, std::span<const Fault> which,
                                           const Tolerances& tolerances, const Piece& blank, Progress& progress);

} // namespace ferro::mend

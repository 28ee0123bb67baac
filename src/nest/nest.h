#pragma once

#include "base/progress.h"
#include "base/result.h"
#include "geometry/path.h"

namespace ferro::nest {

/// Irregular parts on sheets (needs SH5 to SH7). Plain values in and out; lengths in mm, angles in radians.

struct Part {
    /// Closed, with their openings, in its own coordinates; several that stay as they lie to each other are one part.
    std::vector<Piece> pieces;
    int quantity = 1;    ///< 0 to 100 000
    double turnStep = 0; ///< it may be turned by any multiple of this; 0: by any angle; 2π and more: not at all
    bool mirror = false; ///< may be laid face down
    bool filler = false; ///< only fills what the others leave
};
struct Sheet {
    Piece area;                    ///< its outline; its openings are places that cannot be used
    std::vector<Piece> taken = {}; ///< what lies on it already and stays
};
enum class Corner : std::uint8_t { lowerLeft, lowerRight, upperRight, upperLeft };
enum class Along : std::uint8_t { width, height };
struct Settings {
    double spacing = 0;               ///< mm from part to part, 0 or more
    double margin = 0;                ///< mm from parts to the sheet's edge and to its bad places
    Corner start = Corner::lowerLeft; ///< where parts gather
    Along keeps = Along::width;       ///< parts gather along this, so that the off-cut is a strip across the end of it
    std::uint64_t seed = 1;
    std::uint64_t effort =
        40'000'000; ///< places tried, beyond those of the first layout; counted, so that it ends alike
};

struct Placement {
    std::size_t part = 0; ///< index
    std::size_t sheet = 0;
    Transform place; ///< own coordinates to those of the sheet; a turn and a shift, with a mirror where it is face down
};
struct Left {
    std::size_t part = 0;
    int count = 0;
    std::string why;
};
struct Layout {
    std::vector<Placement> placed; ///< by sheet, then by part
    std::vector<Left> left;        ///< what lies on no sheet
    std::size_t sheets = 0;        ///< sheets in use are those before this
    double share = 0;              ///< of the used sheets' area that parts cover, 0 to 1
    double used = 0; ///< mm from the edge, along `keeps`, to the far end of the parts on the last sheet in use
};

/// Whoever watches, asked and told from the thread that works.
struct Watch {
    std::function<void(const Layout&)> better = {}; ///< each better layout
    std::function<bool()> isEnough = {};            ///< the best so far is taken
};

/// Lays parts out on as few of the sheets as it can, in their order, and on the last one as short as it can; what has
/// to be on a sheet goes before fillers. A first layout by bottom-left filling; then overlap is minimised with guided
/// local search, parts being moved to where weighted overlap is least, over collision tests and overlaps estimated from
/// discs within the parts (Egeblad, Nielsen & Odgaard 2007; Umetani et al. 2009; Imamichi, Yagiura & Nagamochi 2009;
/// Gardeyn, Vanden Berghe & Wauters 2025): for parts that would not fit, to do without the last sheet, and on ever
/// shorter ones. The same input gives the same layout, on any number of threads. Parts that cannot be laid are told
/// with the reason and the rest is laid. Cancelled: a problem. A sheet without area, spacings out of range: a problem.
[[nodiscard]] Result<Layout> laidOut(const std::vector<Part>& parts, const std::vector<Sheet>& sheets,
                                     const Settings& settings, Progress& progress, const Watch& watch = {});

/// mm², openings taken off.
[[nodiscard]] double areaOf(const Part& part);

} // namespace ferro::nest

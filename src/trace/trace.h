#pragma once

#include "artwork/artwork.h"
#include "base/progress.h"
#include "trace/palette.h"

#include <array>

namespace ferro::trace {

using artwork::Find;
using artwork::findWords;
[[nodiscard]] std::optional<Find> findFrom(std::string_view word);

using Settings = artwork::TraceSettings;
using Patch = artwork::TracePatch;
using artwork::Recipe;

/// "4" or "#9e3f22,#ffffff": how many colours or which.
[[nodiscard]] Result<void> takeColours(std::string_view text, Settings& settings);

struct Traced {
    std::vector<Piece> pieces; ///< mm, lower left of the picture at 0,0
    /// Of strokes: the ink's width in mm at each piece's start and at each of its segments' ends.
    std::vector<std::vector<double>> widths;
    /// Of colours: whose the pieces are, in their order; what patches found otherwise comes after them.
    struct Layer {
        std::string name;
        Colour colour;
        std::size_t pieces = 0;
    };
    std::vector<Layer> layers;
    std::vector<Colour> palette;                    ///< all colours found, the paper's too
    std::vector<std::vector<Colour>> patchPalettes; ///< the same of each patch that looks for colours
    int level = 0;                                  ///< the one used
    std::size_t points = 0;
    std::size_t specksDropped = 0;
    double speck = 0; ///< mm²: what was dropped is smaller
    /// Why nothing was found; what to know of how it was looked for.
    std::vector<Notice> notices;
    /// mm from the level line in the grey picture, measured on the curves themselves; of strokes from their axis.
    double largestMiss = 0;
};

/// Traces by level: the level lines of the greys, to a fraction of a pixel, fitted with lines, arcs and cubics, or the
/// axis of what they enclose; of a picture that has no greys the stairs are evened first (`stairs.h`). The same result
/// for any number of threads.
[[nodiscard]] Result<Traced> traced(const picture::Grey& grey, double pxPerMm, const Settings& settings,
                                    Progress& progress);
/// The same of a picture, and by its colours where they are looked for.
/// `patches`: their areas are looked through by their own settings. What one setting finds to either side of a seam is
/// one shape, traced once: the seam leaves no mark. Curve settings are those of the whole picture. Areas of colour
/// are cut along the patches.
[[nodiscard]] Result<Traced> traced(const picture::Picture& picture, double pxPerMm, const Settings& settings,
                                    Progress& progress, const std::vector<Patch>& patches = {});

} // namespace ferro::trace

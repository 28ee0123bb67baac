#pragma once

#include "artwork/artwork.h"
#include "base/progress.h"
#include "trace/palette.h"

#include <array>

namespace ferro::trace {

/// What is looked for in a picture.
enum class Find {
    areas,     ///< filled shapes by level, with their openings
    outerEdge, ///< the silhouette only
    strokes,   ///< the centre lines of pen strokes
    colours,   ///< each flat colour by itself
    edges,     ///< where greys change, drawn lines once
    nothing,   ///< for patches: left out
};
/// The words of the command line.
inline constexpr std::array findWords{std::string_view("areas"),   std::string_view("outer-edge"),
                                      std::string_view("strokes"), std::string_view("colours"),
                                      std::string_view("edges"),   std::string_view("nothing")};
[[nodiscard]] std::optional<Find> findFrom(std::string_view word);

struct Settings {
    Find find = Find::areas;
    int level = -1;            ///< grey below which is dark, 1 to 255; -1: found automatically
    int above = 0;             ///< a band: greys below this are light again, 0 for none
    bool invert = false;       ///< light shapes on dark
    double speck = 0.4;        ///< mm²; smaller areas are dropped, dark ones and light ones
    double cornersUnder = 150; ///< degrees, 0 to 180: a bend tighter than this stays a corner
    /// mm; how far a curve may leave the traced outline to save points. 0: a quarter of a pixel, which is about as well
    /// as pixels tell where a drawn edge is, and 0.05 mm at most; grainy outlines of a scan are then followed within as
    /// much as their grain leads astray, up to 0.05 mm or a pixel, whichever is less.
    double followWithin = 0;
    Box only = {};          ///< mm from the picture's lower left: nothing else is traced; empty: all
    double lineWidth = 1.5; ///< mm, of edges: what is wider is an area with two edges
    double leastStep = 25;  ///< greys, of edges: what differs by less is none
    // Of colours:
    int colours = 0;                  ///< how many at most, 0: as many as can be told apart
    std::vector<Colour> palette = {}; ///< these instead, if any: what is left out goes to what looks most like it
    bool stacked = false;             ///< each area goes on under those that lie on it, the largest at the bottom
    bool paper = false;               ///< the colour round the picture's edge too
    friend bool operator==(const Settings&, const Settings&) = default;
};

/// A part of a picture with settings of its own; where patches lie over each other the later counts.
struct Patch {
    Ring area; ///< mm from the picture's lower left, 3 points at least
    Settings settings;
    friend bool operator==(const Patch&, const Patch&) = default;
};

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
    /// mm from the level line in the grey picture, measured on the curves themselves; of strokes from their axis.
    double largestMiss = 0;
};

/// Traces by level: the level lines of the greys, to a fraction of a pixel, fitted with lines, arcs and cubics, or the
/// axis of what they enclose; areas of a picture that has no greys go through libpotrace. The same result for any
/// number of threads.
[[nodiscard]] Result<Traced> traced(const picture::Grey& grey, double pxPerMm, const Settings& settings,
                                    Progress& progress);
/// The same of a picture, and by its colours where they are looked for.
/// `patches`: their areas are looked through by their own settings. What one setting finds to either side of a seam is
/// one shape, traced once: the seam leaves no mark. Curve settings are those of the whole picture. Areas of colour
/// are cut along the patches.
[[nodiscard]] Result<Traced> traced(const picture::Picture& picture, double pxPerMm, const Settings& settings,
                                    Progress& progress, const std::vector<Patch>& patches = {});

} // namespace ferro::trace

#pragma once

#include "artwork/artwork.h"
#include "base/progress.h"

#include <array>

namespace ferro::trace {

/// What is looked for in a picture.
enum class Find {
    areas,     ///< filled shapes by level, with their openings
    outerEdge, ///< the silhouette only
    strokes,   ///< the centre lines of pen strokes
};
/// The words of the command line and the job: "areas", "outer-edge", "strokes".
inline constexpr std::array findWords{std::string_view("areas"), std::string_view("outer-edge"),
                                      std::string_view("strokes")};
[[nodiscard]] std::optional<Find> findFrom(std::string_view word);

struct Settings {
    Find find = Find::areas;
    int level = -1;             ///< grey below which is dark, 1 to 255; -1: found automatically
    bool invert = false;        ///< light shapes on dark
    double speck = 0.4;         ///< mm²; smaller areas are dropped, dark ones and light ones
    double cornersUnder = 150;  ///< degrees, 0 to 180: a bend tighter than this stays a corner
    double followWithin = 0.05; ///< mm; how far a curve may leave the traced outline to save points
    friend bool operator==(const Settings&, const Settings&) = default;
};

struct Traced {
    std::vector<Piece> pieces; ///< mm, lower left of the picture at 0,0
    /// Of strokes: the ink's width in mm at each piece's start and at each of its segments' ends.
    std::vector<std::vector<double>> widths;
    int level = 0; ///< the one used
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

} // namespace ferro::trace

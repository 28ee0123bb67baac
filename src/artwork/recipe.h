#pragma once

#include "base/result.h"
#include "geometry/path.h"

#include <array>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace ferro::artwork {

/// What is looked for in a picture.
enum class Find : std::uint8_t {
    areas,   ///< filled shapes by level, with their openings
    rim,     ///< the silhouette only
    strokes, ///< the centre lines of pen strokes
    colours, ///< each flat colour by itself
    edges,   ///< where greys change, drawn lines once
    nothing, ///< for patches: left out
};
/// The words of the command line and of the job file.
inline constexpr std::array<std::string_view, 6> findWords = {"areas", "rim", "strokes", "colours", "edges", "nothing"};
/// What a word of earlier versions is called now; empty: it is none.
constexpr std::string_view wordBefore(Find, std::string_view word) { return word == "outer-edge" ? "rim" : ""; }
constexpr const auto& wordsOf(Find) { return findWords; }

struct Colour {
    std::uint8_t r = 0, g = 0, b = 0;
    friend bool operator==(const Colour&, const Colour&) = default;
};

[[nodiscard]] std::string toText(Colour colour); ///< "#rrggbb"
[[nodiscard]] Result<Colour> colourFrom(std::string_view text);

/// How a picture, or a patch of it, is traced. Lengths are mm on the sheet.
struct TraceSettings {
    Find find = Find::areas;
    int level = -1;      ///< grey below which is dark, 1 to 255; -1: found automatically
    int above = 0;       ///< a band: greys below this are light again, 0 for none
    bool invert = false; ///< light shapes on dark
    /// mm²; smaller areas are dropped, dark ones and light ones. -1: what is a speck in this picture, 0.4 at most.
    double speck = -1;
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
    bool goUnder = false;             ///< each area goes on under those that lie on it, the largest at the bottom
    bool paper = false;               ///< the colour round the picture's edge too
    friend bool operator==(const TraceSettings&, const TraceSettings&) = default;
};

/// A part of a picture with settings of its own; where patches lie over each other the later counts.
struct TracePatch {
    Ring area; ///< mm from the picture's lower left, 3 points at least
    TraceSettings settings;
    friend bool operator==(const TracePatch&, const TracePatch&) = default;
};

/// How a picture is traced, kept with it so that it can be traced again. Areas are in its own coordinates.
struct Recipe {
    TraceSettings whole;
    std::vector<TracePatch> patches;
    friend bool operator==(const Recipe&, const Recipe&) = default;
};
/// Whether every number is within the range that its field allows, and every patch an area.
[[nodiscard]] Result<void> checked(const Recipe& recipe);

} // namespace ferro::artwork

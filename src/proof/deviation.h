#pragma once

#include "proof/removal.h"

namespace ferro::proof {

/// The cut against the design, measured along the design's edges and not on a grid, so that microns count.
struct Deviation {
    /// How far the cut edge lies from the design's at one place: above 0 left standing, below 0 cut into the part.
    struct Sample {
        Vec2 at;
        float miss = 0;
    };
    struct Edge {
        artwork::ItemId item;
        int opening = -1;
        std::vector<Sample> samples;
    };
    std::vector<Edge> edges;
    double cutInto = 0;      ///< mm, largest; 0: nothing
    double leftStanding = 0; ///< mm, largest where the tool can reach
    double corners = 0;      ///< mm, largest in corners the tool's radius cannot reach
    Vec2 cutIntoAt;
    double astray = 0; ///< mm, largest, of a blade's tip off the line that it is to slit
    Vec2 astrayAt;
    double unreachedArea = 0; ///< mm² in such corners
    std::size_t unreachedPlaces = 0;
    Vec2 unreachedAt;
};

/// Compares all edges that were meant to be cut beside, by the cuts' intent: what is part and what is waste is said by
/// the side they were cut on. Cost: one look-up of near edges for each bit of way, and one of near ways for each half
/// millimetre of edge.
/// What `kept` holds of an earlier one is not made again.
[[nodiscard]] Result<Deviation> deviationOf(const toolpath::Toolpath& path, Progress& progress, Kept* kept = nullptr);

} // namespace ferro::proof

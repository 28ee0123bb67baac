#pragma once

#include "artwork/artwork.h"
#include "geometry/measure.h"

namespace ferro::mend {

/// A way from an island's edge over what is cut away.
struct Crossing {
    Vec2 from, to; ///< on the island's edge, on the other side
    int onto = -1; ///< the island there, -1: what stays outside
    double cost = 0;
    [[nodiscard]] double length() const { return distance(from, to); }
};

/// What is cut away: an outline with islands in it. Lines are followed as chords within 0.01 mm.
class CutArea {
public:
    /// `beyond`: all other edges of cuts, for places where the plate behind is narrow.
    CutArea(const Path& outline, const std::vector<Path>& islands, Rings beyond);
    [[nodiscard]] std::size_t islands() const { return islands_.size(); }
    [[nodiscard]] const Ring& island(std::size_t i) const { return islands_[i]; }
    /// A point inside the island, as near its middle as may be.
    [[nodiscard]] Vec2 middle(std::size_t i) const;
    /// Straight on from a point in the island; none where the way leads back onto the island itself.
    [[nodiscard]] std::optional<Crossing> crossing(std::size_t island, Vec2 inside, Vec2 way, double width) const;
    /// From a point on the island's edge outward.
    [[nodiscard]] std::optional<Crossing> crossingFromEdge(std::size_t island, Vec2 edge, Vec2 way, double width) const;
    /// The crossing nearest to a point in the cut area, from whichever island.
    [[nodiscard]] std::optional<std::pair<std::size_t, Crossing>> through(Vec2 p, double width) const;

private:
    struct Hit {
        double at;
        int ring; ///< 0 the outline, then the islands
    };
    [[nodiscard]] std::vector<Hit> hits(Vec2 from, Vec2 way) const;
    Ring outline_;
    Rings islands_, beyond_;
};

/// The best crossings for one island: `number` of them.
[[nodiscard]] std::vector<Crossing> inLineCrossings(const CutArea& area, std::size_t island, int number, double width);
[[nodiscard]] std::vector<Crossing> acrossCrossings(const CutArea& area, std::size_t island, int number, double width);

} // namespace ferro::mend

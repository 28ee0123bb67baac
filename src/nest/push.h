#pragma once

#include "geometry/spatial.h"
#include "nest/nest.h"

namespace ferro::nest {

/// A part that is pushed about between others by hand (need SH5): it stops where it touches, and slides along what it
/// touches. Exact for the straight edges that curves are flattened to, within 2 µm on the safe side.
class Pushing {
public:
    /// What moves, as it lies; what lies still on the sheet, and its own bad places; mm from part to part and to the
    /// edge.
    Pushing(const std::vector<Piece>& moving, const Sheet& sheet, const std::vector<std::vector<Piece>>& others,
            double spacing, double margin);

    /// How far it gets from one shift towards another: the first must be free. Its motion is that of the point pushed
    /// along the boundary of the obstacles grown by the part (the configuration space; Lozano-Pérez 1983), found edge
    /// by edge.
    [[nodiscard]] Vec2 pushed(Vec2 from, Vec2 to) const;

    struct Hits {
        std::vector<std::size_t> others; ///< that are overlapped or too near, ascending
        bool beyond = false;             ///< the sheet's margin, or on a bad place
        [[nodiscard]] bool none() const { return others.empty() && !beyond; }
    };
    /// What it would hit, moved by a transform from where it lies.
    [[nodiscard]] Hits hits(const Transform& by) const;
    /// Where it would lie on those, or beyond the sheet: outlines and their openings. Nothing where it is only too
    /// near.
    [[nodiscard]] Rings overlap(const Transform& by, const Hits& hits) const;

private:
    struct Edge {
        Vec2 a, b;
        double apart = 0;     ///< mm that has to stay between
        std::size_t body = 0; ///< index into the others; the last: the sheet and its bad places
    };
    /// Two edges that would come too near.
    struct Contact {
        double at = 0; ///< mm along the way
        Vec2 normal;   ///< from what lies still to what moves
    };
    template<class Visit>
    void forEachNear(const Edge& moving, Vec2 shift, Vec2 way, double more, const Visit& visit) const;
    [[nodiscard]] Rings moved(const Transform& by) const;
    [[nodiscard]] bool blocks(Vec2 shift, Vec2 along, std::vector<Vec2>& normals) const;

    std::vector<Edge> moving_, still_;
    double widest_ = 0; ///< of what has to stay between
    std::unique_ptr<SpatialIndex> index_;
    Rings movingRings_;
    std::vector<Rings> stillRings_;
    Rings sheetRings_;
};

} // namespace ferro::nest

#pragma once

#include "mend/points.h"

#include <span>

namespace ferro::mend {

/// Where a point that is being placed may want to lie exactly.
struct Snap {
    enum class Kind : std::uint8_t {
        end,     ///< a point of a piece
        centre,  ///< the middle of an arc or a circle
        middle,  ///< half-way along a line or an arc
        tangent, ///< where the line from a neighbour touches an arc
        on,      ///< on a line or an arc
        level,   ///< at a neighbour's height
        upright, ///< above or below a neighbour
        square   ///< level with one and upright to another
    } kind = Kind::end;
    Vec2 at;
    std::optional<Vec2> from = {}; ///< the neighbour it has to do with
};
[[nodiscard]] std::string_view wordOf(Snap::Kind kind);

/// The places of a drawing to snap to, collected once for a drag. Without those of the points and the pieces that are
/// dragged, and of what is hidden.
class Snaps {
public:
    explicit Snaps(const Artwork& artwork, const PointRefs& dragged = {}, const Ids& without = {});
    /// The best within `reach` mm: points before centres before tangents before middles before lines before what is
    /// level with the neighbours. Of one kind the nearest.
    [[nodiscard]] std::optional<Snap> near(Vec2 at, double reach, std::span<const Vec2> neighbours) const;

private:
    struct Stretch {
        Vec2 from;
        Segment segment;
        Box bounds;
    };
    std::vector<Vec2> ends_, centres_;
    std::vector<Stretch> stretches_;
};

/// The places that the dragged points' own lines run to: what tangents and level lines are drawn from.
[[nodiscard]] std::vector<Vec2> neighboursOf(const Artwork& artwork, const PointRefs& dragged);

} // namespace ferro::mend

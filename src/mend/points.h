#pragma once

#include "artwork/edits.h"
#include "geometry/points.h"

namespace ferro::mend {

using artwork::Artwork;
using artwork::Ids;
using artwork::ItemId;

/// A point of a piece, by its number along one of its outlines (see geometry/points.h). Numbers are those of the piece
/// in its own coordinates; places are on the sheet.
struct PointRef {
    ItemId item;
    int opening = -1; ///< of the piece, or -1: its outline
    std::size_t point = 0;
    friend auto operator<=>(const PointRef&, const PointRef&) = default;
};
using PointRefs = std::vector<PointRef>;

struct PointMark {
    PointRef ref;
    Vec2 at;
    bool smooth = false, end = false;  ///< goes on without a bend; the end of an open line
    std::optional<Vec2> before, after; ///< handles
};
/// The points of the items in their order, those of hidden, locked and pictures left out.
[[nodiscard]] std::vector<PointMark> pointsOf(const Artwork& artwork, const Ids& items);
[[nodiscard]] std::optional<Vec2> placeOf(const Artwork& artwork, const PointRef& ref);

/// What an edit of points came to, with the points that are chosen then.
struct PointEdit {
    Artwork artwork;
    PointRefs chosen;
};
/// Edits of points. An unknown point and a locked piece are problems. Outlines stay counter-clockwise and openings
/// clockwise. A text or a bridged group becomes ordinary pieces when one of its points is edited.
[[nodiscard]] Result<PointEdit> withPointsMoved(const Artwork& artwork, const PointRefs& points, Vec2 by);
[[nodiscard]] Result<PointEdit> withHandleMoved(const Artwork& artwork, const PointRef& point, Side side, Vec2 to,
                                                bool alone);
/// A piece of which nothing is left goes, an opening too.
[[nodiscard]] Result<PointEdit> withPointsRemoved(const Artwork& artwork, const PointRefs& points);
enum class PointForm : std::uint8_t { straight, handles, smooth, corner };
[[nodiscard]] Result<PointEdit> withPointsFormed(const Artwork& artwork, const PointRefs& points, PointForm form);
/// A point more, on the segment that begins at `from`, at `t` (0 to 1) along it; it is the one chosen then.
[[nodiscard]] Result<PointEdit> withPointAdded(const Artwork& artwork, const PointRef& from, double t);
/// Bends that segment into an arc through a place on the sheet; pieces that are stretched keep no arcs and are refused.
[[nodiscard]] Result<PointEdit> withBulge(const Artwork& artwork, const PointRef& from, Vec2 through);
/// Opens closed outlines at the points and parts lines there. The openings of an outline that is opened become pieces.
[[nodiscard]] Result<PointEdit> withSplit(const Artwork& artwork, const PointRefs& points);
/// Joins two ends of open lines, of one or of two: those within `reach` mm meet in their middle, others by a line.
[[nodiscard]] Result<PointEdit> withEndsJoined(const Artwork& artwork, const PointRefs& points, double reach);

/// The place on the drawing nearest to one: where a click means to add a point.
struct OnLine {
    PointRef from; ///< where its segment begins
    double t = 0;
    Vec2 at;
    double off = 0; ///< mm
};
[[nodiscard]] std::optional<OnLine> nearestOnLine(const Artwork& artwork, const Ids& items, Vec2 to, double reach);

} // namespace ferro::mend

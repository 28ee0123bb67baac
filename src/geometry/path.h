#pragma once

#include "base/result.h"
#include "geometry/vec.h"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace ferro {

class KeptKey;

/// One stretch of a path, from where the path stands to `end`.
struct Segment {
    enum class Kind : std::uint8_t { line, arc, cubic };
    Kind kind = Kind::line;
    bool ccw = true; ///< arcs: which way round
    Vec2 end;
    Vec2 a; ///< arc: centre; cubic: first handle
    Vec2 b; ///< cubic: second handle
    friend bool operator==(const Segment&, const Segment&) = default;

    [[nodiscard]] static Segment line(Vec2 end) { return {Kind::line, true, end, {}, {}}; }
    [[nodiscard]] static Segment arc(Vec2 centre, Vec2 end, bool ccw) { return {Kind::arc, ccw, end, centre, {}}; }
    [[nodiscard]] static Segment cubic(Vec2 c1, Vec2 c2, Vec2 end) { return {Kind::cubic, true, end, c1, c2}; }
};

/// A run of lines, arcs and cubics. A closed path ends where it starts, its closing line included as a segment. A path
/// without segments is a point. Arcs turn by less than a full turn; a circle is two half arcs.
struct Path {
    Vec2 start;
    std::vector<Segment> segments;
    bool closed = false;
    friend bool operator==(const Path&, const Path&) = default;

    [[nodiscard]] Vec2 end() const { return segments.empty() ? start : segments.back().end; }
    [[nodiscard]] Vec2 from(std::size_t segment) const { return segment == 0 ? start : segments[segment - 1].end; }
    /// Adds a closing line where one is missing. A gap under `snap` mm is closed by moving the last end.
    void close(double snap = 1e-9);
};

/// One outline with its openings, or one open line. Outlines run counter-clockwise, openings clockwise.
struct Piece {
    Path outline;
    std::vector<Path> openings;
    friend bool operator==(const Piece&, const Piece&) = default;
};

/// Corner points, closed implicitly: the last joins the first.
using Ring = std::vector<Vec2>;
using Rings = std::vector<Ring>;

[[nodiscard]] Path pathOf(const Ring& points, bool closed);
[[nodiscard]] Path circle(Vec2 centre, double radius);
/// Corner radius is limited to half the shorter side.
[[nodiscard]] Path rectangle(Vec2 low, Vec2 high, double cornerRadius = 0);

/// Lines stay lines; arcs stay arcs where the map keeps circles, else they become cubics (within 1e-6 of their radius).
[[nodiscard]] Path transformed(const Path& path, const Transform& by);
[[nodiscard]] Piece transformed(const Piece& piece, const Transform& by);
[[nodiscard]] Path reversed(const Path& path);
/// Turned so that a closed path runs counter-clockwise (or clockwise).
[[nodiscard]] Path wound(Path path, bool ccw);

/// Exact bounds: extremes of arcs and cubics, not of their handles.
[[nodiscard]] Box boundsOf(const Path& path);
[[nodiscard]] Box boundsOf(const Piece& piece);
[[nodiscard]] Box boundsOf(Vec2 from, const Segment& segment);

/// Signed sweep of an arc from `from`: above 0 counter-clockwise, never a full turn.
[[nodiscard]] double sweepOf(Vec2 from, const Segment& arc);
[[nodiscard]] Vec2 pointAt(Vec2 from, const Segment& segment, double t);
/// Direction of travel, of length 1; {0,0} for a segment without extent.
[[nodiscard]] Vec2 tangentAt(Vec2 from, const Segment& segment, double t);
[[nodiscard]] double lengthOf(Vec2 from, const Segment& segment);
[[nodiscard]] double lengthOf(const Path& path);
/// Signed: above 0 for a counter-clockwise closed path.
[[nodiscard]] double areaOf(const Path& path);
/// Of a closed outline without its openings, whichever way they run.
[[nodiscard]] double areaOf(const Piece& piece);
[[nodiscard]] double areaOf(const Ring& ring);
/// Points that a person would count: ends of segments, a closed path's start once.
[[nodiscard]] std::size_t pointsOf(const Path& path);
[[nodiscard]] std::size_t pointsOf(const Piece& piece);

/// Whether the path is one circle within `tolerance` mm; answers centre and radius.
struct Circle {
    Vec2 centre;
    double radius = 0;
};
[[nodiscard]] std::optional<Circle> circleOf(const Path& path, double tolerance);

/// To keep by them what was made of them.
KeptKey& operator<<(KeptKey& key, const Path& path);
KeptKey& operator<<(KeptKey& key, const Rings& rings);

/// The text form of the job file and the tests: "M x y", "L x y", "A cx cy + x y" (+ counter-clockwise, - clockwise),
/// "C x y x y x y", "Z" for a closed path. Numbers come back bit by bit.
[[nodiscard]] std::string toText(const Path& path);
[[nodiscard]] Result<std::vector<Path>> pathsFromText(std::string_view text);

} // namespace ferro

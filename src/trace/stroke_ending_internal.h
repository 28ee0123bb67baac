#pragma once

#include "trace/stroke_graph_internal.h"

namespace ferro::trace {

/// One end of a branch at a junction, as it is where the other strokes there no longer bend it.
struct Ending {
    int branch, end;  ///< end 0: the branch begins there
    std::size_t keep; ///< points of the branch, counted from this end, that are bent and give way
    Vec2 at, way;     ///< where it is straight again, and its direction away from the junction
    double radius;
    double bend = 0;    ///< 1/px, how it curves on from there, to the left above 0
    bool stump = false; ///< too short to have a direction of its own
};

/// Branch points counted from one of the ends.
inline const AxisPoint& counted(const AxisLine& line, int end, std::size_t i) {
    return end == 0 ? line[i] : line[line.size() - 1 - i];
}

/// Of a branch at a junction with this middle and disc, px.
[[nodiscard]] Ending endingOf(const StrokeGraph& graph, int branch, int end, Vec2 centre, double radius);

/// The same of a line by itself.
[[nodiscard]] Ending endingOf(const AxisLine& line, int end, Vec2 centre, double radius);

/// Where two endings, led on straight, meet ahead of both; none where they hardly turn.
[[nodiscard]] std::optional<Vec2> cornerOf(const Ending& a, const Ending& b);
/// Leads a line straight to a corner and straight on to `next`, which is not added, in steps of a px.
void leadToCorner(AxisLine& line, Vec2 corner, const AxisPoint& next);

/// How ill two endings go on as one stroke: by how much more it would turn between them than it bends of itself, and
/// how far one passes beside the other, in discs. Over 1: not at all. Co-circularity is what a hand keeps to, and an
/// eye looks for (after Parent & Zucker 1989).
/// `loosely`: a bend may begin, or end, between the two: straight on is as good.
[[nodiscard]] double misfit(const Ending& a, const Ending& b, double radius, bool loosely = false);

/// Leads a line over from the branch it comes by to the one it goes on in: a cubic, the way it comes and the way it
/// leaves (Hermite), in steps of a px.
void leadOver(AxisLine& line, const Ending& from, const Ending& to, const AxisLine& into);

} // namespace ferro::trace

#include "geometry/within.h"

#include "geometry/combine.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"

namespace ferro {

namespace {

/// The box itself, so that its bounds say all.
bool isUpright(const Piece& area, const Box& box) {
    const auto& outline = area.outline;
    return area.openings.empty() && outline.segments.size() <= 5 &&
           std::all_of(outline.segments.begin(), outline.segments.end(),
                       [](const Segment& s) { return s.kind == Segment::Kind::line; }) &&
           std::abs(std::abs(areaOf(outline)) - box.width() * box.height()) < 1e-9 * box.width() * box.height();
}

} // namespace

bool liesWithin(const Path& outline, const Piece& area) {
    constexpr double hair = 1e-6, fineness = 0.002; // mm
    const Box bounds = boundsOf(outline), box = boundsOf(area.outline);
    if (!box.grown(hair).contains(bounds)) return false;
    if (isUpright(area, box)) return true;
    if (!outline.closed) {
        double inside = 0;
        for (const auto& stretch : insideOf(outline, {area})) inside += lengthOf(stretch);
        return inside >= lengthOf(outline) - 0.004; // found to a micron at each of its ends
    }
    const auto beyond = combined({flattened(outline, fineness)}, flattened(area, fineness), Combine::takeAway);
    if (!beyond) return false;
    double outside = 0; // mm²
    for (const auto& ring : *beyond) outside += areaOf(ring);
    // Both are flattened: where they run along one curve, chords of one may lie beyond those of the other.
    return outside <= (0.001 + 2 * fineness) * lengthOf(outline);
}

} // namespace ferro

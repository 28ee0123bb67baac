#include "geometry/shapes.h"

#include "geometry/points.h"

namespace ferro {

namespace {

Path ellipse(Vec2 centre, double rx, double ry) {
    constexpr int parts = 8;
    const double handle = 4.0 / 3 * std::tan(2 * pi / parts / 4);
    const auto at = [&](double angle) { return Vec2{std::cos(angle), std::sin(angle)}; };
    const auto on = [&](Vec2 p) { return centre + Vec2{p.x * rx, p.y * ry}; };
    Path path{on({1, 0}), {}, true};
    for (int i = 0; i < parts; ++i) {
        const Vec2 a = at(2 * pi * i / parts), b = i + 1 == parts ? Vec2{1, 0} : at(2 * pi * (i + 1) / parts);
        path.segments.push_back(
            Segment::cubic(on(a + perpendicular(a) * handle), on(b - perpendicular(b) * handle), on(b)));
    }
    return path;
}

Path slot(Vec2 from, Vec2 to, double width) {
    const Vec2 side = unit(perpendicular(to - from)) * (width / 2);
    return {from - side,
            {Segment::line(to - side), Segment::arc(to, to + side, true), Segment::line(from + side),
             Segment::arc(from, from - side, true)},
            true};
}

Problem outOf(const char* what, const char* mend) { return {.what = what, .where = {}, .mend = mend}; }

} // namespace

std::string_view wordOf(ShapeKind kind) {
    constexpr std::array words{"rectangle", "circle", "ellipse", "polygon", "star", "slot", "line", "arc"};
    return words[static_cast<std::size_t>(kind)];
}

Result<Path> shapeBetween(const ShapeSettings& s, Vec2 from, Vec2 to) {
    const double size = distance(from, to);
    if (!isFinite(from) || !isFinite(to) || !(size < 1e6))
        return outOf("The shape is too large.", "Give it other ends.");
    if (!(size > 1e-6)) return outOf("The shape has no extent.", "Give it two places that lie apart.");
    const Vec2 low{std::min(from.x, to.x), std::min(from.y, to.y)},
        high{std::max(from.x, to.x), std::max(from.y, to.y)};
    const bool flat = !(high.x - low.x > 1e-6 && high.y - low.y > 1e-6);
    switch (s.kind) {
    case ShapeKind::rectangle:
        if (flat) return outOf("The rectangle has no area.", "Give it a width and a height.");
        if (!(s.corner >= 0)) return outOf("The corner's radius is below 0.", "Use 0 or more.");
        return rectangle(low, high, s.corner);
    case ShapeKind::circle: return circle(from, size);
    case ShapeKind::ellipse:
        if (flat) return outOf("The ellipse has no area.", "Give it a width and a height.");
        return ellipse((low + high) / 2, (high.x - low.x) / 2, (high.y - low.y) / 2);
    case ShapeKind::polygon:
    case ShapeKind::star: {
        if (s.corners < 3 || s.corners > 360) return outOf("A polygon or star has 3 to 360 corners.", "Change it.");
        const bool star = s.kind == ShapeKind::star;
        if (star && !(s.inner >= 0.01 && s.inner <= 1))
            return outOf("A star's inner corners lie at 0.01 to 1 of its tips.", "Change it.");
        Ring ring;
        const int count = star ? 2 * s.corners : s.corners;
        for (int i = 0; i < count; ++i)
            ring.push_back(i == 0 ? to
                                  : from + Transform::rotated(2 * pi * i / count).direction(to - from) *
                                               (star && i % 2 ? s.inner : 1));
        return pathOf(ring, true);
    }
    case ShapeKind::slot:
        if (!(s.width > 0 && s.width < 1e6)) return outOf("The slot needs a width above 0.", "Change it.");
        return slot(from, to, s.width);
    case ShapeKind::line: return Path{from, {Segment::line(to)}, false};
    case ShapeKind::arc: {
        if (!(std::abs(s.rise) < 1e6)) return outOf("The arc's height is too large.", "Change it.");
        const Path chord{from, {Segment::line(to)}, false};
        return withArcThrough(chord, 0, (from + to) / 2 + unit(perpendicular(to - from)) * s.rise);
    }
    }
    return outOf("There is no such shape.", "");
}

} // namespace ferro

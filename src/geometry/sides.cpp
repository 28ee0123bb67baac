#include "geometry/sides.h"

namespace ferro {

namespace {

constexpr double squareEnough = 0.05; ///< sine of the least angle of a corner

std::optional<Vec2> meeting(Vec2 a, Vec2 along, Vec2 b, Vec2 way) {
    const double sine = cross(along, way);
    if (std::abs(sine) < squareEnough) return std::nullopt;
    return a + along * (cross(b - a, way) / sine);
}

bool isSeam(const Path& path, std::size_t segment) { // the point before it
    const std::size_t before = (segment + path.segments.size() - 1) % path.segments.size();
    const auto& a = path.segments[before];
    const auto& b = path.segments[segment];
    if (a.kind != Segment::Kind::line || b.kind != Segment::Kind::line) return false;
    const Vec2 u = unit(path.from(segment) - path.from(before)), v = unit(b.end - path.from(segment));
    return std::abs(cross(u, v)) < 1e-6 && dot(u, v) > 0;
}

} // namespace

Path withoutSeams(const Path& path) {
    const std::size_t count = path.segments.size();
    std::size_t first = 0;
    while (first < count && isSeam(path, first)) ++first;
    if (!path.closed || count < 3 || first == count) return path;
    Path out{path.from(first), {}, true};
    for (std::size_t k = 0; k < count; ++k) {
        const std::size_t i = (first + k) % count;
        if (k > 0 && isSeam(path, i))
            out.segments.back() = path.segments[i];
        else
            out.segments.push_back(path.segments[i]);
    }
    return out;
}

std::vector<StraightSide> sidesOf(const Path& path) {
    std::vector<StraightSide> sides;
    if (!path.closed) return sides;
    for (std::size_t i = 0; i < path.segments.size(); ++i)
        if (path.segments[i].kind == Segment::Kind::line && distance(path.from(i), path.segments[i].end) > 1e-9)
            sides.push_back({i, path.from(i), path.segments[i].end, false});
    const std::size_t count = path.segments.size();
    if (sides.size() < 2) return sides;
    const auto raw = sides;
    for (std::size_t k = 0; k < sides.size(); ++k) {
        const std::size_t next = (k + 1) % sides.size();
        const std::size_t between = (raw[next].segment + count - raw[k].segment - 1) % count;
        const bool rounded = between == 1 && path.segments[(raw[k].segment + 1) % count].kind == Segment::Kind::arc;
        if (between > 0 && !rounded) continue;
        const auto corner = meeting(raw[k].from, raw[k].along(), raw[next].from, raw[next].along());
        if (!corner) continue;
        sides[k].cornered = true;
        sides[k].to = sides[next].from = *corner;
    }
    return sides;
}

std::optional<Path> withSidesShifted(const Path& path, std::span<const StraightSide> sides,
                                     std::span<const double> shifts) {
    const std::size_t count = path.segments.size();
    std::vector<Vec2> moved(count); // of the end of each segment
    std::vector<Vec2> centres(count);
    std::vector<StraightSide> after(sides.begin(), sides.end());
    for (std::size_t k = 0; k < sides.size(); ++k) {
        const std::size_t next = (k + 1) % sides.size();
        const double here = shifts[k], there = shifts[next];
        if (here == 0 && there == 0) continue;
        if (!sides[k].cornered) return std::nullopt;
        const Vec2 u = sides[k].along(), v = sides[next].along();
        const auto corner =
            meeting(sides[k].from + perpendicular(u) * here, u, sides[next].from + perpendicular(v) * there, v);
        if (!corner) return std::nullopt;
        const Vec2 by = *corner - sides[k].to;
        for (std::size_t i = sides[k].segment; i != sides[next].segment; i = (i + 1) % count) {
            moved[i] = by;
            if (i != sides[k].segment) centres[i] = by;
        }
        after[k].to = after[next].from = *corner;
    }
    for (std::size_t k = 0; k < sides.size(); ++k)
        if (dot(after[k].to - after[k].from, sides[k].to - sides[k].from) <= 0) return std::nullopt;
    Path out = path;
    out.start += moved[count - 1];
    for (std::size_t i = 0; i < count; ++i) {
        out.segments[i].end += moved[i];
        if (out.segments[i].kind == Segment::Kind::arc) out.segments[i].a += centres[i];
    }
    return out;
}

} // namespace ferro

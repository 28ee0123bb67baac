#pragma once

#include "geometry/measure.h"
#include "geometry/path.h"

#include <catch2/catch.hpp>
#include <random>

// Shapes as text, and shapes by seed. Only functions here, so that every room's tests can use them.

namespace ferro {
inline std::ostream& operator<<(std::ostream& out, Vec2 p) { return out << fmt::format("{},{}", p.x, p.y); }
} // namespace ferro

namespace ferro::test {

/// "0,0 60,0 60,20 0,20" as a ring.
inline Ring ring(const std::string& text) {
    Ring out;
    std::istringstream in(text);
    double x = 0, y = 0;
    char comma = 0;
    while (in >> x >> comma >> y) out.push_back({x, y});
    return out;
}

/// A star-like outline without crossings: a puppet's silhouette, more or less. The seed alone repeats it.
inline Ring blob(unsigned seed, Vec2 centre, double size, int points = 24, double wild = 0.45) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<> part(1 - wild, 1);
    Ring out;
    for (int i = 0; i < points; ++i) {
        const double angle = 2 * pi * (i + 0.3 * part(random)) / points, r = size * part(random);
        out.push_back(centre + Vec2{std::cos(angle), std::sin(angle)} * r);
    }
    return out;
}

/// The same with curves: every second stretch an arc or a cubic.
inline Path curvedBlob(unsigned seed, Vec2 centre, double size, int points = 12) {
    const Ring corners = blob(seed, centre, size, points, 0.3);
    Path path{corners[0], {}, false};
    for (std::size_t i = 1; i <= corners.size(); ++i) {
        const Vec2 a = path.end(), b = corners[i % corners.size()], out = perpendicular(b - a) * -0.2;
        if (i % 3 == 0)
            path.segments.push_back(Segment::line(b));
        else if (i % 3 == 1)
            path.segments.push_back(Segment::cubic(lerp(a, b, 0.3) + out, lerp(a, b, 0.7) + out, b));
        else {
            // An arc through a, b with its centre on the left: bulges outward gently.
            const Vec2 middle = (a + b) / 2, n = unit(perpendicular(b - a));
            path.segments.push_back(Segment::arc(middle + n * distance(a, b), b, true));
        }
    }
    path.closed = true;
    return path;
}

/// Largest distance of any corner of `points` from the outline of `ring`.
inline double farthest(const Ring& points, const Ring& ring) {
    double worst = 0;
    for (const Vec2 p : points) {
        double best = 1e300;
        for (std::size_t i = 0; i < ring.size(); ++i)
            best = std::min(best, distanceToLine(p, ring[i], ring[(i + 1) % ring.size()]));
        worst = std::max(worst, best);
    }
    return worst;
}

} // namespace ferro::test

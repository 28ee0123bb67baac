#include "geometry/parabola.h"

#include <cmath>

namespace ferro {

std::optional<std::array<double, 3>> parabolaThrough(std::span<const Vec2> points) {
    double s1 = 0, s2 = 0, s3 = 0, s4 = 0, t0 = 0, t1 = 0, t2 = 0;
    for (const auto [x, y] : points) {
        const double xx = x * x;
        s1 += x, s2 += xx, s3 += xx * x, s4 += xx * xx, t0 += y, t1 += x * y, t2 += xx * y;
    }
    // Cramer's rule on the normal equations.
    const auto n = static_cast<double>(points.size());
    const double det = n * (s2 * s4 - s3 * s3) - s1 * (s1 * s4 - s2 * s3) + s2 * (s1 * s3 - s2 * s2);
    if (!(std::abs(det) > 1e-9 * n * s2 * s4)) return std::nullopt;
    return std::array{(t0 * (s2 * s4 - s3 * s3) - s1 * (t1 * s4 - t2 * s3) + s2 * (t1 * s3 - t2 * s2)) / det,
                      (n * (t1 * s4 - t2 * s3) - t0 * (s1 * s4 - s2 * s3) + s2 * (s1 * t2 - s2 * t1)) / det,
                      (n * (s2 * t2 - s3 * t1) - s1 * (s1 * t2 - s2 * t1) + t0 * (s1 * s3 - s2 * s2)) / det};
}

} // namespace ferro

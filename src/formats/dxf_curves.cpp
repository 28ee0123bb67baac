#include "formats/dxf_curves_internal.h"

namespace ferro::formats {

Segment bulged(Vec2 from, Vec2 to, double bulge) {
    const Vec2 chord = to - from;
    if (std::abs(bulge) < 1e-9 || length(chord) < 1e-12) return Segment::line(to);
    const Vec2 centre = (from + to) / 2 + perpendicular(chord) * ((1 / bulge - bulge) / 4);
    return Segment::arc(centre, to, bulge > 0);
}

Path arcOf(Vec2 centre, double radius, double start, double end) {
    double sweep = positiveAngle(end - start);
    if (sweep < 1e-9 || sweep > 2 * pi - 1e-9) return circle(centre, radius);
    const auto at = [&](double angle) { return centre + Vec2{std::cos(angle), std::sin(angle)} * radius; };
    return {at(start), {Segment::arc(centre, at(start + sweep), true)}, false};
}

Path ellipseOf(Vec2 centre, Vec2 major, Vec2 minor, double start, double end) {
    const Path round = arcOf({0, 0}, 1, start, end);
    return transformed(round, {major.x, major.y, minor.x, minor.y, centre.x, centre.y});
}

namespace {

/// A weighted point: x and y times the weight.
struct Weighted {
    double x = 0, y = 0, w = 1;
    [[nodiscard]] Vec2 point() const { return {x / w, y / w}; }
};
Weighted mixed(const Weighted& a, const Weighted& b, double t) {
    return {a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t, a.w + (b.w - a.w) * t};
}

/// The polar form of the span that begins at knot `k`, at the parameters `at` (as many as the degree).
Weighted blossom(const std::vector<Weighted>& control, const std::vector<double>& knots, int degree, int k,
                 const std::vector<double>& at) {
    std::vector<Weighted> d(control.begin() + (k - degree), control.begin() + k + 1);
    for (int r = 1; r <= degree; ++r)
        for (int i = degree; i >= r; --i) {
            const auto low = static_cast<std::size_t>(k - degree + i),
                       high = low + static_cast<std::size_t>(degree - r + 1);
            const double width = knots[high] - knots[low];
            const double share = width > 0 ? (at[static_cast<std::size_t>(r - 1)] - knots[low]) / width : 0;
            const auto here = static_cast<std::size_t>(i);
            d[here] = mixed(d[here - 1], d[here], share);
        }
    return d.back();
}

struct Here {
    Vec2 point, slope;
};
/// Point and derivative of a Bézier curve (de Casteljau).
Here onBezier(std::vector<Weighted> b, double t) {
    const double degree = static_cast<double>(b.size() - 1);
    while (b.size() > 2) {
        for (std::size_t i = 0; i + 1 < b.size(); ++i) b[i] = mixed(b[i], b[i + 1], t);
        b.pop_back();
    }
    const Weighted at = mixed(b[0], b[1], t);
    const double dw = degree * (b[1].w - b[0].w);
    const Vec2 p = at.point();
    return {p, (Vec2{b[1].x - b[0].x, b[1].y - b[0].y} * degree - p * dw) / at.w};
}

/// A curve that is no cubic, by cubics with its points and slopes, halved until they lie on it.
void approximate(const std::vector<Weighted>& bezier, double t0, double t1, double tolerance, int depth, Path& path) {
    const Here a = onBezier(bezier, t0), b = onBezier(bezier, t1);
    const double h = (t1 - t0) / 3;
    const Segment cubic = Segment::cubic(a.point + a.slope * h, b.point - b.slope * h, b.point);
    bool near = true;
    for (const double t : {0.25, 0.5, 0.75})
        near &= distance(pointAt(a.point, cubic, t), onBezier(bezier, t0 + (t1 - t0) * t).point) <= tolerance;
    if (near || depth >= 12) return path.segments.push_back(cubic);
    approximate(bezier, t0, (t0 + t1) / 2, tolerance, depth + 1, path);
    approximate(bezier, (t0 + t1) / 2, t1, tolerance, depth + 1, path);
}

/// The natural cubic spline through points, by the lengths of the chords.
Path throughPoints(Ring p) {
    p.erase(std::unique(p.begin(), p.end()), p.end());
    Path path{p.front(), {}, false};
    const std::size_t n = p.size();
    if (n < 3) {
        if (n == 2) path.segments.push_back(Segment::line(p[1]));
        return path;
    }
    // Slopes at the points from the tridiagonal system, by Thomas' algorithm.
    std::vector<double> h(n - 1), share(n, 0.5);
    for (std::size_t i = 0; i + 1 < n; ++i) h[i] = distance(p[i], p[i + 1]);
    std::vector<Vec2> slope(n);
    slope[0] = (p[1] - p[0]) * (1.5 / h[0]);
    for (std::size_t i = 1; i < n; ++i) {
        const bool last = i + 1 == n;
        const double low = last ? 1 : h[i], high = last ? 0 : h[i - 1], middle = last ? 2 : 2 * (h[i - 1] + h[i]);
        const Vec2 right = last ? (p[i] - p[i - 1]) * (3 / h[i - 1])
                                : (p[i] - p[i - 1]) * (3 * h[i] / h[i - 1]) + (p[i + 1] - p[i]) * (3 * h[i - 1] / h[i]);
        const double pivot = middle - low * share[i - 1];
        share[i] = high / pivot;
        slope[i] = (right - slope[i - 1] * low) / pivot;
    }
    for (std::size_t i = n - 1; i-- > 0;) slope[i] = slope[i] - slope[i + 1] * share[i];
    for (std::size_t i = 0; i + 1 < n; ++i)
        path.segments.push_back(
            Segment::cubic(p[i] + slope[i] * (h[i] / 3), p[i + 1] - slope[i + 1] * (h[i] / 3), p[i + 1]));
    return path;
}

} // namespace

std::optional<Path> pathOf(const Spline& s) {
    if (s.control.empty() && s.through.size() >= 2) {
        Path path = throughPoints(s.through);
        return path.segments.empty() ? std::nullopt : std::optional(std::move(path));
    }
    const auto n = s.control.size(), p = static_cast<std::size_t>(std::clamp(s.degree, 1, 25));
    if (n < p + 1 || s.knots.size() != n + p + 1 || !std::is_sorted(s.knots.begin(), s.knots.end()))
        return std::nullopt;
    std::vector<Weighted> control;
    bool rational = false;
    Box box;
    for (std::size_t i = 0; i < n; ++i) {
        const double w = i < s.weights.size() ? s.weights[i] : 1;
        if (!(w > 1e-12) || !(w < 1e12)) return std::nullopt;
        rational |= std::abs(w - (s.weights.empty() ? 1 : s.weights[0])) > 1e-12 * w;
        control.push_back({s.control[i].x * w, s.control[i].y * w, w});
        box.take(s.control[i]);
    }
    Path path;
    const double tolerance = 1e-6 * std::max({box.width(), box.height(), 1e-9});
    for (std::size_t k = p; k < n; ++k) {
        const double u = s.knots[k], v = s.knots[k + 1];
        if (!(v > u)) continue;
        std::vector<Weighted> bezier;
        for (std::size_t j = 0; j <= p; ++j) {
            std::vector<double> at(p, u);
            std::fill_n(at.begin(), j, v);
            bezier.push_back(blossom(control, s.knots, static_cast<int>(p), static_cast<int>(k), at));
        }
        if (path.segments.empty()) path.start = bezier.front().point();
        const auto b = [&](std::size_t i) { return bezier[i].point(); };
        if (!rational && p == 1)
            path.segments.push_back(Segment::line(b(1)));
        else if (!rational && p == 2)
            path.segments.push_back(Segment::cubic(lerp(b(0), b(1), 2.0 / 3), lerp(b(2), b(1), 2.0 / 3), b(2)));
        else if (!rational && p == 3)
            path.segments.push_back(Segment::cubic(b(1), b(2), b(3)));
        else
            approximate(bezier, 0, 1, tolerance, 0, path);
    }
    if (path.segments.empty()) return std::nullopt;
    if (s.closed || distance(path.start, path.end()) < tolerance) {
        path.close(10 * tolerance);
        path.closed = true;
    }
    return path;
}

} // namespace ferro::formats

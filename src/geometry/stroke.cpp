#include "geometry/stroke.h"

#include "geometry/flatten.h"

#include <numeric>

namespace ferro {

Rings dashed(const Ring& line, bool closed, std::vector<double> pattern, double start, std::size_t most) {
    if (pattern.size() % 2) pattern.insert(pattern.end(), pattern.begin(), pattern.end());
    const double period = std::accumulate(pattern.begin(), pattern.end(), 0.0);
    Ring way = line;
    if (closed && way.size() > 1 && way.front() != way.back()) way.push_back(way.front());
    double whole = 0;
    for (std::size_t i = 0; i + 1 < way.size(); ++i) whole += distance(way[i], way[i + 1]);
    if (!(period > 0) || !std::isfinite(start) ||
        !(whole / period * static_cast<double>(pattern.size()) < 2.0 * static_cast<double>(most)) ||
        std::any_of(pattern.begin(), pattern.end(), [](double d) { return !(d >= 0); }))
        return {way};
    // Where in the pattern the line begins.
    double into = std::fmod(start, period);
    if (into < 0) into += period;
    std::size_t k = 0;
    while (into >= pattern[k]) {
        into -= pattern[k];
        k = (k + 1) % pattern.size();
    }
    double left = pattern[k] - into;
    Rings dashes;
    Ring dash;
    const auto finish = [&] {
        if (!dash.empty()) dashes.push_back(std::move(dash));
        dash.clear();
    };
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
        const Vec2 a = way[i], b = way[i + 1];
        const double length = distance(a, b);
        double at = 0;
        if (k % 2 == 0 && dash.empty()) dash.push_back(a);
        while (length - at > left) {
            at += left;
            const Vec2 p = a + (b - a) * (at / length);
            if (k % 2 == 0) {
                dash.push_back(p);
                finish();
            }
            k = (k + 1) % pattern.size();
            left = pattern[k];
            if (k % 2 == 0) dash.push_back(p);
        }
        left -= length - at;
        if (k % 2 == 0) dash.push_back(b);
    }
    finish();
    return dashes;
}

Rings strokeParts(const Ring& line, bool closed, double width, Cap cap, const OffsetOptions& options) {
    const double h = width / 2;
    Ring points;
    for (const Vec2 p : line)
        if (points.empty() || points.back() != p) points.push_back(p);
    if (closed && points.size() > 1 && points.front() == points.back()) points.pop_back();
    Rings parts;
    const auto round = [&](Vec2 at) { parts.push_back(flattened(circle(at, h), options.tolerance / 4)); };
    const std::size_t n = points.size();
    if (n < 2) { // a dot
        if (n == 1 && cap == Cap::round) round(points[0]);
        if (n == 1 && cap == Cap::square)
            parts.push_back(flattened(rectangle(points[0] - Vec2{h, h}, points[0] + Vec2{h, h}), options.tolerance));
        return parts;
    }
    const std::size_t stretches = closed && n > 2 ? n : n - 1;
    const auto along = [&](std::size_t i) {
        const Vec2 d = points[(i + 1) % n] - points[i];
        return d / length(d);
    };
    const bool ends = stretches == n - 1;
    for (std::size_t i = 0; i < stretches; ++i) {
        const Vec2 u = along(i), side = perpendicular(u) * h;
        Vec2 a = points[i], b = points[(i + 1) % n];
        if (ends && cap == Cap::square && i == 0) a = a - u * h;
        if (ends && cap == Cap::square && i + 1 == stretches) b = b + u * h;
        parts.push_back({a - side, b - side, b + side, a + side});
    }
    if (ends && cap == Cap::round) round(points.front()), round(points.back());
    for (std::size_t i = ends ? 1 : 0; i < stretches; ++i) {
        const Vec2 p = points[i], u = along((i + n - 1) % n), v = along(i);
        const double turn = cross(u, v), straight = dot(u, v);
        if (options.corner == Corner::round) {
            round(p);
            continue;
        }
        if (turn == 0) continue; // straight on, or right back: nothing lies outside
        // The outer side: right of a turn to the left. From within both stretches, so that rounding parts it from none.
        const Vec2 from = perpendicular(u) * (turn > 0 ? -h : h), to = perpendicular(v) * (turn > 0 ? -h : h);
        const double shorter = std::min(distance(points[(i + n - 1) % n], p), distance(p, points[(i + 1) % n]));
        const double deep = std::min(0.5, shorter / (2 * h * std::max(std::abs(turn), 1e-12)));
        Ring wedge{p - (from + to) * deep, p + from, p + to};
        const double reach = 1 / std::sqrt(std::max((1 + straight) / 2, 1e-12)); // of the tip, over h
        if (options.corner == Corner::sharp && reach <= options.sharpLimit)
            wedge.insert(wedge.begin() + 2, p + (from + to) / (1 + straight));
        if (turn < 0) std::reverse(wedge.begin(), wedge.end());
        parts.push_back(std::move(wedge));
    }
    return parts;
}

} // namespace ferro

#pragma once

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <optional>

namespace ferro {

inline constexpr double pi = std::numbers::pi;

/// A point or a direction in the plane, mm, y up.
struct Vec2 {
    double x = 0, y = 0;

    friend constexpr Vec2 operator+(Vec2 a, Vec2 b) { return {a.x + b.x, a.y + b.y}; }
    friend constexpr Vec2 operator-(Vec2 a, Vec2 b) { return {a.x - b.x, a.y - b.y}; }
    friend constexpr Vec2 operator-(Vec2 a) { return {-a.x, -a.y}; }
    friend constexpr Vec2 operator*(Vec2 a, double k) { return {a.x * k, a.y * k}; }
    friend constexpr Vec2 operator*(double k, Vec2 a) { return a * k; }
    friend constexpr Vec2 operator/(Vec2 a, double k) { return {a.x / k, a.y / k}; }
    Vec2& operator+=(Vec2 b) { return *this = *this + b; }
    friend bool operator==(const Vec2&, const Vec2&) = default;
};

[[nodiscard]] constexpr double dot(Vec2 a, Vec2 b) { return a.x * b.x + a.y * b.y; }
/// Above 0 when `b` lies to the left of `a`.
[[nodiscard]] constexpr double cross(Vec2 a, Vec2 b) { return a.x * b.y - a.y * b.x; }
[[nodiscard]] inline double length(Vec2 a) { return std::sqrt(dot(a, a)); }
[[nodiscard]] inline double distance(Vec2 a, Vec2 b) { return length(b - a); }
/// A quarter turn to the left.
[[nodiscard]] constexpr Vec2 perpendicular(Vec2 a) { return {-a.y, a.x}; }
/// The null vector stays null.
[[nodiscard]] inline Vec2 unit(Vec2 a) {
    const double size = length(a);
    return size > 0 ? a / size : Vec2{};
}
[[nodiscard]] constexpr Vec2 lerp(Vec2 a, Vec2 b, double t) { return a + (b - a) * t; }
[[nodiscard]] inline bool isFinite(Vec2 a) { return std::isfinite(a.x) && std::isfinite(a.y); }
/// An angle brought into [0, 2π).
[[nodiscard]] inline double positiveAngle(double angle) {
    angle = std::fmod(angle, 2 * pi);
    return angle < 0 ? angle + 2 * pi : angle;
}

/// An upright rectangle; empty until something is taken in.
struct Box {
    Vec2 low{std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()};
    Vec2 high{-std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};

    [[nodiscard]] bool empty() const { return !(low.x <= high.x && low.y <= high.y); }
    [[nodiscard]] double width() const { return empty() ? 0 : high.x - low.x; }
    [[nodiscard]] double height() const { return empty() ? 0 : high.y - low.y; }
    [[nodiscard]] Vec2 centre() const { return empty() ? Vec2{} : (low + high) / 2; }
    void take(Vec2 p) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y)};
    }
    void take(const Box& b) {
        if (b.empty()) return;
        take(b.low);
        take(b.high);
    }
    [[nodiscard]] Box grown(double by) const { return empty() ? *this : Box{low - Vec2{by, by}, high + Vec2{by, by}}; }
    [[nodiscard]] bool contains(Vec2 p) const { return p.x >= low.x && p.x <= high.x && p.y >= low.y && p.y <= high.y; }
    [[nodiscard]] bool contains(const Box& b) const { return contains(b.low) && contains(b.high); }
    [[nodiscard]] bool meets(const Box& b) const {
        return low.x <= b.high.x && b.low.x <= high.x && low.y <= b.high.y && b.low.y <= high.y;
    }
    friend bool operator==(const Box&, const Box&) = default;
};

/// An affine map: x' = a x + c y + tx, y' = b x + d y + ty.
struct Transform {
    double a = 1, b = 0, c = 0, d = 1, tx = 0, ty = 0;

    [[nodiscard]] static Transform moved(Vec2 by) { return {1, 0, 0, 1, by.x, by.y}; }
    [[nodiscard]] static Transform scaled(double sx, double sy, Vec2 about = {}) {
        return {sx, 0, 0, sy, about.x - sx * about.x, about.y - sy * about.y};
    }
    /// `angle` in radians, counter-clockwise.
    [[nodiscard]] static Transform rotated(double angle, Vec2 about = {}) {
        // Quarter turns are exact: a sheet turned four times is the sheet it was.
        const double quarter = angle / (pi / 2);
        double co = std::cos(angle), si = std::sin(angle);
        if (std::abs(quarter - std::round(quarter)) < 1e-12) co = std::round(co), si = std::round(si);
        return {co, si, -si, co, about.x - co * about.x + si * about.y, about.y - si * about.x - co * about.y};
    }
    [[nodiscard]] Vec2 operator()(Vec2 p) const { return {a * p.x + c * p.y + tx, b * p.x + d * p.y + ty}; }
    [[nodiscard]] Vec2 direction(Vec2 v) const { return {a * v.x + c * v.y, b * v.x + d * v.y}; }
    /// First `inner`, then this.
    [[nodiscard]] Transform operator*(const Transform& inner) const {
        return {a * inner.a + c * inner.b, b * inner.a + d * inner.b,        a * inner.c + c * inner.d,
                b * inner.c + d * inner.d, a * inner.tx + c * inner.ty + tx, b * inner.tx + d * inner.ty + ty};
    }
    [[nodiscard]] double determinant() const { return a * d - b * c; }
    [[nodiscard]] std::optional<Transform> inverse() const {
        const double det = determinant();
        if (!(std::abs(det) > 1e-300)) return std::nullopt;
        const Transform linear{d / det, -b / det, -c / det, a / det, 0, 0};
        const Vec2 shift = linear.direction({tx, ty});
        return Transform{linear.a, linear.b, linear.c, linear.d, -shift.x, -shift.y};
    }
    /// True when circles stay circles: turning, mirroring and even scaling only.
    [[nodiscard]] bool keepsCircles() const {
        const double size = std::max(a * a + b * b, c * c + d * d);
        return std::abs(a * a + b * b - c * c - d * d) <= 1e-12 * size && std::abs(a * c + b * d) <= 1e-12 * size;
    }
    friend bool operator==(const Transform&, const Transform&) = default;
};

} // namespace ferro

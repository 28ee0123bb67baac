#pragma once

#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "nest/nest.h"

#include <random>

namespace ferro::test {

inline double areaOfAll(const Rings& rings) {
    double sum = 0;
    for (const auto& ring : rings) sum += areaOf(ring);
    return sum;
}

/// A rectangle cut into pieces by lines across the largest, each with a step in it: laid right they fill it again.
inline std::vector<Ring> jigsaw(unsigned seed, std::size_t count, double width, double height) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<> share(0, 1);
    std::vector<Ring> pieces{{{0, 0}, {width, 0}, {width, height}, {0, height}}};
    for (int tries = 0; pieces.size() < count && tries < 1000; ++tries) {
        const auto largest = std::max_element(pieces.begin(), pieces.end(), [](const Ring& a, const Ring& b) {
            return std::abs(areaOf(a)) < std::abs(areaOf(b));
        });
        Box box;
        for (const Vec2 p : *largest) box.take(p);
        const double angle = (box.width() > box.height() ? 0.5 : 0) * pi + (share(random) - 0.5) * 0.9;
        const Vec2 u{std::cos(angle), std::sin(angle)}, n = perpendicular(u);
        const Vec2 middle = box.centre() + n * ((share(random) - 0.5) * 0.25 * std::min(box.width(), box.height()));
        const double bend = (share(random) - 0.5) * 0.3 * std::min(box.width(), box.height()),
                     far = 4 * (width + height);
        const double at = (share(random) - 0.5) * 0.4 * std::max(box.width(), box.height());
        const Ring half{middle - u * far,           middle + u * at,
                        middle + u * at + n * bend, middle + u * far + n * bend,
                        middle + u * far + n * far, middle - u * far + n * far};
        const auto one = combined({*largest}, {half}, Combine::overlap),
                   two = combined({*largest}, {half}, Combine::takeAway);
        if (!one || !two || one->size() != 1 || two->size() != 1) continue;
        if (std::min(areaOfAll(*one), areaOfAll(*two)) < 0.25 * areaOf(*largest)) continue;
        *largest = one->front();
        pieces.push_back(two->front());
    }
    return pieces;
}

/// Turned by quarters as chance has it, each a part.
inline std::vector<nest::Part> partsOf(const std::vector<Ring>& rings, unsigned seed, double turnStep = pi / 2) {
    std::mt19937 random(seed);
    std::vector<nest::Part> parts;
    for (const auto& ring : rings) {
        nest::Part part;
        part.pieces.emplace_back().outline =
            transformed(pathOf(ring, true), Transform::rotated(static_cast<int>(random() % 4) * pi / 2));
        part.turnStep = turnStep;
        parts.push_back(std::move(part));
    }
    return parts;
}

/// A leaf: two bows with teeth; a gear: a ring of teeth with a bore.
inline Piece leaf(double length, double width, int teeth) {
    Ring points;
    for (int side = 0; side < 2; ++side)
        for (int i = 0; i < 2 * teeth; ++i) {
            const double t = (side == 0 ? i : 2 * teeth - i) / (2.0 * teeth);
            const double bow = std::sin(pi * t) * width / 2 * (i % 2 ? 0.78 : 1);
            points.push_back({t * length, side == 0 ? -bow : bow});
        }
    return {wound(pathOf(points, true), true), {}};
}
inline Piece gear(double radius, int teeth) {
    Ring points;
    for (int i = 0; i < 4 * teeth; ++i) {
        const double angle = 2 * pi * i / (4 * teeth), r = i % 4 < 2 ? radius : radius * 0.8;
        points.push_back({r * std::cos(angle), r * std::sin(angle)});
    }
    return {wound(pathOf(points, true), true), {wound(circle({0, 0}, radius * 0.4), false)}};
}
inline nest::Sheet sheetOf(double width, double height) { return {{rectangle({0, 0}, {width, height}), {}}, {}}; }

} // namespace ferro::test

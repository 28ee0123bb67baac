#pragma once

#include "artwork/text.h"
#include "geometry/flatten.h"
#include "geometry/shapes.h"
#include "support/shapes.h"

#include <functional>

// What shops bring, drawn by seed: the shapes that a trace is judged by.

namespace ferro::test {

using Random = std::mt19937;
inline double between(Random& random, double low, double high) {
    return std::uniform_real_distribution<>(low, high)(random);
}

inline Path star(Random& random, Vec2 middle, int points, double outer, double inner) {
    const double turn = between(random, 0, 6);
    Ring ring;
    for (int i = 0; i < 2 * points; ++i) {
        const double angle = turn + pi * i / points;
        ring.push_back(middle + Vec2{std::cos(angle), std::sin(angle)} * (i % 2 ? inner : outer));
    }
    return pathOf(ring, true);
}
inline Path turned(Random& random, const Path& path, Vec2 to) {
    return transformed(path, Transform::moved(to) * Transform::rotated(between(random, 0, 3)));
}
inline std::vector<Path> letter(char which, Vec2 middle, double height) {
    artwork::Lettering lettering;
    lettering.text = std::string(1, which);
    lettering.capHeight = height;
    const auto made = artwork::lettered(lettering);
    REQUIRE(made);
    std::vector<Path> out;
    Box box;
    for (const auto& piece : made->pieces) {
        out.push_back(piece.outline), box.take(boundsOf(piece));
        out.insert(out.end(), piece.openings.begin(), piece.openings.end());
    }
    for (auto& path : out) path = transformed(path, Transform::moved(middle - box.centre()));
    return out;
}
/// A wave of even thickness: the sea at the foot of a shadow stage.
inline Path wave(Vec2 middle, double wide, double high, double thick, double frequency) {
    Ring ring;
    for (int side : {1, -1})
        for (int i = 0; i <= 400; ++i) {
            const double x = -side * (i / 400.0 - 0.5) * wide;
            ring.push_back(middle + Vec2{x, high * std::sin(frequency * x) + side * thick / 2});
        }
    return pathOf(ring, true);
}

struct Kind {
    const char* name;
    std::function<std::vector<Path>(Random&, Vec2, double, int)> draw; ///< within a square of that size, the nth
    std::size_t most;                                                  ///< segments that it may come back as
};

inline std::vector<Kind> kinds() {
    return {
        {"peg hole", [](auto& r, Vec2 c, double s, int) { return std::vector{circle(c, s * between(r, 0.03, 0.06))}; },
         2},
        {"thin ring",
         [](auto& r, Vec2 c, double s, int) {
             return std::vector{circle(c, 0.3 * s), reversed(circle(c, (0.3 - between(r, 0.025, 0.05)) * s))};
         },
         4},
        {"sharp star", [](auto& r, Vec2 c, double s, int) { return std::vector{star(r, c, 5, 0.42 * s, 0.12 * s)}; },
         10},
        {"toothed wheel",
         [](auto& r, Vec2 c, double s, int) { return std::vector{star(r, c, 20, 0.42 * s, 0.36 * s)}; }, 48},
        {"lath",
         [](auto& r, Vec2 c, double s, int) {
             return std::vector{turned(r, rectangle({-0.4 * s, -0.015 * s}, {0.4 * s, 0.015 * s}), c)};
         },
         6},
        {"leaf",
         [](auto& r, Vec2 c, double s, int) {
             const Path round = transformed(circle({}, 1), Transform{0.4 * s, 0, 0, between(r, 0.05, 0.3) * s, 0, 0});
             return std::vector{turned(r, round, c)};
         },
         8},
        {"puppet",
         [](auto&, Vec2 c, double s, int n) {
             return std::vector{curvedBlob(static_cast<unsigned>(n) + 20, c, 0.42 * s, 15)};
         },
         24},
        {"letter", [](auto&, Vec2 c, double s, int n) { return letter("RSgkqaB8"[n], c, 0.6 * s); }, 26},
        {"card",
         [](auto& r, Vec2 c, double s, int) {
             return std::vector{
                 turned(r, rectangle({-0.3 * s, -0.2 * s}, {0.3 * s, 0.2 * s}, between(r, 0.02, 0.1) * s), c)};
         },
         8},
        {"wave",
         [](auto& r, Vec2 c, double s, int) {
             return std::vector{wave(c, 0.84 * s, 0.12 * s, 0.06 * s, between(r, 8, 14) / s)};
         },
         16},
    };
}

} // namespace ferro::test

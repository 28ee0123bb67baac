// Round marks against places that were drawn, and shapes that are none.
#include "picture/round_marks.h"
#include "support/ink.h"
#include "support/shapes.h"

#include <random>

using namespace ferro;
using namespace ferro::test;

namespace {

Ring disc(Vec2 at, double radius, double flat = 1, double turn = 0) {
    Ring ring;
    for (int k = 0; k < 90; ++k) {
        const Vec2 p{radius * std::cos(k * pi / 45), flat * radius * std::sin(k * pi / 45)};
        ring.push_back(at + Transform::rotated(turn).direction(p));
    }
    return ring;
}

} // namespace

TEST_CASE("round marks: found within parts of a pixel, blurred, grained and flattened as they may be", "[property]") {
    for (unsigned seed = 0; seed < 6; ++seed) {
        std::mt19937 random(seed);
        const auto share = [&] { return static_cast<double>(random() % 1000) / 1000; };
        std::vector<Vec2> truth;
        Rings rings;
        for (int row = 0; row < 4; ++row)
            for (int column = 0; column < 5; ++column) {
                const Vec2 at{60 + 70 * column + share(), 50 + 60 * row + share()};
                truth.push_back(at);
                rings.push_back(disc(at, 7 + 8 * share(), 0.7 + 0.3 * share(), share() * pi));
            }
        const auto sharp = inked(rings, 400, 300, 1, 20 + 10 * static_cast<int>(seed), 240);
        const auto seen = seed == 0 ? sharp : photographed(sharp, static_cast<int>(seed % 3), 1.5 * seed, seed);
        const auto marks = picture::roundMarksIn(seen);
        CAPTURE(seed);
        REQUIRE(marks.size() == truth.size());
        for (const auto& mark : marks) {
            // Ink is drawn y up.
            const Vec2 at{mark.at.x, 300 - mark.at.y};
            const auto near = std::min_element(truth.begin(), truth.end(),
                                               [&](Vec2 a, Vec2 b) { return distance(a, at) < distance(b, at); });
            CHECK(distance(*near, at) < (0.02 + 0.015 * seed));
        }
    }
}

TEST_CASE("round marks: squares, rings, letters, halves and what touches is none") {
    const Rings none{
        ring("40,40 60,40 60,60 40,60"),                                               // a square
        ring("100,40 130,40 115,66"),                                                  // a triangle
        ring("180,40 200,40 200,46 186,46 186,54 198,54 198,60 186,60 186,70 180,70"), // a letter
        disc({260, 55}, 14, 0.35),                                                     // far too flat
        ring("40,120 80,120 80,126 40,126"),                                           // a line
        disc({150, 130}, 12),
        ring("150,126 190,126 190,134 150,134"), // a disc with a tail
        disc({0, 200}, 12),                      // over the edge
    };
    CHECK(picture::roundMarksIn(inked(none, 320, 240, 1)).empty());
    CHECK(picture::roundMarksIn(inked({disc({100, 100}, 2)}, 200, 200, 1)).empty()); // too small to be told
    CHECK(picture::roundMarksIn({}).empty());
    CHECK(picture::roundMarksIn(picture::Grey{40, 40, std::vector<std::uint8_t>(1600, 0)}).empty());
    CHECK(picture::roundMarksIn(picture::Grey{40, 40, std::vector<std::uint8_t>(1600, 255)}).empty());
}

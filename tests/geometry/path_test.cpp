#include "geometry/flatten.h"
#include "geometry/path.h"
#include "support/shapes.h"

using namespace ferro;

TEST_CASE("path: area, length and bounds of a circle are exact") {
    const Path moon = circle({10, 20}, 5);
    CHECK(areaOf(moon) == Approx(pi * 25).epsilon(1e-12));
    CHECK(lengthOf(moon) == Approx(10 * pi).epsilon(1e-12));
    CHECK(boundsOf(moon).low.x == Approx(5));
    CHECK(boundsOf(moon).high.y == Approx(25));
    CHECK(areaOf(reversed(moon)) == Approx(-pi * 25));
    REQUIRE(circleOf(moon, 0.01));
    CHECK(circleOf(moon, 0.01)->radius == Approx(5));
    CHECK_FALSE(circleOf(rectangle({0, 0}, {10, 10}), 0.02));
}

TEST_CASE("path: area of cubics agrees with a fine flattening") {
    for (unsigned seed = 1; seed < 40; ++seed) {
        const Path path = test::curvedBlob(seed, {50, 40}, 30);
        CAPTURE(seed);
        CHECK(areaOf(path) == Approx(areaOf(flattened(path, 1e-5))).epsilon(1e-5));
    }
}

TEST_CASE("path: flattening stays within its tolerance") {
    const auto tolerance = GENERATE(0.1, 0.01, 0.001);
    for (unsigned seed = 1; seed < 20; ++seed) {
        const Path path = test::curvedBlob(seed, {0, 0}, 25);
        const Ring coarse = flattened(path, tolerance);
        Ring samples;
        for (std::size_t i = 0; i < path.segments.size(); ++i)
            for (int k = 0; k < 50; ++k) samples.push_back(pointAt(path.from(i), path.segments[i], k / 50.0));
        CAPTURE(seed, tolerance);
        CHECK(test::farthest(samples, coarse) <= tolerance * 1.0001);
        CHECK(test::farthest(thinned(coarse, tolerance, true), coarse) <= 1e-9);
        CHECK(test::farthest(coarse, thinned(coarse, tolerance, true)) <= tolerance);
    }
}

TEST_CASE("path: text comes back bit by bit") {
    for (unsigned seed = 1; seed < 30; ++seed) {
        const Path path = test::curvedBlob(seed, {1.0 / 3, -7}, 12);
        const auto back = pathsFromText(toText(path));
        REQUIRE(back);
        CHECK(back->front() == path);
    }
    for (const char* bad : {"L1 2", "M1", "M0 0A1 1 2 2", "M0 0Q1 1", "M0 0L nan 1", "M0 0L1e999 1"}) {
        INFO(bad);
        CHECK_FALSE(pathsFromText(bad));
    }
}

TEST_CASE("path: four quarter turns and two mirrors bring it back exactly") {
    const Path heron = test::curvedBlob(3, {16, 8}, 4);
    Path turned = heron;
    for (int i = 0; i < 4; ++i) turned = transformed(turned, Transform::rotated(pi / 2));
    CHECK(distance(turned.start, heron.start) < 1e-12);
    const Path squeezed = transformed(circle({0, 0}, 10), Transform::scaled(2, 1));
    CHECK(areaOf(squeezed) == Approx(2 * pi * 100).epsilon(1e-5));
    CHECK(areaOf(transformed(circle({0, 0}, 10), Transform::scaled(-1, 1))) == Approx(-pi * 100));
}

TEST_CASE("ruler: a stretch across the start has the length asked for") {
    const Ruler ruler(rectangle({0, 0}, {60, 20}, 4));
    for (const double from : {0.0, 10.0, 70.0, 150.0, 149.9}) {
        double sum = 0;
        Vec2 at = ruler.at(from).point;
        for (const auto& s : ruler.stretch(from, from + 37)) sum += lengthOf(at, s), at = s.end;
        CAPTURE(from);
        CHECK(sum == Approx(37));
        CHECK(distance(at, ruler.at(from + 37).point) < 1e-9);
    }
    CHECK(ruler.nearest(ruler.at(42).point) == Approx(42).margin(0.01));
}

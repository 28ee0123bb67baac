#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "support/shapes.h"

#include <random>

using namespace ferro;

TEST_CASE("measure: distances between stretches, crossing, parallel and apart", "[property]") {
    CHECK(distanceBetween({0, 0}, {10, 10}, {0, 10}, {10, 0}) == 0);
    CHECK(distanceBetween({0, 0}, {10, 0}, {0, 3}, {10, 3}) == Approx(3));
    CHECK(distanceBetween({0, 0}, {10, 0}, {14, 3}, {20, 3}) == Approx(5));
    CHECK(distanceBetween({0, 0}, {0, 0}, {3, 4}, {3, 4}) == Approx(5));
    CHECK(distanceBetween({0, 0}, {10, 0}, {10, 0}, {20, 5}) == 0);
    std::mt19937 random(1);
    std::uniform_real_distribution<> part(-10, 10);
    const auto any = [&] { return Vec2{part(random), part(random)}; };
    for (int i = 0; i < 400; ++i) {
        const Vec2 a = any(), b = any(), c = any(), d = any();
        double slow = 1e9;
        for (int k = 0; k <= 200; ++k) slow = std::min(slow, distanceToLine(lerp(a, b, k / 200.0), c, d));
        const double quick = distanceBetween(a, b, c, d);
        CHECK(quick <= slow + 1e-9);
        CHECK(quick >= slow - distance(a, b) / 200);
        CHECK(quick == Approx(distanceBetween(d, c, b, a)).margin(1e-12));
    }
}

TEST_CASE("measure: where a line or arc and a straight stretch come nearest, as a fine search finds it", "[property]") {
    std::mt19937 random(5);
    const auto upTo = [&](double most) { return most * static_cast<double>(random()) / 4294967296.0; };
    const auto place = [&] { return Vec2{upTo(10), upTo(10)}; };
    std::size_t crossing = 0;
    for (int n = 0; n < 400; ++n) {
        const Vec2 from = place(), c = place(), d = n % 9 ? place() : c;
        Segment way = Segment::line(place());
        if (n % 3) { // an arc of any sweep, either way round
            const Vec2 centre = place();
            const double turn = upTo(6.2) + 0.02, s = std::sin(turn), k = std::cos(turn);
            const Vec2 u = from - centre;
            way = Segment::arc(centre, centre + Vec2{u.x * k - u.y * s, u.x * s + u.y * k}, true);
            if (n % 2) way = Segment::arc(centre, centre + Vec2{u.x * k + u.y * s, u.y * k - u.x * s}, false);
        }
        double truth = 1e9;
        constexpr int steps = 2000;
        for (int k = 0; k <= steps; ++k)
            truth = std::min(truth, distanceToLine(pointAt(from, way, static_cast<double>(k) / steps), c, d));
        const auto found = approachOf(from, way, c, d);
        const double step = lengthOf(from, way) / steps;
        INFO(n);
        REQUIRE(found.apart <= truth + 1e-9);
        REQUIRE(found.apart >= truth - step);
        REQUIRE(std::abs(distance(found.onFirst, found.onSecond) - found.apart) < 1e-9);
        REQUIRE(distance(pointAt(from, way, nearestOn(from, way, found.onFirst)), found.onFirst) < 1e-6);
        REQUIRE(distanceToLine(found.onSecond, c, d) < 1e-6);
        crossing += found.apart < 1e-9;
        REQUIRE(std::abs(distanceTo(from, way, c) - distance(pointAt(from, way, nearestOn(from, way, c)), c)) < 1e-6);
    }
    CHECK(crossing > 30);
}

TEST_CASE("measure: inside is inside whichever way the ring runs", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        Ring ring = test::blob(seed, {0, 0}, 30);
        std::mt19937 random(seed);
        std::uniform_real_distribution<> part(-35, 35);
        Ring back = ring;
        std::reverse(back.begin(), back.end());
        int in = 0;
        constexpr int tries = 4000;
        for (int i = 0; i < tries; ++i) {
            const Vec2 p{part(random), part(random)};
            CHECK(contains(ring, p) == contains(back, p));
            in += contains(ring, p);
        }
        CHECK(70.0 * 70 * in / tries == Approx(std::abs(areaOf(ring))).epsilon(0.12));
    }
    const Rings frame{test::ring("0,0 20,0 20,20 0,20"), test::ring("5,5 15,5 15,15 5,15")};
    CHECK(contains(frame, {2, 2}));
    CHECK_FALSE(contains(frame, {10, 10}));
}

TEST_CASE("segments: a part of one is the same curve", "[property]") {
    const Path path = test::curvedBlob(3, {0, 0}, 40);
    for (std::size_t i = 0; i < path.segments.size(); ++i)
        for (const auto& [t0, t1] : {std::pair(0.0, 0.4), std::pair(0.3, 0.9), std::pair(0.5, 1.0)}) {
            const Vec2 from = path.from(i);
            const auto& whole = path.segments[i];
            const Vec2 begin = pointAt(from, whole, t0);
            const auto part = cutOf(from, whole, t0, t1);
            for (const double t : {0.0, 0.25, 0.5, 0.8, 1.0})
                CHECK(distance(pointAt(begin, part, t), pointAt(from, whole, t0 + (t1 - t0) * t)) < 1e-9);
        }
}

TEST_CASE("segments: tangents point along, lengths agree with fine chords", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const Path path = test::curvedBlob(seed, {5, 5}, 40);
        double fine = 0;
        const Ring points = flattened(path, 1e-5);
        for (std::size_t i = 0; i < points.size(); ++i) fine += distance(points[i], points[(i + 1) % points.size()]);
        CHECK(lengthOf(path) == Approx(fine).epsilon(1e-5));
        for (std::size_t i = 0; i < path.segments.size(); ++i)
            for (const double t : {0.1, 0.5, 0.9}) {
                const Vec2 from = path.from(i), a = pointAt(from, path.segments[i], t - 1e-5),
                           b = pointAt(from, path.segments[i], t + 1e-5);
                CHECK(dot(tangentAt(from, path.segments[i], t), unit(b - a)) > 1 - 1e-6);
            }
    }
    CHECK(length(tangentAt({1, 1}, Segment::line({1, 1}), 0.5)) == 0);
}

TEST_CASE("circles: known in any disguise, and nothing else taken for one") {
    for (const double r : {0.5, 4.0, 90.0}) {
        const Path round = circle({30, 40}, r);
        for (const Path& path : {round, reversed(round), transformed(round, Transform::rotated(1, {2, 3})),
                                 transformed(round, Transform::scaled(-2, 2)), pathOf(flattened(round, 0.001), true)}) {
            const auto found = circleOf(path, 0.02);
            REQUIRE(found);
            CHECK(found->radius == Approx(boundsOf(path).width() / 2).margin(0.01));
        }
        CHECK_FALSE(circleOf(transformed(round, Transform::scaled(1, 1.2)), 0.02));
    }
    CHECK_FALSE(circleOf(rectangle({0, 0}, {8, 8}), 0.02));
    CHECK_FALSE(circleOf(rectangle({0, 0}, {8, 8.2}, 4), 0.02));
    Path open = circle({0, 0}, 4);
    open.segments.pop_back();
    open.closed = false;
    CHECK_FALSE(circleOf(open, 0.02));
}

TEST_CASE("path text: any text is read or refused with its place", "[fuzz]") {
    std::mt19937 random(5);
    for (int i = 0; i < 4000; ++i) {
        std::string text = i % 3 ? "M1 2L3 4" : "";
        for (unsigned k = 0; k < random() % 25; ++k) text += "MLCAZ0123456789.-+e \n"[random() % 21];
        const auto paths = pathsFromText(text);
        if (!paths) {
            CHECK_FALSE(paths.problem().what.empty());
            continue;
        }
        std::string again;
        for (const auto& path : *paths) again += toText(path);
        const auto twice = pathsFromText(again);
        REQUIRE(twice);
        CHECK(*twice == *paths);
    }
}

#include "geometry/points.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "support/shapes.h"

using namespace ferro;

namespace {
using Numbers = std::vector<std::size_t>;

/// How far `a` leaves `b` at most, by points along it.
double leaves(const Path& a, const Path& b) {
    const Ring ring = flattened(b, 0.0005);
    double worst = 0;
    for (const Vec2 p : flattened(a, 0.05)) {
        double best = 1e300;
        for (std::size_t i = 0; i + (b.closed ? 0 : 1) < ring.size(); ++i)
            best = std::min(best, distanceToLine(p, ring[i], ring[(i + 1) % ring.size()]));
        worst = std::max(worst, best);
    }
    return worst;
}
bool holds(const Path& path) {
    bool good = !path.closed || path.segments.empty() || path.end() == path.start;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const auto& s = path.segments[i];
        good = good && isFinite(s.end) && isFinite(s.a) && isFinite(s.b);
        if (s.kind == Segment::Kind::arc) // both ends on its circle
            good = good && distance(path.from(i), s.a) == Approx(distance(s.end, s.a)).margin(1e-6);
    }
    return good;
}
/// Lines, arcs and cubics in turn.
Path mixed() {
    Path path{{0, 0}, {}, true};
    path.segments = {Segment::line({40, 0}), Segment::arc({40, 10}, {40, 20}, true),
                     Segment::cubic({30, 24}, {20, 14}, {10, 20}), Segment::arc({10, 15}, {5, 15}, true),
                     Segment::line({0, 0})};
    return path;
}
} // namespace

TEST_CASE("points: moving keeps what is not moved bit for bit, arcs keep their angle, handles go along", "[property]") {
    const Path path = mixed();
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        CAPTURE(i);
        const Path moved = withPointsMoved(path, Numbers{i}, {3, -2});
        REQUIRE(holds(moved));
        CHECK(pointOf(moved, i) == pointOf(path, i) + Vec2{3, -2});
        for (std::size_t k = 0; k < path.segments.size(); ++k) {
            if (k != i) CHECK(pointOf(moved, k) == pointOf(path, k));
            if (path.segments[k].kind == Segment::Kind::arc)
                CHECK(sweepOf(moved.from(k), moved.segments[k]) == Approx(sweepOf(path.from(k), path.segments[k])));
        }
    }
    const Path handled = withPointsMoved(path, Numbers{2}, {1, 1});
    CHECK(handled.segments[2].a == Vec2{31, 25});
    CHECK(handled.segments[2].b == path.segments[2].b);
    CHECK(withPointsMoved(path, Numbers{0, 1, 2, 3, 4}, {7, 7}) == transformed(path, Transform::moved({7, 7})));
    CHECK(withPointsMoved(path, Numbers{99}, {7, 7}) == path);
}

TEST_CASE("points: one more changes nothing of the shape, and taking it out again gives it back", "[property]") {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        const Path path = seed == 1 ? mixed() : test::curvedBlob(seed, {50, 50}, 30);
        for (std::size_t i = 0; i < path.segments.size(); ++i) {
            CAPTURE(seed, i);
            const Path more = withPointAt(path, i, 0.37);
            REQUIRE(holds(more));
            CHECK(more.segments.size() == path.segments.size() + 1);
            CHECK(leaves(more, path) < 0.001);
            const Path back = withPointsRemoved(more, Numbers{i + 1});
            REQUIRE(back.segments.size() == path.segments.size());
            CHECK(leaves(back, path) < 0.01);
            CHECK(back.segments[i].kind == path.segments[i].kind);
        }
    }
}

TEST_CASE("points: taking out keeps the shape near, and what loses its extent is nothing") {
    const Path round = circle({0, 0}, 20);
    Path eight = round;
    for (const std::size_t i : {1u, 0u}) eight = withPointAt(eight, i, 0.5);
    const Path fewer = withPointsRemoved(eight, Numbers{1, 3});
    CHECK(fewer.segments.size() == 2);
    CHECK(circleOf(fewer, 1e-9)); // arcs of one circle become one arc
    // Every second point of a curve of cubics.
    Path wave{{0, 0}, {}, false};
    for (int i = 1; i <= 8; ++i) {
        const double x = i * 5.0, s = i % 2 ? 1 : -1;
        wave.segments.push_back(Segment::cubic({x - 3.3, 1.2 * s}, {x - 1.7, 1.2 * s}, {x, 0}));
    }
    const Path smoother = withPointsRemoved(wave, Numbers{1, 3, 5, 7});
    CHECK(smoother.segments.size() == 4);
    CHECK(leaves(smoother, wave) < 1.0);
    CHECK(pointOf(smoother, 1) == pointOf(wave, 2));
    const Path square = rectangle({0, 0}, {10, 10});
    CHECK(withPointsRemoved(square, Numbers{0}).segments.size() == 3);
    CHECK(withPointsRemoved(square, Numbers{0, 1}).segments.empty());
    CHECK(withPointsRemoved(wave, Numbers{0, 8}).segments.size() == 6); // an open line is cut short
    CHECK(withPointsRemoved(Path{{0, 0}, {Segment::line({5, 0})}, false}, Numbers{1}).segments.empty());
}

TEST_CASE("points: smooth, corner, straight and handles do what they say and nothing else") {
    const Path square = rectangle({0, 0}, {30, 30});
    const Path smooth = withSmooth(square, Numbers{1, 2});
    REQUIRE(holds(smooth));
    CHECK(isSmoothAt(smooth, 1));
    CHECK(isSmoothAt(smooth, 2));
    CHECK_FALSE(isSmoothAt(smooth, 3));
    const Path corner = withCorner(smooth, Numbers{1});
    CHECK_FALSE(isSmoothAt(corner, 1));
    CHECK(pointOf(corner, 1) == Vec2{30, 0});
    CHECK(withStraight(smooth, Numbers{0, 1, 2, 3}) == square);
    const Path one = withStraight(mixed(), Numbers{2}); // one alone: both its sides
    CHECK(one.segments[1].kind == Segment::Kind::line);
    CHECK(one.segments[2].kind == Segment::Kind::line);
    CHECK(one.segments[3] == mixed().segments[3]);
    // A line leads what joins it smoothly.
    Path bent = mixed();
    bent = withSmooth(bent, Numbers{4});
    CHECK(isSmoothAt(bent, 4));
    CHECK(bent.segments.back() == mixed().segments.back());
    const Path drawn = withHandles(mixed(), Numbers{0, 1, 2, 3, 4});
    CHECK(std::all_of(drawn.segments.begin(), drawn.segments.end(),
                      [](const Segment& s) { return s.kind == Segment::Kind::cubic; }));
    CHECK(leaves(drawn, mixed()) < 0.01);
    // A handle's mate stays in line, unless it is moved alone.
    const Path pulled = withHandleMoved(smooth, 1, Side::after, {33, 12}, false);
    CHECK(isSmoothAt(pulled, 1));
    CHECK_FALSE(isSmoothAt(withHandleMoved(smooth, 1, Side::after, {33, 12}, true), 1));
    const Path along = withHandleMoved(bent, 4, Side::before, {9, 3}, false); // beside the line it follows that
    CHECK(isSmoothAt(along, 4));
    CHECK(along.segments.back() == bent.segments.back());
}

TEST_CASE("points: bending makes the arc through a place, on either side, and a line again") {
    for (const double height : {-12.0, -3.0, 2.0, 15.0, 40.0}) {
        CAPTURE(height);
        const Path bent = withArcThrough(Path{{0, 0}, {Segment::line({20, 0})}, false}, 0, {10, height});
        REQUIRE(bent.segments[0].kind == Segment::Kind::arc);
        CHECK(pointAt({0, 0}, bent.segments[0], 0.5).y == Approx(height));
        CHECK(pointAt({0, 0}, bent.segments[0], 0.5).x == Approx(10).margin(1e-9));
        CHECK(withArcThrough(bent, 0, {10, 0}).segments[0].kind == Segment::Kind::line);
    }
}

TEST_CASE("points: parted and joined again it is the same line", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        CAPTURE(seed);
        const Path path = test::curvedBlob(seed, {0, 0}, 25);
        const std::size_t n = path.segments.size();
        const auto parts = splitAt(path, Numbers{n / 3, n - 1});
        REQUIRE(parts.size() == 2);
        CHECK(parts[0].segments.size() + parts[1].segments.size() == n);
        Path again = joined(parts[0], parts[1], 0);
        CHECK(again.segments.size() == n);
        again = withEndsJoined(again, 0);
        CHECK(again == startedAt(path, n / 3));
        const auto one = splitAt(path, Numbers{0});
        REQUIRE(one.size() == 1);
        CHECK_FALSE(one[0].closed);
        // Ends a little apart meet in the middle, ends far apart get a line.
        Path apart = one[0];
        apart.segments.back().end += {0.4, 0};
        CHECK(withEndsJoined(apart, 0.5).segments.size() == n);
        CHECK(withEndsJoined(apart, 0.5).start == path.start + Vec2{0.2, 0});
        CHECK(withEndsJoined(apart, 0.1).segments.size() == n + 1);
        CHECK(holds(withEndsJoined(apart, 0.5)));
    }
}

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "support/shapes.h"

using namespace ferro;

namespace {

/// The nearest place by looking everywhere, in small steps.
double farByLooking(const Path& path, Vec2 p) {
    double best = 1e300;
    for (std::size_t i = 0; i < path.segments.size(); ++i)
        for (int k = 0; k <= 2000; ++k)
            best = std::min(best, distance(p, pointAt(path.from(i), path.segments[i], k / 2000.0)));
    return best;
}

/// Lines, arcs either way round and of more than half a turn, cubics with loops: whatever may come from outside.
Path wild(std::mt19937& random) {
    std::uniform_real_distribution<> place(0, 100), turn(-6, 6);
    const auto any = [&] { return Vec2{place(random), place(random)}; };
    Path path{any(), {}, false};
    for (int i = 0; i < 8; ++i) {
        const Vec2 from = path.end();
        switch (random() % 3) {
        case 0: path.segments.push_back(Segment::line(any())); break;
        case 1: path.segments.push_back(Segment::cubic(any(), any(), any())); break;
        default: {
            const Vec2 centre = any();
            const double angle = turn(random);
            path.segments.push_back(Segment::arc(centre, Transform::rotated(angle, centre)(from), angle > 0));
        }
        }
    }
    return path;
}

} // namespace

TEST_CASE("nearest: on any line, from anywhere, no place is nearer", "[property]") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<> place(-20, 120);
        const Path path = wild(random);
        const Ruler ruler(path);
        for (int i = 0; i < 20; ++i) {
            const Vec2 p{place(random), place(random)};
            const double along = ruler.nearest(p), far = distance(p, ruler.at(along).point);
            CAPTURE(seed, p, toText(path));
            CHECK(along >= 0);
            CHECK(along <= ruler.length());
            // What looking finds is off by its own steps, which are up to 0.3 mm long, only when that is not nearer.
            const double looked = farByLooking(path, p);
            CHECK(far <= looked + 1e-6);
            CHECK(far >= looked - 0.02);
        }
        // A place on the line is its own nearest one.
        for (int i = 0; i < 20; ++i) {
            const Vec2 on = ruler.at(ruler.length() * i / 19).point;
            CHECK(distance(on, ruler.at(ruler.nearest(on)).point) < 1e-5);
        }
    }
}

TEST_CASE("nearest: the middle of a circle, a line of no length and a lone point have an answer too") {
    const Ruler round(circle({5, 5}, 3));
    CHECK(distance(round.at(round.nearest({5, 5})).point, {5, 5}) == Approx(3));
    CHECK(distance(round.at(round.nearest({5, 9})).point, {5, 8}) < 1e-12);
    const Ruler still(Path{{1, 2}, {Segment::line({1, 2})}, false});
    CHECK(still.nearest({7, 7}) == 0);
    CHECK(Ruler(Path{{1, 2}, {}, false}).nearest({7, 7}) == 0);
    // Of two places as near the first along the line is told.
    const Ruler bow(pathOf(test::ring("0,0 0,10 10,10 10,0"), false));
    CHECK(bow.nearest({5, 5}) == Approx(5));
}

TEST_CASE("nearest: the stretch between two lengths is that part of the line, across the start too", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        std::mt19937 random(seed);
        const Path path = test::curvedBlob(seed, {0, 0}, 40);
        const Ruler ruler(path);
        std::uniform_real_distribution<> part(0, ruler.length());
        for (int i = 0; i < 10; ++i) {
            const double from = part(random), size = part(random) * 0.99;
            const Path cut{ruler.at(from).point, ruler.stretch(from, from + size), false};
            CAPTURE(seed, from, size);
            CHECK(lengthOf(cut) == Approx(size).epsilon(8e-3));
            CHECK(distance(cut.end(), ruler.at(from + size).point) < 1e-6);
            const Ruler own(cut);
            for (int k = 0; k <= 10; ++k) {
                const Vec2 p = own.at(own.length() * k / 10).point;
                CHECK(distance(p, ruler.at(ruler.nearest(p)).point) < 1e-6);
            }
        }
    }
}

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"
#include "geometry/spatial.h"
#include "support/shapes.h"

using namespace ferro;

namespace {
double areaSum(const Rings& rings) {
    double sum = 0;
    for (const auto& ring : rings) sum += areaOf(ring);
    return sum;
}
} // namespace

TEST_CASE("transform: inverse, order and circles", "[property]") {
    std::mt19937 random(3);
    std::uniform_real_distribution<> part(-1, 1);
    for (int i = 0; i < 200; ++i) {
        const Transform t = Transform::moved({90 * part(random), 90 * part(random)}) *
                            Transform::rotated(4 * part(random)) *
                            Transform::scaled(0.2 + std::abs(part(random)), random() % 2 ? 0.7 : -0.7);
        const auto back = t.inverse();
        REQUIRE(back);
        const Vec2 p{50 * part(random), 50 * part(random)};
        CHECK(distance((*back)(t(p)), p) < 1e-9);
        CHECK(distance((t * *back)(p), p) < 1e-9);
        // Area scales by the determinant, whatever the segments are.
        const Path path = test::curvedBlob(static_cast<unsigned>(i), {10, 20}, 30);
        CHECK(areaOf(transformed(path, t)) == Approx(areaOf(path) * t.determinant()).epsilon(1e-5));
        const Box box = boundsOf(transformed(path, t));
        for (const Vec2 q : flattened(transformed(path, t), 0.01)) CHECK(box.grown(1e-6).contains(q));
    }
    CHECK(Transform::rotated(0.3).keepsCircles());
    CHECK(Transform::scaled(-2, 2).keepsCircles());
    CHECK_FALSE(Transform::scaled(1, 2).keepsCircles());
    CHECK_FALSE(Transform::scaled(0, 1).inverse());
}

TEST_CASE("path: reversed and wound keep the shape and turn the sign") {
    for (unsigned seed = 1; seed < 30; ++seed) {
        const Path path = test::curvedBlob(seed, {0, 0}, 40);
        CHECK(areaOf(reversed(path)) == Approx(-areaOf(path)));
        CHECK(lengthOf(reversed(path)) == Approx(lengthOf(path)));
        CHECK(areaOf(wound(path, true)) > 0);
        CHECK(areaOf(wound(path, false)) < 0);
        CHECK(reversed(reversed(path)) == path);
        const Box a = boundsOf(path), b = boundsOf(reversed(path));
        CHECK(distance(a.low, b.low) + distance(a.high, b.high) < 1e-9);
    }
}

TEST_CASE("thinning: noise, turning back and doubled points stay within the tolerance", "[property]") {
    std::mt19937 random(8);
    std::uniform_real_distribution<> part(-1, 1);
    for (int round = 0; round < 60; ++round) {
        // A walk that creeps, jumps, turns back on itself and stands still.
        Ring chain{{0, 0}};
        Vec2 way{1, 0};
        for (int i = 0; i < 400; ++i) {
            if (random() % 40 == 0) way = -way;
            if (random() % 25 == 0) way = {part(random), part(random)};
            const double size = random() % 10 == 0 ? 0 : 0.05 * std::pow(10, part(random));
            chain.push_back(chain.back() + way * size + Vec2{0.002 * part(random), 0.002 * part(random)});
        }
        for (const double tolerance : {0.003, 0.02, 0.3})
            for (const bool closed : {false, true}) {
                const Ring thin = thinned(chain, tolerance, closed);
                CAPTURE(round, tolerance, closed, thin.size());
                CHECK(thin.front() == chain.front());
                if (!closed) CHECK(thin.back() == chain.back());
                // In order: every point lies near the chord that replaces it, not just near any.
                std::size_t at = 0;
                double worst = 0;
                for (std::size_t k = 0; k + (closed ? 0 : 1) < thin.size(); ++k) {
                    const Vec2 a = thin[k], b = thin[(k + 1) % thin.size()];
                    std::size_t end = at + 1;
                    while (end < chain.size() && chain[end] != b) ++end;
                    for (std::size_t i = at; i < std::min(end, chain.size()); ++i)
                        worst = std::max(worst, distanceToLine(chain[i], a, b));
                    at = end;
                }
                CHECK(worst <= tolerance);
            }
    }
    // Fine chords of a round go down to what the sagitta allows.
    Ring round;
    for (int i = 0; i < 20'000; ++i) round.push_back({50 * std::cos(i * pi / 10'000), 50 * std::sin(i * pi / 10'000)});
    const auto few = static_cast<double>(thinned(round, 0.01, true).size());
    CHECK(few < 2 * pi / (2 * std::acos(1 - 0.01 / 50)) * 1.3);
}

TEST_CASE("offset: rings that cross, double back or run backwards give what their non-zero area gives", "[property]") {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        Ring ring = test::blob(seed, {100, 100}, 60, 30, 0.5);
        if (seed % 4 == 1) std::reverse(ring.begin(), ring.end());
        if (seed % 4 == 2) std::swap(ring[3], ring[9]);                                // crosses itself
        if (seed % 4 == 3) ring.insert(ring.begin() + 5, {ring[4], ring[5], ring[4]}); // a doubled stretch
        const auto clean = offset({ring}, 0);
        const auto grown = offset({ring}, 2), shrunk = offset({ring}, -2);
        REQUIRE(clean);
        REQUIRE(grown);
        REQUIRE(shrunk);
        CAPTURE(seed);
        CHECK(areaSum(*clean) > 0);
        CHECK(areaSum(*grown) > areaSum(*clean));
        CHECK(areaSum(*shrunk) < areaSum(*clean));
        // The same through the library's own union first.
        const auto joined = combined({ring}, {}, Combine::join);
        REQUIRE(joined);
        const auto again = offset(*joined, 2);
        REQUIRE(again);
        CHECK(areaSum(*again) == Approx(areaSum(*grown)).epsilon(1e-4));
        // Growing and shrinking back loses no more than sharp inner corners.
        const auto closed = offset(*grown, -2);
        REQUIRE(closed);
        CHECK(areaSum(*closed) >= areaSum(*clean) - 0.5);
    }
    CHECK_FALSE(offset({test::ring("0,0 20000,0 20000,1")}, 1));
    CHECK(offset({}, 5)->empty());
    CHECK(offset({test::ring("0,0 10,0")}, 1).has_value());
}

TEST_CASE("combine: areas of join, overlap and difference add up for any two outlines", "[property]") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        const Rings a{test::blob(seed, {50, 50}, 40)}, b{test::blob(seed + 100, {70, 60}, 35)};
        const auto area = [&](Combine how) { return areaSum(*combined(a, b, how)); };
        const double both = area(Combine::overlap), all = area(Combine::join), left = area(Combine::takeAway);
        CAPTURE(seed);
        CHECK(all + both == Approx(areaSum(a) + areaSum(b)).epsilon(1e-6));
        CHECK(left + both == Approx(areaSum(a)).epsilon(1e-6));
        CHECK(area(Combine::eitherNotBoth) == Approx(all - both).epsilon(1e-6));
    }
}

TEST_CASE("nesting: a random forest of squares comes back as it was planted", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        std::mt19937 random(seed);
        std::vector<Path> paths;
        std::size_t outlines = 0, openings = 0;
        const std::function<void(Vec2, double, int)> plant = [&](Vec2 low, double size, int depth) {
            Path square = rectangle(low, low + Vec2{size, size});
            paths.push_back(random() % 2 ? square : reversed(square));
            ++(depth % 2 ? openings : outlines);
            if (size < 8 || depth > 5) return;
            for (int i = 0; i < 4; ++i)
                if (random() % 3)
                    plant(low + Vec2{size * (0.06 + 0.48 * (i % 2)), size * (0.06 + 0.48 * (i / 2))}, size * 0.4,
                          depth + 1);
        };
        plant({0, 0}, 300, 0);
        plant({400, 0}, 300, 0);
        std::shuffle(paths.begin(), paths.end(), random);
        const auto pieces = nested(paths);
        CAPTURE(seed);
        CHECK(pieces.size() == outlines);
        std::size_t found = 0;
        for (const auto& piece : pieces) {
            found += piece.openings.size();
            const Ring edge = flattened(piece.outline, 0.01);
            for (const auto& opening : piece.openings) {
                CHECK(contains(edge, opening.start));
                CHECK(areaOf(opening) < 0);
            }
            CHECK(areaOf(piece.outline) > 0);
        }
        CHECK(found == openings);
    }
}

TEST_CASE("spatial index: answers what asking every box would", "[property]") {
    std::mt19937 random(4);
    std::uniform_real_distribution<> part(0, 500);
    std::vector<Box> boxes;
    for (int i = 0; i < 700; ++i) {
        const Vec2 low{part(random), part(random)};
        boxes.push_back({low, low + Vec2{part(random) / 20, part(random) / 20}});
    }
    const SpatialIndex index(boxes);
    for (int i = 0; i < 200; ++i) {
        const Vec2 low{part(random), part(random)};
        const Box area{low, low + Vec2{part(random) / 5, part(random) / 5}};
        std::vector<std::size_t> slow;
        for (std::size_t k = 0; k < boxes.size(); ++k)
            if (boxes[k].meets(area)) slow.push_back(k);
        CHECK(index.meeting(area) == slow);
    }
    CHECK(SpatialIndex(std::span<const Box>{}).meeting({{0, 0}, {1, 1}}).empty());
}

TEST_CASE("arc fit: cubics become arcs within the tolerance, ends meet, lines and arcs stay", "[property]") {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        const Path path = test::curvedBlob(seed, {0, 0}, 60);
        const double tolerance = 0.002;
        const Path fitted = withoutCubics(path, tolerance);
        CAPTURE(seed);
        CHECK(fitted.start == path.start);
        CHECK(distance(fitted.end(), path.end()) < 1e-9);
        for (const auto& s : fitted.segments) CHECK(s.kind != Segment::Kind::cubic);
        CHECK(test::farthest(flattened(fitted, 0.0005), flattened(path, 0.0005)) < tolerance + 0.001);
        CHECK(areaOf(fitted) == Approx(areaOf(path)).epsilon(1e-5));
    }
}

TEST_CASE("ruler: a length along a path is found again from its point", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const Ruler ruler(test::curvedBlob(seed, {0, 0}, 50));
        for (int i = 0; i < 40; ++i) {
            const double along = ruler.length() * i / 40;
            const auto at = ruler.at(along);
            double back = std::abs(ruler.nearest(at.point) - along);
            back = std::min(back, ruler.length() - back);
            CHECK(back < 0.01);
            CHECK(length(at.tangent) == Approx(1));
        }
        CHECK(distance(ruler.at(ruler.length() + 3).point, ruler.at(3).point) < 1e-9);
    }
}

#include "geometry/arc_fit.h"
#include "geometry/flatten.h"
#include "geometry/nesting.h"
#include "geometry/polygons.h"
#include "support/shapes.h"

using namespace ferro;
using test::ring;

namespace {
/// How far the distance of each point from `outline` is from |by|.
double largestMiss(const std::vector<Path>& paths, const Ring& outline, double by) {
    double worst = 0;
    for (const auto& path : paths)
        for (const Vec2 p : flattened(path, 0.0005)) {
            double near = 1e300;
            for (std::size_t i = 0; i < outline.size(); ++i)
                near = std::min(near, distanceToLine(p, outline[i], outline[(i + 1) % outline.size()]));
            worst = std::max(worst, std::abs(near - std::abs(by)));
        }
    return worst;
}
} // namespace

TEST_CASE("offset: every point of the result lies the distance away, within the tolerance", "[property]") {
    for (unsigned seed = 1; seed <= 150; ++seed) {
        const Ring outline = test::blob(seed, {100, 80}, 40, 10 + static_cast<int>(seed % 30));
        const double by = (seed % 2 ? 1 : -1) * (0.08 + 0.07 * seed / 3);
        const auto paths = offsetPaths({outline}, by);
        REQUIRE(paths);
        CAPTURE(seed, by);
        CHECK(largestMiss(*paths, outline, by) <= OffsetOptions{}.tolerance * 1.5);
    }
}

TEST_CASE("offset: an opening narrower than the tool closes, and by 0 nothing moves") {
    CHECK(offset({ring("0,0 5,0 5,40 0,40")}, -3)->empty());
    const auto same = offset({ring("0,0 60,0 60,20 0,20")}, 0);
    REQUIRE(same);
    CHECK(areaOf(same->front()) == Approx(1200));
    CHECK(offset({ring("0,0 10,0 10,10 0,10")}, 2, {.corner = Corner::sharp})->front().size() == 4);
    CHECK_FALSE(offset({ring("0,0 20000,0 0,5")}, 1));
    CHECK(offset({}, 3)->empty());
}

TEST_CASE("offset: rounds come back as true arcs", "[arcs]") {
    const auto grown = offsetPaths({flattened(rectangle({0, 0}, {100, 60}), 0.001)}, 3);
    REQUIRE(grown);
    REQUIRE(grown->size() == 1);
    std::size_t arcs = 0;
    for (const auto& s : grown->front().segments) {
        if (s.kind != Segment::Kind::arc) continue;
        ++arcs;
        CHECK(distance(s.end, s.a) == Approx(3).margin(0.002));
    }
    CHECK(arcs == 4);
    CHECK(grown->front().segments.size() == 8);
    const auto moon = offsetPaths({flattened(circle({50, 50}, 20), 0.0005)}, -3);
    REQUIRE(moon);
    CHECK(moon->front().segments.size() <= 6);
}

TEST_CASE("arc fit: never leaves the chain by more than asked, and keeps corners", "[property]") {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        const Ring chain = flattened(test::curvedBlob(seed, {0, 0}, 30), 0.0005);
        const Path fit = arcFitted(chain, true, 0.002);
        CAPTURE(seed);
        CHECK(fit.closed);
        CHECK(fit.end() == fit.start);
        CHECK(test::farthest(chain, flattened(fit, 1e-5)) <= 0.00205);
        CHECK(test::farthest(flattened(fit, 1e-4), chain) <= 0.0026);
        CHECK(fit.segments.size() < chain.size() / 3);
    }
    const Path square = arcFitted(ring("0,0 10,0 10,10 0,10"), true, 0.002);
    CHECK(square.segments.size() == 4);
}

TEST_CASE("combine: join, take away, overlap and either add up") {
    const Rings a{ring("0,0 10,0 10,10 0,10")}, b{ring("5,5 15,5 15,15 5,15")};
    const auto area = [&](Combine how) {
        double sum = 0;
        const auto rings = combined(a, b, how);
        REQUIRE(rings);
        for (const auto& r : *rings) sum += areaOf(r);
        return sum;
    };
    CHECK(area(Combine::join) == Approx(175));
    CHECK(area(Combine::takeAway) == Approx(75));
    CHECK(area(Combine::overlap) == Approx(25));
    CHECK(area(Combine::eitherNotBoth) == Approx(150));
}

TEST_CASE("nesting: openings belong to the smallest outline round them") {
    const auto pieces =
        nested({pathOf(ring("0,0 100,0 100,100 0,100"), true), pathOf(ring("10,10 90,10 90,90 10,90"), true),
                circle({50, 50}, 20), circle({50, 50}, 5), pathOf(ring("200,0 210,0 205,9"), true),
                pathOf(ring("0,120 50,120"), false)});
    REQUIRE(pieces.size() == 4);
    std::vector<std::size_t> openings;
    for (const auto& piece : pieces) {
        openings.push_back(piece.openings.size());
        if (piece.outline.closed) CHECK(areaOf(piece.outline) > 0);
        for (const auto& opening : piece.openings) CHECK(areaOf(opening) < 0);
    }
    CHECK(openings == std::vector<std::size_t>{1, 1, 0, 0});
    // Touching from within in a corner or along an edge is lying in it, from without is not, wherever they begin.
    const Path field = pathOf(ring("0,0 30,0 30,30 0,30"), true);
    for (const char* inner : {"0,0 9,3 3,9", "30,30 20,25 25,20", "0,10 5,10 5,20 0,20", "30,0 30,9 21,0"})
        for (const char* outer : {"0,0 -9,-3 -3,-9", "0,10 -5,10 -5,20 0,20", "30,30 40,30 35,40"})
            for (std::size_t turn = 0; turn < 3; ++turn) {
                Ring in = ring(inner), out = ring(outer);
                std::rotate(in.begin(), in.begin() + static_cast<std::ptrdiff_t>(turn), in.end());
                std::rotate(out.begin(), out.begin() + static_cast<std::ptrdiff_t>(turn), out.end());
                const auto touching = nested({pathOf(in, true), field, pathOf(out, true)});
                CAPTURE(inner, outer, turn);
                REQUIRE(touching.size() == 2);
                CHECK(touching[0].openings.size() + touching[1].openings.size() == 1);
            }
    // Non-zero: an outline that runs the same way as the one round it is no opening.
    CHECK(nested({pathOf(ring("0,0 9,0 9,9 0,9"), true), pathOf(ring("2,2 5,2 5,5 2,5"), true)}, FillRule::nonZero)
              .front()
              .openings.empty());
    CHECK(nested({pathOf(ring("0,0 9,0 9,9 0,9"), true), pathOf(ring("2,2 2,5 5,5 5,2"), true)}, FillRule::nonZero)
              .front()
              .openings.size() == 1);
}

#include "geometry/self_crossing.h"
#include "support/ink.h"
#include "support/nearness.h"
#include "support/page.h"
#include "trace/level_lines.h"
#include "trace/trace.h"

using namespace ferro;
using test::between;
using test::Random;

TEST_CASE("trace: what shops bring comes back as it was drawn, at any resolution, by the settings as they are",
          "[property]") {
    const double pxPerMm = GENERATE(4.0, 300 / 25.4, 40.0);
    for (const auto& kind : test::kinds()) {
        Random random(11);
        for (int n = 0; n < 4; ++n) {
            CAPTURE(kind.name, n, pxPerMm);
            const double size = 100 / pxPerMm; // all of them drawn on a hundred pixels
            const Vec2 middle = Vec2{between(random, 0.49, 0.51), between(random, 0.49, 0.51)} * size;
            const auto truth = kind.draw(random, middle, size, n);
            Rings rings;
            double area = 0, around = 0;
            for (const auto& path : truth) {
                rings.push_back(flattened(path, 0.0005));
                area += areaOf(path), around += lengthOf(path);
            }
            Progress progress;
            const auto grey = test::inked(rings, 100, 100, pxPerMm, 30, 220);
            const auto out = trace::traced(grey, pxPerMm, {.speck = 0.01}, progress);
            REQUIRE(out);
            std::vector<Path> got;
            std::size_t segments = 0;
            double gotArea = 0;
            for (const auto& piece : out->pieces) {
                got.push_back(piece.outline);
                got.insert(got.end(), piece.openings.begin(), piece.openings.end());
            }
            for (const auto& path : got) segments += path.segments.size(), gotArea += areaOf(path);
            REQUIRE(got.size() == truth.size());
            const auto off = test::offBetween(got, truth, 1 / pxPerMm);
            CHECK(off.mean < 0.09);
            CHECK(off.largest < 0.45);
            CHECK(off.missed < 0.45);
            CHECK(segments <= kind.most);
            // As wide as it was, to a thirtieth of a pixel all round.
            CHECK(std::abs(gotArea - area) < 0.03 * around / pxPerMm);
        }
    }
}

TEST_CASE("trace: the greys tell where a bend and a narrow band lie, without leaning to one side", "[property]") {
    const double radius = GENERATE(3.0, 6.0, 15.0, 40.0);
    Random random(3);
    double lean = 0, count = 0;
    for (int n = 0; n < 12; ++n) {
        const Vec2 middle{50 + between(random, 0, 1), 50 + between(random, 0, 1)};
        Progress progress;
        const auto grey = test::inked({flattened(circle(middle, radius), 0.0001)}, 100, 100, 1);
        for (const auto& line : trace::levelLines(grey, 127.5, false, progress))
            for (const Vec2 p : line.points) lean += distance(p, middle) - radius, ++count;
    }
    CAPTURE(radius);
    CHECK(std::abs(lean / count) < 0.01);
    // Bands of a few pixels, at any angle: as wide as they are.
    for (const double wide : {2.2, 3.0, 4.3}) {
        Rings rings{flattened(test::turned(random, rectangle({-40, -wide / 2}, {40, wide / 2}), {50, 50}), 0.001)};
        Progress progress;
        const auto lines = trace::levelLines(test::inked(rings, 100, 100, 1), 127.5, false, progress);
        REQUIRE(lines.size() == 1);
        CAPTURE(wide);
        CHECK(lines[0].area == Approx(80 * wide).epsilon(0.015));
    }
}

TEST_CASE("trace: a grainy photograph's straight edges are single lines and its corners stay", "[property]") {
    Random random(5);
    for (unsigned seed = 0; seed < 8; ++seed) {
        const Path truth = test::star(random, {20.1, 20.2}, 5, 15, 7);
        const auto photo = test::photographed(test::inked({flattened(truth, 0.001)}, 320, 320, 8), 2, 6, seed);
        Progress progress;
        const auto out = trace::traced(photo, 8, {.speck = 0.1}, progress);
        REQUIRE(out);
        REQUIRE(out->pieces.size() == 1);
        const auto off = test::offBetween({out->pieces[0].outline}, {truth}, 1 / 8.0);
        CAPTURE(seed);
        CHECK(off.mean < 0.08);
        CHECK(off.largest < 0.35);
        CHECK(off.atCorners < 1.2);
        CHECK(out->pieces[0].outline.segments.size() <= 16); // of ten edges
    }
}

TEST_CASE("trace: dust on an edge makes bumps and no loops", "[property]") {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        Random random(seed);
        Rings ink;
        for (unsigned blob = 0; blob < 4; ++blob) {
            ink.push_back(flattened(test::curvedBlob(seed * 7 + blob, {20.0 + 20 * blob, 20}, 8), 0.002));
            const Ring edge = ink.back();
            for (int k = 0; k < 10; ++k) {
                const Vec2 off{test::between(random, -0.25, 0.25), test::between(random, -0.25, 0.25)};
                ink.push_back(
                    flattened(circle(edge[random() % edge.size()] + off, test::between(random, 0.03, 0.25)), 0.002));
            }
        }
        for (const double follow : {0.0, 0.2}) {
            Progress progress;
            const auto out =
                trace::traced(test::inked(ink, 500, 200, 5), 5, {.speck = 0.05, .followWithin = follow}, progress);
            REQUIRE(out);
            REQUIRE(out->pieces.size() >= 4);
            for (const auto& piece : out->pieces) {
                CAPTURE(seed, follow, toText(piece.outline));
                CHECK_FALSE(selfCrossing(flattened(piece.outline, 0.002), true));
            }
        }
    }
}

TEST_CASE("trace: a level near one side's grey leaves straight edges straight and moves them evenly", "[property]") {
    Random random(9);
    for (const int level : {45, 70, 125, 180, 205}) {
        const Path star = test::star(random, {25, 25}, 5, 20, 9), disc = circle({25, 25}, 15);
        for (const auto& truth : {star, disc}) {
            Progress progress;
            const auto grey = test::inked({flattened(truth, 0.0005)}, 200, 200, 4, 30, 220);
            const auto out = trace::traced(grey, 4, {.level = level, .speck = 0.1}, progress);
            REQUIRE(out);
            REQUIRE(out->pieces.size() == 1);
            const Path& got = out->pieces[0].outline;
            CAPTURE(level, got.segments.size());
            CHECK(got.segments.size() <= 3 * truth.segments.size()); // the level line goes round sharp tips
            // A pixel's ramp from one side to the other is a pixel wide: the level says how far along it.
            const double along = (level - 125) / 190.0 / 4;
            double off = 0;
            const Ruler ruler(truth);
            const Ring corners = test::cornersIn({truth});
            for (std::size_t i = 0; i < got.segments.size(); ++i)
                for (const double t : {0.3, 0.5, 0.7}) {
                    const Vec2 p = pointAt(got.from(i), got.segments[i], t);
                    if (std::any_of(corners.begin(), corners.end(), [&](Vec2 c) { return distance(c, p) < 1; }))
                        continue;
                    const auto near = ruler.at(ruler.nearest(p));
                    off = std::max(off, std::abs(-cross(near.tangent, p - near.point) - along)); // outwards
                }
            CHECK(off < 0.15 / 4);
        }
    }
}

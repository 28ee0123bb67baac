#include "geometry/flatten.h"
#include "support/ink.h"
#include "support/nearness.h"
#include "support/page.h"
#include "support/shapes.h"
#include "trace/outline_fit.h"
#include "trace/trace.h"

using namespace ferro;

namespace {
trace::Traced traced(const picture::Grey& grey, double pxPerMm, const trace::Settings& settings = {}) {
    Progress progress;
    auto out = trace::traced(grey, pxPerMm, settings, progress);
    REQUIRE(out);
    return *out;
}
/// Places where the way turns by more than 17°.
std::size_t kinksOf(const Path& path) {
    std::size_t kinks = 0;
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const std::size_t next = (i + 1) % path.segments.size();
        kinks += dot(tangentAt(path.from(i), path.segments[i], 1), tangentAt(path.from(next), path.segments[next], 0)) <
                 std::cos(0.3);
    }
    return kinks;
}
} // namespace

TEST_CASE("trace: outlines come back to a fraction of a pixel, with the fewest lines and arcs", "[property]") {
    struct Known {
        const char* name;
        Path truth;
        std::size_t most; // segments
    };
    const auto corners = [](int count, double outer, double inner, double turn) {
        Ring ring;
        for (int i = 0; i < count; ++i) {
            const double r = i % 2 ? inner : outer, angle = turn + 2 * pi * i / count;
            ring.push_back(Vec2{20.1, 20.2} + Vec2{std::cos(angle), std::sin(angle)} * r);
        }
        return pathOf(ring, true);
    };
    const double pxPerMm = GENERATE(4.0, 8.0);
    const Known known = GENERATE_COPY(
        Known{"token", circle({20.13, 19.77}, 9), 2}, Known{"square", corners(4, 12, 12, 0.3), 4},
        Known{"level square", corners(4, 12, 12, pi / 4), 4},
        Known{"all but level", corners(4, 12, 12, pi / 4 + 0.02), 4},
        Known{"eight corners", corners(8, 14, 14, 0.1), 8}, Known{"moon star", corners(10, 15, 7, 0.3), 10},
        Known{"plate", rectangle({6.1, 7.2}, {33.3, 30.1}, 5), 8},
        Known{"slot", transformed(rectangle({6.1, 15.2}, {33.3, 24.1}, 4.45), Transform::rotated(0.4, {20, 20})), 4},
        Known{"hill", transformed(circle({20, 20}, 1), Transform{15, 0, 0, 7, -280, -120}), 8},
        Known{"puppet", test::curvedBlob(3, {20, 20}, 15), 30},
        Known{"other puppet", test::curvedBlob(4, {20, 20}, 15), 30});
    CAPTURE(known.name, pxPerMm);
    const int side = static_cast<int>(40 * pxPerMm);
    const auto sharp = test::inked({flattened(known.truth, 0.0005)}, side, side, pxPerMm);
    const trace::Settings settings{.speck = 0.1, .followWithin = 0.3 / pxPerMm};
    {
        const auto out = traced(sharp, pxPerMm, settings);
        REQUIRE(out.pieces.size() == 1);
        const auto off = test::offBetween({out.pieces[0].outline}, {known.truth}, 1 / pxPerMm);
        CHECK(off.mean < 0.13);
        CHECK(off.largest < 0.4);
        CHECK(off.atCorners < 0.55);
        CHECK(areaOf(out.pieces[0].outline) == Approx(areaOf(known.truth)).epsilon(0.002));
        CHECK(out.pieces[0].outline.segments.size() <= known.most);
    }
    {
        const auto out = traced(test::photographed(sharp, 2, 6, 7), pxPerMm, settings);
        REQUIRE(out.pieces.size() == 1);
        const auto off = test::offBetween({out.pieces[0].outline}, {known.truth}, 1 / pxPerMm);
        CHECK(off.mean < 0.15);
        CHECK(off.largest < 0.6);
        CHECK(areaOf(out.pieces[0].outline) == Approx(areaOf(known.truth)).epsilon(0.006));
    }
}

TEST_CASE("trace: pixels without greys come back nearer than half a pixel, right angles as right angles",
          "[property]") {
    const auto blackAndWhite = [](picture::Grey grey) {
        for (auto& v : grey.values) v = v < 128 ? 0 : 255;
        return grey;
    };
    const int side = GENERATE(100, 300);
    double mean = 0, largest = 0, count = 0;
    for (const auto& kind : test::kinds()) {
        test::Random random(21);
        for (int n = 0; n < 6; ++n) {
            const Vec2 middle = Vec2{test::between(random, 0, 1), test::between(random, 0, 1)} + Vec2{0.5, 0.5} * side;
            const auto truth = kind.draw(random, middle, side, n);
            Rings rings;
            for (const auto& path : truth) rings.push_back(flattened(path, 0.01));
            const auto out = traced(blackAndWhite(test::inked(rings, side, side, 1)), 8, {.speck = 0.01});
            std::vector<Path> got;
            for (const auto& piece : out.pieces) {
                got.push_back(transformed(piece.outline, Transform::scaled(8, 8, {})));
                for (const auto& hole : piece.openings) got.push_back(transformed(hole, Transform::scaled(8, 8, {})));
            }
            CAPTURE(kind.name, n, side);
            REQUIRE(got.size() == truth.size());
            const auto off = test::offBetween(got, truth, 1);
            CHECK(off.mean < 0.25);   // a level edge may lie anywhere within its pixel
            CHECK(off.largest < 1.4); // where a rounding of two pixels is taken for a corner
            mean += off.mean, largest += off.largest, ++count;
        }
    }
    CHECK(mean / count < 0.09);
    CHECK(largest / count < 0.4);
    // A cross along rows and columns, arms of three pixels, one of two: its corners are the pixels' own.
    const Ring cross = test::ring("20,5 23,5 23,20 38,20 38,23 23,23 23,38 20,38 20,23 5,23 5,21 20,21");
    const auto out = traced(test::inked({cross}, 45, 45, 1), 1, {.speck = 1});
    REQUIRE(out.pieces.size() == 1);
    CHECK(out.pieces[0].outline.segments.size() == cross.size());
    CHECK(test::offBetween({out.pieces[0].outline}, {pathOf(cross, true)}, 1, test::Corners::count).largest < 0.15);
}

TEST_CASE("trace: acute tips and slits end where their arms meet, small squares keep four corners", "[property]") {
    for (const double degrees : {12.0, 16.0, 20.0, 30.0})
        for (const bool slit : {false, true}) {
            test::Random random(3);
            for (int n = 0; n < 12; ++n) {
                const double wide = 120 * std::tan(degrees * pi / 360);
                const Path wedge = transformed(
                    pathOf({{-60, 0}, {60, -wide}, {60, wide}}, true),
                    Transform::moved({100 + test::between(random, 0, 1), 100 + test::between(random, 0, 1)}) *
                        Transform::rotated(test::between(random, 0, 6.28)));
                Rings rings{flattened(wedge, 0.01)};
                if (slit) rings.push_back(test::ring("10,10 190,10 190,190 10,190"));
                const auto out = traced(test::inked(rings, 200, 200, 1, 30, 220), 1);
                double off = 1e9;
                for (const auto& piece : out.pieces) {
                    for (const auto& s : piece.outline.segments) off = std::min(off, distance(s.end, wedge.start));
                    for (const auto& hole : piece.openings)
                        for (const auto& s : hole.segments) off = std::min(off, distance(s.end, wedge.start));
                }
                CAPTURE(degrees, slit, n);
                CHECK(off < 0.2);
            }
        }
    int four = 0;
    test::Random random(9);
    for (int n = 0; n < 60; ++n) {
        const double half = test::between(random, 3, 7);
        const Path square = test::turned(random, rectangle({-half, -half}, {half, half}),
                                         {30 + test::between(random, 0, 1), 30 + test::between(random, 0, 1)});
        const auto out = traced(test::inked({flattened(square, 0.01)}, 60, 60, 1), 1);
        REQUIRE(out.pieces.size() == 1);
        four += out.pieces[0].outline.segments.size() == 4;
        CAPTURE(half, n);
        CHECK(areaOf(out.pieces[0].outline) == Approx(areaOf(square)).epsilon(0.04));
        CHECK(test::offBetween({out.pieces[0].outline}, {square}, 1).mean < 0.12);
    }
    CHECK(four >= 54);
}

TEST_CASE("trace: any soft photograph at any level is traced, in finite numbers", "[property]") {
    std::mt19937 random(17);
    for (unsigned n = 0; n < 2000; ++n) {
        const double r = test::between(random, 2, 14);
        const Path blob =
            n % 3 ? test::curvedBlob(n, {20, 20}, r, 5 + static_cast<int>(n % 9))
                  : test::star(random, {20, 20}, 3 + static_cast<int>(n % 5), r, r * test::between(random, 0.1, 0.9));
        const auto photo = test::photographed(test::inked({flattened(blob, 0.05)}, 40, 40, 1), static_cast<int>(n % 7),
                                              test::between(random, 0, 25), n);
        trace::Settings settings;
        settings.level = 1 + static_cast<int>(random() % 255);
        settings.speck = n % 2 ? 0.01 : 1;
        settings.find = n % 5 ? trace::Find::areas : trace::Find::strokes;
        const auto out = traced(photo, test::between(random, 0.5, 20), settings);
        CAPTURE(n);
        REQUIRE(std::isfinite(out.largestMiss));
        for (const auto& piece : out.pieces) {
            const Box box = boundsOf(piece);
            REQUIRE((isFinite(box.low) && isFinite(box.high)));
        }
    }
}

TEST_CASE("trace: circles and plates come back at their size, whatever the resolution", "[property]") {
    for (const double pxPerMm : {5.0, 8.0, 12.0}) {
        const int side = static_cast<int>(30 * pxPerMm);
        for (const double radius : {2.0, 5.5, 11.0}) {
            const auto out =
                traced(test::inked({flattened(circle({15, 15}, radius), 0.0002)}, side, side, pxPerMm), pxPerMm);
            REQUIRE(out.pieces.size() == 1);
            const Box box = boundsOf(out.pieces[0].outline);
            CAPTURE(pxPerMm, radius);
            CHECK(box.width() == Approx(2 * radius).margin(0.03 / pxPerMm));
            CHECK(distance(box.centre(), {15, 15}) < 0.02 / pxPerMm);
            CHECK(areaOf(out.pieces[0].outline) == Approx(pi * radius * radius).epsilon(0.001));
            CHECK(out.pieces[0].outline.segments.size() == 2);
            CHECK(out.largestMiss * pxPerMm < 0.2);
        }
        const auto plate =
            traced(test::inked({test::ring("5.1,6.3 24.7,6.3 24.7,21.9 5.1,21.9")}, side, side, pxPerMm), pxPerMm);
        REQUIRE(plate.pieces.size() == 1);
        CHECK(plate.pieces[0].outline.segments.size() == 4); // straight edges come out straight
        CHECK(boundsOf(plate.pieces[0].outline).width() == Approx(19.6).margin(0.06 / pxPerMm));
    }
}

TEST_CASE("trace: nesting is right to any depth, and shapes at the picture's edge are closed") {
    Rings rings;
    for (int i = 0; i < 6; ++i)
        rings.push_back(test::ring(fmt::format("{0},{0} {1},{0} {1},{1} {0},{1}", 2 + 2 * i, 28 - 2 * i)));
    const auto out = traced(test::inked(rings, 240, 240, 8), 8);
    CHECK(out.pieces.size() == 3);
    for (const auto& piece : out.pieces) {
        CHECK(piece.openings.size() == 1);
        CHECK(areaOf(piece.outline) > 0);
        CHECK(areaOf(piece.openings[0]) < 0);
    }
    const auto cut = traced(test::inked({test::ring("-5,-5 12,-5 12,12 -5,12")}, 160, 160, 8), 8);
    REQUIRE(cut.pieces.size() == 1);
    CHECK(areaOf(cut.pieces[0].outline) == Approx(144).epsilon(0.02));
}

TEST_CASE("trace: settings do what they say") {
    const Path puppet = test::curvedBlob(7, {15, 15}, 13);
    const auto grey = test::inked({flattened(puppet, 0.001), test::ring("1,1 2,1 2,2 1,2")}, 240, 240, 8);
    const auto fine = traced(grey, 8, {.speck = 0.1, .followWithin = 0.01}),
               coarse = traced(grey, 8, {.speck = 0.1, .followWithin = 0.4});
    CHECK(coarse.points < fine.points);
    CHECK(fine.pieces.size() == 2);
    CHECK(traced(grey, 8, {.speck = 3}).pieces.size() == 1);
    CHECK(traced(grey, 8, {.speck = 3}).specksDropped == 1);
    const auto round = traced(grey, 8, {.cornersUnder = 0}), sharp = traced(grey, 8, {.cornersUnder = 170});
    CHECK(kinksOf(sharp.pieces[0].outline) > 0);
    CHECK(kinksOf(round.pieces[0].outline) == 0);
    auto negative = grey;
    for (auto& v : negative.values) v = static_cast<std::uint8_t>(255 - v);
    const auto a = traced(grey, 8, {.level = 128}), b = traced(negative, 8, {.level = 128, .invert = true});
    CHECK(a.pieces.size() == b.pieces.size());
    CHECK(areaOf(a.pieces[0].outline) == Approx(areaOf(b.pieces[0].outline)).epsilon(0.002));
    Progress progress;
    for (const trace::Settings& bad :
         {trace::Settings{.level = 0}, {.level = 256}, {.speck = -2}, {.cornersUnder = 200}, {.followWithin = -1}})
        CHECK_FALSE(trace::traced(grey, 8, bad, progress));
    CHECK_FALSE(trace::traced(grey, 0, {}, progress));
    progress.cancel();
    CHECK(trace::traced(grey, 8, {}, progress).problem().isCancelled);
}

TEST_CASE("fit: a line with a corner close to its end keeps to both of its sides", "[property]") {
    // A long straight way that turns off sharply two or three pixels before it stops: no room for an arm there.
    for (const double hook : {1.5, 2.0, 2.6, 3.2})
        for (const double turn : {-1.9, -1.2, 1.2, 1.9})
            for (const bool atStart : {false, true}) {
                Ring way;
                for (double x = 0; x < 80; x += 0.5) way.push_back({x, 0.02 * std::sin(x)});
                const Vec2 aside = Vec2{std::cos(turn), std::sin(turn)};
                for (double s = 0.5; s <= hook; s += 0.5) way.push_back(Vec2{80, 0} + aside * s);
                if (atStart) std::reverse(way.begin(), way.end());
                const Path fitted = trace::fittedLine(way, {.tolerance = 0.25});
                CAPTURE(hook, turn, atStart, toText(fitted));
                CHECK(fitted.start == way.front());
                CHECK(fitted.end() == way.back());
                CHECK(fitted.segments.size() <= 3);
                const Ruler ruler(fitted);
                double off = 0;
                for (const Vec2 p : way)
                    if (distance(p, {80, 0}) > 1.5) off = std::max(off, distance(p, ruler.at(ruler.nearest(p)).point));
                CHECK(off < 0.3);
            }
}

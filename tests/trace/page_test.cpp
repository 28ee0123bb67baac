#include "artwork/text.h"
#include "support/ink.h"
#include "support/nearness.h"
#include "support/shapes.h"
#include "trace/level_lines.h"
#include "trace/trace.h"

using namespace ferro;

namespace {

using Random = std::mt19937;
double between(Random& random, double low, double high) { return std::uniform_real_distribution<>(low, high)(random); }

Path star(Random& random, Vec2 middle, int points, double outer, double inner) {
    const double turn = between(random, 0, 6);
    Ring ring;
    for (int i = 0; i < 2 * points; ++i) {
        const double angle = turn + pi * i / points;
        ring.push_back(middle + Vec2{std::cos(angle), std::sin(angle)} * (i % 2 ? inner : outer));
    }
    return pathOf(ring, true);
}
Path turned(Random& random, const Path& path, Vec2 to) {
    return transformed(path, Transform::moved(to) * Transform::rotated(between(random, 0, 3)));
}
std::vector<Path> letter(char which, Vec2 middle, double height) {
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
Path wave(Vec2 middle, double wide, double high, double thick, double frequency) {
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

std::vector<Kind> kinds() {
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
             return std::vector{test::curvedBlob(static_cast<unsigned>(n) + 20, c, 0.42 * s, 15)};
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

} // namespace

TEST_CASE("trace: what shops bring comes back as it was drawn, at any resolution, by the settings as they are",
          "[property]") {
    const double pxPerMm = GENERATE(4.0, 300 / 25.4, 40.0);
    for (const auto& kind : kinds()) {
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
            CHECK(off.mean < 0.12);
            CHECK(off.largest < 0.45);
            CHECK(off.missed < 0.45);
            CHECK(segments <= kind.most);
            // As wide as it was, to a twentieth of a pixel all round.
            CHECK(std::abs(gotArea - area) < 0.05 * around / pxPerMm);
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
        Rings rings{flattened(turned(random, rectangle({-40, -wide / 2}, {40, wide / 2}), {50, 50}), 0.001)};
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
        const Path truth = star(random, {20.1, 20.2}, 5, 15, 7);
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

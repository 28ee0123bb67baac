#include "geometry/flatten.h"
#include "support/shapes.h"
#include "trace/trace.h"

using namespace ferro;

namespace {
/// Anti-aliased by 16 samples along each row of four: quick and close enough to a camera's grey.
picture::Grey inked(const Rings& rings, int side, double pxPerMm) {
    picture::Grey grey{side, side, std::vector<std::uint8_t>(static_cast<std::size_t>(side * side), 255)};
    constexpr int rows = 4, columns = 4;
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x) {
            int dark = 0;
            for (int k = 0; k < rows * columns; ++k)
                dark += contains(rings, {(x + (k % columns + 0.5) / columns) / pxPerMm,
                                         (side - y - 1 + (k / columns + 0.5) / rows) / pxPerMm});
            grey.values[static_cast<std::size_t>(y * side + x)] =
                static_cast<std::uint8_t>(255 - dark * 255 / (rows * columns));
        }
    return grey;
}
trace::Traced traced(const picture::Grey& grey, double pxPerMm, const trace::Settings& settings = {}) {
    Progress progress;
    auto out = trace::traced(grey, pxPerMm, settings, progress);
    REQUIRE(out);
    return *out;
}
} // namespace

TEST_CASE("trace: circles and plates come back at their size, whatever the resolution", "[property]") {
    for (const double pxPerMm : {5.0, 8.0, 12.0}) {
        const int side = static_cast<int>(30 * pxPerMm);
        for (const double radius : {2.0, 5.5, 11.0}) {
            const auto out = traced(inked({flattened(circle({15, 15}, radius), 0.002)}, side, pxPerMm), pxPerMm);
            REQUIRE(out.pieces.size() == 1);
            const Box box = boundsOf(out.pieces[0].outline);
            CAPTURE(pxPerMm, radius);
            CHECK(box.width() == Approx(2 * radius).margin(1.3 / pxPerMm));
            CHECK(distance(box.centre(), {15, 15}) < 0.4 / pxPerMm);
            CHECK(areaOf(out.pieces[0].outline) ==
                  Approx(pi * radius * radius).margin(2 * pi * radius * 0.35 / pxPerMm));
            CHECK(out.largestMiss * pxPerMm < 1.2);
        }
        const auto plate = traced(inked({test::ring("5.1,6.3 24.7,6.3 24.7,21.9 5.1,21.9")}, side, pxPerMm), pxPerMm);
        REQUIRE(plate.pieces.size() == 1);
        CHECK(plate.pieces[0].outline.segments.size() <= 8); // straight edges come out straight
        CHECK(boundsOf(plate.pieces[0].outline).width() == Approx(19.6).margin(0.8 / pxPerMm));
    }
}

TEST_CASE("trace: nesting is right to any depth, and shapes at the picture's edge are closed") {
    Rings rings;
    for (int i = 0; i < 6; ++i)
        rings.push_back(test::ring(fmt::format("{0},{0} {1},{0} {1},{1} {0},{1}", 2 + 2 * i, 28 - 2 * i)));
    const auto out = traced(inked(rings, 240, 8), 8);
    CHECK(out.pieces.size() == 3);
    for (const auto& piece : out.pieces) {
        CHECK(piece.openings.size() == 1);
        CHECK(areaOf(piece.outline) > 0);
        CHECK(areaOf(piece.openings[0]) < 0);
    }
    const auto cut = traced(inked({test::ring("-5,-5 12,-5 12,12 -5,12")}, 160, 8), 8);
    REQUIRE(cut.pieces.size() == 1);
    CHECK(areaOf(cut.pieces[0].outline) == Approx(144).epsilon(0.02));
}

TEST_CASE("trace: settings do what they say") {
    const auto grey = inked({test::blob(7, {15, 15}, 12, 16, 0.3), test::ring("1,1 2,1 2,2 1,2")}, 240, 8);
    const auto fine = traced(grey, 8, {.speck = 0.1, .followWithin = 0.01}),
               coarse = traced(grey, 8, {.speck = 0.1, .followWithin = 0.4});
    CHECK(coarse.points < fine.points);
    CHECK(fine.pieces.size() == 2);
    CHECK(traced(grey, 8, {.speck = 3}).pieces.size() == 1);
    CHECK(traced(grey, 8, {.speck = 3}).specksDropped == 1);
    const auto round = traced(grey, 8, {.cornersUnder = 0}), sharp = traced(grey, 8, {.cornersUnder = 170});
    const auto lines = [](const trace::Traced& t) {
        std::size_t n = 0;
        for (const auto& piece : t.pieces)
            for (const auto& s : piece.outline.segments) n += s.kind == Segment::Kind::line;
        return n;
    };
    CHECK(lines(sharp) > lines(round));
    auto negative = grey;
    for (auto& v : negative.values) v = static_cast<std::uint8_t>(255 - v);
    const auto a = traced(grey, 8, {.level = 128}), b = traced(negative, 8, {.level = 128, .invert = true});
    CHECK(a.pieces.size() == b.pieces.size());
    CHECK(areaOf(a.pieces[0].outline) == Approx(areaOf(b.pieces[0].outline)).epsilon(0.002));
    Progress progress;
    for (const trace::Settings bad :
         {trace::Settings{.level = 0}, {.level = 256}, {.speck = -1}, {.cornersUnder = 200}, {.followWithin = -1}})
        CHECK_FALSE(trace::traced(grey, 8, bad, progress));
    CHECK_FALSE(trace::traced(grey, 0, {}, progress));
    progress.cancel();
    CHECK(trace::traced(grey, 8, {}, progress).problem().isCancelled);
}

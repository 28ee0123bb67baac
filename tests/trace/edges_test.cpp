#include "geometry/polygons.h"
#include "support/ink.h"
#include "support/nearness.h"
#include "support/page.h"
#include "trace/contrast_edges.h"
#include "trace/trace.h"

using namespace ferro;
using test::between;
using test::Random;

namespace {

std::vector<Path> edgesIn(const picture::Grey& grey, double pxPerMm, double lineWidth, double least = 25) {
    Progress progress;
    const auto out = trace::traced(
        grey, pxPerMm, {.find = trace::Find::edges, .speck = 0.01, .lineWidth = lineWidth, .leastStep = least},
        progress);
    INFO((out ? "" : out.problem().text()));
    REQUIRE(out);
    std::vector<Path> paths;
    for (const auto& piece : out->pieces) {
        CHECK(piece.openings.empty());
        paths.push_back(piece.outline);
    }
    return paths;
}

} // namespace

TEST_CASE("edges: round areas of any contrast run one closed line each, where the area ends", "[property]") {
    const double pxPerMm = GENERATE(4.0, 300 / 25.4);
    const auto [ink, paper] = GENERATE(std::pair{30, 220}, std::pair{200, 120}); // dark on light, and light on dark
    for (const auto& kind : test::kinds()) {
        Random random(11);
        for (int n = 0; n < 3; ++n) {
            CAPTURE(kind.name, n, pxPerMm, ink);
            const double size = 160 / pxPerMm;
            const Vec2 middle = Vec2{between(random, 0.49, 0.51), between(random, 0.49, 0.51)} * size;
            const auto truth = kind.draw(random, middle, size, n);
            Rings rings;
            for (const auto& path : truth) rings.push_back(flattened(path, 0.0005));
            // Lines are thinner than any of these here.
            const auto got = edgesIn(test::inked(rings, 160, 160, pxPerMm, ink, paper), pxPerMm, 2.2 / pxPerMm);
            REQUIRE(got.size() == truth.size());
            for (const auto& path : got) CHECK(path.closed);
            const auto off = test::offBetween(got, truth, 1 / pxPerMm);
            CHECK(off.mean < 0.12);
            CHECK(off.largest < 0.8); // at the tips of stars; elsewhere half of it
            CHECK(off.missed < 0.8);
        }
    }
}

TEST_CASE("edges: a pen line is one line along its middle, and what is thinner than it is no area", "[property]") {
    constexpr double pxPerMm = 8;
    const double width = GENERATE(0.4, 0.8, 1.3);
    Random random(3);
    for (int n = 0; n < 4; ++n) {
        Path bow{{4, 10}, {}, false};
        bow.segments.push_back(Segment::cubic({between(random, 4, 20), between(random, 0, 25)},
                                              {between(random, 10, 25), between(random, 0, 25)}, {25, 15}));
        const Path ring = circle({20, 25}, 3.5);
        auto rings = *widened({flattened(bow, 0.001)}, false, width, Cap::flat, {.tolerance = 0.002});
        const auto round = *widened({flattened(ring, 0.001)}, true, width, Cap::flat, {.tolerance = 0.002});
        rings.insert(rings.end(), round.begin(), round.end());
        const auto got = edgesIn(test::inked(rings, 240, 240, pxPerMm, 30, 220), pxPerMm, 1.5);
        CAPTURE(width, n);
        REQUIRE(got.size() == 2);
        const auto off = test::offBetween(got, {bow, ring}, 1 / pxPerMm);
        CHECK(off.mean < 0.15);
        CHECK(off.missed < 2); // at the ends
    }
}

TEST_CASE("edges: a pen line across a plate leaves the plate's edge whole, and so does one along it") {
    constexpr double pxPerMm = 8;
    const auto draw = [](std::initializer_list<std::pair<Path, int>> things) {
        picture::Grey out{240, 240, std::vector<std::uint8_t>(240 * 240, 220)};
        for (const auto& [path, ink] : things) {
            const auto one = test::inked({flattened(path, 0.001)}, 240, 240, pxPerMm);
            for (std::size_t i = 0; i < out.values.size(); ++i)
                out.values[i] = static_cast<std::uint8_t>(
                    std::lround(out.values[i] * (one.values[i] / 255.0) + ink * (1 - one.values[i] / 255.0)));
        }
        return out;
    };
    const Path plate = rectangle({4, 4}, {20, 20});
    const auto closedIn = [](const std::vector<Path>& paths) {
        return std::count_if(paths.begin(), paths.end(), [](const Path& p) { return p.closed; });
    };
    // Over its edge, with a short stub and a line that grows wider.
    const auto over = edgesIn(draw({{plate, 110},
                                    {rectangle({16, 10}, {28, 10.8}), 20},
                                    {rectangle({18, 15}, {23, 15.8}), 20},
                                    {pathOf({{2, 25}, {28, 25.2}, {28, 26}, {2, 25.3}}, true), 20}}),
                              pxPerMm, 1.5);
    REQUIRE(over.size() == 4);
    REQUIRE(closedIn(over) == 1);
    for (const auto& path : over)
        if (path.closed)
            CHECK(test::offBetween({path}, {plate}, 1 / pxPerMm).largest < 0.8);
        else
            CHECK((lengthOf(path) == Approx(12).margin(0.3) || lengthOf(path) == Approx(5).margin(0.3) ||
                   lengthOf(path) == Approx(26).margin(0.4)));
    // Along all of it: one line, not three.
    const auto frame = *widened({flattened(plate, 0.01)}, true, 1, Cap::flat, {.corner = Corner::sharp});
    REQUIRE(frame.size() == 2);
    auto drawn = draw({{plate, 150}});
    const auto pen = test::inked(frame, 240, 240, pxPerMm, 20, 220);
    for (std::size_t i = 0; i < drawn.values.size(); ++i) drawn.values[i] = std::min(drawn.values[i], pen.values[i]);
    const auto along = edgesIn(drawn, pxPerMm, 1.5);
    REQUIRE(along.size() == 1);
    CHECK(along[0].closed);
    CHECK(test::offBetween(along, {plate}, 1 / pxPerMm).mean < 0.3);
}

TEST_CASE("edges: what differs by less is none, noise neither, and flat pictures have none") {
    const auto plate = [](int ink) {
        return test::inked({flattened(circle({15, 15}, 9), 0.001)}, 240, 240, 8, ink, 200);
    };
    CHECK(edgesIn(plate(170), 8, 1.5, 25).size() == 1);
    CHECK(edgesIn(plate(170), 8, 1.5, 40).empty());
    const auto noisy = test::photographed(plate(100), 1, 5, 7);
    const auto found = edgesIn(noisy, 8, 1.5);
    REQUIRE(found.size() == 1);
    CHECK(test::offBetween(found, {circle({15, 15}, 9)}, 1 / 8.0).mean < 0.2);
    Progress progress;
    for (const auto& [w, h] : {std::pair{1, 1}, {4, 200}, {200, 4}, {64, 64}}) {
        const picture::Grey flat{w, h, std::vector<std::uint8_t>(static_cast<std::size_t>(w * h), 77)};
        CHECK(trace::contrastEdges(flat, std::vector<std::uint8_t>(flat.values.size(), 1), progress).empty());
        CHECK(edgesIn(flat, 8, 1.5).empty());
    }
    progress.cancel();
    CHECK(trace::contrastEdges(noisy, std::vector<std::uint8_t>(noisy.values.size(), 25), progress).empty());
}

TEST_CASE("edges: areas that touch share their edge, ends are led up to the line that they meet") {
    // Three greys about one point: two of the edges are one line, the third ends on it.
    picture::Grey grey{200, 200, std::vector<std::uint8_t>(200 * 200)};
    for (int y = 0; y < 200; ++y)
        for (int x = 0; x < 200; ++x)
            grey.values[static_cast<std::size_t>(y * 200 + x)] = y < 100 ? 220 : x < 100 ? 60 : 140;
    const auto got = edgesIn(grey, 10, 0.3);
    REQUIRE(got.size() == 2);
    const Path across{{0, 10}, {Segment::line({20, 10})}, false}, down{{10, 0}, {Segment::line({10, 10})}, false};
    const auto off = test::offBetween(got, {across, down}, 0.1);
    CHECK(off.mean < 0.2);
    CHECK(off.missed < 3.5); // the picture's outermost pixels have no slope
    const Path& stem = lengthOf(got[0]) < lengthOf(got[1]) ? got[0] : got[1];
    CHECK(std::max(stem.start.y, stem.end().y) == Approx(10).margin(0.1));
}

TEST_CASE("edges: an area has one line round it, a pen line is one line and not two, on any ground") {
    // A grey plate on light paper, a dark pen line across both, a light scratch on the plate.
    const auto ink = [](const Path& path, int dark, int light) {
        return test::inked({flattened(path, 0.001)}, 500, 400, 5, dark, light);
    };
    auto grey = ink(rectangle({20, 15}, {70, 65}), 150, 240);
    const auto pen = ink(rectangle({10, 38}, {90, 39}), 20, 255),
               scratch = ink(rectangle({30, 55}, {60, 55.8}), 255, 0);
    for (std::size_t i = 0; i < grey.values.size(); ++i)
        grey.values[i] = std::max(std::min(grey.values[i], pen.values[i]), scratch.values[i]);
    const auto found = edgesIn(grey, 5, 1.5);
    double alongPen = 0, alongScratch = 0, roundPlate = 0, elsewhere = 0;
    for (const auto& path : found) {
        const Ring points = flattened(path, 0.01);
        for (std::size_t i = 0; i + (path.closed ? 0 : 1) < points.size(); ++i) {
            const Vec2 a = points[i], b = points[(i + 1) % points.size()];
            const int parts = std::max(1, static_cast<int>(distance(a, b) / 0.2));
            for (int k = 0; k < parts; ++k) {
                const Vec2 p = lerp(a, b, (k + 0.5) / parts);
                const double size = distance(a, b) / parts;
                const bool onPlate = (std::abs(p.x - 20) < 0.4 || std::abs(p.x - 70) < 0.4 ||
                                      std::abs(p.y - 15) < 0.4 || std::abs(p.y - 65) < 0.4) &&
                                     p.x > 19 && p.x < 71 && p.y > 14 && p.y < 66;
                (std::abs(p.y - 38.5) < 0.3   ? alongPen
                 : std::abs(p.y - 55.4) < 0.3 ? alongScratch
                 : onPlate                    ? roundPlate
                                              : elsewhere) += size;
            }
        }
    }
    CAPTURE(found.size(), alongPen, alongScratch, roundPlate, elsewhere);
    CHECK(alongPen == Approx(80).margin(4));
    CHECK(alongScratch == Approx(30).margin(3));
    CHECK(roundPlate == Approx(200).margin(12));
    CHECK(elsewhere < 6);
}

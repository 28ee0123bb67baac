#include "geometry/flatten.h"
#include "support/ink.h"
#include "support/shapes.h"
#include "trace/trace.h"

using namespace ferro;
using trace::Find;
using trace::Patch;
using trace::Settings;

namespace {

constexpr double pxPerMm = 5;

picture::Picture pictureOf(const picture::Grey& grey) {
    return {grey.width, grey.height, 1, std::make_shared<std::vector<std::uint8_t>>(grey.values), {}, {}};
}
picture::Grey ink(const std::vector<Path>& paths, int dark = 0, int light = 255) {
    Rings rings;
    for (const auto& path : paths) rings.push_back(flattened(path, 0.001));
    return test::inked(rings, 500, 400, pxPerMm, dark, light);
}
trace::Traced traced(const picture::Grey& grey, const Settings& settings, const std::vector<Patch>& patches = {}) {
    Progress progress;
    auto out = trace::traced(pictureOf(grey), pxPerMm, settings, progress, patches);
    INFO((out ? "" : out.problem().text()));
    REQUIRE(out);
    return *out;
}
Settings finding(Find find) {
    Settings s;
    s.find = find;
    return s;
}
double area(const trace::Traced& t) {
    double sum = 0;
    for (const auto& piece : t.pieces) {
        sum += areaOf(piece.outline);
        for (const auto& opening : piece.openings) sum += areaOf(opening);
    }
    return sum;
}
Ring box(double x0, double y0, double x1, double y1) { return {{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}; }

} // namespace

TEST_CASE("patches: one of the same settings leaves no mark, whatever it crosses", "[property]") {
    const auto grey = ink({circle({50, 40}, 25), rectangle({5, 5}, {20, 70}, 3)});
    const auto whole = traced(grey, {});
    for (unsigned seed = 1; seed <= 12; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> at(5, 75);
        const auto split = traced(grey, {},
                                  {{{{at(random), at(random)}, {at(random), at(random)}, {at(random), at(random)}}, {}},
                                   {box(30, 20, 30 + at(random), 60), {}}});
        REQUIRE(split.pieces.size() == whole.pieces.size());
        for (std::size_t i = 0; i < whole.pieces.size(); ++i) CHECK(split.pieces[i].outline == whole.pieces[i].outline);
    }
}

TEST_CASE("patches: each is looked through by its own settings, the later over the earlier, parts can be left out") {
    // A faint disc, a dark one, a pen line, and a frame round all of them.
    auto grey = ink({circle({25, 55}, 12)}, 170, 255);
    const auto dark = ink({circle({70, 55}, 12), rectangle({10, 15}, {90, 16})}, 20, 255),
               frame = ink({rectangle({1, 1}, {99, 79}), rectangle({2, 2}, {98, 78})}, 20, 255);
    for (std::size_t i = 0; i < grey.values.size(); ++i)
        grey.values[i] = std::min({grey.values[i], dark.values[i], frame.values[i]});
    Settings base;
    base.level = 128;
    CHECK(traced(grey, base).pieces.size() == 3); // dark disc, line, frame; the faint one is none
    Settings faint = base;
    faint.level = 210;
    const auto t = traced(grey, base,
                          {{box(0, 0, 100, 80), finding(Find::nothing)},
                           {box(5, 5, 95, 76), base},
                           {box(5, 40, 45, 70), faint},
                           {box(5, 5, 95, 30), finding(Find::strokes)}});
    REQUIRE(t.pieces.size() == 3);
    CHECK(area(t) == Approx(2 * 144 * pi).epsilon(0.01));
    const auto& line = t.pieces[2].outline;
    CHECK_FALSE(line.closed);
    CHECK(t.widths[2][0] == Approx(1).margin(0.1));
}

TEST_CASE("patches: one without an area is refused, whatever is looked for in it") {
    const auto grey = ink({circle({25, 40}, 12)});
    for (const Find find : {Find::areas, Find::colours, Find::edges, Find::nothing})
        for (const Ring& area : {Ring{}, Ring{{1, 1}, {5, 5}}}) {
            Progress progress;
            const auto out = trace::traced(pictureOf(grey), pxPerMm, {}, progress, {{area, finding(find)}});
            REQUIRE_FALSE(out);
            CHECK(out.problem().what.find("three corners") != std::string::npos);
        }
}

TEST_CASE("trace: only a chosen area, a band of greys, and the rest is as if it were not there") {
    auto grey = ink({circle({25, 40}, 12)}, 120, 255);
    const auto dark = ink({circle({70, 40}, 12)}, 10, 255);
    for (std::size_t i = 0; i < grey.values.size(); ++i) grey.values[i] = std::min(grey.values[i], dark.values[i]);
    Settings half;
    half.only = {{0, 0}, {47, 80}};
    const auto one = traced(grey, half);
    REQUIRE(one.pieces.size() == 1);
    CHECK(boundsOf(one.pieces[0]).centre().x == Approx(25).margin(0.05));
    Settings band;
    band.level = 190, band.above = 60, band.speck = 5;
    // The grey disc; the half-tones of the dark one's edge are none, in a soft picture neither, and no speck either.
    for (const double speck : {5.0, 0.1})
        for (const int blur : {0, 1, 3}) {
            CAPTURE(speck, blur);
            band.speck = speck;
            const auto greys = traced(blur ? test::photographed(grey, blur, 1, 3) : grey, band);
            REQUIRE(greys.pieces.size() == 1);
            CHECK(greys.pieces[0].openings.empty());
            CHECK(areaOf(greys.pieces[0].outline) == Approx(144 * pi).epsilon(0.04));
        }
    // A grey rim round the dark one, and a grey pen line, are as they are drawn.
    auto rimmed = ink({circle({70, 40}, 14), rectangle({5, 70}, {60, 71})}, 120, 255);
    for (std::size_t i = 0; i < rimmed.values.size(); ++i)
        rimmed.values[i] = std::min(rimmed.values[i], dark.values[i]);
    const auto rim = traced(rimmed, band);
    REQUIRE(rim.pieces.size() == 2);
    CHECK(area(rim) == Approx((196 - 144) * pi + 55).epsilon(0.03));
    CHECK_FALSE([&] {
        Progress progress;
        Settings bad;
        bad.above = 300;
        return trace::traced(grey, pxPerMm, bad, progress).has_value();
    }());
}

#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "support/ink.h"
#include "support/nearness.h"
#include "support/shapes.h"
#include "trace/trace.h"

using namespace ferro;

namespace {

constexpr double pxPerMm = 5;

/// What a pen of `width` mm draws along the lines, as ink in a picture of 100 × 80 mm.
picture::Grey pen(const std::vector<Path>& lines, double width, Cap cap = Cap::flat) {
    Rings open, closed;
    for (const auto& line : lines) (line.closed ? closed : open).push_back(flattened(line, 0.001));
    const auto a = widened(open, false, width, cap, {.tolerance = 0.004}),
               b = widened(closed, true, width, cap, {.tolerance = 0.004});
    REQUIRE((a && b));
    const auto ink = combined(*a, *b, Combine::join);
    REQUIRE(ink);
    return test::inked(*ink, 500, 400, pxPerMm);
}
trace::Traced strokes(const picture::Grey& grey, double speck = 0.2) {
    trace::Settings settings;
    settings.find = trace::Find::strokes;
    settings.speck = speck;
    Progress progress;
    auto out = trace::traced(grey, pxPerMm, settings, progress);
    REQUIRE(out);
    return *out;
}
std::vector<Path> lines(const char* text) {
    auto read = pathsFromText(text);
    REQUIRE(read);
    return *read;
}
/// px, from what was traced to the lines that were drawn, and the other way round.
test::Off off(const trace::Traced& traced, const std::vector<Path>& drawn) {
    std::vector<Path> ours;
    for (const auto& piece : traced.pieces)
        if (!piece.outline.segments.empty()) ours.push_back(piece.outline);
    return test::offBetween(ours, drawn, 1 / pxPerMm, test::Corners::count);
}
std::string shown(const trace::Traced& traced) {
    std::string out;
    for (const auto& piece : traced.pieces) out += toText(piece.outline) + "\n";
    return out;
}
void shouldFollow(const char* text, double width, double mean, double largest) {
    const auto drawn = lines(text);
    const auto traced = strokes(pen(drawn, width));
    const auto o = off(traced, drawn);
    CAPTURE(text, width, shown(traced), o.mean, o.largest, o.missed);
    CHECK(traced.pieces.size() == drawn.size());
    CHECK(o.mean < mean);
    CHECK(o.largest < largest);
    CHECK(o.missed < largest);
}

} // namespace

TEST_CASE("strokes: a pen line becomes one line, as long as the ink, with its corners and its width") {
    for (const double width : {0.5, 1.0, 2.0, 4.0}) {
        shouldFollow("M10 10L90 60", width, 0.15, 0.6);
        shouldFollow("M15 15L80 15L80 60", width, 0.2, 0.8);      // a corner
        shouldFollow("M10 40C30 80 50 0 90 40", width, 0.2, 0.8); // a wave
        shouldFollow("M50 20A50 40+50 60A50 40+50 20Z", width, 0.2, 0.6);
    }
    const auto traced = strokes(pen(lines("M10 10L90 60"), 2));
    CHECK(toText(traced.pieces[0].outline).find('C') == std::string::npos);
    REQUIRE(traced.pieces[0].outline.segments.size() == 1);
    REQUIRE(traced.widths.size() == 1);
    REQUIRE(traced.widths[0].size() == 2);
    for (const double w : traced.widths[0]) CHECK(w == Approx(2).margin(0.1));
}

TEST_CASE("strokes: crossings are two smooth lines, whatever the angle, ends on a stroke run up to it") {
    for (const double width : {0.8, 2.0, 3.0})
        for (const double degrees : {90.0, 70.0, 50.0, 35.0, 25.0}) {
            const double half = degrees / 2 * pi / 180;
            const Vec2 a{38 * std::cos(half), 38 * std::sin(half)}, b{a.x, -a.y}, m{50, 40};
            const std::vector<Path> drawn{{m - a, {Segment::line(m + a)}, false},
                                          {m - b, {Segment::line(m + b)}, false}};
            const auto traced = strokes(pen(drawn, width));
            const auto o = off(traced, drawn);
            CAPTURE(width, degrees, shown(traced), o.mean, o.largest, o.missed);
            CHECK(traced.pieces.size() == 2);
            CHECK(o.mean < 0.3);
            CHECK(o.largest < 1.5);
            CHECK(o.missed < 1.5);
            for (const auto& piece : traced.pieces) CHECK(piece.outline.segments.size() <= 2);
        }
    shouldFollow("M10 60L90 60M50 60L50 10", 2, 0.2, 1.0);                       // T
    shouldFollow("M20 10L20 70M80 10L80 70M20 40L80 40", 2, 0.2, 1.0);           // H
    shouldFollow("M20 20L80 20M40 20L40 60M60 20L60 60", 2, 0.2, 1.0);           // two legs
    shouldFollow("M20 20L80 20M46 20L46 60M54 20L54 60", 2, 0.2, 1.0);           // two legs side by side
    shouldFollow("M50 10L50 70M20 25L80 55M20 55L80 25", 2, 0.25, 1.3);          // a star
    shouldFollow("M30 10L30 70M30 40L70 70M30 40L70 10", 2, 0.3, 2.0);           // K
    shouldFollow("M10 40L90 40M50 20A50 40+50 60A50 40+50 20Z", 1.5, 0.25, 1.3); // a ring with a line through it
    // Two that touch and part, two that cross at next to no angle, three through nearly one place: inside the ink.
    shouldFollow("M10 15C30 15 40 39 50 39C60 39 70 15 90 15M10 65C30 65 40 41 50 41C60 41 70 65 90 65", 2.2, 0.5, 5.5);
    shouldFollow("M10 36L90 44M10 44L90 36", 1.5, 0.4, 2.5);
    shouldFollow("M10 20L90 62M10 41L90 40M12 66L88 18", 1.5, 0.3, 2);
}

TEST_CASE("strokes: what a hand scribbles is followed, all of it and nothing else, in hardly more lines than it drew",
          "[property]") {
    std::mt19937 random(5);
    const auto between = [&](double low, double high) { return std::uniform_real_distribution<>(low, high)(random); };
    const auto scribble = [&] { // its bend changes slowly, it keeps to the page and crosses itself as it likes
        for (;;) {
            Ring ring{{between(30, 70), between(25, 55)}};
            double heading = between(0, 2 * pi), bend = 0;
            Box box;
            for (int i = 0; i < 110; ++i) {
                const Vec2 home = Vec2{50, 40} - ring.back();
                bend = length(home) > 20 ? 0.14 * std::sin(std::atan2(home.y, home.x) - heading)
                                         : std::clamp(bend + between(-0.02, 0.02), -0.12, 0.12);
                heading += bend;
                ring.push_back(ring.back() + Vec2{std::cos(heading), std::sin(heading)});
                box.take(ring.back());
            }
            if (box.low.x > 4 && box.low.y > 4 && box.high.x < 96 && box.high.y < 76) return pathOf(ring, false);
        }
    };
    for (const double width : {0.5, 1.0, 1.5}) {
        std::size_t drew = 0, came = 0;
        for (int page = 0; page < 12; ++page) {
            std::vector<Path> drawn{scribble()};
            if (page % 2) drawn.push_back(scribble());
            const auto traced = strokes(pen(drawn, width));
            const auto o = off(traced, drawn);
            CAPTURE(width, page, o.mean, shown(traced));
            CHECK(o.mean < 0.2 * width * pxPerMm / 2);
            CHECK(o.largest < 0.75 * width * pxPerMm);   // no farther than just beside the ink
            CHECK(o.missed < 2 * width * pxPerMm + 1.5); // where two run along each other one line stands for both
            drew += drawn.size(), came += traced.pieces.size();
        }
        CHECK(2 * came <= 3 * drew);
    }
}

TEST_CASE("strokes: dots stay dots, specks go, filled bits between count for nothing, light on dark as well") {
    std::vector<Path> drawn = lines("M20 20L60 20");
    const auto withDot = [&] {
        Rings ink = *widened({flattened(drawn[0], 0.001)}, false, 1.5, Cap::round, {});
        ink.push_back(flattened(circle({70, 20}, 1), 0.001));
        ink.push_back(flattened(circle({80, 20}, 0.2), 0.001));
        return test::inked(ink, 500, 400, pxPerMm);
    }();
    const auto traced = strokes(withDot, 0.4);
    REQUIRE(traced.pieces.size() == 2);
    CHECK(traced.specksDropped == 1);
    const auto& dot = traced.pieces[traced.pieces[0].outline.segments.empty() ? 0 : 1].outline;
    CHECK(dot.segments.empty());
    CHECK(distance(dot.start, {70, 20}) < 0.02);
    for (std::size_t i = 0; i < 2; ++i)
        if (traced.pieces[i].outline.segments.empty()) CHECK(traced.widths[i][0] == Approx(2).margin(0.05));
    auto negative = withDot;
    for (auto& v : negative.values) v = static_cast<std::uint8_t>(255 - v);
    trace::Settings settings;
    settings.find = trace::Find::strokes;
    settings.invert = true;
    settings.speck = 0.4;
    Progress progress;
    const auto turned = trace::traced(negative, pxPerMm, settings, progress);
    REQUIRE(turned);
    CHECK(turned->pieces.size() == 2);
}

TEST_CASE("strokes: the same on every run, and a cancelled trace is none") {
    const auto grey = pen(lines("M10 10L90 60M10 60C30 0 60 90 90 20M20 70L80 5"), 1.2);
    CHECK(shown(strokes(grey)) == shown(strokes(grey)));
    trace::Settings settings;
    settings.find = trace::Find::strokes;
    Progress progress;
    progress.cancel();
    CHECK_FALSE(trace::traced(grey, pxPerMm, settings, progress));
}

TEST_CASE("strokes: pointed turns are one line that keeps its point, thin and wide, sharp and blunt") {
    for (const double width : {0.6, 1.0, 2.0})
        for (const double angle : {15.0, 25.0, 40.0, 60.0, 90.0}) {
            const double half = 30 * std::tan(angle / 2 * pi / 180);
            // By a pen that ends flat: a round end counts as ink and would be followed to its end.
            shouldFollow(fmt::format("M{} 65L50 35L{} 65", 50 - half, 50 + half).c_str(), width, 0.1,
                         width < 1 ? 2.1 : 0.75);
        }
    shouldFollow("M10 60L20 25L30 60L40 25L50 60", 1, 0.05, 0.6);
    shouldFollow("M10 60L20 25L30 60L40 25L50 60", 2, 0.05, 0.6);
    shouldFollow("M10 20L16 60L22 20L28 60L34 20", 0.8, 0.05, 0.6);
    // A third stroke that goes on is one, and a bow is no point.
    const auto fork = strokes(pen(lines("M40 70L50 40L60 70M50 40L50 10"), 1.5));
    CHECK(fork.pieces.size() == 2);
    shouldFollow("M40 70L40 40A46 40 + 52 40L52 70", 1.5, 0.1, 0.75);
}

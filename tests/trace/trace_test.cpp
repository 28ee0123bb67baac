#include "artwork/edits.h"
#include "geometry/flatten.h"
#include "support/ink.h"
#include "support/shapes.h"
#include "trace/accept.h"

using namespace ferro;

namespace {

trace::Traced traced(const picture::Grey& grey, const trace::Settings& settings = {}) {
    Progress progress;
    auto out = trace::traced(grey, 8, settings, progress);
    REQUIRE(out);
    return *out;
}

} // namespace

TEST_CASE("trace: a puppet's outline follows the drawing, openings nest, the report tells the miss") {
    const Rings heron{test::blob(5, {20, 20}, 16, 14, 0.3), test::blob(6, {20, 20}, 5, 10, 0.3)};
    const auto grey = test::inked(heron, 320, 320, 8);
    const auto out = traced(grey);
    REQUIRE(out.pieces.size() == 1);
    REQUIRE(out.pieces[0].openings.size() == 1);
    const double area = areaOf(out.pieces[0].outline) + areaOf(out.pieces[0].openings[0]);
    CHECK(area == Approx(std::abs(areaOf(heron[0])) - std::abs(areaOf(heron[1]))).epsilon(0.005));
    CHECK(test::farthest(flattened(out.pieces[0].outline, 0.01), heron[0]) <
          1.5 / 8); // within a pixel and a half, corners too
    CHECK(out.largestMiss < 1.5 / 8);
    CHECK(out.largestMiss > 0);
    CHECK(out.points == pointsOf(out.pieces[0]));
    CHECK(traced(grey, {.find = trace::Find::rim}).pieces[0].openings.empty());
}

TEST_CASE("trace: specks are dropped by size, inverted pictures give the same shape") {
    auto grey = test::inked({test::ring("5,5 30,5 30,30 5,30")}, 300, 300, 8);
    for (int i = 0; i < 9; ++i)
        grey.values[static_cast<std::size_t>((20 + i / 3) * 300 + 20 + i % 3)] = 0; // 3 × 3 px: 0.14 mm²
    CHECK(traced(grey, {.speck = 0}).pieces.size() == 2);
    const auto out = traced(grey, {.speck = 0.2});
    CHECK(out.pieces.size() == 1);
    CHECK(out.specksDropped == 1);
    // Straight stays straight and corners stay corners: few points, the right size.
    CHECK(boundsOf(out.pieces[0].outline).width() == Approx(25).margin(0.13));
    CHECK(pointsOf(out.pieces[0].outline) <= 8);
    for (auto& v : grey.values) v = static_cast<std::uint8_t>(255 - v);
    CHECK(areaOf(traced(grey, {.invert = true, .speck = 0.2}).pieces[0].outline) == Approx(625).epsilon(0.01));
}

TEST_CASE("trace: what is a speck, the picture says, and what was left out is told", "[property]") {
    // Six thousand holes of a fine pattern, drawn: all of them are meant.
    Rings holes{test::ring("2,2 98,2 98,78 2,78")};
    for (int y = 0; y < 60; ++y)
        for (int x = 0; x < 100; ++x)
            holes.push_back(flattened(circle({5 + 0.9 * x, 5 + 1.15 * y}, 0.25 + 0.02 * (x % 3)), 0.01));
    const auto pattern = test::inked(holes, 800, 640, 8);
    const auto all = traced(pattern);
    REQUIRE(all.pieces.size() == 1);
    CHECK(all.pieces[0].openings.size() == 6000);
    CHECK(all.specksDropped == 0);
    // The same from a camera, with dust: the larger the rarer.
    std::mt19937 random(3);
    for (int n = 0; n < 150; ++n) {
        const double x = 3 + 94 * static_cast<double>(random() % 1000) / 1000, y = 0.4 + 0.8 * (n % 2) + 0.01 * (n % 7);
        const double px2 = -1.2 * std::log((1 + static_cast<double>(random() % 1000)) / 1001); // mean 1.2
        holes.push_back(flattened(circle({x, y}, std::sqrt(px2 / pi) / 8), 0.005));
    }
    const auto photo = test::photographed(test::inked(holes, 800, 640, 8), 1, 4, 5);
    const auto kept = traced(photo);
    std::size_t openings = 0;
    for (const auto& piece : kept.pieces) openings += piece.openings.size();
    CHECK(openings == 6000);
    CHECK(kept.pieces.size() < 5);
    CHECK(kept.specksDropped > 10);
    CHECK(kept.speck > 0.02);
    CHECK(kept.speck < 0.2);
    CHECK(traced(photo, {.speck = 0}).pieces.size() > kept.pieces.size());
    // Where areas are not looked at one by one it is 0.4 mm², and told as well.
    const auto two =
        test::inked({test::ring("10,10 60,10 60,60 10,60"), flattened(circle({80, 30}, 0.3), 0.01)}, 800, 640, 8);
    const auto edges = traced(two, {.find = trace::Find::edges});
    CHECK(edges.pieces.size() == 1);
    CHECK(edges.specksDropped == 1);
    CHECK(edges.speck == Approx(0.4));
}

TEST_CASE("trace: light shapes on a see-through ground are found, and nothing found says why") {
    Progress progress;
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(100 * 100 * 4, 0);
    const auto shape = test::inked({flattened(circle({50, 50}, 30), 0.01)}, 100, 100, 1);
    for (std::size_t i = 0; i < 10'000; ++i) {
        for (std::size_t c = 0; c < 3; ++c) (*pixels)[4 * i + c] = 250;
        (*pixels)[4 * i + 3] = static_cast<std::uint8_t>(255 - shape.values[i]);
    }
    picture::Picture clear{.width = 100, .height = 100, .channels = 4, .pixels = pixels, .pxPerMm = {}, .notices = {}};
    const auto found = trace::traced(clear, 1, {}, progress);
    REQUIRE(found);
    REQUIRE(found->pieces.size() == 1);
    CHECK(areaOf(found->pieces[0].outline) == Approx(pi * 900).epsilon(0.002));
    REQUIRE(found->notices.size() == 1);
    CHECK(found->notices[0].text.find("see-through") != std::string::npos);
    const auto why = [&](int ground, int ink, const trace::Settings& settings) {
        auto plain = std::make_shared<std::vector<std::uint8_t>>(10'000, static_cast<std::uint8_t>(ground));
        for (std::size_t i = 0; i < 3; ++i) (*plain)[5050 + i] = static_cast<std::uint8_t>(ink);
        const picture::Picture grey{
            .width = 100, .height = 100, .channels = 1, .pixels = plain, .pxPerMm = {}, .notices = {}};
        const auto none = trace::traced(grey, 1, settings, progress);
        REQUIRE(none);
        REQUIRE(none->pieces.empty());
        REQUIRE(none->notices.size() == 1);
        return none->notices[0].text;
    };
    CHECK(why(200, 200, {}) == "Nothing was found: the whole picture is of one grey.");
    CHECK(why(200, 20, {.speck = 20}).find("1 specks") != std::string::npos);
    CHECK(why(200, 120, {.level = 100}).find("greys are 120 to 200") != std::string::npos);
}

TEST_CASE("trace: empty, full and impossible pictures are answered") {
    picture::Grey white{40, 30, std::vector<std::uint8_t>(1200, 255)},
        black{40, 30, std::vector<std::uint8_t>(1200, 0)};
    CHECK(traced(white).pieces.empty());
    CHECK(traced(black).pieces.size() == 1);
    Progress progress;
    CHECK_FALSE(trace::traced(picture::Grey{}, 8, {}, progress));
    CHECK_FALSE(trace::traced(white, 0, {}, progress));
    CHECK_FALSE(trace::traced(white, NAN, {}, progress));
    CHECK_FALSE(trace::traced(white, 8, {.level = 400}, progress));
    CHECK_FALSE(trace::traced(white, 8, {.speck = -2}, progress));
    progress.cancel();
    CHECK(trace::traced(black, 8, {}, progress).problem().isCancelled);
}

TEST_CASE("trace: accepting makes the picture a locked underlay and puts the pieces where it lies") {
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(
        test::inked({test::ring("5,5 30,5 30,30 5,30")}, 300, 300, 8).values);
    artwork::PictureLeaf leaf{"moon.png",
                              std::make_shared<const std::string>("x"),
                              {300, 300, 1, pixels, {}, {}},
                              {75, 75}}; // at twice the size
    const auto added = artwork::withPicture({}, leaf, {100, 50});
    Progress progress;
    const auto out = trace::tracedItem(added.artwork.items[0], trace::Recipe{}, progress);
    REQUIRE(out);
    const auto art = trace::withAccepted(added.artwork, added.ids[0], *out, "trace").artwork;
    REQUIRE(art.items.size() == 2);
    CHECK(art.items[0].locked);
    CHECK(art.items[0].underlay);
    CHECK(art.items[1].name == "moon");
    CHECK(artwork::boundsOf(art.items[1]).low.x == Approx(110).margin(0.3));
    CHECK(artwork::boundsOf(art.items[1]).width() == Approx(50).margin(0.3));
}

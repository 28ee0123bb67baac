#include "geometry/combine.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/polygons.h"
#include "support/ink.h"
#include "support/jpeg.h"
#include "support/nearness.h"
#include "support/page.h"
#include "trace/accept.h"
#include "trace/trace.h"

using namespace ferro;
using trace::Colour;

namespace {

constexpr double pxPerMm = 5;
constexpr Colour white{250, 248, 244}, red{170, 40, 30}, blue{40, 60, 140}, ochre{220, 170, 60};

/// Areas painted one over the other, edges as a perfect camera sees them.
picture::Picture painted(const std::vector<std::pair<Path, Colour>>& areas, Colour ground = white, int grain = 0) {
    const int w = 500, h = 400;
    std::vector<double> rgb(static_cast<std::size_t>(w * h) * 3);
    for (std::size_t i = 0; i < rgb.size(); i += 3) rgb[i] = ground.r, rgb[i + 1] = ground.g, rgb[i + 2] = ground.b;
    for (const auto& [path, colour] : areas) {
        const auto grey = test::inked({flattened(path, 0.001)}, w, h, pxPerMm);
        for (std::size_t i = 0; i < grey.values.size(); ++i) {
            const double cover = 1 - grey.values[i] / 255.0;
            const double c[] = {double(colour.r), double(colour.g), double(colour.b)};
            for (std::size_t k = 0; k < 3; ++k) rgb[3 * i + k] = rgb[3 * i + k] * (1 - cover) + c[k] * cover;
        }
    }
    auto bytes = std::make_shared<std::vector<std::uint8_t>>(rgb.size());
    std::mt19937 random(5);
    for (std::size_t i = 0; i < rgb.size(); ++i) {
        const int noise = grain ? static_cast<int>(random() % static_cast<unsigned>(2 * grain + 1)) - grain : 0;
        (*bytes)[i] = static_cast<std::uint8_t>(std::clamp(static_cast<int>(std::lround(rgb[i])) + noise, 0, 255));
    }
    return {w, h, 3, bytes, {}, {}};
}
trace::Traced traced(const picture::Picture& picture, trace::Settings settings = {}) {
    settings.find = trace::Find::colours;
    Progress progress;
    auto out = trace::traced(picture, pxPerMm, settings, progress);
    REQUIRE(out);
    return *out;
}
double areaOfLayer(const trace::Traced& t, const std::string& name) {
    std::size_t at = 0;
    for (const auto& layer : t.layers) {
        double sum = 0;
        for (std::size_t i = at; i < at + layer.pieces; ++i) {
            sum += areaOf(t.pieces[i].outline);
            for (const auto& opening : t.pieces[i].openings) sum += areaOf(opening);
        }
        if (layer.name == name) return sum;
        at += layer.pieces;
    }
    return -1;
}
std::string layersOf(const trace::Traced& t) {
    std::string out;
    for (const auto& layer : t.layers) out += fmt::format("{} {} {} ", layer.name, toText(layer.colour), layer.pieces);
    return out;
}

/// A red plate, a blue disc half on it, an ochre sail on both.
const std::vector<std::pair<Path, Colour>> poster{{rectangle({10, 10}, {60, 50}), red},
                                                  {circle({60, 30}, 15), blue},
                                                  {pathOf({{50, 20}, {70, 20}, {60, 70}}, true), ochre}};

} // namespace

TEST_CASE("colours: found, named and parted exactly, edges make no colour of their own") {
    for (const int grain : {0, 6}) {
        const auto t = traced(painted(poster, white, grain));
        CAPTURE(grain, layersOf(t));
        REQUIRE(t.palette.size() == 4);
        REQUIRE(t.layers.size() == 3); // the paper is none
        CHECK(trace::difference(t.palette[0], white) < 3);
        const double sail = 20 * 50 / 2.0;
        CHECK(areaOfLayer(t, "yellow") == Approx(sail).epsilon(0.005));
        double all = 0;
        for (const auto& piece : t.pieces) {
            all += areaOf(piece.outline);
            for (const auto& opening : piece.openings) all += areaOf(opening);
        }
        const auto whole =
            combined({flattened(poster[0].first, 0.001)}, {flattened(poster[1].first, 0.001)}, Combine::join);
        const auto drawn = combined(*whole, {flattened(poster[2].first, 0.001)}, Combine::join);
        double truth = 0;
        for (const auto& ring : *drawn) truth += areaOf(ring);
        CHECK(all == Approx(truth).epsilon(0.003));
        CHECK(t.pieces.size() <= 5);
        CHECK(t.largestMiss < (grain ? 0.25 : 0.1));
    }
}

TEST_CASE("colours: neighbours share their edge point by point, areas asked to go on underneath do") {
    trace::Settings settings;
    settings.paper = true;
    const auto t = traced(painted(poster), settings);
    // Together they are the whole picture: no gap, no overlap, to the last bit of what areas can tell.
    double all = 0;
    std::map<std::pair<double, double>, int> points;
    const auto count = [&](const Path& path) {
        for (const auto& s : path.segments) ++points[{s.end.x, s.end.y}];
    };
    for (const auto& piece : t.pieces) {
        all += areaOf(piece.outline);
        count(piece.outline);
        for (const auto& opening : piece.openings) all += areaOf(opening), count(opening);
    }
    CHECK(all == Approx(100 * 80).epsilon(1e-12));
    int lonely = 0;
    for (const auto& [p, n] : points)
        if (n == 1 && p.first > 0.01 && p.first < 99.99 && p.second > 0.01 && p.second < 79.99) ++lonely;
    CHECK(lonely == 0);
    settings.paper = false;
    settings.goUnder = true;
    const auto under = traced(painted(poster), settings);
    REQUIRE(under.layers.size() == 3);
    CHECK(under.layers[0].name == "red");
    for (const auto& layer : under.layers) CHECK(layer.pieces == 1);
    // The plate goes on under the disc and the sail: as large as all three.
    CHECK(areaOfLayer(under, "red") > areaOfLayer(traced(painted(poster)), "red") + 400);
}

TEST_CASE("colours: a compressed picture has the colours that were painted, in as many areas") {
    const auto drawn = painted(poster);
    const auto clean = traced(drawn);
    for (const int quality : {92, 80, 60}) {
        const auto read =
            picture::decoded(test::jpegOf(*drawn.pixels, drawn.width, drawn.height, {JCS_RGB, quality, 0}));
        REQUIRE(read);
        const auto t = traced(*read);
        CAPTURE(quality, layersOf(t));
        REQUIRE(t.layers.size() == clean.layers.size());
        CHECK(t.pieces.size() == clean.pieces.size());
        for (const auto& layer : clean.layers) {
            const auto same = std::find_if(t.layers.begin(), t.layers.end(), [&](const auto& other) {
                return trace::difference(layer.colour, other.colour) < 5;
            });
            REQUIRE(same != t.layers.end());
            CHECK(areaOfLayer(t, same->name) == Approx(areaOfLayer(clean, layer.name)).epsilon(0.02));
        }
        CHECK(t.points < 10 * clean.points);
    }
}

TEST_CASE("colours: grain makes none, and leaves areas as they are") {
    const auto clean = traced(painted(poster));
    for (const int grain : {8, 14, 20}) {
        const auto t = traced(painted(poster, white, grain));
        CAPTURE(grain, layersOf(t));
        REQUIRE(t.layers.size() == clean.layers.size());
        for (std::size_t i = 0; i < t.layers.size(); ++i) {
            CHECK(trace::difference(t.layers[i].colour, clean.layers[i].colour) < 4);
            CHECK(t.layers[i].pieces == clean.layers[i].pieces);
            CHECK(areaOfLayer(t, t.layers[i].name) == Approx(areaOfLayer(clean, clean.layers[i].name)).epsilon(0.004));
        }
    }
}

TEST_CASE("colours: a thin line is a colour, however near to the paper it looks") {
    for (const Colour pencil : {Colour{205, 203, 200}, Colour{150, 150, 155}, Colour{240, 225, 190}}) {
        const auto t = traced(painted({{rectangle({10, 30}, {90, 30.4}), pencil},
                                       {rectangle({10, 50}, {90, 50.4}), pencil},
                                       {circle({50, 15}, 9), red}}));
        CAPTURE(toText(pencil), layersOf(t));
        REQUIRE(t.layers.size() == 2);
        const auto& line = t.layers[trace::difference(t.layers[0].colour, red) < 5 ? 1 : 0];
        CHECK(line.pieces == 2);
        CHECK(trace::difference(line.colour, pencil) < 6);
    }
}

TEST_CASE("colours: as many as asked, or just those, and what is left out goes to what looks most like it") {
    trace::Settings settings;
    settings.colours = 2;
    CHECK(traced(painted(poster), settings).palette.size() == 2);
    settings.colours = 0;
    settings.palette = {white, blue, red};
    const auto t = traced(painted(poster), settings);
    CHECK(t.palette.size() == 3);
    CHECK(t.layers.size() == 2);
    CHECK(trace::takeColours("#aa281e,#ffffff", settings));
    CHECK(settings.palette.size() == 2);
    CHECK(settings.palette[0] == Colour{170, 40, 30});
    CHECK_FALSE(trace::takeColours("#12", settings));
    CHECK_FALSE(trace::takeColours("many", settings));
    trace::Settings part;
    part.only = {{0, 0}, {40, 80}};
    const auto left = traced(painted(poster), part);
    CHECK(left.layers.size() == 1);
    CHECK(areaOfLayer(left, "red") == Approx(30 * 40).epsilon(0.002));
    CHECK(boundsOf(left.pieces[0]).low.x == Approx(10).margin(0.02));
    // A thin line of its own colour is no edge: 2 px.
    auto lined = poster;
    lined.emplace_back(rectangle({5, 60}, {95, 60.4}), Colour{20, 90, 60});
    CHECK(traced(painted(lined)).palette.size() == 5);
    CHECK(trace::namesOf({{0, 0, 0}, {255, 255, 255}, {10, 10, 12}}) ==
          std::vector<std::string>{"black", "white", "black 2"});
}

TEST_CASE("colours: pictures of one colour, of noise, of one pixel are taken, and cancelling stops") {
    CHECK(traced(painted({})).pieces.empty());
    auto noise = std::make_shared<std::vector<std::uint8_t>>(64 * 64 * 3);
    std::mt19937 random(1);
    for (auto& b : *noise) b = static_cast<std::uint8_t>(random());
    CHECK(traced({64, 64, 3, noise, {}, {}}).palette.size() >= 1);
    CHECK(traced({1, 1, 1, std::make_shared<std::vector<std::uint8_t>>(1), {}, {}}).pieces.empty());
    trace::Settings settings;
    settings.find = trace::Find::colours;
    Progress progress;
    progress.cancel();
    CHECK_FALSE(trace::traced(painted(poster), pxPerMm, settings, progress));
}

TEST_CASE("colours: shapes come back to a fraction of a pixel, whatever two colours meet", "[property]") {
    const auto [ink, ground] =
        GENERATE(std::pair{red, white}, std::pair{Colour{240, 220, 120}, white}, std::pair{Colour{30, 30, 60}, red});
    for (const auto& kind : test::kinds()) {
        test::Random random(11);
        const auto truth = kind.draw(random, {50.05, 40.03}, 40, 1);
        CAPTURE(kind.name, toText(ink), toText(ground));
        std::vector<std::pair<Path, Colour>> areas; // openings are painted over what they lie in
        for (const auto& path : truth) areas.emplace_back(path, areaOf(path) > 0 ? ink : ground);
        const auto out = traced(painted(areas, ground), {.speck = 0.01, .colours = 2});
        std::vector<Path> got;
        for (const auto& piece : out.pieces) {
            got.push_back(piece.outline);
            got.insert(got.end(), piece.openings.begin(), piece.openings.end());
        }
        REQUIRE(got.size() == truth.size());
        const auto off = test::offBetween(got, truth, 1 / pxPerMm);
        CHECK(off.mean < 0.1);
        CHECK(off.largest < 0.7);
        double area = 0, true_ = 0, around = 0;
        for (const auto& path : got) area += areaOf(path);
        for (const auto& path : truth) true_ += areaOf(path), around += lengthOf(path);
        CHECK(std::abs(area - true_) < 0.08 * around / pxPerMm);
    }
}

TEST_CASE("colours: where a border ends on another, that one goes on as if nothing met it", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        test::Random random(seed);
        // A slanting red half, over its border a blue area with straight or round sides.
        const double lean = test::between(random, -0.5, 0.5), x = test::between(random, 45, 55);
        const Path half = pathOf({{-5, -5}, {x - 45 * lean, -5}, {x + 45 * lean, 85}, {-5, 85}}, true);
        const Path over = seed % 2 ? circle({50.3, 40.2}, test::between(random, 8, 20))
                                   : test::turned(random, rectangle({-18, -12}, {18, 12}), {50.3, 40.2});
        const Ruler border(half);
        const Ring corners = test::cornersIn({over});
        if (std::any_of(corners.begin(), corners.end(),
                        [&](Vec2 c) { return distance(c, border.at(border.nearest(c)).point) < 3 / pxPerMm; }))
            continue; // a corner there as well is more than pixels tell
        const auto t = traced(painted({{half, red}, {over, blue}}, white, seed % 3 ? 0 : 3), {.colours = 3});
        CAPTURE(seed, layersOf(t));
        std::size_t at = 0;
        for (const auto& layer : t.layers) {
            std::vector<Path> got;
            for (const auto end = at + layer.pieces; at < end; ++at) got.push_back(t.pieces[at].outline);
            if (trace::difference(layer.colour, blue) < 5) {
                const auto off = test::offBetween(got, {over}, 1 / pxPerMm);
                CHECK(off.mean < 0.05);
                CHECK(off.largest < 0.2);
            } else if (trace::difference(layer.colour, red) < 5) {
                const auto seen = combined(
                    *combined({flattened(half, 0.001)}, {{{0, 0}, {100, 0}, {100, 80}, {0, 80}}}, Combine::overlap),
                    {flattened(over, 0.001)}, Combine::takeAway);
                REQUIRE(seen);
                std::vector<Path> truth;
                for (const auto& ring : *seen) truth.push_back(pathOf(ring, true));
                CHECK(test::offBetween(got, truth, 1 / pxPerMm, test::Corners::count).largest < 0.6);
            }
        }
    }
}

TEST_CASE("colours: areas painted over each other at random come back where they are seen, to their corners",
          "[property]") {
    constexpr Colour inks[] = {red, blue, ochre, {20, 120, 70}, {120, 60, 150}};
    for (unsigned seed = 1; seed <= 8; ++seed) {
        test::Random random(seed);
        std::vector<std::pair<Path, Colour>> areas;
        std::array<Rings, 5> seen;
        const Rings sheet{{{0, 0}, {100, 0}, {100, 80}, {0, 80}}};
        for (unsigned k = 0; k < 14; ++k) {
            const Vec2 middle{test::between(random, 10, 90), test::between(random, 10, 70)};
            const double r = test::between(random, 4, 16);
            const Path path = k % 3 == 0   ? circle(middle, r)
                              : k % 3 == 1 ? test::turned(random, rectangle({-r, -0.6 * r}, {r, 0.6 * r}), middle)
                                           : test::curvedBlob(20 * seed + k, middle, r, 9);
            areas.emplace_back(path, inks[k % 5]);
            const auto shown = combined({flattened(path, 0.0005)}, sheet, Combine::overlap);
            REQUIRE(shown);
            for (unsigned c = 0; c < 5; ++c)
                seen[c] = *combined(seen[c], *shown, c == k % 5 ? Combine::join : Combine::takeAway);
        }
        const auto t = traced(painted(areas, white, seed % 2 ? 0 : 4));
        CAPTURE(seed, layersOf(t));
        REQUIRE(t.layers.size() == 5);
        std::size_t at = 0;
        for (const auto& layer : t.layers) {
            const auto which = std::find_if(std::begin(inks), std::end(inks),
                                            [&](Colour ink) { return trace::difference(ink, layer.colour) < 4; });
            REQUIRE(which != std::end(inks));
            std::vector<Path> got, truth;
            double area = 0, around = 0;
            for (const auto end = at + layer.pieces; at < end; ++at) {
                got.push_back(t.pieces[at].outline);
                got.insert(got.end(), t.pieces[at].openings.begin(), t.pieces[at].openings.end());
            }
            for (const auto& path : got) area += areaOf(path);
            for (const auto& ring : seen[static_cast<std::size_t>(which - std::begin(inks))])
                truth.push_back(pathOf(ring, true)), area -= areaOf(truth.back()), around += lengthOf(truth.back());
            CAPTURE(layer.name);
            const auto off = test::offBetween(got, truth, 1 / pxPerMm);
            CHECK(off.mean < 0.05);
            CHECK(off.largest < 3); // at slivers thinner than a pixel; where three colours meet a fifth of it
            CHECK(std::abs(area) < 0.03 * around / pxPerMm);
        }
    }
}

TEST_CASE("colours: a patch is left out, looked through for other colours or for something else, cut along its edge") {
    const auto picture = painted(poster);
    Progress progress;
    const auto in = [&](std::vector<trace::Patch> patches, trace::Settings base) {
        auto out = trace::traced(picture, pxPerMm, base, progress, patches);
        INFO((out ? "" : out.problem().text()));
        REQUIRE(out);
        return *out;
    };
    trace::Settings colours, nothing, areas;
    colours.find = trace::Find::colours, nothing.find = trace::Find::nothing;
    const Ring right{{40, 0}, {90, 0}, {90, 35}, {40, 35}};
    const auto whole = in({}, colours), less = in({{right, nothing}}, colours);
    // What was left out is what lay in it, and neighbours are cut at the same line.
    double plate = 0, sail = 0;
    for (const auto* layer : {"red", "dark blue", "yellow"}) {
        const double before = areaOfLayer(whole, layer), after = areaOfLayer(less, layer);
        CAPTURE(layer, before, after);
        CHECK(after < before);
        (std::string(layer) == "yellow" ? sail : plate) += before - after;
    }
    CHECK(sail == Approx(15 * (20 + 14) / 2.0).margin(0.5)); // the sail under 35
    const auto inside = combinedPieces(less.pieces, {{pathOf(right, true), {}}}, Combine::overlap);
    REQUIRE(inside);
    for (const auto& piece : *inside) CHECK(areaOf(piece.outline) < 1e-6);
    // The other way round: only the patch is looked through for colours, what is round it by its level.
    const auto part = in({{right, colours}}, areas);
    CHECK(layersOf(part).find("yellow") != std::string::npos);
    std::size_t coloured = 0;
    for (const auto& layer : part.layers) coloured += layer.pieces;
    REQUIRE(coloured < part.pieces.size());
    for (std::size_t i = 0; i < part.pieces.size(); ++i)
        if (const Box box = boundsOf(part.pieces[i]); i < coloured) {
            CHECK(box.low.x > 39.999);
            CHECK(box.high.y < 35.001);
        }
    CHECK(part.palette.empty());
    REQUIRE(part.patchPalettes.size() == 1);
    CHECK(part.patchPalettes[0].size() == 4);
    // Accepted: a layer for each colour, and one for the rest.
    const auto added =
        artwork::withPicture({}, {"poster.png", std::make_shared<const std::string>("x"), picture, {100, 80}}, {0, 0});
    const auto art = trace::withAccepted(added.artwork, added.ids[0], part, "outlines").artwork;
    REQUIRE(artwork::layerNamed(art, "outlines"));
    REQUIRE(artwork::layerNamed(art, "yellow"));
    const auto on = [&](const char* layer) {
        return std::count_if(art.items.begin(), art.items.end(),
                             [&](const auto& item) { return item.layer == artwork::layerNamed(art, layer)->id; });
    };
    CHECK(on("outlines") == static_cast<std::ptrdiff_t>(part.pieces.size() - coloured));
    CHECK(on("yellow") == 1);
}

TEST_CASE("colours: a compressed poster keeps its borders, its areas and its lines of a few pixels", "[property]") {
    const Colour ground{250, 248, 244};
    const std::pair<std::array<Colour, 4>, Colour> boxes[] = {
        {{{{170, 40, 30}, {40, 60, 140}, {220, 170, 60}, {60, 110, 70}}}, {25, 25, 30}}, // black lines
        {{{{0x52, 0x71, 0x3c}, {0xb2, 0xb3, 0x39}, {0x8b, 0x98, 0x9b}, {0x42, 0x56, 0x14}}}, {200, 30, 40}},
        {{{{0xab, 0x3a, 0x42}, {0x1c, 0x53, 0xed}, {0x9b, 0x70, 0x9e}, {0xe7, 0x96, 0x77}}}, {20, 90, 60}}};
    for (unsigned seed = 0; seed < 3; ++seed) {
        test::Random random(seed + 11);
        const auto& [colours, ink] = boxes[seed];
        std::vector<std::pair<Path, Colour>> areas;
        for (int i = 0; i < 5; ++i) {
            const Vec2 at{15 + 16.0 * i, test::between(random, 20, 60)};
            const double size = test::between(random, 7, 11);
            areas.emplace_back(i % 2 ? circle(at, size) : rectangle(at - Vec2{size, size}, at + Vec2{size, size}),
                               colours[static_cast<std::size_t>(i) % 4]);
        }
        double lines = 0;
        for (int i = 0; i < 3; ++i) { // 3, 4 and 5 px wide, over all of it
            const Vec2 from{4, 12.0 + 27 * i}, to{96, 14.0 + 24 * i};
            const Vec2 side = perpendicular(unit(to - from)) * ((3 + i) / pxPerMm / 2);
            areas.emplace_back(pathOf({from + side, from - side, to - side, to + side}, true), ink);
            lines += distance(from, to) * (3 + i) / pxPerMm;
        }
        const auto drawn = painted(areas, ground);
        const auto clean = traced(drawn);
        for (const int quality : {92, 75, 60}) {
            const auto read =
                picture::decoded(test::jpegOf(*drawn.pixels, drawn.width, drawn.height, {JCS_RGB, quality, 0}));
            REQUIRE(read);
            const auto t = traced(*read);
            CAPTURE(seed, quality, layersOf(t), layersOf(clean));
            CHECK(t.layers.size() == 5);
            for (const Colour colour : {colours[0], colours[1], colours[2], colours[3], ink}) {
                const auto like = [&](const trace::Traced& of) {
                    const auto best =
                        std::min_element(of.layers.begin(), of.layers.end(), [&](const auto& a, const auto& b) {
                            return trace::difference(a.colour, colour) < trace::difference(b.colour, colour);
                        });
                    CHECK(trace::difference(best->colour, colour) < 10);
                    return *best;
                };
                const auto is = like(t), was = like(clean);
                CAPTURE(toText(colour));
                if (colour == ink) CHECK(is.pieces == was.pieces); // areas may end in bits too thin to last
                CHECK(areaOfLayer(t, is.name) ==
                      Approx(areaOfLayer(clean, was.name)).epsilon(colour == ink ? 0.03 : 0.01));
                if (colour == ink) CHECK(areaOfLayer(t, is.name) == Approx(lines).epsilon(0.03));
            }
        }
    }
}

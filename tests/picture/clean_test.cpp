#include "picture/clean.h"

#include "geometry/flatten.h"
#include "support/ink.h"

#include <random>

using namespace ferro;
using picture::CleanStep;
using Kind = CleanStep::Kind;

namespace {

constexpr double pxPerMm = 5;

picture::Picture pictureFrom(const picture::Grey& grey) {
    return {grey.width, grey.height, 1, std::make_shared<std::vector<std::uint8_t>>(grey.values), {}, {}};
}
picture::Grey cleaned(const picture::Picture& from, std::vector<CleanStep> steps, Vec2* low = nullptr) {
    Progress progress;
    const auto out = picture::cleaned(from, steps, pxPerMm, progress);
    INFO((out ? "" : out.problem().text()));
    REQUIRE(out);
    if (low) *low = out->low;
    return picture::greyOf(out->picture);
}
CleanStep step(Kind kind, double amount = 0, double second = 0) {
    auto s = picture::freshStep(kind);
    s.amount = amount, s.second = second;
    return s;
}
/// A pen drawing of thin strokes and a wide one on paper, 60 × 40 mm.
picture::Grey drawing() {
    Rings ink;
    for (int i = 0; i < 8; ++i) ink.push_back(flattened(rectangle({4.0 + 6 * i, 5}, {4.6 + 6 * i, 35}), 0.01));
    ink.push_back(flattened(rectangle({52, 5}, {56, 35}), 0.01));
    return test::inked(ink, 300, 200, pxPerMm, 40, 235);
}
/// A lamp to one side and a hand's shadow with an edge across the drawing.
picture::Grey photographed(const picture::Grey& flat) {
    auto out = flat;
    for (int y = 0; y < flat.height; ++y)
        for (int x = 0; x < flat.width; ++x) {
            const double lamp = 1 - 0.35 * x / flat.width;
            const double shadow = x + 0.4 * y > 190 ? 0.45 : 1;
            auto& v = out.values[static_cast<std::size_t>(y * flat.width + x)];
            v = static_cast<std::uint8_t>(v * lamp * shadow);
        }
    return out;
}

} // namespace

TEST_CASE("clean: a shadow's edge and uneven light go, thin strokes stay") {
    const auto truth = drawing();
    const auto photo = photographed(truth);
    const auto even = cleaned(pictureFrom(photo), {step(Kind::evenLight, 8)});
    const int level = picture::automaticLevel(picture::histogramOf(even));
    std::size_t wrong = 0, before = 0;
    const int levelBefore = picture::automaticLevel(picture::histogramOf(photo));
    for (std::size_t i = 0; i < truth.values.size(); ++i) {
        if (std::abs(truth.values[i] - 137) < 60) continue; // edges
        wrong += (even.values[i] < level) != (truth.values[i] < 137);
        before += (photo.values[i] < levelBefore) != (truth.values[i] < 137);
    }
    CAPTURE(before, wrong, level);
    CHECK(before > 5000); // no level parts the drawing from the shadow
    CHECK(wrong < 150);   // of 60 000
}

TEST_CASE("clean: silhouettes stay whole in the shadow and across its edge, to the picture's border", "[property]") {
    // Puppets' limbs of up to 16 mm and thin ropes; the shadow's edge leaves the page at a slant, below and above.
    Rings ink;
    for (int i = 0; i < 4; ++i) ink.push_back(flattened(circle({14.0 + 24 * i, 22}, 3 + 1.6 * i), 0.01));
    for (int i = 0; i < 4; ++i) ink.push_back(flattened(rectangle({4, 40.0 + 6 * i}, {96, 40.4 + 6 * i}), 0.01));
    const auto truth = test::inked(ink, 500, 350, pxPerMm, 35, 230);
    for (const double slant : {-0.5, 0.0, 0.4})
        for (const double soft : {0.8, 6.0, 30.0}) {
            auto photo = truth;
            std::mt19937 random(4);
            for (int y = 0; y < photo.height; ++y)
                for (int x = 0; x < photo.width; ++x) {
                    const double into = (x - 250 - slant * (y - 175)) / soft,
                                 shadow = 0.5 + 0.5 / (1 + std::exp(std::clamp(into, -50.0, 50.0))),
                                 lamp = 1 - 0.3 * y / photo.height;
                    auto& v = photo.values[static_cast<std::size_t>(y * photo.width + x)];
                    v = static_cast<std::uint8_t>(std::clamp(v * lamp * shadow + double(random() % 7) - 3, 0.0, 255.0));
                }
            const auto even = cleaned(pictureFrom(photo), {picture::freshStep(Kind::evenLight)});
            const int level = picture::automaticLevel(picture::histogramOf(even));
            std::size_t wrong = 0;
            for (std::size_t i = 0; i < truth.values.size(); ++i)
                if (std::abs(truth.values[i] - 132) > 60) wrong += (even.values[i] < level) != (truth.values[i] < 132);
            CAPTURE(slant, soft, level);
            CHECK(wrong < truth.values.size() / 1000);
        }
}

TEST_CASE("clean: light is told by the paper alone, ink as wide as it may be keeps its grey across a shadow",
          "[property]") {
    // A plate wider than any window would be, a ring with paper in it, thin bars; ink of two strengths.
    const Rings ink{flattened(circle({34, 36}, 26), 0.01), flattened(circle({76, 50}, 12), 0.01),
                    flattened(circle({76, 50}, 8), 0.01), flattened(rectangle({70, 6}, {71, 30}), 0.01),
                    flattened(rectangle({80, 6}, {80.4, 30}), 0.01)};
    for (const int dark : {30, 70})
        for (const double soft : {1.0, 8.0, 40.0}) {
            const auto truth = test::inked(ink, 500, 350, pxPerMm, dark, 230);
            auto photo = truth;
            std::mt19937 random(9);
            for (int y = 0; y < photo.height; ++y)
                for (int x = 0; x < photo.width; ++x) {
                    const double into = (x + 0.5 * y - 270) / soft,
                                 shadow = 0.55 + 0.45 / (1 + std::exp(std::clamp(into, -50.0, 50.0))),
                                 lamp = 0.85 + 0.15 * y / photo.height;
                    auto& v = photo.values[static_cast<std::size_t>(y * photo.width + x)];
                    v = static_cast<std::uint8_t>(std::clamp(v * lamp * shadow + double(random() % 7) - 3, 0.0, 255.0));
                }
            CAPTURE(dark, soft);
            CHECK(picture::qualityOf(photo, 8).verdict == picture::Quality::Verdict::uneven);
            CHECK(picture::wordsFor(picture::qualityOf(photo, 8)).find("uneven light") == 0);
            const auto even = cleaned(pictureFrom(photo), {picture::freshStep(Kind::evenLight)});
            CHECK(picture::qualityOf(even, 8).verdict != picture::Quality::Verdict::uneven);
            double paperOff = 0, papers = 0, inkOff = 0, inks = 0;
            for (std::size_t i = 0; i < truth.values.size(); ++i) {
                if (truth.values[i] == 230) paperOff += 248 - even.values[i], ++papers;
                if (truth.values[i] == dark) inkOff += std::abs(even.values[i] - dark * 248 / 230.0), ++inks;
            }
            CHECK(std::abs(paperOff / papers) < 7);
            CHECK(inkOff / inks < 8);
            const int level = picture::automaticLevel(picture::histogramOf(even));
            std::size_t wrong = 0;
            for (std::size_t i = 0; i < truth.values.size(); ++i)
                if (truth.values[i] == 230 || truth.values[i] == dark)
                    wrong += (even.values[i] < level) != (truth.values[i] == dark);
            CHECK(wrong < 20);
        }
    // Nothing is wider than 4 mm: then the plate is a shadow.
    const auto plate = pictureFrom(test::inked({flattened(circle({34, 36}, 12), 0.01)}, 350, 350, pxPerMm, 60, 230));
    CHECK(cleaned(plate, {step(Kind::evenLight, 4)}).at(170, 170) > 200);
    CHECK(cleaned(plate, {step(Kind::evenLight, 40)}).at(170, 170) < 80);
    // Drawn greys are no light.
    CHECK(picture::qualityOf(test::inked({flattened(circle({34, 36}, 26), 0.01)}, 350, 350, pxPerMm, 140, 230), 8)
              .verdict == picture::Quality::Verdict::good);
}

TEST_CASE("clean: light shapes on a see-through ground are not lost by a step that flattens it") {
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(60 * 60 * 4, 0);
    for (std::size_t y = 20; y < 40; ++y)
        for (std::size_t x = 20; x < 40; ++x)
            std::fill_n(pixels->begin() + static_cast<long>(4 * (y * 60 + x)), 4, 250);
    const picture::Picture clear{
        .width = 60, .height = 60, .channels = 4, .pixels = pixels, .pxPerMm = {}, .notices = {}};
    const auto flat = cleaned(clear, {step(Kind::smooth, 0.1)});
    CHECK(flat.at(30, 30) > 220);
    CHECK(flat.at(5, 5) < 20);
}

TEST_CASE("clean: each step does what it says, in order, and can be off, the original stays") {
    const auto from = pictureFrom(drawing());
    const auto kept = *from.pixels;
    const auto at = [](const picture::Grey& g, double x, double y) {
        return g.at(static_cast<int>(x * pxPerMm), g.height - 1 - static_cast<int>(y * pxPerMm));
    };
    CHECK(at(cleaned(from, {step(Kind::invert)}), 54, 20) == 215);
    CHECK(at(cleaned(from, {step(Kind::invert), step(Kind::invert)}), 54, 20) == 40);
    CHECK(at(cleaned(from, {step(Kind::tone, 20)}), 54, 20) > 60);
    CHECK(at(cleaned(from, {step(Kind::tone, 0, 50)}), 54, 20) == 0);
    const auto bw = cleaned(from, {step(Kind::blackWhite)});
    for (const auto v : bw.values) CHECK((v == 0 || v == 255));
    // The thin strokes are 18 mm², the wide one 120.
    const auto few = cleaned(from, {step(Kind::despeckle, 25)});
    CHECK(at(few, 4.3, 20) > 220);
    CHECK(at(few, 54, 20) == 40);
    CHECK(at(cleaned(from, {step(Kind::smooth, 2)}), 4.3, 20) > 150);
    auto crop = step(Kind::crop);
    crop.area = {{50, 10}, {58, 30}};
    Vec2 low;
    const auto part = cleaned(from, {crop}, &low);
    CHECK(part.width == 40);
    CHECK(part.height == 100);
    CHECK(low == Vec2{50, 10});
    const auto turned = cleaned(from, {step(Kind::straighten, 90)}, &low);
    CHECK(turned.width == 200);
    CHECK(low == Vec2{10, -10});
    CHECK(at(turned, 20, 54) == 40); // counter-clockwise: what was at the right is on top
    auto erase = step(Kind::erase), draw = step(Kind::draw);
    erase.strokes = {{{{54, 3}, {54, 37}}, 6}};
    draw.strokes = {{{{20, 38}}, 2}};
    CHECK(at(cleaned(from, {erase}), 54, 20) == 235);
    CHECK(at(cleaned(from, {draw}), 20, 38) == 0);
    auto off = step(Kind::invert);
    off.on = false;
    CHECK(cleaned(from, {off}).values == kept);
    CHECK(*from.pixels == kept);
    for (std::size_t k = 0; k < 10; ++k)
        CHECK(picture::cleanKindFrom(picture::wordOf(static_cast<Kind>(k))) == static_cast<Kind>(k));
}

TEST_CASE("clean: values out of range are told with the step, hostile ones too, colours stay where they can") {
    Progress progress;
    const auto from = pictureFrom(drawing());
    const auto nan = std::numeric_limits<double>::quiet_NaN();
    for (const auto& bad : {step(Kind::straighten, 400), step(Kind::straighten, nan), step(Kind::tone, 200),
                            step(Kind::evenLight, -1), step(Kind::evenLight, nan), step(Kind::blackWhite, 300),
                            step(Kind::despeckle, -1), step(Kind::smooth, 1e9), step(Kind::crop)}) {
        const auto out = picture::cleaned(from, {step(Kind::invert), bad}, pxPerMm, progress);
        REQUIRE_FALSE(out);
        CHECK(out.problem().where.find("clean-up step 2") != std::string::npos);
    }
    auto wild = step(Kind::draw);
    wild.strokes = {{{{1e300, nan}}, 1}};
    CHECK_FALSE(picture::cleaned(from, {wild}, pxPerMm, progress));
    auto bytes = std::make_shared<std::vector<std::uint8_t>>(40 * 30 * 4, std::uint8_t{90});
    const picture::Picture colour{40, 30, 4, bytes, {}, {}};
    const auto out = picture::cleaned(colour, {step(Kind::tone, 10), step(Kind::smooth, 0.2)}, pxPerMm, progress);
    REQUIRE(out);
    CHECK(out->picture.channels == 3);
    const auto small = picture::reduced(from, pxPerMm, 10'000);
    REQUIRE(small);
    CHECK(small->picture.count() <= 10'200);
    CHECK(small->pxPerMm == Approx(pxPerMm * small->picture.width / 300.0));
}

TEST_CASE("clean: despeckling leaves no patch under its size, dark or light, and every larger one as it was",
          "[property]") {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        CAPTURE(seed);
        std::mt19937 random(seed);
        picture::Grey from{160, 120, std::vector<std::uint8_t>(160 * 120, 230)};
        const auto block = [&](int x, int y, int w, int h, std::uint8_t grey) {
            for (int row = std::max(0, y); row < std::min(120, y + h); ++row)
                for (int column = std::max(0, x); column < std::min(160, x + w); ++column)
                    from.values[static_cast<std::size_t>(row * 160 + column)] = grey;
        };
        // Large areas with openings that stay, and specks apart from them: in rows, so that none touch.
        for (int i = 0; i < 4; ++i) {
            block(4 + i * 40, 6, 30, 30, 30);
            block(12 + i * 40, 14, 12, 12, 230);
        }
        const auto clear = from;
        std::size_t specks = 0;
        for (int y = 44; y < 112; y += 8)
            for (int x = 4; x < 152; x += 8) {
                const int w = 1 + static_cast<int>(random() % 3), h = 1 + static_cast<int>(random() % 3);
                if (random() % 3) block(x, y, w, h, 20), ++specks;
            }
        for (int i = 0; i < 4; ++i) block(8 + i * 40, 9, 2, 2, 235); // light ones in the dark
        const auto out = cleaned(pictureFrom(from), {step(Kind::despeckle, 10 / (pxPerMm * pxPerMm))}); // under 10 px
        CHECK(specks > 50);
        std::size_t off = 0;
        for (std::size_t i = 0; i < out.values.size(); ++i) off += std::abs(out.values[i] - clear.values[i]) > 6;
        CHECK(off == 0);
        const auto kept = cleaned(pictureFrom(from), {step(Kind::despeckle, 0.9 / (pxPerMm * pxPerMm))});
        CHECK(kept.values == from.values);
    }
}

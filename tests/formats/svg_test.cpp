#include "formats/hairlines.h"
#include "formats/svg.h"
#include "formats/svg_in.h"
#include "support/shapes.h"

using namespace ferro;

TEST_CASE("svg path data: all commands, compact numbers, relative and smooth") {
    const auto one = [](const char* data) {
        const auto paths = formats::pathsFromSvgData(data);
        INFO(data << (paths ? "" : paths.problem().text()));
        REQUIRE(paths);
        REQUIRE(paths->size() == 1); // and no empty one begun by a Z
        return paths->front();
    };
    CHECK(areaOf(one("M0 0h10v5H0z")) == Approx(50));
    CHECK(areaOf(one("m1,1 4-0 0,4-4 0Z")) == Approx(16));
    CHECK(one("M.5.5L-1-1").segments[0].end == Vec2{-1, -1});
    CHECK(lengthOf(one("M10 0A10 10 0 0110 0 10 10 0 01-10 0")) == Approx(pi * 10));
    CHECK(std::abs(areaOf(one("M-20 0A20 10 0 1 0 20 0A20 10 0 1 0-20 0Z"))) == Approx(pi * 200).epsilon(1e-5));
    CHECK(one("M0 0Q5 10 10 0T20 0").end() == Vec2{20, 0});
    CHECK(one("M0 0C0 5 5 5 5 0S10-5 10 0").segments[1].a == Vec2{5, -5});
    CHECK(formats::pathsFromSvgData("M0 0h1v1zm2 0h1v1zzl5 5")->size() == 3);
    for (const char* bad : {"L1 1", "M1", "M0 0L1", "M0 0X1", "M0 0A1 1 0 2 0 1 1", "M0 0Z5", "M0 0L1e99 0"}) {
        INFO(bad);
        CHECK_FALSE(formats::pathsFromSvgData(bad));
    }
}

TEST_CASE("svg out: pieces come back within a micron, y turned, layers named") {
    for (unsigned seed = 1; seed < 20; ++seed) {
        const Path outline = wound(test::curvedBlob(seed, {50, 40}, 30), true);
        const auto text = formats::svgOf({{"cut & score", "#ff0000", {{outline, {}}}}}, {{0, 0}, {100, 80}});
        CHECK(text.find("width=\"100mm\" height=\"80mm\" viewBox=\"0 0 100 80\"") != std::string::npos);
        CHECK(text.find("id=\"cut &amp; score\"") != std::string::npos);
        const auto begin = text.find("<path d=\"") + 9;
        const auto back = formats::pathsFromSvgData(text.substr(begin, text.find('"', begin) - begin));
        REQUIRE(back);
        const Path turned = transformed(back->front(), {1, 0, 0, -1, 0, 80});
        CAPTURE(seed);
        CHECK(areaOf(turned) == Approx(areaOf(outline)).epsilon(1e-6));
        REQUIRE(turned.segments.size() == outline.segments.size());
        for (std::size_t i = 0; i < outline.segments.size(); ++i)
            CHECK(distance(turned.segments[i].end, outline.segments[i].end) < 0.001);
    }
}

TEST_CASE("svg: dots go out as dots and come back as dots, what has no drawn end is none") {
    const Path line{{30, 10}, {Segment::line({40, 10})}, false};
    const auto text =
        formats::svgOf({{"dots", "#000000", {{{{10, 10}, {}, false}, {}}, {line, {}}, {{{20, 15.5}, {}, false}, {}}}}},
                       {{0, 0}, {50, 50}});
    const auto back = formats::drawingFromSvg(text, {});
    REQUIRE(back);
    REQUIRE(back->items.size() == 3);
    CHECK(toText(back->items[0].pieces[0].outline) == "M10 10");
    CHECK(back->items[1].pieces[0].outline == line);
    CHECK(toText(back->items[2].pieces[0].outline) == "M20 15.5");
    const auto flat = formats::drawingFromSvg(
        R"(<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="50mm" viewBox="0 0 50 50"><path fill="none" stroke="#000" d="M5 5L5 5"/><path fill="none" stroke="#000" stroke-linecap="square" d="M8 5Z"/></svg>)",
        {});
    REQUIRE(flat);
    REQUIRE(flat->items.size() == 1);
    CHECK(toText(flat->items[0].pieces[0].outline) == "M8 45");
}

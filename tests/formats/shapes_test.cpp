#include "formats/drawing.h"
#include "formats/hairlines.h"
#include "geometry/shapes.h"
#include "support/shapes.h"

using namespace ferro;

TEST_CASE("drawings: every basic shape goes out as SVG and DXF and comes back in its place and size", "[property]") {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> place(5, 200), some(1, 9);
    for (int round = 0; round < 12; ++round)
        for (const auto kind : shapeKinds) {
            ShapeSettings settings;
            settings.kind = kind;
            settings.corner = round % 3 ? some(random) : 0;
            settings.corners = 3 + round % 7;
            settings.width = some(random);
            settings.rise = (round % 2 ? 1 : -1) * some(random);
            const Vec2 from{place(random), place(random)};
            const auto shape = shapeBetween(settings, from, from + Vec2{place(random), place(random)} / 3);
            REQUIRE(shape);
            const auto art = artwork::withPieces({}, {{*shape, {}}}, "cut", std::string(wordOf(kind))).artwork;
            const auto lines = formats::hairlinesOf(art);
            REQUIRE(lines);
            for (const bool svg : {true, false}) {
                CAPTURE(wordOf(kind), round, svg);
                const std::string bytes = svg ? formats::svgOf(*lines, {{0, 0}, {300, 300}}) : formats::dxfOf(*lines);
                const auto drawing = formats::drawingFrom(bytes, svg ? "a.svg" : "a.dxf");
                REQUIRE(drawing);
                REQUIRE(drawing->items.size() == 1);
                const Path back = drawing->items[0].pieces.at(0).outline;
                CHECK(drawing->items[0].layer == "cut");
                CHECK(back.closed == shape->closed);
                CHECK(std::abs(areaOf(back)) == Approx(std::abs(areaOf(*shape))).margin(0.05).epsilon(1e-5));
                CHECK(lengthOf(back) == Approx(lengthOf(*shape)).epsilon(5e-5).margin(0.003));
                const Box a = boundsOf(back), b = boundsOf(*shape);
                CHECK(distance(a.low, b.low) < 0.001);
                CHECK(distance(a.high, b.high) < 0.001);
            }
        }
}

// Plotters' files: lines at their true size, pens as layers; anything else told, nothing crashes.
#include "base/hpgl.h"
#include "formats/drawing.h"
#include "support/shapes.h"

using namespace ferro;

namespace {
formats::Drawing read(const std::string& text) {
    auto drawing = formats::drawingFrom(text, "piece.plt");
    INFO((drawing ? "" : drawing.problem().text()));
    REQUIRE(drawing);
    return *drawing;
}
} // namespace

TEST_CASE("hpgl in: lines, arcs and circles at their size, a layer for each pen, closed where they close") {
    const auto d = read("IN;SP1;PU400,400;PD2400,400,2400,1400,400,1400,401,401;PU;\n"
                        "sp2 pu0 0 pd400+0;PR0,400,-400,0;PU;PA4000,4000;CI400;PU8000,0;PD;AA8000,400,180;PU;"
                        "PA100,100;EA500,300;VS10;LBnot a line\3WG200,0,90;");
    REQUIRE(d.items.size() == 5);
    CHECK((d.items[0].layer == "pen 1" && d.items[1].layer == "pen 2"));
    CHECK(d.items[0].pieces[0].outline.closed);
    CHECK(areaOf(d.items[0].pieces[0].outline) == Approx(50 * 25).epsilon(0.001));
    CHECK_FALSE(d.items[1].pieces[0].outline.closed);
    CHECK(d.items[1].pieces[0].outline.end() == Vec2{0, 10});
    CHECK(areaOf(d.items[2].pieces[0].outline) == Approx(pi * 100));
    CHECK(d.items[2].pieces[0].outline.segments[0].a == Vec2{100, 100});
    const auto& arc = d.items[3].pieces[0].outline;
    CHECK(distance(arc.end(), {200, 20}) < 1e-9);
    CHECK(lengthOf(arc.start, arc.segments[0]) +
              (arc.segments.size() > 1 ? lengthOf(arc.from(1), arc.segments[1]) : 0) ==
          Approx(pi * 10));
    CHECK(areaOf(d.items[4].pieces[0].outline) == Approx(50));
    REQUIRE(d.notices.size() == 2);
    CHECK(d.notices[0].text.find("LB") != std::string::npos);
}

TEST_CASE("hpgl in: what is no plotter's file is refused with its line, and no bytes make it fall", "[fuzz]") {
    for (const char* text : {"", "   ", "<svg/>", "IN;\nPD1,2,3;", "IN;AA1,2;", "PD1e400,2;", "P", "PD 1,2 ?"}) {
        const auto drawing = formats::drawingFrom(text, "x.hpgl");
        CAPTURE(text);
        REQUIRE_FALSE(drawing);
        CHECK_FALSE(drawing.problem().mend.empty());
    }
    const auto second = formats::drawingFrom("IN;\nPD1,2,3;", "x.plt");
    CHECK(second.problem().where.find("line 2") != std::string::npos);
    std::mt19937 random(5);
    const std::string good = "IN;SP1;PU0,0;PD400,0,400,400;\33.@;0:AA10,10,-90,5;CI30;LBx\3DT*;LBy*EA3,4;PR1,1;PU;SP0;";
    for (int i = 0; i < 4000; ++i) {
        std::string text = good;
        for (int k = 0; k < 3; ++k)
            text[random() % text.size()] = static_cast<char>(random() % 3 ? 32 + random() % 95 : random());
        if (random() % 8 == 0) text.resize(random() % text.size());
        const auto drawing = formats::drawingFrom(text, "x.plt");
        if (!drawing) continue;
        for (const auto& item : drawing->items)
            for (const auto& piece : item.pieces) CHECK(std::isfinite(boundsOf(piece.outline).width()));
    }
}

TEST_CASE("hpgl in: encoded lines come back, in digits of 64 and of 32, with pens, fractions and places") {
    // Written by the standard: the sign in the lowest bit, the lowest digit first, the last of a number in its own
    // range.
    const auto number = [](double value, bool seven, int bits = 0) {
        auto n = static_cast<long>(std::lround(std::abs(value) * std::pow(2, bits))) * 2 + (value < 0);
        const long base = seven ? 32 : 64;
        std::string out;
        for (; n >= base; n /= base) out += static_cast<char>(63 + n % base);
        return out + static_cast<char>((seven ? 95 : 191) + n);
    };
    for (const bool seven : {false, true}) {
        std::string text = "IN;SP1;PU0,0;PE";
        if (seven) text += '7';
        text += "<=" + number(400, seven) + number(800, seven);                // to a place, pen up
        text += number(4000, seven) + number(-200, seven);                     // on from there, pen down
        text += ':' + number(3, seven) + number(-1, seven) + number(0, seven); // by another pen
        text += '>' + number(2, seven) + number(0.75, seven, 2) + number(10.5, seven, 2) + ";PU;PD400,0;PU;";
        const auto d = read(text);
        CAPTURE(seven);
        REQUIRE(d.items.size() == 3);
        CHECK((d.items[0].layer == "pen 1" && d.items[1].layer == "pen 3"));
        CHECK(distance(d.items[0].pieces[0].outline.start, {10, 20}) < 1e-9);
        CHECK(distance(d.items[0].pieces[0].outline.end(), {110, 15}) < 1e-9);
        CHECK(d.items[1].pieces[0].outline.segments.size() == 2);
        CHECK(distance(d.items[1].pieces[0].outline.end(), Vec2{4399.75, 610.5} * 0.025) < 1e-9);
    }
    for (const char* text : {"PE\x80\x80;", "PE?;", "PE\xC1;", "PE7`?;"})
        CHECK_FALSE(formats::drawingFrom(std::string("IN;PD;") + text, "x.plt"));
}

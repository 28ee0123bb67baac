#include "formats/dxf_in.h"
#include "formats/hairlines.h"
#include "support/shapes.h"

#include <random>

using namespace ferro;
using formats::Drawing;

namespace {

/// "0 LINE 8 cut 10 0 …": code and value by turns, _ for a space in a value.
std::string pairs(std::string_view words) {
    std::string out;
    std::size_t at = 0;
    bool isCode = true;
    while (at < words.size()) {
        const auto end = std::min(words.find(' ', at), words.size());
        if (end > at) {
            std::string word(words.substr(at, end - at));
            std::replace(word.begin(), word.end(), '_', ' ');
            out += (isCode ? "  " : "") + word + "\r\n";
            isCode = !isCode;
        }
        at = end + 1;
    }
    return out;
}
std::string file(std::string_view entities, std::string_view blocks = "", std::string_view header = "9 $INSUNITS 70 4",
                 std::string_view layers = "") {
    return pairs(fmt::format("0 SECTION 2 HEADER {} 0 ENDSEC 0 SECTION 2 TABLES 0 TABLE 2 LAYER 70 9 {} 0 ENDTAB 0 "
                             "ENDSEC 0 SECTION 2 BLOCKS {} 0 ENDSEC 0 SECTION 2 ENTITIES {} 0 ENDSEC 0 EOF",
                             header, layers, blocks, entities));
}
Drawing read(const std::string& text, std::optional<double> unit = {}) {
    auto drawing = formats::drawingFromDxf(text, unit);
    INFO(text.substr(0, 3000) << (drawing ? "" : "\n" + drawing.problem().text()));
    REQUIRE(drawing);
    return *drawing;
}
/// The one path that a file holds.
Path only(std::string_view entities, std::string_view blocks = "") {
    const auto drawing = read(file(entities, blocks));
    REQUIRE(drawing.items.size() == 1);
    REQUIRE(drawing.items[0].pieces.size() == 1);
    return drawing.items[0].pieces[0].outline;
}
bool near(Vec2 a, Vec2 b, double tolerance = 1e-9) { return distance(a, b) <= tolerance; }
std::string said(const Drawing& drawing) {
    std::string out;
    for (const auto& n : drawing.notices) out += n.text + "\n";
    return out;
}

} // namespace

TEST_CASE("dxf in: lines, arcs, circles and polylines with bulges stay what they are") {
    CHECK(toText(only("0 LINE 8 cut 10 1 20 2 11 30 21 40")) == "M1 2L30 40");
    const Path arc = only("0 ARC 8 cut 10 10 20 20 40 5 50 270 51 90");
    CHECK(near(arc.start, {10, 15}));
    CHECK(near(arc.end(), {10, 25}));
    CHECK(std::abs(lengthOf(arc) - 5 * pi) < 1e-9);
    CHECK(near(pointAt(arc.start, arc.segments[0], 0.5), {15, 20}));
    const auto round = circleOf(only("0 CIRCLE 8 cut 10 7 20 8 40 3.25"), 1e-9);
    REQUIRE(round);
    CHECK(round->radius == 3.25);
    // A slot: two straights and two half turns.
    const Path slot = only("0 LWPOLYLINE 8 cut 90 4 70 1 10 0 20 0 10 20 20 0 42 1 10 20 20 6 10 0 20 6 42 1");
    CHECK(slot.closed);
    CHECK(std::abs(areaOf(slot) - (120 + 9 * pi)) < 1e-9);
    CHECK(std::abs(lengthOf(slot) - (40 + 6 * pi)) < 1e-9);
    // The old polyline, of three quarters of a turn; control points of a smoothed one are no part of it.
    const Path old = only("0 POLYLINE 8 cut 66 1 70 0 0 VERTEX 8 cut 10 0 20 0 42 2.414213562373095 0 VERTEX 8 cut 10 "
                          "99 20 99 70 16 0 VERTEX 8 cut 10 10 20 10 0 SEQEND");
    REQUIRE(old.segments.size() == 1);
    CHECK(std::abs(sweepOf(old.start, old.segments[0]) - 1.5 * pi) < 1e-9);
    CHECK(only("0 POINT 8 holes 10 4 20 5").segments.empty());
    CHECK(std::abs(areaOf(only("0 SOLID 8 cut 10 0 20 0 11 10 21 0 12 0 22 5 13 10 23 5"))) == 50);
}

TEST_CASE("dxf in: polylines of the old kind are what they are, whatever breaks them off, faces are areas") {
    const auto boxOf = [](const Drawing& d) {
        Box box;
        for (const auto& item : d.items)
            for (const auto& piece : item.pieces) box.take(boundsOf(piece));
        return box;
    };
    const char* bowed =
        "0 POLYLINE 8 sail 66 1 70 1 30 7 0 VERTEX 8 else 10 0 20 0 30 7 42 1 0 VERTEX 8 else 10 10 20 0 42 1 ";
    for (const char* end : {"0 SEQEND", "0 SEQEND 8 sail", ""}) {
        const auto d = read(file(std::string(bowed) + end + " 0 LINE 8 rope 10 20 20 0 11 30 21 0"));
        REQUIRE(d.items.size() == 2);
        CHECK(d.items[0].layer == "sail");
        REQUIRE(d.items[0].pieces.size() == 1);
        CHECK(d.items[0].pieces[0].outline.closed);
        CHECK(areaOf(d.items[0].pieces[0].outline) == Approx(25 * pi)); // two half circles
        CHECK(d.items[1].layer == "rope");
    }
    auto broken = file(bowed);
    broken.resize(broken.find("ENDSEC", broken.find("VERTEX"))); // in the middle of it
    const auto rest = read(broken);
    REQUIRE(rest.items.size() == 1);
    CHECK(rest.items[0].layer == "sail");
    const auto face = read(file("0 3DFACE 8 a 10 0 20 0 11 10 21 0 12 10 22 10 13 0 23 10"));
    REQUIRE(face.items.size() == 1);
    CHECK(areaOf(face.items[0].pieces[0].outline) == Approx(100));
    // Seen from below.
    const auto under =
        read(file("0 POLYLINE 8 a 66 1 70 0 210 0 220 0 230 -1 0 VERTEX 10 5 20 0 0 VERTEX 10 9 20 3 0 SEQEND"));
    CHECK(boxOf(under).low.x == Approx(-9));
}

TEST_CASE("dxf in: ellipses and splines become lines and arcs within 0.005 mm") {
    const auto off = [](const Path& path, auto&& miss) {
        double worst = 0;
        for (std::size_t i = 0; i < path.segments.size(); ++i) {
            CHECK(path.segments[i].kind != Segment::Kind::cubic);
            for (int k = 0; k <= 8; ++k)
                worst = std::max(worst, std::abs(miss(pointAt(path.from(i), path.segments[i], k / 8.0))));
        }
        return worst;
    };
    // Distance to first order: the value over its slope.
    const auto ellipse = [](Vec2 p) {
        const double x = (p.x - 5) / 40, y = (p.y - 5) / 20;
        return (x * x + y * y - 1) / (2 * std::hypot(x / 40, y / 20));
    };
    const Path whole = only("0 ELLIPSE 8 cut 10 5 20 5 11 40 21 0 40 0.5 41 0 42 6.283185307179586");
    CHECK(whole.closed);
    CHECK(off(whole, ellipse) < 0.005);
    CHECK(std::abs(areaOf(whole) - pi * 800) < 0.5);
    const Path half = only("0 ELLIPSE 8 cut 10 5 20 5 11 40 21 0 40 0.5 41 0 42 3.141592653589793");
    CHECK(near(half.end(), {-35, 5}, 1e-6));
    CHECK(boundsOf(half).high.y == Approx(25).margin(0.005));
    // Seen from below it runs the other way round.
    CHECK(boundsOf(only("0 ELLIPSE 8 cut 10 5 20 5 11 40 21 0 40 0.5 41 0 42 3.141592653589793 210 0 220 0 230 -1"))
              .low.y == Approx(-15).margin(0.005));
    // A quarter circle as a rational spline of the second degree.
    const Path quarter = only("0 SPLINE 8 cut 70 4 71 2 72 6 73 3 40 0 40 0 40 0 40 1 40 1 40 1 41 1 41 "
                              "0.7071067811865476 41 1 10 10 20 0 10 10 20 10 10 0 20 10");
    CHECK(off(quarter, [](Vec2 p) { return length(p) - 10; }) < 0.005);
    CHECK(near(quarter.end(), {0, 10}, 1e-6));
    // Four cubic spans on a parabola, knots inside.
    const Path parabola = only("0 SPLINE 8 cut 70 8 71 2 72 7 73 4 40 0 40 0 40 0 40 1 40 2 40 2 40 2 10 0 20 0 10 10 "
                               "20 0 10 30 20 20 10 40 20 40");
    CHECK(off(parabola, [](Vec2 p) { return (p.y - p.x * p.x / 40) / std::hypot(1, p.x / 20); }) < 0.005);
    const Path through = only("0 SPLINE 8 cut 70 8 71 3 72 0 73 0 74 3 11 0 21 0 11 10 21 5 11 20 21 0");
    CHECK(boundsOf(through).high.y == Approx(5).margin(0.01));
    CHECK(said(read(file("0 SPLINE 8 cut 70 8 71 3 72 1 73 2 40 0 10 0 20 0 10 1 20 1"))).find("do not fit") !=
          std::string::npos);
}

TEST_CASE("dxf in: blocks are put in, nested, in rows, mirrored, about their base, layer 0 on the insert's layer") {
    const std::string_view blocks =
        "0 BLOCK 2 lamp 70 0 10 1 20 1 0 LINE 8 0 10 1 20 1 11 3 21 1 0 LINE 8 glow 10 1 20 "
        "1 11 1 21 2 0 ENDBLK 0 BLOCK 2 pair 10 0 20 0 0 INSERT 2 lamp 8 0 10 5 20 0 0 "
        "INSERT 2 lamp 8 0 10 5 20 0 41 -1 0 ENDBLK";
    const auto plain = read(file("0 INSERT 2 lamp 8 cut 10 100 20 50 41 2 42 3 50 90", blocks));
    REQUIRE(plain.items.size() == 2);
    CHECK(plain.items[0].layer == "cut");
    CHECK(plain.items[1].layer == "glow");
    CHECK(plain.items[0].name == "lamp");
    CHECK(near(plain.items[0].pieces[0].outline.start, {100, 50}));
    CHECK(near(plain.items[0].pieces[0].outline.end(), {100, 54}));
    CHECK(near(plain.items[1].pieces[0].outline.end(), {97, 50}));
    const auto nested = read(file("0 INSERT 2 pair 8 cut 10 0 20 0", blocks));
    REQUIRE(nested.items.size() == 2);
    REQUIRE(nested.items[0].pieces.size() == 2);
    CHECK(near(nested.items[0].pieces[0].outline.end(), {7, 0}));
    CHECK(near(nested.items[0].pieces[1].outline.end(), {3, 0}));
    const auto rows = read(file("0 INSERT 2 lamp 8 cut 10 0 20 0 50 90 70 3 71 2 44 10 45 20", blocks));
    REQUIRE(rows.items.size() == 12);
    CHECK(near(rows.items[10].pieces[0].outline.start, {-20, 20}));
    // Seen from below: x the other way.
    CHECK(near(only("0 CIRCLE 8 cut 10 7 20 8 40 3 210 0 220 0 230 -1").start, {-10, 8}));
    CHECK(said(read(file("0 INSERT 2 gone 8 cut 10 0 20 0"))).find("block “gone”") != std::string::npos);
}

TEST_CASE("dxf in: the header tells the unit, where it does not a guess is told with every size") {
    const auto line = "0 LINE 8 cut 10 0 20 0 11 10 21 0";
    const auto wide = [](const Drawing& d) { return boundsOf(d.items[0].pieces[0]).width(); };
    for (const auto& [code, mm] :
         {std::pair{1, 254.0}, {2, 3048.0}, {4, 10.0}, {5, 100.0}, {6, 10'000.0}, {9, 0.254}}) {
        const auto drawing = read(file(line, "", fmt::format("9 $INSUNITS 70 {}", code)));
        CHECK(drawing.drawn.by == Drawing::Drawn::By::file);
        CHECK(std::abs(wide(drawing) - mm) < 1e-9);
    }
    const auto none = read(file(line, "", ""));
    CHECK(none.drawn.by == Drawing::Drawn::By::guess);
    CHECK(wide(none) == 10);
    const auto inches = read(file(line, "", "9 $MEASUREMENT 70 0"));
    CHECK(inches.drawn.by == Drawing::Drawn::By::guess);
    CHECK(std::abs(wide(inches) - 254) < 1e-9);
    CHECK(std::abs(inches.drawn.units.x - 10) < 1e-9);
    CHECK(formats::toText(formats::guessesOf(inches.drawn, {}, {})).find("inch: 254.0 × 0.0 mm (10.00 × 0.00 inch)") !=
          std::string::npos);
    const auto chosen = read(file(line), 25.4); // the person's word counts more than the file's
    CHECK(chosen.drawn.by == Drawing::Drawn::By::choice);
    CHECK(std::abs(wide(chosen) - 254) < 1e-9);
}

TEST_CASE("dxf in: layers bring colour and hiding, empty ones are dropped, what was left out is told") {
    const auto drawing = read(file(
        "0 LINE 8 cut 10 0 20 0 11 10 21 0 0 LINE 8 fr\\U+00E4s 10 0 20 0 11 10 21 9 0 TEXT 8 cut 1 Heron 10 0 20 0 "
        "40 5 0 DIMENSION 8 cut 10 0 0 LINE 60 1 8 cut 10 0 20 0 11 10 21 0 0 LINE 67 1 8 cut 10 0 20 0 11 1 21 0 "
        "0 LINE 8 cut 10 0 20 0 11 1e30 21 0",
        "", "9 $INSUNITS 70 4", "0 LAYER 2 cut 70 0 62 1 0 LAYER 2 fr\\U+00E4s 70 1 62 5 0 LAYER 2 empty 70 0 62 3"));
    REQUIRE(drawing.looks.size() == 3);
    CHECK(drawing.looks[1].colour == "#ff0000");
    CHECK_FALSE(drawing.looks[1].hidden);
    CHECK(drawing.looks[2].layer == "fräs");
    CHECK(drawing.looks[2].hidden);
    CHECK(formats::layersIn(drawing).starts_with("cut 1 · fräs 1 (hidden) · cut text "));
    const auto words = said(drawing);
    for (const char* part : {"1 text came in as notes on “cut text”", "1 × DIMENSION", "1 × invisible",
                             "1 × on the paper sheet", "farther off"})
        CHECK(words.find(part) != std::string::npos);
    const auto added = formats::withDrawing({}, drawing);
    CHECK(artwork::layerNamed(added.artwork, "cut text")->notes);
    CHECK(artwork::layerNamed(added.artwork, "fräs")->hidden);
    CHECK(artwork::layerNamed(added.artwork, "cut")->colour == "#ff0000");
}

TEST_CASE("dxf: what is written comes back as the same pieces", "[property]") {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> in(0, 100);
    Path bow{{200, 0}, {Segment::line({260, 0}), Segment::arc({260, 10}, {260, 20}, true)}, false};
    bow.segments.push_back(Segment::cubic({240, 40}, {220, -10}, {200, 20}));
    bow.close();
    bow.closed = true;
    std::vector<Piece> pieces{{rectangle({0, 0}, {120, 80}, 9), {reversed(circle({40, 40}, 12.345678))}},
                              {circle({60, 200}, 30), {}},
                              {bow, {}},
                              {{{0, 300}, {Segment::line({50, 311})}, false}, {}}};
    for (int i = 0; i < 40; ++i) pieces.push_back({circle({300 + in(random)*9, in(random)*9 + 200}, 0.5), {}});
    const auto text = formats::dxfOf({{"cut", "#ff0000", pieces}});
    const auto back = read(text);
    std::vector<Path> paths;
    for (const auto& item : back.items) paths.push_back(item.pieces.front().outline);
    REQUIRE(paths.size() == pieces.size() + 1);
    CHECK(back.looks[0].colour == "#ff0000");
    // Names in any script are plain ASCII in the file, and come back.
    const auto named = formats::dxfOf({{"Vögel Ящик 鳥", "#ff0000", {pieces[1]}}});
    CHECK(std::all_of(named.begin(), named.end(), [](char c) { return static_cast<unsigned char>(c) < 0x80; }));
    CHECK(named.find("V\\U+00F6gel") != std::string::npos);
    CHECK(read(named).looks[0].layer == "Vögel Ящик 鳥");
    std::size_t at = 0;
    for (const auto& piece : pieces)
        for (int k = -1; k < static_cast<int>(piece.openings.size()); ++k) {
            const Path& then = k < 0 ? piece.outline : piece.openings[static_cast<std::size_t>(k)];
            const Path& now = paths[at++];
            CAPTURE(toText(then), toText(now));
            CHECK(now.closed == then.closed);
            CHECK(near(boundsOf(now).low, boundsOf(then).low, 0.001));
            CHECK(near(boundsOf(now).high, boundsOf(then).high, 0.001));
            CHECK(std::abs(lengthOf(now) - lengthOf(then)) < 0.001);
        }
}

TEST_CASE("dxf in: bombs, rings of blocks and lying counts are refused or read, in bounded time") {
    std::string tower = "0 BLOCK 2 b0 10 0 20 0 0 LINE 8 0 10 0 20 0 11 1 21 0 0 ENDBLK";
    for (int i = 1; i < 12; ++i)
        tower +=
            fmt::format(" 0 BLOCK 2 b{0} 10 0 20 0 0 INSERT 2 b{1} 8 0 10 0 20 0 70 100 71 100 0 ENDBLK", i, i - 1);
    const auto bomb = formats::drawingFromDxf(file("0 INSERT 2 b11 8 0 10 0 20 0", tower));
    REQUIRE_FALSE(bomb);
    CHECK(bomb.problem().what.find("two million") != std::string::npos);
    const auto ring = formats::drawingFromDxf(
        file("0 INSERT 2 ring 8 0 10 0 20 0", "0 BLOCK 2 ring 10 0 20 0 0 INSERT 2 ring 8 0 10 1 20 0 0 ENDBLK"));
    REQUIRE_FALSE(ring);
    CHECK(ring.problem().what.find("hold each other") != std::string::npos);
    CHECK(read(file("0 LWPOLYLINE 8 cut 90 2000000000 70 0 10 0 20 0 10 5 20 5 0 SPLINE 8 cut 71 3 72 2000000000 73 "
                    "-2000000000 74 2147483647 10 0 20 0"))
              .items.size() == 1);
    CHECK(formats::drawingFromDxf("").problem().what == "This is no DXF drawing.");
    CHECK(formats::drawingFromDxf("Some Binary DXF\r\n\x1a").problem().what == "This is no DXF drawing.");
    // Cut off anywhere: what came before is kept, and it is told.
    const auto whole = file("0 LINE 8 cut 10 0 20 0 11 10 21 0 0 CIRCLE 8 cut 10 0 20 0 40 5");
    for (std::size_t size = 0; size < whole.size(); size += 3) {
        const auto part = formats::drawingFromDxf(std::string_view(whole).substr(0, size));
        if (part && size + 6 < whole.size()) CHECK(said(*part).find("damaged") != std::string::npos);
    }
    // Lines longer than the library can hold.
    CHECK(read(file("0 LINE 8 cut 10 0 20 0 11 10 21 0 1000 " + std::string(5000, 'x') +
                    " 0 CIRCLE 8 cut 10 0 20 0 40 5"))
              .items.size() == 2);
}

TEST_CASE("dxf in: texts are as high, where and as turned as they say, codes apart") {
    const auto box = [](std::string_view entity) {
        const auto drawing = read(file(entity));
        REQUIRE(drawing.items.size() == 1);
        Box b;
        for (const auto& piece : drawing.items[0].pieces) b.take(boundsOf(piece));
        return b;
    };
    const Box plain = box("0 TEXT 8 cut 10 20 20 30 40 7 1 HH");
    CHECK(plain.height() == Approx(7).margin(0.05));
    CHECK(plain.low.y == Approx(30).margin(0.05));
    CHECK(plain.low.x > 20);
    const Box middle = box("0 TEXT 8 cut 10 0 20 0 11 50 21 60 72 1 73 2 40 7 1 HH");
    CHECK(middle.centre().x == Approx(50).margin(0.2));
    CHECK(middle.centre().y == Approx(60).margin(0.1));
    const Box turned = box("0 TEXT 8 cut 10 20 20 30 40 7 50 90 1 HH");
    CHECK(turned.width() == Approx(7).margin(0.05));
    CHECK(turned.high.x == Approx(20).margin(0.05));
    const Box lines = box("0 MTEXT 8 cut 10 10 20 50 40 5 71 1 1 {\\fSome_Face|b0;H}\\PH");
    CHECK(lines.high.y == Approx(50).margin(0.05));
    CHECK(lines.height() == Approx(5 + 5 * 1.66).margin(0.1));
    // Between two points: as wide as they are apart, as high as it says or as that comes to.
    const Box fitted = box("0 TEXT 8 cut 10 20 20 30 11 80 21 30 72 5 40 7 1 HH");
    const Box between = box("0 TEXT 8 cut 10 20 20 30 11 20 21 90 72 3 40 7 50 0 1 HH");
    CHECK(fitted.height() == Approx(7).margin(0.05));
    CHECK(fitted.low.x == Approx(20).margin(6));
    CHECK(fitted.high.x == Approx(80).margin(6));
    CHECK(between.high.x == Approx(20).margin(0.05));
    CHECK(between.height() == Approx(fitted.width()).margin(0.1));
    CHECK(between.width() > 20);
    const Box mirrored = box("0 TEXT 8 cut 10 20 20 30 40 7 71 2 1 HH");
    CHECK(mirrored.high.x == Approx(40 - plain.low.x));
    CHECK(mirrored.width() == Approx(plain.width()));
    // A long text is turned by its direction or by degrees, and what is embedded in it is not about its letters.
    const Box about = box("0 MTEXT 8 cut 10 100 20 50 40 5 71 1 11 -1 21 0 1 HH");
    CHECK(about.high.x < 100);
    CHECK(about.low.y == Approx(50).margin(0.05));
    const Box upright = box("0 MTEXT 8 cut 10 100 20 50 40 5 71 7 50 90 1 HH");
    CHECK(upright.high.x == Approx(100).margin(0.05));
    CHECK(upright.width() == Approx(5).margin(0.05));
    CHECK(box("0 MTEXT 8 cut 10 10 20 50 40 5 71 1 1 HH 101 Embedded_Object 70 1 10 1 20 0 40 60 41 9 71 2").high.y ==
          Approx(50).margin(0.05));
}

namespace {
/// The same pairs in the binary form: values as wide as their code says.
std::string binary(const std::string& text, bool wide) {
    std::string out = std::string("Some Binary DXF\r\n\x1a") + '\0';
    const auto bytes = [&](auto value) { out.append(reinterpret_cast<const char*>(&value), sizeof value); };
    std::istringstream lines(text);
    for (std::string code, value; std::getline(lines, code) && std::getline(lines, value);) {
        const int c = std::stoi(code);
        while (!value.empty() && value.back() == '\r') value.pop_back();
        if (wide)
            bytes(static_cast<std::int16_t>(c));
        else if (c < 255)
            bytes(static_cast<std::uint8_t>(c));
        else
            bytes(static_cast<std::uint8_t>(255)), bytes(static_cast<std::int16_t>(c));
        if ((c >= 10 && c < 60) || (c >= 210 && c < 240))
            bytes(std::stod(value));
        else if ((c >= 60 && c < 80) || (c >= 170 && c < 180))
            bytes(static_cast<std::int16_t>(std::stoi(value)));
        else if (c >= 90 && c < 100)
            bytes(static_cast<std::int32_t>(std::stol(value)));
        else if (c >= 310 && c < 320)
            bytes(static_cast<std::uint8_t>(value.size())), out += value;
        else
            out += value + '\0';
    }
    return out;
}
} // namespace

TEST_CASE("dxf in: a binary file holds what the same file as text does, and is told where it breaks off") {
    const auto text = file("0 LWPOLYLINE 8 cut 90 4 70 1 10 0 20 0 10 20.125 20 0 42 1 10 20.125 20 6 10 0 20 6 42 1 0 "
                           "CIRCLE 8 fr\\U+00E4s "
                           "10 -7.3 20 1e-3 40 3.3333333333333335 310 preview 0 TEXT 8 cut 1 Heron 10 0 20 0 40 5 0 "
                           "INSERT 2 lamp 8 cut 10 5 20 6 70 3 "
                           "44 11.5",
                           "0 BLOCK 2 lamp 70 0 10 1 20 1 0 LINE 8 0 10 1 20 1 11 3 21 1 0 ENDBLK", "9 $INSUNITS 70 1",
                           "0 LAYER 2 cut 70 0 62 -3");
    const auto all = [](const Drawing& d) {
        std::string out = formats::layersIn(d);
        for (const auto& item : d.items)
            for (const auto& piece : item.pieces) out += item.layer + " " + toText(piece.outline) + "\n";
        return out + said(d);
    };
    const auto plain = read(text);
    REQUIRE(plain.items.size() == 6);
    for (const bool wide : {false, true}) {
        const auto bytes = binary(text, wide);
        CHECK(all(read(bytes)) == all(plain));
        for (std::size_t size = 0; size < bytes.size(); size += 7) {
            const auto part = formats::drawingFromDxf(std::string_view(bytes).substr(0, size));
            if (part) CHECK(said(*part).find("damaged") != std::string::npos);
        }
    }
}

TEST_CASE("dxf in: dimensions, leaders and the texts of blocks are labels: they come in and are not cut") {
    const auto drawing = read(file(
        "0 LINE 8 cut 10 0 20 0 11 80 21 0 0 DIMENSION 8 cut 2 *D7 10 80 20 -9 13 0 23 0 70 0 0 DIMENSION 8 cut 2 *D8 "
        "10 0 20 0 0 LEADER 8 0 76 3 10 40 20 0 10 50 20 12 10 60 20 12 0 INSERT 2 plate 8 cut 10 5 20 6 66 1 0 "
        "ATTRIB 8 cut 2 NO 1 P-12 10 9 20 9 40 3 70 0 74 0 0 ATTRIB 8 cut 2 SECRET 1 hidden 10 9 20 9 40 3 70 1 0 "
        "SEQEND",
        "0 BLOCK 2 *D7 70 1 10 0 20 0 0 LINE 8 0 10 0 20 -9 11 80 21 -9 0 LINE 8 arrows 10 0 20 0 11 0 21 -10 0 MTEXT "
        "8 "
        "0 10 40 20 -8 40 3 71 8 1 80 0 ENDBLK 0 BLOCK 2 plate 70 2 10 0 20 0 0 ATTDEF 8 0 2 NO 1 0 10 0 20 0 40 3 0 "
        "CIRCLE 8 0 10 0 20 0 40 2 0 ENDBLK"));
    const auto words = said(drawing);
    CAPTURE(words);
    CHECK(words.find("1 dimension, 1 text came in as notes on “cut text”: they are not cut") != std::string::npos);
    CHECK(words.find("1 leader came in as notes on “0 text”") != std::string::npos);
    CHECK(words.find("1 × DIMENSION, whose lines are not in the file") != std::string::npos);
    CHECK(words.find("1 × invisible") != std::string::npos);
    const auto added = formats::withDrawing({}, drawing);
    Box cut, notes;
    for (const auto& item : added.artwork.items) {
        const auto isLabel = std::any_of(added.artwork.layers.begin(), added.artwork.layers.end(),
                                         [&](const auto& layer) { return layer.id == item.layer && layer.notes; });
        (isLabel ? notes : cut).take(artwork::boundsOf(item));
    }
    CHECK(near(cut.low, {0, 0}));
    CHECK(near(cut.high, {80, 8}));
    CHECK(near(notes.low, {0, -10}));              // the dimension's lines
    CHECK(notes.high.y == Approx(12).margin(0.2)); // the leader, the number of the plate
}

TEST_CASE("dxf in: the boundaries of a hatch are outlines, whatever they are made of, whichever way round") {
    const auto hatch = [](std::string_view loop) {
        return fmt::format(
            "0 HATCH 8 fill 10 0 20 0 30 0 210 0 220 0 230 1 2 SOLID 70 1 71 0 91 1 {} 97 0 75 0 76 1 98 0", loop);
    };
    const auto paths = [&](std::string_view loop) {
        const auto drawing = read(file(hatch(loop)));
        std::vector<Path> out;
        for (const auto& item : drawing.items) {
            CHECK(item.layer == "fill");
            CHECK(item.name == "hatch boundary");
            out.push_back(item.pieces.at(0).outline);
        }
        return out;
    };
    // As a polyline: a slot with two half turns.
    const auto slot = paths("92 2 72 1 73 1 93 4 10 0 20 0 42 0 10 20 20 0 42 1 10 20 20 6 42 0 10 0 20 6 42 1");
    REQUIRE(slot.size() == 1);
    CHECK(slot[0].closed);
    CHECK(std::abs(areaOf(slot[0])) == Approx(120 + 9 * pi));
    // As edges: a half moon of a line and an arc, the arc told either way round.
    for (const int ccw : {1, 0}) {
        const auto moon = paths(fmt::format("92 1 93 2 72 1 10 -5 20 0 11 5 21 0 72 2 10 0 20 0 40 5 50 {} 51 {} 73 {}",
                                            ccw ? 0 : -180, ccw ? 180 : 0, ccw));
        REQUIRE(moon.size() == 2);
        CHECK(lengthOf(moon[0]) == Approx(10));
        CHECK(lengthOf(moon[1]) == Approx(5 * pi));
        CHECK(boundsOf(moon[1]).high.y == Approx(5));
        CHECK(boundsOf(moon[1]).low.y == Approx(0).margin(1e-6));
    }
    // Half an ellipse, and a spline of the first degree.
    const auto bow = paths("92 1 93 1 72 3 10 0 20 0 11 8 21 0 40 0.5 50 0 51 180 73 1");
    REQUIRE(bow.size() == 1);
    CHECK(boundsOf(bow[0]).width() == Approx(16).margin(0.01));
    CHECK(boundsOf(bow[0]).high.y == Approx(4).margin(0.01));
    const auto spline =
        paths("92 1 93 1 72 4 94 1 73 0 74 0 95 5 96 3 40 0 40 0 40 1 40 2 40 2 10 0 20 0 10 10 20 0 10 10 20 7");
    REQUIRE(spline.size() == 1);
    CHECK(lengthOf(spline[0]) == Approx(17));
}

TEST_CASE("dxf in: the names of old files are in their code page, those of newer ones in UTF-8") {
    const auto layer = [](const std::string& version, const std::string& page, const std::string& name) {
        std::string text = "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\n" + version + "\n9\n$DWGCODEPAGE\n3\n" + page +
                           "\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nLINE\n8\n" + name +
                           "\n10\n0\n20\n0\n11\n5\n21\n0\n0\nENDSEC\n0\nEOF\n";
        const auto drawing = read(text);
        REQUIRE(drawing.items.size() == 1);
        return drawing.items[0].layer;
    };
    CHECK(layer("AC1015", "ANSI_1251", "\xF0\xE5\xE7") == "рез");
    CHECK(layer("AC1015", "ansi_932", "\x90\xD8\x92\x66") == "切断");
    CHECK(layer("AC1009", "dos850", "S\x84ge") == "Säge");
    CHECK(layer("AC1015", "ANSI_1252", "\x80 S\xE4ge") == "€ Säge");
    CHECK(layer("AC1015", "elsewhere", "S\xE4ge") == "Säge");
    CHECK(layer("AC1015", "ANSI_1251", "Säge") == "Säge"); // it is UTF-8 all the same
    CHECK(layer("AC1027", "ANSI_1251", "S\xE4ge") == "Säge");
}

TEST_CASE("dxf in: colours by their index, long texts in parts, what stands in space is told") {
    const auto colour = [](int index) {
        const auto drawing = read(file("0 LINE 8 a 10 0 20 0 11 1 21 1", "", "9 $INSUNITS 70 4",
                                       fmt::format("0 LAYER 2 a 70 0 62 {}", index)));
        REQUIRE(drawing.looks.size() == 1);
        return drawing.looks[0].colour;
    };
    CHECK(colour(5) == "#0000ff");
    CHECK(colour(10) == "#ff0000"); // the first of the hues, full
    CHECK(colour(90) == "#00ff00");
    CHECK(colour(170) == "#0000ff");
    CHECK(colour(11) == "#ff8080"); // and pale
    CHECK(colour(14) == "#800000"); // darker
    CHECK(colour(250) == "#333333");
    CHECK(colour(255) == "#ffffff");
    const auto boxOf = [](const Drawing& drawing) {
        Box box;
        for (const auto& item : drawing.items)
            for (const auto& piece : item.pieces) box.take(boundsOf(piece));
        return box;
    };
    const auto whole = boxOf(read(file("0 MTEXT 8 t 10 0 20 0 40 5 71 7 1 HERONHERON"))),
               parts = boxOf(read(file("0 MTEXT 8 t 10 0 20 0 40 5 71 7 3 HERON 1 HERON")));
    CHECK(parts.width() == Approx(whole.width()));
    const auto space = read(file("0 CIRCLE 8 a 10 0 20 0 40 5 210 1 220 0 230 0 0 LWPOLYLINE 8 a 90 2 70 0 210 0 220 "
                                 "1 230 0 10 0 20 0 10 5 20 5 0 LINE 8 a 10 0 20 0 11 1 21 1 0 TRACE 8 a 10 0 20 0 11 "
                                 "10 21 0 12 0 22 5 13 10 23 5"));
    CHECK(space.items.size() == 2); // the line, the trace
    CHECK(said(space).find("2 × standing in space") != std::string::npos);
}

TEST_CASE("dxf: the unit question counts no strays and puts first what goes onto the sheet") {
    std::string entities;
    for (int i = 0; i < 12; ++i)
        entities += fmt::format("0 CIRCLE 8 holes 10 {} 20 {} 40 0.25 ", 0.5 + i % 4 * 3, 0.5 + i / 4 * 3);
    entities += "0 LINE 8 lost 10 9000 20 9000 11 9001 21 9000 ";
    const auto drawing = read(file(entities, "", ""));
    CHECK(drawing.drawn.strays == 1);
    CHECK(drawing.drawn.units.x == Approx(9.5));
    const auto guesses = formats::guessesOf(drawing.drawn, {600, 400}, {1300, 900});
    REQUIRE(guesses.size() == formats::drawnUnits.size());
    CHECK(guesses[0].word == "inch"); // 241 mm; in mm it would be a speck of 9.5
    CHECK(guesses[0].why == "fits the sheet");
    CHECK(guesses[0].size.x == Approx(241.3));
    CHECK(guesses[1].word == "cm");
    CHECK(guesses[2].why == "tiny on the sheet");
    CHECK(guesses.back().why == "larger than the machine");
    // A sheet can be turned.
    CHECK(formats::guessesOf({formats::Drawing::Drawn::By::guess, 1, {390, 590}, 0}, {600, 400}, {600, 400})[0].word ==
          "mm");
    auto cleared = formats::drawingFrom(file(entities, "", ""), "holes.dxf", {.mmPerUnit = 25.4, .dropStrays = true});
    REQUIRE(cleared);
    CHECK(cleared->items.size() == 12);
    CHECK(formats::layersIn(*cleared) == "holes 12");
    CHECK(cleared->notices.back().text == "Left out: 1 that lay far from all the rest.");
}

TEST_CASE("dxf: a drawing far from its own origin is moved back, by whole metres, and that is told") {
    for (const double origin : {1e6, -3.4e7, 5.2e9}) {
        const auto drawing =
            read(file(fmt::format("0 LINE 8 wall 10 {0} 20 {0} 11 {1} 21 {0} 0 CIRCLE 8 wall 10 {1} 20 {0} 40 2.5 ",
                                  origin, origin + 120.25)));
        CAPTURE(origin);
        REQUIRE(drawing.items.size() == 2);
        const Box box = boundsOf(drawing.items[0].pieces[0]);
        CHECK(std::abs(box.low.x) < 2000);
        CHECK(std::abs(box.width() - 120.25) < 1e-5);
        CHECK(drawing.notices.back().text.find("moved back by") != std::string::npos);
    }
    CHECK(read(file("0 LINE 8 wall 10 90000 20 0 11 90120 21 0 ")).items[0].pieces[0].outline.start.x == 90000);
}

TEST_CASE("dxf: what the attributes of a block say of a part stands in its name, seen or not, for its own block only") {
    const std::string blocks = "0 BLOCK 2 lamp 10 0 20 0 0 LINE 8 0 10 0 20 0 11 20 21 10 0 ENDBLK";
    const auto attribute = [](const char* tag, const char* value, const char* flags = "1") {
        return fmt::format(" 0 ATTRIB 8 0 10 0 20 0 40 3 1 {} 2 {} 70 {}", value, tag, flags);
    };
    const std::string entities = "0 INSERT 2 lamp 8 cut 66 1 10 0 20 0" + attribute("PART", "Stage_lamp") +
                                 attribute("Qty", "4") + attribute("MATERIAL", "birch") +
                                 attribute("THICKNESS", "6mm") + attribute("SUPPLIER", "ours") +
                                 " 0 SEQEND 0 INSERT 2 lamp 8 cut 10 50 20 0 0 INSERT 2 lamp 8 cut 66 1 10 90 20 0" +
                                 attribute("QTY", "many") + attribute("THICKNESS", "6") + " 0 SEQEND";
    const auto drawing = read(file(entities, blocks));
    REQUIRE(drawing.items.size() == 3);
    CHECK(drawing.items[0].name == "Stage lamp, 4 off, birch, 6mm");
    CHECK(drawing.items[1].name == "lamp");
    CHECK(drawing.items[2].name == "lamp, 6 mm"); // “many” is no number
    CHECK(said(drawing).find("2 blocks are told of by attributes") != std::string::npos);
    CHECK(said(drawing).find("Not understood of a block: QTY “many”") != std::string::npos);
    const auto inches = read(file(entities, blocks, "9 $INSUNITS 70 1"));
    CHECK(inches.items[2].name == "lamp"); // 6 of what, nobody says
    CHECK(said(inches).find("THICKNESS “6”") != std::string::npos);
}

#include "formats/hairlines.h"
#include "formats/svg.h"
#include "formats/svg_in.h"
#include "support/shapes.h"

using namespace ferro;
using formats::Drawing;

namespace {

Drawing read(const std::string& text) {
    auto drawing = formats::drawingFromSvg(text);
    INFO(text << (drawing ? "" : "\n" + drawing.problem().text()));
    REQUIRE(drawing);
    return *drawing;
}
/// What stands in a drawing of 100 × 100 mm whose unit is a millimetre.
Drawing inside(const std::string& text, const std::string& more = "") {
    return read("<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' width='100mm' "
                "height='100mm' viewBox='0 0 100 100' " +
                more + ">" + text + "</svg>");
}
Box boxOf(const Drawing& drawing) {
    Box box;
    for (const auto& item : drawing.items)
        for (const auto& piece : item.pieces) box.take(boundsOf(piece));
    return box;
}
void sameBox(const Drawing& drawing, double x0, double y0, double x1, double y1) {
    const Box box = boxOf(drawing);
    CAPTURE(box.low, box.high);
    CHECK(distance(box.low, {x0, y0}) < 1e-9);
    CHECK(distance(box.high, {x1, y1}) < 1e-9);
}

} // namespace

TEST_CASE("svg in: real size by every unit, viewBox and aspect ratio, y up from the lower left") {
    sameBox(inside("<rect x='10' y='20' width='30' height='5'/>"), 10, 75, 40, 80);
    for (const char* size :
         {"width='2in' height='1in'", "width='50.8mm' height='25.4mm'", "width='5.08cm' height='2.54cm'",
          "width='144pt' height='72pt'", "width='12pc' height='6pc'", "width='192' height='96px'",
          "width='203.2Q' height='101.6Q'"}) {
        CAPTURE(size);
        const auto drawing =
            read(fmt::format("<svg {} viewBox='0 0 20 10'><rect width='20' height='10'/></svg>", size));
        CHECK(distance(drawing.size, {50.8, 25.4}) < 1e-9);
        sameBox(drawing, 0, 0, 50.8, 25.4);
        CHECK(drawing.notices.empty());
    }
    // Without a view box a unit is a pixel; lengths inside have units too.
    sameBox(read("<svg width='96' height='96'><rect x='1cm' width='10mm' height='0.5in'/></svg>"), 10, 12.7, 20, 25.4);
    const auto fitted = [](const char* aspect) {
        return read(fmt::format("<svg width='40mm' height='20mm' viewBox='0 0 10 10' preserveAspectRatio='{}'>"
                                "<rect width='10' height='10'/></svg>",
                                aspect));
    };
    sameBox(fitted("xMidYMid"), 10, 0, 30, 20);
    sameBox(fitted("xMinYMin meet"), 0, 0, 20, 20);
    sameBox(fitted("xMaxYMid slice"), 0, -10, 40, 30);
    sameBox(fitted("none"), 0, 0, 40, 20);
    CHECK(read("<svg viewBox='0 0 10 10'><rect width='10' height='10'/></svg>").notices.size() == 1);
}

TEST_CASE("svg in: shapes are what they are, circles stay arcs") {
    CHECK(circleOf(inside("<circle cx='50' cy='50' r='20'/>").items[0].pieces[0].outline, 1e-9)->radius == Approx(20));
    const auto area = [](const std::string& text) {
        const auto drawing = inside(text);
        REQUIRE(drawing.items.size() == 1);
        return areaOf(drawing.items[0].pieces[0].outline);
    };
    CHECK(area("<ellipse cx='50' cy='50' rx='20' ry='10'/>") == Approx(pi * 200).epsilon(1e-5));
    CHECK(area("<rect width='20' height='10' rx='2'/>") == Approx(200 - (4 - pi) * 4).epsilon(1e-9));
    CHECK(area("<rect width='20' height='10' rx='50' ry='1'/>") == Approx(200 - (4 - pi) * 10).epsilon(1e-5));
    CHECK(area("<polygon points='0,0 10,0 10,10'/>") == Approx(50));
    CHECK(area("<path d='M0 0h10v5h-10z'/>") == Approx(50));
    CHECK(area("<path d='M0 0h10v5h-10'/>") == Approx(50)); // the fill closes it
    for (const char* open : {"<line x1='1' y1='2' x2='5' y2='2' stroke='red'/>",
                             "<polyline points='0 0 5 5 9 1' fill='none' stroke='red'/>"})
        CHECK_FALSE(inside(open).items[0].pieces[0].outline.closed);
    // Openings by the fill rule.
    const std::string rings = "d='M0 0h30v30h-30zM10 10h10v10h-10z'";
    CHECK(inside("<path fill-rule='evenodd' " + rings + "/>").items[0].pieces[0].openings.size() == 1);
    CHECK(inside("<path " + rings + "/>").items[0].pieces[0].openings.empty());
    CHECK(inside("<path d='M0 0h30v30h-30zM10 10v10h10v-10z'/>").items[0].pieces[0].openings.size() == 1);
    CHECK(inside("<rect width='0' height='5'/><circle r='-1'/><path d=''/><polygon points='1'/>").items.empty());
}

TEST_CASE("svg in: transforms nest, the first is the outermost") {
    sameBox(inside("<g transform='translate(10,20)'><g transform='scale(2)'><rect width='5' height='5'/></g></g>"), 10,
            70, 20, 80);
    sameBox(inside("<rect width='10' height='5' transform='translate(50 50) rotate(90)'/>"), 45, 40, 50, 50);
    sameBox(inside("<rect width='10' height='5' transform='rotate(180 20 20)'/>"), 30, 60, 40, 65);
    sameBox(inside("<rect width='4' height='4' transform='matrix(1 0 0 2 10 0)'/>"), 10, 92, 14, 100);
    sameBox(inside("<rect width='10' height='10' transform='skewX(45)'/>"), 0, 90, 20, 100);
    const auto spoilt =
        inside("<rect width='4' height='4' transform='turn(3)'/><rect id='kept' width='4' height='4'/>");
    CHECK(spoilt.items.size() == 1);
    CHECK(spoilt.notices.size() == 1);
}

TEST_CASE("svg in: use, symbol and nested svg place what they name, groups become layers") {
    sameBox(inside("<defs><rect id='r' width='4' height='4'/></defs><use href='#r' x='10' y='10'/>"), 10, 86, 14, 90);
    sameBox(inside("<symbol id='s' viewBox='0 0 2 2'><rect width='2' height='2'/></symbol>"
                   "<use xlink:href='#s' x='20' y='0' width='10' height='10'/>"),
            20, 90, 30, 100);
    sameBox(inside("<svg x='10' y='10' width='20' height='20' viewBox='0 0 1 1'><rect width='1' height='1'/></svg>"),
            10, 70, 30, 90);
    const auto layers = inside("<g id='cut'><g id='deep'><rect id='a' width='1' height='1'/></g></g>"
                               "<g xmlns:k='k' k:label='score lines' id='g2'><rect width='1' height='1'/></g>"
                               "<rect id='loose' width='1' height='1'/>");
    REQUIRE(layers.items.size() == 3);
    CHECK(layers.items[0].layer == "cut");
    CHECK(layers.items[0].name == "a");
    CHECK(layers.items[1].layer == "score lines");
    CHECK(layers.items[2].layer == "drawing");
    const auto art = formats::withDrawing({}, layers).artwork;
    CHECK(art.items.size() == 3);
    CHECK(artwork::layerNamed(art, "score lines"));
    CHECK(inside("<use href='#nobody'/><use href='other.svg#a'/>").notices.size() == 2);
}

TEST_CASE("svg in: what is not shown is not cut, by attribute, style and sheet") {
    const char* box = "width='4' height='4'";
    for (const char* hidden : {"display='none'", "visibility='hidden'", "style='display: none'", "style='fill:none'",
                               "class='no'", "id='ghost'", "class='a no'", "fill='none'"}) {
        CAPTURE(hidden);
        CHECK(inside(fmt::format("<style>/* away */ .no, #ghost {{ display: none }}</style><rect {} {}/>", box, hidden))
                  .items.empty());
    }
    // Later and stronger rules win; visibility can be taken back, display cannot.
    CHECK(inside(fmt::format("<style>rect {{ display:none }} .yes {{ display:inline }}</style><rect {} class='yes'/>",
                             box))
              .items.size() == 1);
    CHECK(inside(fmt::format("<g visibility='hidden'><rect {} visibility='visible'/></g>", box)).items.size() == 1);
    CHECK(inside(fmt::format("<g display='none'><rect {} style='display:inline'/></g>", box)).items.empty());
    CHECK(inside(fmt::format("<rect {} fill='none' stroke='#f00'/>", box)).items.size() == 1);
    CHECK(inside("<text>Lantern</text><image/><text>again</text><path d='M0 0' clip-path='url(#c)'/>").notices.size() ==
          3);
}

TEST_CASE("svg in: what we write comes back as the same pieces on the same layers", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const Piece puppet{wound(test::curvedBlob(seed, {80, 60}, 50), true), {wound(circle({80, 60}, 6), false)}};
        const Piece fold{pathOf(test::ring("10,10 20,30 40,12"), false), {}};
        const auto text =
            formats::svgOf({{"cut", "#000000", {puppet}}, {"fold", "#ff0000", {fold}}}, {{0, 0}, {200, 150}});
        const auto back = read(text);
        REQUIRE(back.items.size() == 2);
        CHECK(back.items[0].layer == "cut");
        CHECK(back.items[1].layer == "fold");
        CHECK(distance(back.size, {200, 150}) < 1e-6);
        const auto same = [](const Path& a, const Path& b) {
            REQUIRE(a.segments.size() == b.segments.size());
            CHECK(a.closed == b.closed);
            for (std::size_t i = 0; i < a.segments.size(); ++i) {
                CHECK(a.segments[i].kind == b.segments[i].kind);
                CHECK(distance(a.segments[i].end, b.segments[i].end) < 1e-5);
            }
        };
        same(back.items[0].pieces.at(0).outline, puppet.outline);
        same(back.items[0].pieces.at(0).openings.at(0), puppet.openings[0]);
        same(back.items[1].pieces.at(0).outline, fold.outline);
    }
}

TEST_CASE("svg in: hostile files are refused with their place, or read in bounded time", "[fuzz]") {
    for (const char* no : {"", "moon", "<html><body/></html>", "\x89PNG\r\n", "<svg", "<?xml version='1.0'?>"}) {
        CAPTURE(no);
        const auto drawing = formats::drawingFromSvg(no);
        REQUIRE_FALSE(drawing);
        CHECK_FALSE(drawing.problem().what.empty());
        CHECK_FALSE(drawing.problem().mend.empty());
    }
    CHECK_FALSE(formats::drawingFromSvg("<svg><g id='a'><use href='#a'/></g></svg>"));
    CHECK_FALSE(formats::drawingFromSvg("<svg><symbol id='s'><use href='#s'/></symbol><use href='#s'/></svg>"));
    std::string deep = "<svg>", bomb = "<svg><defs><g id='b0'><rect width='1' height='1'/></g>";
    for (int i = 0; i < 100'000; ++i) deep += "<g>";
    CHECK_FALSE(formats::drawingFromSvg(deep));
    for (int i = 1; i < 30; ++i)
        bomb += fmt::format("<g id='b{0}'><use href='#b{1}'/><use href='#b{1}'/></g>", i, i - 1);
    CHECK_FALSE(formats::drawingFromSvg(bomb + "</defs><use href='#b29'/></svg>"));
    const auto cut = read("<svg width='10mm' height='10mm'><rect width='4' height='4'/><rect width='");
    CHECK(cut.items.size() == 1);
    CHECK_FALSE(cut.notices.empty());
    // Absurd numbers go, what is sound stays.
    CHECK(inside("<rect width='1e300' height='4'/><rect width='nan' height='4'/><path d='M0 0L1e99 0'/>"
                 "<circle r='3' transform='scale(1e30)'/><rect width='4' height='4'/>")
              .items.size() == 1);
    std::mt19937 random(9);
    const std::string sound =
        "<svg width='10mm' viewBox='0 0 9 9'><style>.a{fill:none}</style><g id='k' transform='rotate(5)'>"
        "<path class='a' d='M0 0h4v4z'/><use href='#k2'/></g><rect id='k2' rx='1' width='3' height='2'/></svg>";
    for (int i = 0; i < 4000; ++i) {
        std::string text = sound;
        for (unsigned k = 0; k < 1 + random() % 6; ++k)
            text[random() % text.size()] = "<>/='\"# .0-e(){}"[random() % 16];
        if (random() % 3 == 0) text.resize(random() % text.size());
        if (const auto drawing = formats::drawingFromSvg(text))
            for (const auto& item : drawing->items)
                for (const auto& piece : item.pieces) CHECK(isFinite(piece.outline.end()));
    }
}

TEST_CASE("svg in: clip paths are applied, nested ones too, to areas and to lines") {
    const auto clips =
        "<defs><clipPath id='half'><rect x='0' y='0' width='50' height='100'/></clipPath>"
        "<clipPath id='disc' transform='translate(10 0)'><circle cx='40' cy='50' r='20'/></clipPath></defs>";
    const auto area = [](const Drawing& d) {
        double sum = 0;
        for (const auto& item : d.items)
            for (const auto& piece : item.pieces) {
                sum += piece.outline.closed ? areaOf(piece.outline) : 0;
                for (const auto& opening : piece.openings) sum += areaOf(opening);
            }
        return sum;
    };
    const auto disc = inside(std::string(clips) + "<rect width='100' height='100' clip-path='url(#disc)'/>");
    CHECK(disc.notices.empty());
    CHECK(area(disc) == Approx(400 * pi));
    CHECK(disc.items[0].pieces[0].outline.segments[0].kind == Segment::Kind::arc);
    const auto both = inside(std::string(clips) + "<g style='clip-path:url(#half)'><g clip-path=\"url('#disc')\">"
                                                  "<rect width='100' height='100'/></g></g>");
    CHECK(area(both) == Approx(200 * pi));
    // A line comes in as what is left of it, a shape outside not at all, and what follows is not clipped.
    const auto line =
        inside(std::string(clips) + "<g clip-path='url(#disc)'><path d='M0 50h100' fill='none' stroke='#000'/>"
                                    "<rect x='90' y='90' width='5' height='5'/></g><rect width='3' height='3'/>");
    REQUIRE(line.items.size() == 2);
    CHECK(boundsOf(line.items[0].pieces[0]).low.x == Approx(30).margin(0.001));
    CHECK(boundsOf(line.items[0].pieces[0]).high.x == Approx(70).margin(0.001));
    CHECK(area(line) == Approx(9));
    // A clip path and a mask that name themselves, directly or not, end.
    const auto ring =
        inside("<clipPath id='a' clip-path='url(#b)'><rect width='50' height='50'/></clipPath><clipPath id='b' "
               "clip-path='url(#a)'><rect width='40' height='60'/></clipPath><mask id='m' "
               "mask='url(#m)'><rect width='50' height='50' fill='white' mask='url(#m)'/></mask><rect "
               "width='90' height='90' clip-path='url(#a)'/><rect width='80' height='80' mask='url(#m)'/>");
    CHECK(!ring.notices.empty());
    CHECK(boxOf(ring).width() <= 80);
    CHECK_FALSE(inside("<rect width='9' height='9' clip-path='url(#gone)'/>").notices.empty());
}

TEST_CASE("svg in: what crosses itself fills what its rule says, what is stroked keeps its line") {
    const auto pieces = [](const char* look) {
        const auto d = formats::drawingFromSvg(fmt::format(
            "<svg width='20mm' height='20mm' viewBox='0 0 20 20'><path {} d='M10 1L16 18L1 7H19L4 18Z'/></svg>", look));
        REQUIRE(d);
        REQUIRE(d->items.size() == 1);
        return d->items[0].pieces;
    };
    const auto solid = pieces("fill='#000'"), line = pieces("fill='#000' stroke='#f00'");
    REQUIRE(solid.size() == 1);
    CHECK(solid[0].outline.segments.size() == 10);
    CHECK(pieces("fill-rule='evenodd'").size() == 5);
    REQUIRE(line.size() == 1);
    CHECK(line[0].outline.segments.size() == 5);
    // The fill closes a single curve too; a single line has nothing to fill.
    const auto bow =
        formats::drawingFromSvg("<svg width='20mm' height='20mm' viewBox='0 0 20 20'><path d='M2 2C12 2 12 "
                                "18 2 18M15 2V18'/></svg>");
    REQUIRE(bow);
    REQUIRE(bow->items[0].pieces.size() == 2);
    CHECK(bow->items[0].pieces[0].outline.closed);
    CHECK(areaOf(bow->items[0].pieces[0].outline) == Approx(96));
}

TEST_CASE("svg in: strokes become outlines on request, with their ends and corners") {
    formats::SvgOptions options;
    options.strokesAsOutlines = true;
    const auto wide = [&](const char* more) {
        const auto d = formats::drawingFromSvg(
            fmt::format("<svg width='100mm' height='100mm' viewBox='0 0 50 50'><path d='M5 5h20v10' fill='none' "
                        "stroke='#000' stroke-width='2' {}/></svg>",
                        more),
            options);
        REQUIRE(d);
        REQUIRE(d->items.size() == 1);
        REQUIRE(d->items[0].pieces.size() == 1);
        return areaOf(d->items[0].pieces[0].outline);
    };
    // In mm: lines of 40 and 20, 4 wide; they share a square of 2 by 2, and the one outside it is what joins differ in.
    CHECK(wide("") == Approx(240).epsilon(1e-4));
    CHECK(wide("stroke-linejoin='bevel'") == Approx(239).margin(1)); // cut flat half a width from the corner
    CHECK(wide("stroke-linecap='square'") == Approx(256).epsilon(1e-4));
    CHECK(wide("style='stroke-linecap:round;stroke-linejoin:round'") == Approx(236 + 5 * pi).epsilon(1e-3));
    const auto dots = formats::drawingFromSvg(
        "<svg width='50mm' height='50mm' viewBox='0 0 50 50'><path d='M5 5zM15 5h0M25 5l0 0zM35 5' stroke='#000' "
        "stroke-width='2' stroke-linecap='round' fill='none'/></svg>",
        options);
    REQUIRE(dots);
    CHECK(dots->items[0].pieces.size() == 3);
    CHECK(wide("stroke-linejoin='round'") == Approx(236 + pi).epsilon(1e-3));
    const auto butt = formats::drawingFromSvg(
        "<svg width='50mm' height='50mm' viewBox='0 0 50 50'><path d='M5 5zM15 5h0M25 5h9' stroke='#000' "
        "stroke-width='2' stroke-linejoin='round' fill='none'/></svg>",
        options);
    REQUIRE(butt);
    CHECK(butt->items[0].pieces.size() == 1); // what has no length has no ends to be drawn
    // Two thousand parts of which some come together in a point: the union of these once never ended.
    const auto curls = formats::drawingFromSvg(
        "<svg width='200mm' height='200mm' viewBox='-50 -20 300 300'><path transform='translate(-5.29591) "
        "skewX(-13.7898)' d='M31.71 125.754A46.4727 32.9604 45.2 1083.1209 150.33q-22.0328 -52.53 -46.78 -51.62c-8.24 "
        "-58.62 -53.9 -10 4.35 -5.77l17.11,-12.08H97.87C140.709 24.4 40.75 143 73.52 30.75' style='fill:none;stroke:"
        "black;stroke-width:10.03;stroke-linecap:round;stroke-linejoin:bevel'/></svg>",
        options);
    REQUIRE(curls);
    CHECK(curls->items[0].pieces.size() == 1);
}

TEST_CASE("svg in: an embedded picture comes in where it lies, linked ones only from beside the drawing") {
    const std::string png =
        "iVBORw0KGgoAAAANSUhEUgAAAAIAAAABCAAAAADRSSBWAAAAC0lEQVR4nGNg+A8AAQIBAEK+vGgAAAAASUVORK5CYII=";
    const auto d =
        inside("<image x='10' y='20' width='40' height='40' xlink:href='data:image/png;base64," + png + "'/>");
    INFO((d.notices.empty() ? "" : d.notices[0].text));
    REQUIRE(d.pictures.size() == 1);
    // Twice as wide as high: fitted into the square, in its middle.
    const auto added = formats::withDrawing({}, d);
    REQUIRE(added.artwork.items.size() == 1);
    const Box box = artwork::boundsOf(added.artwork.items[0]);
    CHECK(box.low.x == Approx(10));
    CHECK(box.low.y == Approx(50));
    CHECK(box.width() == Approx(40));
    CHECK(box.height() == Approx(20));
    CHECK_FALSE(inside("<image width='9' height='9' href='data:image/png;base64,!!'/>").notices.empty());
    CHECK_FALSE(inside("<image width='9' height='9' href='heron.png'/>").notices.empty());
    const auto linked = formats::linkedIn(FERRO_DEMO);
    CHECK(linked("heron-ink.png").has_value());
    for (const char* name : {"/etc/hostname", "../README.md", "http://x/y.png", "", "none.png"})
        CHECK_FALSE(linked(name).has_value());
}

TEST_CASE("svg in: text is set in our faces where and as large as it says, and that is told") {
    const auto t =
        inside("<g id='sign'><text x='50' y='40' font-size='10' text-anchor='middle' font-family='Anything'>  HOI\n "
               "<tspan x='10' y='80' style='font-size:20px'>H</tspan></text></g>");
    REQUIRE(t.items.size() == 2);
    CHECK(t.items[0].layer == "sign");
    CHECK(t.items[0].pieces.size() == 3);
    Box box;
    for (const auto& piece : t.items[0].pieces) box.take(boundsOf(piece));
    CHECK(box.centre().x == Approx(50).margin(0.5));
    CHECK(box.low.y == Approx(60).margin(0.3)); // the baseline, y up
    CHECK(box.height() > 5);
    CHECK(box.height() < 9);
    CHECK(boundsOf(t.items[1].pieces[0]).height() == Approx(2 * boundsOf(t.items[0].pieces[0]).height()));
    CHECK(areaOf(t.items[0].pieces[1].outline) > 0);
    REQUIRE(t.items[0].pieces[1].openings.size() == 1);
    CHECK(areaOf(t.items[0].pieces[1].openings[0]) < 0);
    REQUIRE(t.notices.size() == 1);
    CHECK(t.notices[0].text.find("instead of “Anything”") != std::string::npos);
}

TEST_CASE("svg in: what drawing programs write comes in where it lies") {
    struct Known {
        const char *what, *body;
        std::size_t pieces;
        double x0, y0, x1, y1; ///< y down, as the drawing has it
    };
    const Known all[] = {
        {"descendants and children",
         "<style>g .a{display:none} g>rect.b.c{transform:translate(10px,0)}</style><g><rect class='a' width='5' "
         "height='5'/><rect class='b c' x='10' y='10' width='10' height='10'/></g>",
         1, 20, 10, 30, 20},
        {"important outdoes the element's own",
         "<style>#k{display:none !important}</style><rect id='k' style='display:inline' width='9' height='9'/><rect "
         "x='1' y='1' width='5' height='5'/>",
         1, 1, 1, 6, 6},
        {"other media and imports",
         "<style>@import url(x.css); @media print { rect{display:none} .b{fill:red} } rect{}</style><rect x='1' y='1' "
         "width='5' height='5'/>",
         1, 1, 1, 6, 6},
        {"attributes and what is not so",
         "<style>rect[id='q'],rect:not(.z)[width^='7']{display:none}</style><rect id='q' width='9' height='9'/><rect "
         "width='77' height='9'/><rect class='z' x='1' y='1' width='7' height='5'/>",
         1, 1, 1, 8, 6},
        {"neighbours", "<style>rect + rect{display:none}</style><rect x='1' y='1' width='5' height='5'/><rect/>", 1, 1,
         1, 6, 6},
        {"hidden group, visible child",
         "<g visibility='hidden'><rect width='5' height='5'/><rect visibility='visible' x='11' y='1' width='5' "
         "height='5'/></g>",
         1, 11, 1, 16, 6},
        {"a view of its own",
         "<svg x='10' y='10' width='40' height='20' viewBox='0 0 10 10'><rect width='10' "
         "height='10'/></svg>",
         1, 20, 10, 40, 30},
        {"a view that slices is a window",
         "<svg x='10' y='10' width='40' height='20' viewBox='0 0 10 10' preserveAspectRatio='xMinYMin slice'><rect "
         "width='10' height='10'/></svg>",
         1, 10, 10, 50, 30},
        {"unless it overflows",
         "<svg x='10' y='10' width='10' height='10' overflow='visible'><rect width='30' height='10'/></svg>", 1, 10, 10,
         40, 20},
        {"a symbol in its use",
         "<symbol id='s' viewBox='0 0 10 20'><rect width='10' height='20'/></symbol><use xlink:href='#s' x='10' "
         "y='10' width='30' height='30'/>",
         1, 17.5, 10, 32.5, 40},
        {"uses of uses",
         "<defs><rect id='a' width='10' height='10'/><g id='b'><use href='#a' x='20'/></g></defs><use href='#b' "
         "y='5'/><use href='#b' y='35'/>",
         2, 20, 5, 30, 45},
        {"transforms of a sheet",
         "<rect width='10' height='10' style='transform:translate(20px,20px) rotate(0.25turn)'/>", 1, 10, 20, 20, 30},
        {"about a place",
         "<rect x='30' y='10' width='10' height='20' style='transform:rotate(90deg);transform-origin:30px 10px'/>", 1,
         10, 10, 30, 20},
        {"a clip in shares of its object",
         "<clipPath id='c' clipPathUnits='objectBoundingBox'><rect width='0.5' height='1'/></clipPath><rect x='10' "
         "y='10' width='40' height='20' clip-path='url(#c)'/>",
         1, 10, 10, 30, 30},
        {"a clipped group that is moved",
         "<clipPath id='c'><rect width='20' height='20'/></clipPath><g clip-path='url(#c)' "
         "transform='translate(10 0)'><rect x='10' y='10' width='40' height='20'/></g>",
         1, 20, 10, 30, 20},
        {"a mask",
         "<mask id='m'><rect width='20' height='20' fill='#fff'/><rect width='15' height='90' "
         "fill='black'/></mask><rect "
         "x='10' y='10' width='40' height='20' mask='url(#m)'/>",
         1, 15, 10, 20, 20},
        {"what is only there to be used",
         "<defs><rect width='9' height='9'/></defs><marker><rect width='9' height='9'/></marker><pattern><rect "
         "width='9' height='9'/></pattern><rect x='1' y='1' width='5' height='5'/>",
         1, 1, 1, 6, 6},
        {"one of a switch",
         "<switch><foreignObject/><g><rect x='1' y='1' width='5' height='5'/></g><g><rect width='50' "
         "height='50'/></g></switch>",
         1, 1, 1, 6, 6},
        {"ems of the font", "<g font-size='10'><rect x='1em' y='0' width='2em' height='1ex'/></g>", 1, 10, 0, 30, 5},
        {"shares of the page", "<rect x='10%' y='10%' width='50%' height='25%'/>", 1, 10, 10, 60, 35},
        {"an odd number of coordinates", "<polygon points='10,10 20,10 20,20 7'/>", 1, 10, 10, 20, 20},
    };
    for (const auto& known : all) {
        CAPTURE(known.what);
        const auto drawing = inside(known.body);
        std::size_t pieces = 0;
        for (const auto& item : drawing.items) pieces += item.pieces.size();
        CHECK(pieces == known.pieces);
        sameBox(drawing, known.x0, 100 - known.y1, known.x1, 100 - known.y0);
    }
    // Names that a file gives its name space and its styles.
    const auto named = read("<!DOCTYPE svg [<!ENTITY ns 'http://www.w3.org/2000/svg'>]><s:svg xmlns:s='&ns;' "
                            "width='100mm' height='100mm' viewBox='0 0 100 100'><s:g><s:rect x='1' y='1' width='5' "
                            "height='5'/></s:g></s:svg>");
    sameBox(named, 1, 94, 6, 99);
    const auto nothing = inside("<rect fill='none' width='5' height='5'/><rect fill='none' width='6' height='5'/>");
    REQUIRE(nothing.notices.size() == 1);
    CHECK(nothing.notices[0].text.find("2 shapes") == 0);
}

TEST_CASE("svg in: a layer has the colour that all on it share") {
    const auto d =
        inside("<g id='cut' stroke='#F00' fill='none'><rect width='5' height='5'/><rect width='6' height='5'/></g>"
               "<g id='mixed' fill='none'><rect stroke='red' width='5' height='5'/><rect stroke='blue' width='6' "
               "height='5'/></g><g id='plain'><rect width='5' height='5'/></g>"
               "<g id='score' style='stroke:rgb(0, 50%, 255);fill:none'><path d='M0 0h9'/></g>");
    REQUIRE(d.looks.size() == 2);
    CHECK(d.looks[0].layer == "cut");
    CHECK(d.looks[0].colour == "#ff0000");
    CHECK(d.looks[1].colour == "#0080ff");
}

TEST_CASE("svg in: words in spans follow each other, letters stand where each is put, or along a path") {
    const auto boxes = [](const Drawing& d) {
        std::vector<Box> out;
        for (const auto& item : d.items) {
            out.emplace_back();
            for (const auto& piece : item.pieces) out.back().take(boundsOf(piece));
        }
        return out;
    };
    const auto row = boxes(inside("<text x='10' y='40' font-size='10'>HI <tspan font-size='20'>HO</tspan> HI</text>"));
    REQUIRE(row.size() == 3);
    CHECK(row[1].low.x > row[0].high.x + 1);
    CHECK(row[2].low.x > row[1].high.x + 1);
    CHECK(row[2].high.x - row[2].low.x == Approx(row[0].high.x - row[0].low.x));
    for (const auto& box : row) CHECK(box.low.y == Approx(60).margin(0.4));
    const auto apart = boxes(inside("<text x='10 30 50' y='40' font-size='10'>HHH</text>"));
    REQUIRE(apart.size() == 3);
    for (std::size_t i = 1; i < 3; ++i) CHECK(apart[i].low.x - apart[i - 1].low.x == Approx(20).margin(1e-6));
    // Round the upper half of a ring, its middle at the top: tops outward, the same to either side.
    const auto along = inside("<path id='ring' d='M20 50A30 30 0 0 1 80 50' fill='none'/><text font-size='8' "
                              "text-anchor='middle'><textPath href='#ring' startOffset='50%'>OHO</textPath></text>");
    const Box box = boxOf(along);
    CHECK(box.centre().x == Approx(50).margin(0.3));
    CHECK(box.high.y > 80);
    CHECK(box.high.y < 80 + 8);
    REQUIRE(along.items.size() == 1);
    for (const auto& piece : along.items[0].pieces)
        CHECK(distance(boundsOf(piece).centre(), {50, 50}) == Approx(30 + 8 * 0.35).margin(1));
}

TEST_CASE("svg in: a text in a face that is there is set in it and needs no notice, another is told") {
    formats::SvgOptions options;
    std::vector<std::string> asked;
    options.face = [&](std::string_view family, bool bold, bool italic) -> std::optional<std::string> {
        asked.push_back(std::string(family) + (bold ? " bold" : "") + (italic ? " italic" : ""));
        if (family.find("Lantern") == std::string_view::npos || italic) return std::nullopt;
        return std::string(FERRO_TESTS) + "/../src/app/fonts/B612-Regular.otf";
    };
    const auto text = [&](const char* style) {
        const auto d =
            formats::drawingFromSvg(fmt::format("<svg width='100mm' height='100mm' viewBox='0 0 100 100'><text x='10' "
                                                "y='50' font-size='20' style='{}'>HO</text></svg>",
                                                style),
                                    options);
        REQUIRE(d);
        REQUIRE(d->items.size() == 1);
        return *d;
    };
    const auto own = text("font-family:Rust, Lantern Sans, serif;font-weight:700");
    CHECK(own.notices.empty());
    REQUIRE(asked.size() == 2);
    CHECK(asked[0] == "Rust bold");
    const auto ours = text("font-family:Rust");
    REQUIRE(ours.notices.size() == 1);
    CHECK(ours.notices[0].text.find("instead of “Rust”") != std::string::npos);
    CHECK(boxOf(own).width() != Approx(boxOf(ours).width()).epsilon(0.01)); // another face
    CHECK(boxOf(own).low.y == Approx(50).margin(0.6));
    asked.clear();
    const auto upright = text("font-family:Lantern;font-style:italic");
    CHECK(asked == std::vector<std::string>{"Lantern italic", "Lantern"});
    REQUIRE(upright.notices.size() == 1);
    CHECK(upright.notices[0].text.find("set upright") != std::string::npos);
    const auto find = formats::installedFaces();
    CHECK_FALSE(find("", false, false));
    CHECK_FALSE(find("No Such Face At All", true, false));
}

TEST_CASE("svg in: strokes as outlines have the joins, limits and dashes that they are drawn with") {
    const auto area = [](const char* style, bool outlines, std::string* said = nullptr) {
        formats::SvgOptions options;
        options.strokesAsOutlines = outlines;
        const auto d = formats::drawingFromSvg(
            fmt::format("<svg width='100mm' height='100mm' viewBox='0 0 100 100'><path d='M10 10H50V50' fill='none' "
                        "stroke='#000' stroke-width='4' style='{}'/></svg>",
                        style),
            options);
        REQUIRE(d);
        if (said)
            for (const auto& n : d->notices) *said += n.text;
        double sum = 0;
        for (const auto& item : d->items)
            for (const auto& piece : item.pieces) sum += areaOf(piece.outline);
        return sum;
    };
    CHECK(area("", true) == Approx(320));
    CHECK(area("stroke-linejoin:bevel", true) == Approx(318));
    CHECK(area("stroke-miterlimit:1.2", true) == Approx(318));
    CHECK(area("stroke-linejoin:round", true) == Approx(316 + pi).margin(0.02));
    CHECK(area("stroke-dasharray:20 5", true) == Approx(260)); // the corner lies in a dash
    CHECK(area("stroke-dasharray:10,10;stroke-linecap:square", true) == Approx(4 * 4 * 14));
    std::string said;
    area("stroke-dasharray:10 5", false, &said);
    CHECK(said.find("drawn through") != std::string::npos);
    // As attributes too; what is not drawn is told.
    formats::SvgOptions options;
    options.strokesAsOutlines = true;
    const auto d = formats::drawingFromSvg("<svg width='100mm' height='100mm' viewBox='0 0 100 100'><path d='M10 "
                                           "10H50' stroke='#000' stroke-width='4' fill='none' "
                                           "stroke-dasharray='10 10' stroke-dashoffset='5' "
                                           "marker-end='url(#arrow)'/><path d='M10 50h20v5 X 9' fill='none' "
                                           "stroke='#000'/></svg>",
                                           options);
    REQUIRE(d);
    REQUIRE(d->items.size() == 2);
    CHECK(d->items[0].pieces.size() == 3);                         // 5, 10, 5
    CHECK(boundsOf(d->items[1].pieces[0]).high.y == Approx(50.5)); // up to where it is spoilt
    REQUIRE(d->notices.size() == 2);
    CHECK(d->notices[0].text.find("Markers") != std::string::npos);
    CHECK(d->notices[1].text.find("“X” is no path command") != std::string::npos);
}

TEST_CASE("svg in: lines of several colours that lie on no layer become a layer each, named by it") {
    const auto drawing =
        read(R"svg(<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="90mm" viewBox="0 0 90 90">
        <g fill="none"><rect x="5" y="5" width="40" height="30" stroke="#f00"/><path d="M10 10h20" stroke="blue"/>
        <circle cx="70" cy="50" r="10" style="stroke:rgb(255,0,0)"/><path d="M60 80h9" stroke="#123456"/></g>
        <g id="holes" fill="none" stroke="lime"><circle cx="20" cy="70" r="4"/></g>
        <path d="M80 80h5v5z"/></svg>)svg");
    std::vector<std::string> layers;
    for (const auto& item : drawing.items) layers.push_back(item.layer);
    CHECK(layers == std::vector<std::string>{"red", "blue", "red", "#123456", "holes", "drawing"});
    const auto look =
        std::find_if(drawing.looks.begin(), drawing.looks.end(), [](const auto& l) { return l.layer == "red"; });
    REQUIRE(look != drawing.looks.end());
    CHECK(look->colour == "#ff0000");
    const auto one = read(R"svg(<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="90mm" viewBox="0 0 90 90">
        <path d="M10 10h20" stroke="blue"/><path d="M10 20h20" stroke="blue"/></svg>)svg");
    CHECK(one.items[0].layer == "drawing"); // one colour tells nothing apart
}

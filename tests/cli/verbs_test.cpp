#include "artwork/choose.h"
#include "artwork/copies.h"
#include "cli/verbs.h"
#include "geometry/points.h"
#include "support/failing_disk.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;

namespace {
std::vector<std::string> words(const std::string& line) {
    std::vector<std::string> out;
    std::string word;
    bool quoted = false;
    for (const char c : line + " ")
        if (c == '\'')
            quoted = !quoted;
        else if (c != ' ' || quoted)
            word += c;
        else if (!word.empty())
            out.push_back(std::exchange(word, {}));
    return out;
}
job::Job after(const job::Job& job, const std::string& line) {
    auto next = cli::applied(job, words(line), book());
    INFO(line << ": " << (next ? "" : next.problem().text()));
    REQUIRE(next);
    return *next;
}
std::string refusal(const job::Job& job, const std::string& line) {
    const auto next = cli::applied(job, words(line), book());
    INFO(line);
    REQUIRE_FALSE(next);
    return next.problem().text();
}
const artwork::Item& only(const job::Job& job) {
    REQUIRE(job.artwork->items.size() == 1);
    return job.artwork->items[0];
}
Box boxOf(const job::Job& job) { return artwork::boundsOf(only(job)); }
} // namespace

TEST_CASE("verbs: drawing, moving, sizing, turning are exact and take units and arithmetic") {
    const auto start = fresh();
    auto job = after(start, "rectangle 10 20 2in 30/2 panel 3");
    CHECK(boxOf(job) == Box{{10, 20}, {60.8, 35}});
    CHECK(artwork::layerNamed(*job.artwork, "panel"));
    job = after(job, "move all 5 -2.5mm");
    CHECK(boxOf(job).low == Vec2{15, 17.5});
    job = after(job, "place layer:pan* 100 100");
    CHECK(boxOf(job).low == Vec2{100, 100});
    job = after(job, "size all 101.6 0");
    CHECK(boxOf(job).height() == Approx(30));
    job = after(job, "scale all 50");
    CHECK(boxOf(job).width() == Approx(50.8));
    job = after(job, "turn all 90");
    CHECK(boxOf(job).height() == Approx(50.8));
    job = after(job, "mirror all x + mirror all y + original-size all");
    CHECK(boxOf(job).height() == Approx(50.8));
    CHECK(boxOf(after(start, "circle 50 50 8")).width() == Approx(8));
    CHECK(artwork::shapeOf(only(after(start, "point 5 6")))->piece.outline.segments.empty());
    const auto rings = after(start, "path 'M0 0H40V40H0Z M10 10H20V20H10Z' cut frame");
    CHECK(artwork::shapeOf(only(rings))->piece.openings.size() == 1);
    CHECK(only(rings).name == "frame");
    CHECK(after(start, "units inch + rectangle 1 1 2 2").artwork->items.size() == 1);
    CHECK(boxOf(after(start, "units inch + rectangle 1 1 2 2")).low.x == Approx(25.4));
}

TEST_CASE("verbs: groups, layers, names, flags, copies, by number, layer or name") {
    auto job = after(fresh(), "circle 20 20 10 holes + circle 50 20 10 holes + rectangle 80 10 20 20 cut");
    const auto id = [&](std::size_t i) { return std::to_string(job.artwork->items[i].id.value); };
    job = after(job, "group layer:holes pair");
    CHECK(job.artwork->groups.size() == 1);
    job = after(job, "ungroup " + id(0));
    CHECK(job.artwork->groups.empty());
    job = after(job, "rename " + id(2) + " plate + layer name:plate edges");
    CHECK(artwork::find(*job.artwork, job.artwork->items[2].layer)->name == "edges");
    job = after(job, "duplicate " + id(0) + "," + id(1) + " 0 40");
    CHECK(job.artwork->items.size() == 5);
    job = after(job, "lock name:plate on");
    CHECK(refusal(job, "delete name:plate").find("lock") != std::string::npos);
    job = after(job, "lock name:plate off + hide name:plate on");
    CHECK(artwork::isHidden(*job.artwork, job.artwork->items[2]));
    job = after(job, "delete layer:holes");
    CHECK(job.artwork->items.size() == 1);
}

TEST_CASE("verbs: sheet, machine, clamps and steps") {
    auto job = after(fresh(), "stock width=300 height=8in thickness=6 zero=centre zero-at=bottom spacer=2");
    CHECK(job.sheet().stock.height == Approx(203.2));
    CHECK(job.sheet().stock.corner == job::ZeroCorner::centre);
    CHECK(job.sheet().stock.zeroAt == job::ZeroHeight::bottom);
    job = after(job, "machine mill-1200 + material acrylic + clearance 7 + name 'Lantern row' + dialect mill-inch");
    CHECK(job.machine.key == "mill-1200");
    CHECK(job.material.key == "acrylic");
    CHECK(job.name == "Lantern row");
    CHECK(job::travelHeight(job) == 7);
    job = after(job, "clamp 0 0 20 30 15 + clamp 40 0 20 30 15 + unclamp 1");
    REQUIRE(job.sheet().clamps.size() == 1);
    CHECK(job.sheet().clamps[0].area.low.x == 40);
    job = after(job, "rectangle 50 50 100 60 cut + step outline Edges end-3 + set Edges feed=700 'role=outer edges' + "
                     "step drill Holes + shift Holes 1");
    CHECK(job.plan.steps[0].name == "Holes");
    CHECK(plan::ratesIn(job.plan.steps[1])->feed == 700);
    job = after(job, "reset Edges feed + order automatic + take Edges layer:cut");
    CHECK(job.plan.steps[1].rule.items.size() == 1);
    job = after(job, "take Edges rule + drop Holes");
    CHECK(job.plan.steps.size() == 1);
    CHECK(job.plan.steps[0].rule.items.empty());
}

TEST_CASE("verbs: what is wrong is told by its place, and every verb has a usage and a help") {
    const auto job = after(fresh(), "rectangle 10 10 50 50 cut + step outline Edges");
    const std::pair<const char*, const char*> wrong[] = {{"rectangle 1 1 0 5", "size above 0"},
                                                         {"circle 1 1 x", "circle"},
                                                         {"place nothing 1 1", "nothing"},
                                                         {"move layer:none 1 1", "answers to"},
                                                         {"mirror all z", "Mirror"},
                                                         {"lock all maybe", "on or off"},
                                                         {"stock depth=3", "depth"},
                                                         {"stock zero=middle", "lower-left"},
                                                         {"units cubits", "mm or inch"},
                                                         {"set Edges", "set"},
                                                         {"set Edges feed", "name=value"},
                                                         {"set 99 feed=1", "99"},
                                                         {"shift Edges here", "here"},
                                                         {"step carve", "Use one of: outline, "},
                                                         {"clearance 0", "clearance"},
                                                         {"picture /nowhere.png", "nowhere"},
                                                         {"trace all", "no picture"},
                                                         {"fly", "fly"}};
    for (const auto& [line, told] : wrong) {
        CAPTURE(line, refusal(job, line));
        CHECK(refusal(job, line).find(told) != std::string::npos);
    }
    for (const auto& verb : cli::verbs()) {
        CHECK_FALSE(verb.help.empty());
        if (verb.least > 0) CHECK(refusal(job, std::string(verb.name)).find(verb.usage) != std::string::npos);
    }
}

TEST_CASE("verbs: a picture is placed at its size, traced and accepted") {
    auto job = after(fresh(), std::string("picture '") + FERRO_DEMO + "/heron-ink.png'");
    CHECK(boxOf(job).width() == Approx(1213 / 8.2).epsilon(1e-3));
    job = after(fresh(), std::string("picture '") + FERRO_DEMO +
                             "/heron-ink.png' 74mm + trace name:heron* speck=0.4 layer=bird");
    CHECK(job.artwork->items.size() == 3);
    CHECK(job.artwork->items[0].underlay);
    CHECK(refusal(job, "trace name:heron-ink.png level=900").find("level") != std::string::npos);
}

TEST_CASE("verbs: shapes are drawn between two places, and what cannot be is refused") {
    const auto start = fresh();
    CHECK(boxOf(after(start, "shape ellipse 10 10 3in 30")).width() == Approx(66.2));
    CHECK(boxOf(after(start, "shape slot 10 10 40 10 width=8 layer=slots")) == Box{{6, 6}, {44, 14}});
    CHECK(artwork::shapeOf(only(after(start, "shape star 50 50 50 80 corners=7 inner=0.4")))
              ->piece.outline.segments.size() == 14);
    CHECK(boxOf(after(start, "shape arc 0 10 30 10 rise=-5")).low.y == Approx(5));
    CHECK(refusal(start, "shape blob 1 1 2 2").find("rectangle") != std::string::npos);
    CHECK(refusal(start, "shape polygon 1 1 2 2 corners=2").find("3 to 360") != std::string::npos);
    CHECK(refusal(start, "shape line 1 1 2 2 rust=2").find("rust") != std::string::npos);
    CHECK(refusal(start, "shape rectangle 1 1 1 9").find("no area") != std::string::npos);
}

TEST_CASE("verbs: points are edited by their numbers, ends joined, and nonsense is refused with a reason") {
    const auto plate = after(fresh(), "rectangle 0 0 40 20 cut");
    const auto outline = [](const job::Job& job) { return artwork::placed(job.artwork->items.at(0)).outline; };
    CHECK(boxOf(after(plate, "points all 2,3 move 0 1in")).height() == Approx(45.4));
    CHECK(outline(after(plate, "points all 1 take-out")).segments.size() == 3);
    CHECK(boxOf(after(plate, "points all 0 bend 20 -8")).low.y == Approx(-8));
    CHECK(pointOf(outline(after(plate, "points all 0 add 0.25")), 1) == Vec2{10, 0});
    CHECK(isSmoothAt(outline(after(plate, "points all 1-2 smooth")), 2));
    CHECK(outline(after(plate, "points all all handles + points all all straight")) == outline(plate));
    const auto parted = after(plate, "points all 0,2 part");
    REQUIRE(parted.artwork->items.size() == 2);
    const auto a = parted.artwork->items[0].id.value, b = parted.artwork->items[1].id.value;
    const auto whole = after(parted, fmt::format("join-ends {}/end {}/start + join-ends {}/start {}/end", a, b, a, a));
    CHECK(outline(only(whole).id == only(plate).id ? whole : plate).closed);
    CHECK(areaOf(outline(whole)) == Approx(800));
    CHECK(refusal(plate, "points all 9 move 1 1").find("no point 9") != std::string::npos);
    CHECK(refusal(plate, "points all 5-2 move 1 1").find("5-2") != std::string::npos);
    CHECK(refusal(plate, "points all 1 rust").find("take-out") != std::string::npos);
    CHECK(refusal(parted, fmt::format("join-ends {} {}", a, b)).find("3/start") != std::string::npos);
    CHECK(refusal(plate, fmt::format("join-ends {0}/start {0}/end", only(plate).id.value)).find("open line") !=
          std::string::npos);
}

TEST_CASE("verbs: sheets, copies and facts of parts") {
    auto job = after(fresh(), "rectangle 10 10 60 40 cut + circle 120 40 30 cut");
    const auto wing = job.artwork->items[0].id.value, lantern = job.artwork->items[1].id.value;
    job = after(job, fmt::format("sheet-add 'off cut' + stock width=200 thickness=4 + lay {} 'off cut'", lantern));
    REQUIRE(job.sheets.size() == 2);
    CHECK(job.sheet().name == "off cut");
    CHECK(job.sheet().stock.width == 200);
    CHECK(job.sheets[0].stock.width == 600);
    // "all" is what lies on the sheet at hand.
    job = after(job, "move all 0 5");
    CHECK(artwork::boundsOf(job.artwork->items[1]).low.y == Approx(30));
    CHECK(artwork::boundsOf(job.artwork->items[0]).low.y == Approx(10));
    job = after(job, fmt::format("sheet-at 1 + copies {} 0 60 3 + part all quantity=4 turns=quarter mirror=on "
                                 "labels=act2,left priority=filler thickness=1/2in material=acrylic",
                                 wing));
    CHECK(artwork::everything(*job.artwork).size() == 4);
    const auto& part = artwork::partOf(*job.artwork, job.artwork->items[4]);
    CHECK(part == artwork::Part{.quantity = 4,
                                .material = "acrylic",
                                .thickness = 12.7,
                                .turns = artwork::Turns::quarter,
                                .mirror = true,
                                .priority = artwork::Priority::filler,
                                .labels = {"act2", "left"}});
    // Half of the original's width is half of each copy's.
    job = after(job, fmt::format("own {} + sheet-name 1 big + sheet-shift big 2", job.artwork->items[4].id.value));
    CHECK(job.sheets[1].name == "big");
    CHECK_FALSE(job.artwork->items[4].of);
    job = after(job, "sheet-at beside + sheet-drop big");
    CHECK(artwork::everything(*job.artwork).size() == 4);
    using Catch::Matchers::Contains;
    CHECK_THAT(refusal(job, "sheet-at 7"), Contains("“7”"));
    CHECK_THAT(refusal(job, "sheet-drop 1"), Contains("last sheet"));
    CHECK_THAT(refusal(job, "lay all nowhere"), Contains("nowhere"));
    CHECK_THAT(refusal(job, "part all quantity=0"), Contains("0 times"));
    CHECK_THAT(refusal(job, "part all turns=third"), Contains("any, none, half, quarter"));
    CHECK_THAT(refusal(job, "part all colour=red"), Contains("colour"));
    CHECK_THAT(refusal(job, "part all material=cheese"), Contains("cheese"));
}

TEST_CASE("verbs: a layer's facts are set at once, and a step that takes it by its name goes on taking it") {
    auto job =
        after(fresh(), "rectangle 10 10 60 40 cut + circle 120 40 30 old + step outline + set 1 'layers=old, p*'");
    job = after(job, "layer-set old name=new colour=#9e3f22 hidden=on notes=on + layer-set new hidden=off notes=off");
    const auto* layer = artwork::layerNamed(*job.artwork, "new");
    REQUIRE(layer);
    CHECK(layer->colour == "#9e3f22");
    CHECK_FALSE(layer->hidden);
    CHECK(job.plan.steps[0].rule.layers == std::vector<std::string>{"new", "p*"});
    CHECK(artwork::find(*job.artwork, job.artwork->items[1].layer)->name == "new");
    job = after(job, "layer-add props");
    CHECK(artwork::layerNamed(*job.artwork, "props"));
    job = after(job, "layer-drop props");
    CHECK_FALSE(artwork::layerNamed(*job.artwork, "props"));
    using Catch::Matchers::Contains;
    CHECK_THAT(refusal(job, "layer-drop cut"), Contains("A piece still lies"));
    CHECK_THAT(refusal(job, "layer-set cut name=new"), Contains("already"));
    CHECK_THAT(refusal(job, "layer-set cut name="), Contains("needs a name"));
    CHECK_THAT(refusal(job, "layer-set cut name=a*b"), Contains("cannot be called"));
    CHECK_THAT(refusal(job, "layer-set cut colour=red"), Contains("no colour"));
    CHECK_THAT(refusal(job, "layer-set cut size=3"), Contains("no “size”"));
    CHECK_THAT(refusal(job, "layer-set gone locked=on"), Contains("cut, new"));
    CHECK_THAT(refusal(job, "layer-add cut"), Contains("already"));
}

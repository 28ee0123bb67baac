#include "artwork/edits.h"
#include "plan/fields.h"
#include "plan/selection.h"
#include "support/shapes.h"

using namespace ferro;
using namespace ferro::plan;

namespace {

artwork::Artwork with(const artwork::Artwork& art, std::vector<Piece> pieces, const char* layer) {
    return artwork::withPieces(art, std::move(pieces), layer, layer).artwork;
}
Step step(std::uint32_t id, std::string_view kind, std::vector<std::string> layers = {}, Role role = Role::any) {
    Step s;
    s.id = {id};
    s.settings = kindNamed(kind)->fresh();
    s.rule.layers = std::move(layers);
    s.rule.role = role;
    return s;
}
const shop::Tool drill8{.key = "drill-8", .name = "Drill 8", .kind = shop::ToolKind::drill, .diameter = 8};

/// A panel with a window in which an island lies, a hole beside it, a swag across it, all drawn as separate items.
artwork::Artwork panel() {
    artwork::Artwork art;
    art = with(art, {{rectangle({0, 0}, {200, 100}), {}}}, "panel");
    art = with(art, {{rectangle({20, 20}, {100, 80}), {}}}, "panel");
    art = with(art, {{rectangle({40, 40}, {60, 60}), {}}}, "panel");
    art = with(art, {{circle({150, 50}, 4), {}}}, "holes");
    art = with(art, {{pathOf(test::ring("110,10 190,90"), false), {}}}, "swags");
    return art;
}

} // namespace

TEST_CASE("plan: roles come from nesting across items, whatever way the outlines were drawn") {
    for (const bool turned : {false, true}) {
        auto art = panel();
        if (turned)
            for (auto& item : art.items) {
                auto piece = artwork::shapeOf(item)->piece;
                piece.outline = reversed(piece.outline);
                item.leaf = artwork::leafOf(piece);
            }
        const auto contours = contoursOf({}, art);
        REQUIRE(contours.size() == 5);
        const Role wanted[] = {Role::outerEdges, Role::openings, Role::outerEdges, Role::openings, Role::openLines};
        const int depths[] = {0, 1, 2, 1, 1}, parents[] = {-1, 0, 1, 0, 0};
        for (std::size_t i = 0; i < 5; ++i) {
            CAPTURE(turned, i);
            CHECK(contours[i].role == wanted[i]);
            CHECK(contours[i].depth == depths[i]);
            CHECK(contours[i].parent == parents[i]);
            if (contours[i].path.closed)
                CHECK((areaOf(contours[i].path) > 0) == (contours[i].role == Role::outerEdges));
        }
        REQUIRE(contours[3].circle);
        CHECK(contours[3].circle->radius == Approx(4));
        CHECK_FALSE(contours[0].circle);
    }
}

TEST_CASE("plan: what only a scribe takes is decoration and turns nothing inside out") {
    artwork::Artwork art = with(panel(), {{rectangle({5, 5}, {195, 95}), {}}}, "frame");
    Plan plan;
    plan.steps = {step(1, "scribe", {"frame"}), step(2, "outline", {"panel"})};
    CHECK(contoursOf(plan, art)[1].role == Role::openings);
    plan.steps.push_back(step(3, "outline", {"frame"}));
    CHECK(contoursOf(plan, art)[1].role == Role::outerEdges); // now the frame is cut, and the window lies on its part
}

TEST_CASE("plan: a step takes by layer, role, size and name, drills take what fits and outlines leave that") {
    const auto art = panel();
    Plan plan;
    plan.steps = {step(1, "drill"), step(2, "outline", {}, Role::openings),
                  step(3, "outline", {"pan*"}, Role::outerEdges), step(4, "scribe", {"SWAGS"}), step(5, "outline")};
    plan.steps[0].tool = "drill-8";
    const auto take = [&] { return takenBy(plan, contoursOf(plan, art), {drill8}); };
    auto taken = take();
    CHECK(taken[0] == std::vector<std::size_t>{3});
    CHECK(taken[1] == std::vector<std::size_t>{1});
    CHECK(taken[2] == std::vector<std::size_t>{0, 2});
    CHECK(taken[3] == std::vector<std::size_t>{4});
    CHECK(taken[4] == std::vector<std::size_t>{0, 1, 2}); // no open line unless it is asked for
    plan.steps[0].enabled = false;
    CHECK(take()[1] == std::vector<std::size_t>{1, 3}); // a drill that does not run leaves its holes
    plan.steps[2].rule.above = 50;
    CHECK(take()[2] == std::vector<std::size_t>{0});
    plan.steps[2].rule.above = 0;
    plan.steps[2].rule.below = 50;
    CHECK(take()[2] == std::vector<std::size_t>{2});
    plan.steps[2].rule.below = 0;
    plan.steps[2].rule.items = {art.items[1].id};
    plan.steps[2].rule.role = Role::any;
    CHECK(take()[2] == std::vector<std::size_t>{1});
    auto hidden = art;
    hidden.items[1].hidden = true;
    CHECK(contoursOf(plan, hidden).size() == 4);
}

TEST_CASE("plan: layer patterns") {
    CHECK(matches("*", ""));
    CHECK(matches("panel", "PANEL"));
    CHECK(matches("pan*el", "panel"));
    CHECK(matches("*a*e*", "panel"));
    CHECK(matches("a*b*c", "aXbXbXc"));
    CHECK_FALSE(matches("", "x"));
    CHECK_FALSE(matches("pan", "panel"));
    CHECK_FALSE(matches("a*b", "ac"));
    CHECK(matches(std::string(40, '*') + "x", std::string(2000, 'a') + "x")); // in linear time
}

TEST_CASE("plan: a setting is read with units, kept in range, and marked as typed, nonsense changes nothing") {
    const Step fresh = step(1, "outline");
    const auto set = [&](std::string_view name, std::string_view text, Units units = Units::mm) {
        return withSetting(fresh, name, text, units);
    };
    CHECK(depthIn(*set("depth", "1/4in"))->depth == Approx(6.35));
    CHECK(depthIn(*set("depth", "0.5", Units::inch))->depth == Approx(12.7));
    CHECK(ratesIn(*set("feed", "20 in/min"))->feed == Approx(508));
    CHECK(as<Outline>(*set("side", "outside"))->side == Side::outside);
    CHECK(set("role", "open lines")->rule.role == Role::openLines);
    CHECK(set("layers", "panel, fer*")->rule.layers == std::vector<std::string>{"panel", "fer*"});
    CHECK(set("name", "Edges")->name == "Edges");
    CHECK(set("feed", "900")->typed == std::vector<std::string>{"feed"});
    for (const auto& [name, text] : std::initializer_list<std::pair<const char*, const char*>>{{"depth", "-1"},
                                                                                               {"depth", "600"},
                                                                                               {"feed", ""},
                                                                                               {"feed", "nan"},
                                                                                               {"feed", "1e999"},
                                                                                               {"side", "above"},
                                                                                               {"colour", "red"},
                                                                                               {"passes", "0"},
                                                                                               {"rampAngle", "90"}}) {
        CAPTURE(name, text);
        const auto next = set(name, text);
        REQUIRE_FALSE(next);
        CHECK_FALSE(next.problem().what.empty());
    }
    // Each field can be read back through its own name at both ends of its range.
    for (const Kind* kind : kinds()) {
        const Step begun = step(1, kind->name);
        for (const auto& field : kind->fields)
            for (const double value : {field.low, field.high}) {
                CAPTURE(kind->name, field.name, value);
                const auto next = withSetting(begun, field.name, fmt::format("{}", value), Units::mm);
                REQUIRE(next);
                CHECK(valueOf(field, *next) == Approx(value));
                CHECK(next->typed == std::vector<std::string>{std::string(field.name)});
                CHECK(checked(*next));
                // And nothing else of it has changed.
                for (const auto& other : kind->fields)
                    if (other.name != field.name) CHECK(valueOf(other, *next) == valueOf(other, begun));
                Step beyond = *next;
                field.number(beyond) = value + (value == field.low ? -0.001 : 0.001);
                CHECK_FALSE(checked(beyond));
            }
        for (const auto* choice : choicesOf(*kind))
            for (std::size_t i = 0; i < choice->words.size(); ++i) {
                CAPTURE(kind->name, choice->name);
                const auto next = withSetting(begun, choice->name, choice->words[i], Units::mm);
                REQUIRE(next);
                CHECK(choice->get(*next) == static_cast<int>(i));
            }
    }
}

TEST_CASE("plan: passes are equal, end at the depth asked, and never exceed the depth per pass", "[property]") {
    std::mt19937 random(5);
    std::uniform_real_distribution<> part(0, 1);
    for (int i = 0; i < 300; ++i) {
        Depth s;
        const double thickness = 1 + 30 * part(random);
        s.through = random() % 2;
        s.depth = 0.1 + 20 * part(random);
        s.extra = part(random);
        s.start = 0.3 * bottomOf(s, thickness) * static_cast<double>(random() % 2);
        s.perPass = 0.2 + 5 * part(random);
        const auto depths = passDepths(s, thickness);
        REQUIRE_FALSE(depths.empty());
        CHECK(bottomOf(s, thickness) == Approx(s.through ? thickness + s.extra : s.depth));
        CHECK(depths.back() == Approx(bottomOf(s, thickness)));
        double before = s.start;
        for (const double depth : depths) {
            CHECK(depth - before <= s.perPass + 1e-9);
            CHECK(depth - before == Approx(depths.front() - s.start));
            before = depth;
        }
    }
}

TEST_CASE("selection: where bridged areas fall out the sheet is the plate, letters without bridges too") {
    using namespace ferro;
    artwork::Artwork art;
    // A bridged ring, and beside it a letter that needs no bridge; on another layer a part.
    art = artwork::withPieces(art, {{rectangle({10, 10}, {20, 30}), {}}, {rectangle({24, 10}, {34, 30}), {}}},
                              "letters", "o")
              .artwork;
    art = artwork::withPieces(art, {{rectangle({40, 10}, {50, 30}), {circle({45, 20}, 2)}}}, "letters", "t").artwork;
    art = artwork::withPieces(art, {{rectangle({60, 10}, {70, 30}), {}}}, "parts", "part").artwork;
    artwork::Bridged bridged;
    art.groups.push_back({{++art.lastId}, {}, "o", std::make_shared<const artwork::Bridged>(bridged)});
    for (std::size_t i = 0; i < 2; ++i) art.items[i].group = art.groups.back().id;
    const auto roles = [](const artwork::Artwork& a) {
        std::string out;
        for (const auto& c : plan::contoursOf({}, a)) {
            out += c.role == plan::Role::openings ? 'o' : 'e';
            out += c.inSheet ? '+' : ' ';
            CHECK((areaOf(c.path) < 0) == (c.role == plan::Role::openings));
        }
        return out;
    };
    CHECK(roles(art) == "o+o+o+e+e "); // the island in the letter without a bridge stays: an edge
    auto stay = art;
    bridged.areas = artwork::Bridged::Areas::stay;
    stay.groups.back().bridged = std::make_shared<const artwork::Bridged>(bridged);
    CHECK(roles(stay) == "e e e o e ");
    const auto plated = artwork::withPieces(art, {{rectangle({5, 5}, {55, 35}), {}}}, "plate", "plate").artwork;
    CHECK(roles(plated) == "o o o e e e "); // a plate is drawn round them
}

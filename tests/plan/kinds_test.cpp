// The table of kinds is what files, command line and window are driven by: a change of it is seen, and meant.
#include "artwork/edits.h"
#include "plan/fields.h"
#include "plan/selection.h"
#include "shop/own.h"
#include "support/golden.h"
#include "support/shapes.h"

using namespace ferro;
using namespace ferro::plan;

namespace {

std::string wordsOf(shop::Processes processes) {
    std::string words;
    for (const auto process : processes.list()) words += fmt::format(" {}", shop::nameOf(process));
    return words;
}
std::string table() {
    std::string out;
    for (const auto* kind : kinds()) {
        out +=
            fmt::format("{} “{}” “{}” {}: {}\n", kind->name, kind->label, kind->title, kind->shortcut, kind->purpose);
        out += fmt::format(
            "  place {} up to {} takes {} roles {} decorates {} frees {} protects {} pattern {} work {} by{}\n",
            kind->place, kind->upTo, static_cast<int>(kind->takes), kind->takesByRole, kind->decorates,
            kind->freesParts, kind->protectsParts, static_cast<int>(kind->pattern), static_cast<int>(kind->work),
            wordsOf(kind->processes));
        Step fresh;
        fresh.settings = kind->fresh();
        for (const auto& f : kind->fields)
            out += fmt::format("  {} “{}” {} to {} {} place {} book {} begins {}{}{}\n", f.name, f.label, f.low, f.high,
                               unitName(f.measure, Units::mm), static_cast<int>(f.place), f.fromBook, valueOf(f, fresh),
                               f.counts && !f.counts(fresh) ? " (not at first)" : "", wordsOf(f.processes));
        for (const auto* c : choicesOf(*kind)) {
            out += fmt::format("  {} “{}” place {}:", c->name, c->label, static_cast<int>(c->place));
            for (std::size_t i = 0; i < c->words.size(); ++i)
                out += fmt::format(" {}{}", c->words[i], static_cast<int>(i) == c->get(fresh) ? "*" : "");
            out += wordsOf(c->processes) + "\n";
        }
    }
    return out;
}
Step stepOf(std::string_view kind) {
    Step s;
    s.id = {1};
    s.settings = kindNamed(kind)->fresh();
    return s;
}
Step set(const Step& step, std::string_view name, std::string_view text) {
    auto next = withSetting(step, name, text, Units::mm);
    INFO((next ? "" : next.problem().text()));
    REQUIRE(next);
    return *next;
}

} // namespace

TEST_CASE("kinds: the table is as it was reviewed", "[golden]") { test::checkGolden("plan/kinds.txt", table()); }

TEST_CASE("kinds: a fresh step has its tool, the book's values where it has any, and the kind's own beginnings") {
    const auto book = shop::openBook(realDisk());
    REQUIRE(book);
    const auto find = [](const auto& list, std::string_view key) -> const auto& {
        const auto at = std::find_if(list.begin(), list.end(), [&](const auto& thing) { return thing.key == key; });
        REQUIRE(at != list.end());
        return *at;
    };
    const Beginning mill{find(book->tools, "end-6"), find(book->materials, "birch-ply"),
                         find(book->machines, "mill-600"), 12},
        laser{find(book->tools, "beam"), find(book->materials, "birch-ply"), find(book->machines, "laser-700"), 3};
    for (const auto* kind : kinds())
        for (const auto* from : {&mill, &laser}) {
            if (!kind->processes.meets(from->machine.processes)) continue;
            const auto step = freshStep({3}, *kind, *from);
            CAPTURE(kind->name, from->tool.key);
            CHECK(step.id == StepId{3});
            CHECK(step.tool == from->tool.key);
            CHECK(step.name == kind->title);
            CHECK(checked(step));
            const auto start = shop::startFor(from->tool, from->material, from->machine, kind->work, from->thickness);
            const std::pair<std::string_view, double> wanted[] = {
                {"feed", start.feed},   {"plunge", start.plunge}, {"spindle", start.spindle},
                {"power", start.power}, {"passes", start.passes}, {"depthPerPass", start.depthPerPass}};
            for (const auto& field : kind->fields) {
                if (!field.fromBook || !field.processes.meets(from->machine.processes)) continue;
                for (const auto& [name, value] : wanted)
                    if (field.name == name) {
                        CHECK(bookValue(field, step, *from) == value);
                        CHECK(valueOf(field, step) == value);
                    }
            }
        }
}

TEST_CASE("settings: the head's are set by name, nonsense is refused, and only numbers and choices count as typed") {
    const auto outline = stepOf("outline");
    CHECK(set(outline, "name", "Wings").name == "Wings");
    CHECK_FALSE(withSetting(outline, "name", "", Units::mm));
    CHECK(set(outline, "note", "press it down").note == "press it down");
    CHECK(set(outline, "stop", "yes").stopBefore);
    CHECK(set(outline, "layers", " wings ,heads  ,, tails").rule.layers ==
          std::vector<std::string>{"wings", "heads", "tails"});
    CHECK(set(outline, "above", "0.5in").rule.above == Approx(12.7));
    CHECK(set(outline, "below", "40").rule.below == 40);
    CHECK_FALSE(withSetting(outline, "above", "wide", Units::mm));
    CHECK_FALSE(withSetting(outline, "below", "-2", Units::mm));
    CHECK_FALSE(withSetting(outline, "feed", "quick", Units::mm));
    CHECK_FALSE(withSetting(outline, "swing", "3", Units::mm));
    CHECK(set(outline, "note", "x").typed.empty());
    CHECK(set(set(outline, "feed", "900"), "entry", "plunge").typed == std::vector<std::string>{"feed"});
    const auto* feed = fieldNamed(kindOf(outline), "feed");
    REQUIRE(feed);
    CHECK(exactly(*feed, 12.345678) == "12.345678 mm");
    const auto* spindle = fieldNamed(kindOf(outline), "spindle");
    REQUIRE(spindle);
    CHECK(exactly(*spindle, 18000) == "18000");
}

TEST_CASE("selection: what is made for steps at once is what each takes, sizes count by the longer side") {
    artwork::Artwork art;
    art = artwork::withPieces(art, {{rectangle({0, 0}, {200, 20}), {}}}, "bars", "bar").artwork;
    art = artwork::withPieces(art, {{circle({50, 100}, 4.125), {}}}, "holes", "hole").artwork;
    auto bars = stepOf("outline");
    bars.rule.above = 150;
    auto drill = stepOf("drill");
    drill.id = {2};
    drill.tool = "drill-8";
    Plan plan{.steps = {bars, drill}};
    const shop::Tool eight{.key = "drill-8", .name = "Drill 8", .kind = shop::ToolKind::drill, .diameter = 8};
    const auto pieces = piecesOf(plan, art, {eight});
    CHECK(pieces.contours[0].size == Approx(200));
    REQUIRE(pieces.taken.size() == 2);
    CHECK(pieces.taken[0] == std::vector<std::size_t>{0});
    CHECK(pieces.taken[1] == std::vector<std::size_t>{1}); // a quarter millimetre off is a fit still
    art.sheet = {};
    CHECK(contoursOf(plan, art).empty()); // beside all sheets nothing is cut
    auto skim = stepOf("skim");
    CHECK_FALSE(kindOf(skim).takesPieces(skim));
    CHECK(kindOf(skim).takesPieces(set(skim, "over", "pieces")));
}

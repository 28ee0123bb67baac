#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Hatch;

constexpr auto inLines = [](const Step& s) { return in<K>(s).by == HatchBy::lines; };
constexpr Field fields[] = {
    {"spacing", "Lines apart", length, 0.02, 10, Place::how, byBeam, false, numberIn<K, &K::spacing>},
    {"angle", "Lines at", angle, -90, 90, Place::how, byBeam, false, numberIn<K, &K::angle>, inLines},
    powerField<K>(),
    feedField<K>(),
    passesField<K>(),
};

constexpr std::array<std::string_view, 2> byWords = {"lines", "rings"}, waysWords = {"both ways", "one way"},
                                          crossedWords = {"once", "crossed"}, rowsWords = {"area by area", "over all"},
                                          edgeWords = {"bare", "followed"};

constexpr Choice choices[] = {
    airChoice<K>(),
    {"by", "In", byWords, Place::how, byBeam, wordIn<K, &K::by>, putWord<K, &K::by>},
    {"ways", "Lines go", waysWords, Place::how, byBeam, [](const Step& s) { return in<K>(s).bothWays ? 0 : 1; },
     [](Step& s, int v) { in<K>(s).bothWays = v == 0; }},
    {"crossed", "Burnt", crossedWords, Place::how, byBeam, wordIn<K, &K::crossed>, putWord<K, &K::crossed>},
    {"rows", "Rows", rowsWords, Place::how, byBeam, wordIn<K, &K::rows>, putWord<K, &K::rows>},
    {"edge", "Edges", edgeWords, Place::how, byBeam, wordIn<K, &K::edged>, putWord<K, &K::edged>},
};

constexpr shop::ToolKind tools[] = {shop::ToolKind::laser};

} // namespace

const Kind& Hatch::kind() {
    static const Kind row{.name = "hatch",
                          .label = "Hatch",
                          .title = "Shades",
                          .shortcut = "Ctrl+Shift+H",
                          .purpose = "to shade areas",
                          .pattern = Pattern::ruled,
                          .processes = byBeam,
                          .tools = tools,
                          .work = shop::Work::scribe,
                          .takes = Takes::areas,
                          .decorates = true,
                          .place = 10, // shaded first, scribed next, cut last
                          .fields = fields,
                          .choices = choices,
                          .fresh = [] { return Settings(Hatch{}); },
                          .begin = [](Step& step, const Beginning& from) { // no stripes between them
                              in<K>(step).spacing = std::max(0.05, std::floor(from.tool.diameter * 80) / 100);
                          }};
    return row;
}

} // namespace ferro::plan

#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Tone;

bool byPower(const Step& s) { return in<K>(s).by == ToneBy::power; }
bool byScreen(const Step& s) { return in<K>(s).by == ToneBy::screen; }

constexpr Field fields[] = {
    {"spacing", "Lines apart", length, 0.02, 5, Place::how, byBeam, false, numberIn<K, &K::spacing>},
    powerField<K>(),
    {"least", "Faintest power", percent, 0, 100, Place::how, byBeam, false, numberIn<K, &K::least>, byPower},
    feedField<K>(),
    passesField<K>(),
    {"gamma", "Middle greys", plain, 0.2, 5, Place::how, byBeam, false, numberIn<K, &K::gamma>},
    {"white", "White up to", percent, 0, 99, Place::how, byBeam, false, numberIn<K, &K::white>},
    {"angle", "Lines at", angle, -90, 90, Place::how, byBeam, false, numberIn<K, &K::angle>},
    {"cell", "Dots apart", length, 0.1, 10, Place::how, byBeam, false, numberIn<K, &K::cell>, byScreen},
    {"tilt", "Dots at", angle, -90, 90, Place::how, byBeam, false, numberIn<K, &K::tilt>, byScreen},
};

constexpr std::array<std::string_view, 4> byWords = {"power", "dots", "ordered", "screen"};
constexpr std::array<std::string_view, 2> waysWords = {"both ways", "one way"},
                                          invertedWords = {"as it is", "negative"};
constexpr Choice choices[] = {
    airChoice<K>(),
    {"by", "Grey by", byWords, Place::how, byBeam, wordIn<K, &K::by>, putWord<K, &K::by>},
    {"ways", "Lines go", waysWords, Place::how, byBeam, [](const Step& s) { return in<K>(s).bothWays ? 0 : 1; },
     [](Step& s, int v) { in<K>(s).bothWays = v == 0; }},
    {"inverted", "Picture", invertedWords, Place::how, byBeam, wordIn<K, &K::inverted>, putWord<K, &K::inverted>},
};
constexpr shop::ToolKind tools[] = {shop::ToolKind::laser};

} // namespace

const Kind& Tone::kind() {
    static const Kind row{.name = "tone",
                          .label = "Tone",
                          .title = "Pictures",
                          .shortcut = "Ctrl+Shift+J",
                          .purpose = "to burn pictures",
                          .pattern = Pattern::screened,
                          .processes = byBeam,
                          .tools = tools,
                          .work = shop::Work::scribe,
                          .takes = Takes::pictures,
                          .takesByRole = false,
                          .decorates = true,
                          .place = 5, // before all else: what is cut moves
                          .fields = fields,
                          .choices = choices,
                          .fresh = [] { return Settings(Tone{}); },
                          .begin = [](Step& step, const Beginning& from) { // no stripes between them
                              in<K>(step).spacing = std::max(0.05, std::floor(from.tool.diameter * 80) / 100);
                          }};
    return row;
}

} // namespace ferro::plan

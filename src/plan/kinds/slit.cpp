#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Slit;

bool kisses(const Step& s) { return !in<K>(s).depth.through; }
bool perforates(const Step& s) { return in<K>(s).dash > 0; }
bool weeds(const Step& s) { return in<K>(s).weeding != Weeding::none; }
bool weedsByLines(const Step& s) { return in<K>(s).weeding == Weeding::lines; }

constexpr Field fields[] = {
    {"depth", "Depth", length, 0.01, 50, Place::how, byBlade, false, numberIn<K, &K::depth, &Depth::depth>, kisses},
    {"extra", "Into the mat", length, 0, 5, Place::how, byBlade, false, numberIn<K, &K::depth, &Depth::extra>,
     [](const Step& s) { return in<K>(s).depth.through; }},
    {"feed", "Feed", feed, 1, 100000, Place::how, byBlade, true, numberIn<K, &K::rates, &Rates::feed>},
    {"plunge", "Down at", feed, 1, 100000, Place::how, byBlade, true, numberIn<K, &K::rates, &Rates::plunge>},
    {"force", "Force, g", plain, 1, 5000, Place::how, byBlade, true, numberIn<K, &K::force>},
    {"passes", "Passes", count, 1, 20, Place::how, byBlade, true, numberIn<K, &K::passes>},
    {"overcut", "Past its start", length, 0, 20, Place::entry, byBlade, false, numberIn<K, &K::overcut>},
    {"turnsOver", "Turns over", angle, 1, 90, Place::entry, byBlade, false, numberIn<K, &K::turnsOver>},
    {"turnDepth", "Turns at depth", length, 0, 50, Place::entry, byBlade, false, numberIn<K, &K::turnDepth>},
    {"dash", "Cut at a time", length, 0, 500, Place::how, byBlade, false, numberIn<K, &K::dash>},
    {"gap", "Left between", length, 0.05, 500, Place::how, byBlade, false, numberIn<K, &K::gap>, perforates},
    {"border", "Border off by", length, 0.1, 200, Place::hold, byBlade, false, numberIn<K, &K::border>, weeds},
    {"pitch", "Lines apart", length, 2, 1000, Place::hold, byBlade, false, numberIn<K, &K::pitch>, weedsByLines},
    {"spare", "Lines keep off", length, 0, 50, Place::hold, byBlade, false, numberIn<K, &K::spare>, weedsByLines},
};

constexpr std::array<std::string_view, 2> goesWords = {"kiss cut", "through"};
constexpr std::array<std::string_view, 3> weedingWords = {"none", "border", "border and lines"};
constexpr Choice choices[] = {
    {"through", "Goes", goesWords, Place::how, byBlade, wordIn<K, &K::depth, &Depth::through>,
     putWord<K, &K::depth, &Depth::through>},
    {"weeding", "Weeding", weedingWords, Place::hold, byBlade, wordIn<K, &K::weeding>, putWord<K, &K::weeding>},
};
constexpr shop::ToolKind tools[] = {shop::ToolKind::blade};

} // namespace

const Kind& Slit::kind() {
    static const Kind row{
        .name = "slit",
        .label = "Slit",
        .title = "Slits",
        .shortcut = "Ctrl+Shift+U",
        .purpose = "to cut film and card by a blade",
        .pattern = Pattern::dashed,
        .processes = byBlade,
        .tools = tools,
        .takes = Takes::outlines,
        .freesParts = true,
        .place = 40,
        .fields = fields,
        .choices = choices,
        .fresh = [] { return Settings(Slit{}); },
        .begin = [](Step& step,
                    const Beginning& from) { in<K>(step).depth.depth = std::min(0.1, from.thickness / 2); }};
    return row;
}

} // namespace ferro::plan

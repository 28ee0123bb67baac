#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Skim;

constexpr Field fields[] = {
    depthField<K>(),
    perPassField<K>(),
    {"overlap", "Overlap", percent, 1, 95, Place::how, byRotary, false, numberIn<K, &K::overlap>},
    {"beyond", "Over the edge", length, 0, 100, Place::how, byRotary, false, numberIn<K, &K::beyond>},
    feedField<K>(),
    plungeField<K>(),
    spindleField<K>(),
    startDepthField<K>(),
};

constexpr std::array<std::string_view, 2> overWords = {"stock", "pieces"};
constexpr std::array<std::string_view, 2> alongWords = {"width", "height"};
constexpr std::array<std::string_view, 2> waysWords = {"one way", "both ways"};

constexpr Choice choices[] = {
    {"over", "Skims", overWords, Place::takes, byRotary, wordIn<K, &K::over>, putWord<K, &K::over>},
    {"along", "Lines along", alongWords, Place::how, byRotary, wordIn<K, &K::along>, putWord<K, &K::along>},
    {"ways", "Goes", waysWords, Place::how, byRotary, wordIn<K, &K::bothWays>, putWord<K, &K::bothWays>},
    directionChoice<K>(),
};

constexpr shop::ToolKind tools[] = {shop::ToolKind::endMill};

} // namespace

const Kind& Skim::kind() {
    static const Kind row{
        .name = "skim",
        .label = "Skim",
        .title = "Skim",
        .shortcut = "Ctrl+Shift+K",
        .purpose = "to face the stock",
        .pattern = Pattern::slanted,
        .processes = byRotary,
        .tools = tools,
        .upTo = 1000, // the widest leaves the fewest ridges
        .work = shop::Work::cut,
        .takes = Takes::areas,
        .takesPieces = [](const Step& s) { return in<K>(s).over == SkimOver::pieces; },
        .takesByRole = false,
        .place = 0, // all depths are from the top that was there before
        .fields = fields,
        .choices = choices,
        .fresh =
            [] {
                Skim fresh;
                fresh.depth.through = false;
                return Settings(fresh);
            },
        .begin = [](Step& step,
                    const Beginning& from) { in<K>(step).depth.depth = std::min(0.5, from.thickness / 4); }};
    return row;
}

} // namespace ferro::plan

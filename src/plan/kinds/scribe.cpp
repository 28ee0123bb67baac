#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Scribe;

bool ofLines(const Step& s) { return in<K>(s).of == ScribeOf::lines; }
constexpr Field fields[] = {
    depthField<K>(),
    perPassField<K>(),
    powerField<K>(),
    stillField<K>(),
    feedField<K>(),
    plungeField<K>(),
    spindleField<K>(),
    passesField<K>(),
    focusStepField<K>(),
    {"dash", "Burnt at a time", length, 0, 500, Place::how, byBeam, false, numberIn<K, &K::dash>, ofLines},
    {"gap", "Left between", length, 0.05, 500, Place::how, byBeam, false, numberIn<K, &K::gap>,
     [](const Step& s) { return ofLines(s) && in<K>(s).dash > 0; }},
    rampAngleField<K>(),
    startDepthField<K>(),
};
constexpr std::array<std::string_view, 2> ofWords = {"lines", "the blank"};
constexpr std::array<std::string_view, 2> deepWords = {"all along", "by ink's width"};
constexpr Choice choices[] = {
    {"of", "Scribes", ofWords, Place::takes, byCutting, wordIn<K, &K::of>, putWord<K, &K::of>},
    {"deep", "Depth is", deepWords, Place::how, byRotary, wordIn<K, &K::deep>, putWord<K, &K::deep>},
    airChoice<K>(),
    entryChoice<K>(),
};
constexpr shop::ToolKind tools[] = {shop::ToolKind::engraver,    shop::ToolKind::vBit,  shop::ToolKind::ball,
                                    shop::ToolKind::endMill,     shop::ToolKind::laser, shop::ToolKind::drill,
                                    shop::ToolKind::taperedBall, shop::ToolKind::bevel, shop::ToolKind::bullNose};

} // namespace

const Kind& Scribe::kind() {
    static const Kind row{
        .name = "scribe",
        .label = "Scribe",
        .title = "Lines",
        .shortcut = "Ctrl+Shift+R",
        .purpose = "for lines",
        .pattern = Pattern::level,
        .processes = byCutting,
        .tools = tools,
        .work = shop::Work::scribe,
        .takes = Takes::outlines,
        .takesPieces = ofLines,
        .decorates = true,
        .place = 20,
        .fields = fields,
        .choices = choices,
        .fresh =
            [] {
                Scribe fresh;
                fresh.depth.through = false;
                return Settings(fresh);
            },
        .lineWidth = [](const Step& s, const shop::Tool& tool,
                        double) { return 2 * tool.radiusAt(in<K>(s).depth.depth - in<K>(s).depth.start); },
        .onBoard = [](const Step& s) { return !ofLines(s); },
        .begin = [](Step& step,
                    const Beginning& from) { in<K>(step).depth.depth = std::min(0.5, from.thickness / 2); }};
    return row;
}

} // namespace ferro::plan

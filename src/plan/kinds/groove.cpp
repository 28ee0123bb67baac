#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Groove;

constexpr Field fields[] = {
    {"depth", "Depth at most", length, 0.05, 100, Place::how, byRotary, false, numberIn<K, &K::depth, &Depth::depth>},
    perPassField<K>(),
    {"ridge", "Ridges on floor", length, 0.01, 1, Place::how, byRotary, false, numberIn<K, &K::ridge>},
    feedField<K>(),
    plungeField<K>(),
    spindleField<K>(),
};

constexpr std::array<std::string_view, 2> whatWords = {"all", "what is left"};
constexpr Choice choices[] = {
    {"what", "Grooves", whatWords, Place::how, byRotary, wordIn<K, &K::rest>, putWord<K, &K::rest>},
};
constexpr shop::ToolKind tools[] = {shop::ToolKind::vBit, shop::ToolKind::engraver, shop::ToolKind::bevel,
                                    shop::ToolKind::taperedBall, shop::ToolKind::ball};

} // namespace

const Kind& Groove::kind() {
    static const Kind row{
        .name = "groove",
        .label = "Groove",
        .title = "Grooves",
        .shortcut = "Ctrl+Shift+E",
        .purpose = "for lettering in a V",
        .pattern = Pattern::chevron,
        .processes = byRotary,
        .tools = tools,
        .work = shop::Work::cut,
        .takes = Takes::areas,
        .protectsParts = true,
        .place = 15,
        .fields = fields,
        .choices = choices,
        .fresh =
            [] {
                Groove fresh;
                fresh.depth.through = false;
                return Settings(fresh);
            },
        .lineWidth = [](const Step& s, const shop::Tool& tool,
                        double thickness) { return 2 * tool.radiusAt(bottomOf(in<K>(s).depth, thickness)); },
        .rest = [](Step& step) -> bool& { return in<K>(step).rest; },
        .begin = [](Step& step,
                    const Beginning& from) { in<K>(step).depth.depth = std::min(5.0, from.thickness / 2); }};
    return row;
}

} // namespace ferro::plan

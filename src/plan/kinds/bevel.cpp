#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Bevel;

constexpr Field fields[] = {
    {"width", "Width", length, 0.05, 50, Place::how, byRotary, false, numberIn<K, &K::width>},
    {"pointBelow", "Point below", length, 0, 20, Place::how, byRotary, false, numberIn<K, &K::below>},
    {"depthPerPass", "Depth per pass", length, 0.01, 100, Place::how, byRotary, true, numberIn<K, &K::perPass>},
    feedField<K>(),
    plungeField<K>(),
    spindleField<K>(),
};

constexpr std::array<std::string_view, 3> sideWords = {"auto", "outside", "inside"};

constexpr Choice choices[] = {
    {"side", "Side", sideWords, Place::how, byRotary, wordIn<K, &K::side>, putWord<K, &K::side>},
    directionChoice<K>(),
};

constexpr shop::ToolKind tools[] = {shop::ToolKind::bevel, shop::ToolKind::vBit, shop::ToolKind::engraver};

} // namespace

const Kind& Bevel::kind() {
    static const Kind row{.name = "bevel",
                          .label = "Bevel",
                          .title = "Bevels",
                          .shortcut = "Ctrl+Shift+B",
                          .purpose = "to take edges off",
                          .pattern = Pattern::peaks,
                          .processes = byRotary,
                          .tools = tools,
                          .work = shop::Work::cut,
                          .takes = Takes::outlines,
                          .protectsParts = true,
                          .place = 25, // while the sheet still holds the parts
                          .fields = fields,
                          .choices = choices,
                          .fresh = [] { return Settings(Bevel{}); },
                          .begin = nullptr};
    return row;
}

} // namespace ferro::plan

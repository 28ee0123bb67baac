#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Outline;

bool hasTabs(const Step& step) { return in<K>(step).hold == Hold::tabs; }

constexpr Field fields[] = {
    depthField<K>(),
    extraField<K>(),
    perPassField<K>(),
    powerField<K>(),
    feedField<K>(),
    plungeField<K>(),
    spindleField<K>(),
    passesField<K>(),
    {"tabWidth", "Tab width", length, 0.1, 100, Place::hold, byCutting, false, numberIn<K, &K::tabWidth>, hasTabs},
    {"tabHeight", "Tab height", length, 0.1, 100, Place::hold, byRotary, false, numberIn<K, &K::tabHeight>, hasTabs},
    {"tabSpacing", "Tab spacing", length, 5, 5000, Place::hold, byCutting, false, numberIn<K, &K::tabSpacing>, hasTabs},
    rampAngleField<K>(),
    {"lead", "Lead radius", length, 0, 50, Place::entry, byCutting, false, numberIn<K, &K::lead>},
    startDepthField<K>(),
    {"allowance", "Allowance", length, -5, 5, Place::entry, byCutting, false, numberIn<K, &K::allowance>},
};

constexpr std::array<std::string_view, 4> sideWords = {"auto", "outside", "inside", "on line"};
constexpr std::array<std::string_view, 2> holdWords = {"none", "tabs"};

constexpr Choice choices[] = {
    {"side", "Side", sideWords, Place::how, byCutting, [](const Step& s) { return static_cast<int>(in<K>(s).side); },
     [](Step& s, int v) { in<K>(s).side = static_cast<Side>(v); }},
    throughChoice<K>(),
    {"hold", "Hold by", holdWords, Place::hold, byCutting,
     [](const Step& s) { return static_cast<int>(in<K>(s).hold); },
     [](Step& s, int v) { in<K>(s).hold = static_cast<Hold>(v); }},
    directionChoice<K>(),
    entryChoice<K>(),
};

constexpr shop::ToolKind tools[] = {shop::ToolKind::endMill, shop::ToolKind::ball,     shop::ToolKind::laser,
                                    shop::ToolKind::vBit,    shop::ToolKind::engraver, shop::ToolKind::drill};

} // namespace

const Kind& Outline::kind() {
    static const Kind row{.name = "outline",
                          .label = "Outline",
                          .title = "Outlines",
                          .shortcut = "Ctrl+Shift+O",
                          .purpose = "to cut pieces out",
                          .pattern = Pattern::solid,
                          .processes = byCutting,
                          .tools = tools,
                          // The bigger of the common sizes leaves less to do; outlines rarely need over 6 mm.
                          .upTo = 6.5,
                          .work = shop::Work::cut,
                          .takes = Takes::outlines,
                          .freesParts = true,
                          .protectsParts = true,
                          .place = 30,
                          .fields = fields,
                          .choices = choices,
                          .fresh = [] { return Settings(Outline{}); },
                          .begin =
                              [](Step& step, const Beginning& from) {
                                  auto& s = in<K>(step);
                                  s.depth.depth = from.thickness;
                                  s.tabHeight = std::min(2.5, from.thickness / 2);
                                  const bool beam = from.tool.process() == shop::Process::beam;
                                  s.hold = beam ? Hold::none : Hold::tabs; // sheets for a beam lie flat on their grid
                                  s.lead = beam ? 1 : 2;
                                  s.depth.extra = beam ? 0 : 0.3;
                              }};
    return row;
}

} // namespace ferro::plan

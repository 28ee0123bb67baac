#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Outline;

bool hasTabs(const Step& step) { return in<K>(step).hold == Hold::tabs; }
bool hasSkin(const Step& step) { return in<K>(step).hold == Hold::skin || in<K>(step).skinUnder > 0; }

constexpr Field fields[] = {
    depthField<K>(),
    extraField<K>(),
    perPassField<K>(),
    powerField<K>(),
    stillField<K>(),
    feedField<K>(),
    plungeField<K>(),
    spindleField<K>(),
    passesField<K>(),
    focusStepField<K>(),
    {"pierce", "Pierces for", time, 0, 10, Place::entry, byBeam, false, numberIn<K, &K::beam, &Beam::pierce>},
    {"tabWidth", "Tab width", length, 0.1, 100, Place::hold, byCutting, false, numberIn<K, &K::tabWidth>, hasTabs},
    {"tabHeight", "Tab height", length, 0.1, 100, Place::hold, byRotary, false, numberIn<K, &K::tabHeight>, hasTabs},
    {"tabSpacing", "Tab spacing", length, 5, 5000, Place::hold, byCutting, false, numberIn<K, &K::tabSpacing>,
     [](const Step& s) { return hasTabs(s) && in<K>(s).tabCount == 0; }},
    {"tabCount", "Tabs each", count, 0, 50, Place::hold, byCutting, false, numberIn<K, &K::tabCount>, hasTabs},
    {"skin", "Skin", length, 0.05, 10, Place::hold, byRotary, false, numberIn<K, &K::skin>, hasSkin},
    {"skinUnder", "Skin if under", length, 0, 1000, Place::hold, byRotary, false, numberIn<K, &K::skinUnder>},
    {"skinFeed", "Skin cut at", feed, 0, 100000, Place::hold, byRotary, false, numberIn<K, &K::skinFeed>, hasSkin},
    rampAngleField<K>(),
    {"lead", "Lead in", length, 0, 50, Place::entry, byCutting, false, numberIn<K, &K::lead>},
    {"leadOut", "Lead out", length, 0, 50, Place::entry, byCutting, false, numberIn<K, &K::leadOut>,
     [](const Step& s) { return in<K>(s).lead > 0 && in<K>(s).leadsOut; }},
    {"overlap", "Past its start", length, 0, 100, Place::entry, byCutting, false, numberIn<K, &K::overlap>},
    startDepthField<K>(),
    {"allowance", "Allowance", length, -5, 5, Place::entry, byCutting, false, numberIn<K, &K::allowance>},
    {"floor", "Left on floor", length, 0, 10, Place::entry, byRotary, false, numberIn<K, &K::floor>,
     [](const Step& s) { return !in<K>(s).depth.through; }},
    {"finish", "Finish pass", length, 0, 5, Place::entry, byRotary, false, numberIn<K, &K::finish>},
    {"finishFeed", "Finish feed", feed, 0, 100000, Place::entry, byRotary, false, numberIn<K, &K::finishFeed>,
     [](const Step& s) { return in<K>(s).finish > 0; }},
};

constexpr std::array<std::string_view, 6> sideWords = {"auto", "outside", "inside", "on line", "left", "right"};
constexpr std::array<std::string_view, 3> holdWords = {"none", "tabs", "skin"};
constexpr std::array<std::string_view, 2> tabWords = {"upright", "sloped"};
constexpr std::array<std::string_view, 4> reliefWords = {"none", "corner", "long edge", "short edge"};

constexpr std::array<std::string_view, 2> wearWords = {"in the path", "by the controller"};
constexpr std::array<std::string_view, 2> sharedWords = {"cut twice", "cut once"};
constexpr std::array<std::string_view, 2> leadWords = {"arc", "straight"};
constexpr std::array<std::string_view, 2> leadsWords = {"in only", "in and out"};

constexpr Choice choices[] = {
    {"side", "Side", sideWords, Place::how, byCutting, wordIn<K, &K::side>, putWord<K, &K::side>},
    throughChoice<K>(),
    {"hold", "Hold by", holdWords, Place::hold, byCutting, wordIn<K, &K::hold>, putWord<K, &K::hold>},
    {"tabEnds", "Tab ends", tabWords, Place::hold, byRotary, wordIn<K, &K::tabsSloped>, putWord<K, &K::tabsSloped>},
    {"shared", "Edges of two parts", sharedWords, Place::how, byCutting, wordIn<K, &K::shared>, putWord<K, &K::shared>},
    {"relief", "Corner relief", reliefWords, Place::how, byRotary, wordIn<K, &K::relief>, putWord<K, &K::relief>},
    airChoice<K>(),
    directionChoice<K>(),
    entryChoice<K>(),
    {"leads", "Leads", leadsWords, Place::entry, byCutting, wordIn<K, &K::leadsOut>, putWord<K, &K::leadsOut>},
    {"leadBy", "Led by", leadWords, Place::entry, byCutting, wordIn<K, &K::leadBy>, putWord<K, &K::leadBy>},
    {"wear", "Tool's wear", wearWords, Place::entry, byRotary, wordIn<K, &K::wear>, putWord<K, &K::wear>},
};

constexpr shop::ToolKind tools[] = {shop::ToolKind::endMill,  shop::ToolKind::ball,        shop::ToolKind::laser,
                                    shop::ToolKind::vBit,     shop::ToolKind::engraver,    shop::ToolKind::drill,
                                    shop::ToolKind::bullNose, shop::ToolKind::taperedBall, shop::ToolKind::bevel};

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
                          .takesOpen =
                              [](const Step& step) {
                                  const Side side = in<K>(step).side;
                                  return side == Side::left || side == Side::right;
                              },
                          .freesParts = true,
                          .protectsParts = true,
                          .place = 30,
                          .fields = fields,
                          .choices = choices,
                          .fresh = [] { return Settings(Outline{}); },
                          .walls = true,
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

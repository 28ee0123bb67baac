#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Drill;

bool bores(const Step& step) { return in<K>(step).bores; }

constexpr Field fields[] = {
    depthField<K>(),
    extraField<K>(),
    {"peck", "Peck", length, 0, 100, Place::how, byRotary, false, numberIn<K, &K::peck>},
    {"dwell", "Dwell", time, 0, 60, Place::how, byRotary, false, numberIn<K, &K::dwell>},
    {"perTurn", "Down a turn", length, 0.05, 20, Place::how, byRotary, false, numberIn<K, &K::perTurn>, bores},
    {"feed", "Feed round", feed, 1, 100000, Place::how, byRotary, true, numberIn<K, &K::rates, &Rates::feed>, bores},
    plungeField<K>(),
    {"feedOut", "Feed out", feed, 0, 100000, Place::how, byRotary, false, numberIn<K, &K::feedOut>},
    spindleField<K>(),
    startDepthField<K>(),
};
constexpr std::array<std::string_view, 2> liftWords = {"out of the hole", "to break the chip"};
constexpr std::array<std::string_view, 2> widerWords = {"in the middle only", "bored round"};
constexpr Choice choices[] = {
    throughChoice<K>(),
    {"lifts", "Lifts", liftWords, Place::how, byRotary, wordIn<K, &K::breaks>, putWord<K, &K::breaks>},
    {"wider", "Wider holes", widerWords, Place::how, byRotary, wordIn<K, &K::bores>, putWord<K, &K::bores>},
};
constexpr shop::ToolKind tools[] = {shop::ToolKind::drill, shop::ToolKind::endMill, shop::ToolKind::spotDrill};

} // namespace

const Kind& Drill::kind() {
    static const Kind row{.name = "drill",
                          .label = "Drill",
                          .title = "Holes",
                          .shortcut = "Ctrl+Shift+D",
                          .purpose = "for holes",
                          .pattern = Pattern::dotted,
                          .processes = byRotary,
                          .tools = tools,
                          .work = shop::Work::drill,
                          .takes = Takes::circles,
                          .takesByRole = false,
                          .place = 10,
                          .fields = fields,
                          .choices = choices,
                          .fresh =
                              [] { // as a file means it that says nothing of wider holes
                                  Drill drill;
                                  drill.bores = false;
                                  return Settings(drill);
                              },
                          .begin =
                              [](Step& step, const Beginning& from) {
                                  auto& s = in<K>(step);
                                  s.depth.depth = from.thickness;
                                  s.bores = true;
                                  if (from.tool.kind == shop::ToolKind::spotDrill) { // a start for what comes after
                                      s.depth.through = false;
                                      s.depth.depth = std::min(1.5, from.thickness / 2);
                                  }
                                  s.perTurn = std::max(0.05, from.tool.diameter / 4);
                                  s.depth.extra =
                                      0.3 + from.tool.profile(from.tool.radius()); // the point comes through
                              }};
    return row;
}

} // namespace ferro::plan

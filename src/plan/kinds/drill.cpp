#include "plan/kinds/shared_internal.h"

namespace ferro::plan {

namespace {

using K = Drill;

constexpr Field fields[] = {
    depthField<K>(),
    extraField<K>(),
    {"peck", "Peck", length, 0, 100, Place::how, byRotary, false, numberIn<K, &K::peck>},
    plungeField<K>(),
    spindleField<K>(),
    startDepthField<K>(),
};
constexpr Choice choices[] = {throughChoice<K>()};
constexpr shop::ToolKind tools[] = {shop::ToolKind::drill, shop::ToolKind::endMill};

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
                          .fresh = [] { return Settings(Drill{}); },
                          .begin =
                              [](Step& step, const Beginning& from) {
                                  auto& s = in<K>(step);
                                  s.depth.depth = from.thickness;
                                  s.depth.extra =
                                      0.3 + from.tool.profile(from.tool.radius()); // the point comes through
                              }};
    return row;
}

} // namespace ferro::plan

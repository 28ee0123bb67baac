#include "plan/kinds/shared_internal.h"

#include <cmath>
#include <numbers>

namespace ferro::plan {

namespace {

using K = Clear;

constexpr Field fields[] = {
    depthField<K>(),
    extraField<K>(),
    perPassField<K>(),
    {"overlap", "Overlap", percent, 5, 95, Place::how, byRotary, false, numberIn<K, &K::overlap>,
     [](const Step& s) { return in<K>(s).by != ClearBy::evenLoad || in<K>(s).rest; }},
    {"engagement", "Engaged by", angle, 20, 110, Place::how, byRotary, false, numberIn<K, &K::engagement>,
     [](const Step& s) { return in<K>(s).by == ClearBy::evenLoad && !in<K>(s).rest; }},
    {"angle", "Lines at", angle, -90, 90, Place::how, byRotary, false, numberIn<K, &K::angle>,
     [](const Step& s) { return in<K>(s).by == ClearBy::lines; }},
    {"allowance", "Left on walls", length, 0, 10, Place::how, byRotary, false, numberIn<K, &K::allowance>},
    {"floor", "Left on floor", length, 0, 10, Place::how, byRotary, false, numberIn<K, &K::floor>,
     [](const Step& s) { return !in<K>(s).depth.through; }},
    {"slant", "Walls slant", angle, 0, 80, Place::how, byRotary, false, numberIn<K, &K::slant>},
    feedField<K>(),
    plungeField<K>(),
    spindleField<K>(),
    {"rampAngle", "Ramp angle", angle, 0.5, 45, Place::entry, byRotary, false, numberIn<K, &K::rampAngle>,
     [](const Step& s) { return in<K>(s).entry != Entry::plunge; }},
    startDepthField<K>(),
};

constexpr std::array<std::string_view, 3> byWords = {"rings", "lines", "even load"};

constexpr std::array<std::string_view, 4> clearEntryWords = {"ramp", "plunge", "helix", "drilled hole"};

constexpr std::array<std::string_view, 2> whatWords = {"all", "what is left"};

constexpr std::array<std::string_view, 3> rimWords = {"none", "blank", "blank and parts"};

constexpr Choice choices[] = {
    {"what", "Clears", whatWords, Place::how, byRotary, wordIn<K, &K::rest>, putWord<K, &K::rest>},
    throughChoice<K>(),
    {"by", "In", byWords, Place::how, byRotary, wordIn<K, &K::by>, putWord<K, &K::by>},
    {"rim", "Open at", rimWords, Place::how, byRotary, wordIn<K, &K::rim>, putWord<K, &K::rim>},
    directionChoice<K>(),
    {"entry", "Entry", clearEntryWords, Place::entry, byRotary, wordIn<K, &K::entry>, putWord<K, &K::entry>},
};

constexpr shop::ToolKind tools[] = {shop::ToolKind::endMill, shop::ToolKind::bullNose};

} // namespace

const Kind& Clear::kind() {
    static const Kind row{
        .name = "clear",
        .label = "Clear",
        .title = "Areas",
        .shortcut = "Ctrl+Shift+L",
        .purpose = "to clear areas",
        .pattern = Pattern::grid,
        .processes = byRotary,
        .tools = tools,
        .upTo = 6.5, // wider ones leave too much in corners
        .work = shop::Work::cut,
        .takes = Takes::areas,
        .protectsParts = true,
        .place = 5, // holes and lines on its floor come after it
        .placeOf =
            [](const Step& step) { return in<K>(step).entry == Entry::hole ? 11 : 5; }, // but those it goes in by
        .fields = fields,
        .choices = choices,
        .fresh =
            [] {
                Clear fresh;
                fresh.depth.through = false;
                return Settings(fresh);
            },
        .engaged =
            [](const Step& step) {
                const K& clear = in<K>(step);
                return clear.by == ClearBy::evenLoad && !clear.rest
                           ? (1 - std::cos(clear.engagement * std::numbers::pi / 180)) / 2
                           : 1 - clear.overlap / 100;
            },
        .walls = true,
        .rest = [](Step& step) -> bool& { return in<K>(step).rest; },
        .begin =
            [](Step& step, const Beginning& from) {
                in<K>(step).depth.depth = std::min(3.0, from.thickness / 2);
                in<K>(step).rim = Rim::blank;
            }};
    return row;
}

} // namespace ferro::plan

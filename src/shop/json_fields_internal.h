#pragma once

#include "shop/shop.h"

#include <nlohmann/json.hpp>

// How the shop book's things look in JSON; the job file carries them in the same form. Only for .cpp files that write
// or read JSON.
namespace ferro::shop {

NLOHMANN_JSON_SERIALIZE_ENUM(MachineKind, {{MachineKind::router, "router"}, {MachineKind::laser, "laser"}})
NLOHMANN_JSON_SERIALIZE_ENUM(ToolKind, {{ToolKind::endMill, "end mill"},
                                        {ToolKind::ball, "ball"},
                                        {ToolKind::vBit, "v-bit"},
                                        {ToolKind::engraver, "engraver"},
                                        {ToolKind::drill, "drill"},
                                        {ToolKind::laser, "laser"}})
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Machine, key, name, kind, bedX, bedY, travelZ, maxFeed, maxFeedZ, rapid,
                                                rapidZ, acceleration, accelerationZ, junction, minSpindle, maxSpindle,
                                                toolChangeSeconds, dialect)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Tool, key, name, number, kind, diameter, tip, angle, fluteLength,
                                                flutes)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Material, key, name, colour, grain, surfaceSpeed, chipPerDiameter,
                                                depthPerDiameter, cutPower, cutSpeed, scorePower, scoreSpeed,
                                                laserDepth)

} // namespace ferro::shop

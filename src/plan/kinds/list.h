#pragma once

#include "plan/kinds/bevel.h"
#include "plan/kinds/clear.h"
#include "plan/kinds/drill.h"
#include "plan/kinds/groove.h"
#include "plan/kinds/hatch.h"
#include "plan/kinds/outline.h"
#include "plan/kinds/scribe.h"
#include "plan/kinds/skim.h"
#include "plan/kinds/slit.h"
#include "plan/kinds/tone.h"

#include <variant>

namespace ferro::plan {

/// Every kind of step there is, in the order of menus. To add one: its struct and row here in `plan/kinds`, its planner
/// in `toolpath/kinds`, its colour in the window's theme.
using Settings = std::variant<Outline, Clear, Drill, Scribe, Groove, Bevel, Skim, Hatch, Tone, Slit>;

} // namespace ferro::plan

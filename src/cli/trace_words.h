#pragma once

#include "job/job.h"
#include "picture/clean.h"
#include "trace/trace.h"

namespace ferro::cli {

/// One setting of a trace by its name: find, level, above, invert, speck, corners, follow, colours, under, paper,
/// line, step, only ("x,y,width,height"). Answers whether the name was known.
[[nodiscard]] Result<bool> takeTraceSetting(const std::string& name, const std::string& value, Units units,
                                            trace::Settings& settings);
/// "find=strokes level=120 …" with an area ("area=x,y,width,height" or "area=x,y;x,y;x,y"), from a JSON list of
/// objects with those members.
[[nodiscard]] Result<std::vector<trace::Patch>> patchesFrom(std::string_view json, const trace::Settings& base);

/// "even-light=8", "crop=10,10,80,60", "tone=10,20", "erase=2:10,10;20,15", "invert" …
[[nodiscard]] Result<picture::CleanStep> cleanStepFrom(const std::string& word, Units units);

} // namespace ferro::cli

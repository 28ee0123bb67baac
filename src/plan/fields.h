#pragma once

#include "base/quantity.h"
#include "plan/step.h"

#include <span>

namespace ferro::plan {

/// A step's settings as a table, the one place that knows their names, units, ranges and who uses them. The window
/// builds its side sheet from it, the command line its options, the job file its members.
struct Field {
    std::string_view name;  ///< in files and on the command line
    std::string_view label; ///< in the window
    Measure measure = Measure::length;
    double low = 0, high = 0;
    unsigned kinds = 0; ///< bit per StepKind
    bool mill = true, laser = true;
    bool fromBook = false; ///< has a starting value in the shop book
    double& (*number)(Step&) = nullptr;
};
[[nodiscard]] std::span<const Field> fields();
[[nodiscard]] const Field* fieldNamed(std::string_view name);
[[nodiscard]] bool uses(const Field& field, StepKind kind, shop::MachineKind machine);
[[nodiscard]] double valueOf(const Field& field, const Step& step);
[[nodiscard]] double bookValue(const Field& field, const Step& step, const shop::Tool& tool,
                               const shop::Material& material, const shop::Machine& machine, double thickness);

/// Settings that are one of a few words.
struct Choice {
    std::string_view name, label;
    std::span<const std::string_view> words;
    unsigned kinds = 0;
    bool mill = true, laser = true;
    int (*get)(const Step&) = nullptr;
    void (*set)(Step&, int) = nullptr;
};
[[nodiscard]] std::span<const Choice> choices();
[[nodiscard]] const Choice* choiceNamed(std::string_view name);

/// The step with one setting changed from text: a quantity with units, or one of a choice's words; "name" and "tool"
/// too. Marks it as typed. Says what is out of range or unknown.
[[nodiscard]] Result<Step> withSetting(const Step& step, std::string_view name, std::string_view text, Units units);

} // namespace ferro::plan

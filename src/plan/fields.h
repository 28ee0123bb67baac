#pragma once

#include "plan/kind.h"

namespace ferro::plan {

/// Choices that every kind has: in the program or not, and where it tells roles apart, which it takes.
[[nodiscard]] std::vector<const Choice*> choicesOf(const Kind& kind);
[[nodiscard]] const Field* fieldNamed(const Kind& kind, std::string_view name);
[[nodiscard]] const Choice* choiceNamed(const Kind& kind, std::string_view name);

[[nodiscard]] double valueOf(const Field& field, const Step& step);
/// How much faster than in a slot the book lets a step feed, as it takes thin chips only; 1: no faster.
[[nodiscard]] double fasterBy(const Step& step);
/// What was proven for steps of this kind by this tool here; none: nothing was.
[[nodiscard]] const shop::Proven* provenFor(const Step& step, const Beginning& beginning);
/// Whether the book says it: every number that it reckons, and those that were proven.
[[nodiscard]] bool isOfBook(const Field& field, const Step& step, const Beginning& beginning);
/// The proven number, else the reckoned one, else what the step has.
[[nodiscard]] double bookValue(const Field& field, const Step& step, const Beginning& beginning);
/// The same number as a person would have typed it, with every digit: "12.5 mm".
[[nodiscard]] std::string exactly(const Field& field, double value);

/// The names in a text with commas between them.
[[nodiscard]] std::vector<std::string> namesIn(std::string_view text);

/// The step with one setting changed from text: a quantity with units, or one of a choice's words; the head's too:
/// "name", "tool", "layers", "above", "below", "note", "stop". Marks it as typed. Says what is out of range or unknown.
[[nodiscard]] Result<Step> withSetting(const Step& step, std::string_view name, std::string_view text, Units units);

/// Whether every number of a step is in its field's range; says which is not.
[[nodiscard]] Result<void> checked(const Step& step);

} // namespace ferro::plan

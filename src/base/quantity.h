#pragma once

#include "base/result.h"

#include <string>
#include <string_view>

namespace ferro {

/// What a number field counts. The inside is always mm, mm/min, degrees, percent, rpm, mm², s or a bare number, whole
/// (count) or not (plain).
enum class Measure { length, feed, area, angle, percent, turns, time, count, plain };
enum class Units { mm, inch };

inline constexpr double mmPerInch = 25.4;

/// Reads what a person typed: arithmetic (+ - * / and brackets) over numbers with or without a suffix: mm cm m in " ft
/// thou um for lengths, and "3 1/2in" for a whole and a fraction. A bare number is in `units` for lengths, feeds and
/// areas. Decimal comma or point. Answers in inside units; a problem names the character that could not be read.
[[nodiscard]] Result<double> parseQuantity(std::string_view text, Measure measure, Units units);

/// The number as shown in a field: rounded to what matters (0.01 mm, 0.001 in), without the unit.
[[nodiscard]] std::string shownNumber(double value, Measure measure, Units units);
/// "mm", "in/min", "°" ...
[[nodiscard]] std::string unitName(Measure measure, Units units);
/// "12.5 mm": number and unit, for sentences.
[[nodiscard]] std::string shown(double value, Measure measure, Units units = Units::mm);
/// "12.5 mm" for messages of the core.
[[nodiscard]] std::string mm(double value);
/// The same number as a person would have typed it, with every digit: "12.5 mm", whatever units fields are shown in.
[[nodiscard]] std::string exactly(double value, Measure measure);
/// That a setting of this name cannot be so much, and between what it can.
[[nodiscard]] Problem outOfRange(std::string_view label, double value, Measure measure, double low, double high);
/// "41 min 20 s"; hours above sixty minutes.
[[nodiscard]] std::string shownTime(double seconds);

} // namespace ferro

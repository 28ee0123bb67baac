#pragma once

#include "base/quantity.h"
#include "shop/shop.h"

#include <span>

namespace ferro::shop {

/// One number of a machine, a tool or a material: the only place that knows its unit and range. The book's cards, the
/// command line and the checks of files are driven by these.
template<class Thing> struct Number {
    std::string_view name;  ///< in files and on the command line
    std::string_view label; ///< in the window
    Measure measure = Measure::length;
    double low = 0, high = 0;
    double (*get)(const Thing&) = nullptr;
    void (*set)(Thing&, double) = nullptr;
    bool (*counts)(const Thing&) = nullptr; ///< whether its kind of thing has it; none: always
    std::string_view unless = {};           ///< what 0 means, where it means that there is none
};

/// One property of it that is one of a few words.
template<class Thing> struct Word {
    std::string_view name, label;
    std::span<const std::string_view> words;
    int (*get)(const Thing&) = nullptr;
    void (*set)(Thing&, int) = nullptr;
};

/// What a thing of the book is made of. Specialised for Machine, Tool, Material and Board.
template<class Thing> [[nodiscard]] std::span<const Number<Thing>> numbersOf();
template<class Thing> [[nodiscard]] std::span<const Word<Thing>> wordsOf();
/// "machine", "tool", "material", "board".
template<class Thing> [[nodiscard]] std::string_view nounOf();

/// The thing with one property changed from text: a quantity with units, one of a word's words, its "name"; a
/// material's "colour" as #RRGGBB; a machine's "processes" with commas between, its "dialect" and "conversation"; a
/// board's "material" and "outline". Says what is out of range or unknown.
template<class Thing>
[[nodiscard]] Result<Thing> withSetting(const Thing& thing, std::string_view name, std::string_view text, Units units);

/// Every property that a setting can change, as text that it would take.
template<class Thing> [[nodiscard]] std::vector<std::pair<std::string, std::string>> settingsOf(const Thing& thing);

/// Whether a thing can be worked with; says of which thing it is not.
[[nodiscard]] Result<void> checked(const Machine& machine);
[[nodiscard]] Result<void> checked(const Tool& tool);
[[nodiscard]] Result<void> checked(const Material& material);
[[nodiscard]] Result<void> checked(const Board& board);
[[nodiscard]] Result<void> checked(const Book& book); ///< all of it

} // namespace ferro::shop

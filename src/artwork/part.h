#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace ferro::artwork {

/// How a part may be turned on a sheet.
enum class Turns : std::uint8_t { any, none, half, quarter };
inline constexpr std::array<std::string_view, 4> turnsWords = {"any", "none", "half", "quarter"};
constexpr const auto& wordsOf(Turns) { return turnsWords; }

/// Whether a part has to be on the sheets, or only fills what is left.
enum class Priority : std::uint8_t { must, filler };
inline constexpr std::array<std::string_view, 2> priorityWords = {"must", "filler"};
constexpr const auto& wordsOf(Priority) { return priorityWords; }

/// What is to be known of a part before it is laid on a sheet. Stands on the part's outermost item.
struct Part {
    int quantity = 1;          ///< 1 to 100 000, itself counted
    std::string material = {}; ///< key of the shop book; empty: any sheet's
    double thickness = 0;      ///< mm; 0: any sheet's
    Turns turns = Turns::any;
    bool mirror = false; ///< may be cut face down
    Priority priority = Priority::must;
    std::vector<std::string> labels = {};
    friend bool operator==(const Part&, const Part&) = default;
};

} // namespace ferro::artwork

#include "picture/clean.h"

#include <array>

namespace ferro::picture {

namespace {
using Kind = CleanStep::Kind;
constexpr std::array<std::string_view, 10> words{"crop",   "straighten", "tone",   "even-light", "black-white",
                                                 "invert", "despeckle",  "smooth", "erase",      "draw"};
} // namespace

std::string_view wordOf(CleanStep::Kind kind) { return words[static_cast<std::size_t>(kind)]; }
std::optional<CleanStep::Kind> cleanKindFrom(std::string_view word) {
    const auto at = std::find(words.begin(), words.end(), word);
    if (at == words.end()) return std::nullopt;
    return static_cast<CleanStep::Kind>(at - words.begin());
}
CleanStep freshStep(CleanStep::Kind kind) {
    CleanStep step;
    step.kind = kind;
    if (kind == Kind::despeckle) step.amount = 0.3;
    if (kind == Kind::smooth) step.amount = 0.1;
    return step;
}

} // namespace ferro::picture

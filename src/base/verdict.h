#pragma once

#include <cstddef>
#include <string_view>

namespace ferro {

/// How much a finding weighs: something to know, something to look at, something that must not be run.
enum class Verdict { note, look, noGo };

[[nodiscard]] constexpr std::string_view verdictName(Verdict verdict) {
    constexpr std::string_view names[] = {"note", "look", "no-go"};
    return names[static_cast<std::size_t>(verdict)];
}

} // namespace ferro

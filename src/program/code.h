#pragma once

#include <string>
#include <string_view>

namespace ferro::program {

/// A line of G-code without its remarks, in brackets or behind a semicolon, and without blanks at its ends.
[[nodiscard]] std::string codeOf(std::string_view line);

} // namespace ferro::program

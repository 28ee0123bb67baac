#pragma once

#include <string>
#include <string_view>

namespace ferro::formats {

/// UTF-8 as it is, else taken for Latin 1; \U+XXXX unfolded.
[[nodiscard]] std::string textFromDxf(std::string_view raw);
/// The same without the format's codes for faces, colours, stacks and signs; lines parted by \n.
[[nodiscard]] std::string plainTextFromDxf(std::string_view raw);

} // namespace ferro::formats

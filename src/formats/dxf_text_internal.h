#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace ferro::formats {

/// A whole file as UTF-8, where it is of the time when its words were in a code page ($ACADVER before AC1021): the one
/// of $DWGCODEPAGE, Windows 1252 where that names none that is known. Nothing for one that needs no change.
[[nodiscard]] std::optional<std::string> utf8FromCodePage(std::string_view file);
/// UTF-8 as it is, else taken for Latin 1; \U+XXXX unfolded.
[[nodiscard]] std::string textFromDxf(std::string_view raw);
/// The same without the format's codes for faces, colours, stacks and signs; lines parted by \n.
[[nodiscard]] std::string plainTextFromDxf(std::string_view raw);

} // namespace ferro::formats

#pragma once

#include <string>
#include <string_view>

namespace ferro::formats {

/// Begins as a binary DXF file does.
[[nodiscard]] bool isBinaryDxf(std::string_view bytes);

struct DxfText {
    std::string text;   ///< pairs of group code and value, a line each
    std::string damage; ///< where the file breaks off, empty for a whole one
};
/// A binary DXF file as the text that says the same: group codes of one byte (R10 to R12) or two, values in the width
/// that their code tells (DXF Reference, "Binary DXF files" and "Group code value types"). Numbers keep every bit;
/// chunks of bytes, which only carry previews and handles of others, come as empty values.
[[nodiscard]] DxfText dxfTextFromBinary(std::string_view bytes);

} // namespace ferro::formats

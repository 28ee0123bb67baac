#pragma once

#include "artwork/artwork.h"

namespace ferro::formats {

/// One line of a cut list: a drawing, how often it is wanted and of what.
struct CutRow {
    std::size_t line = 0;   ///< in the file, from 1
    std::string file, name; ///< of the drawing; of the part, the drawing's when the list has none
    std::string material;   ///< as the list says it; empty: any
    artwork::Part part;     ///< without its material
};
struct CutList {
    std::vector<CutRow> rows;
    std::vector<Notice> notices; ///< columns that nobody knows, rows that want nothing
};

/// Text with its cells parted by commas, semicolons or tabs, whichever its first line has most of (RFC 4180, with its
/// quotes, and line ends of any kind): UTF-8, UTF-16 with a mark, or else Windows 1252. The first line names the
/// columns, in any order: file, part, quantity, material, thickness, turn, mirror, priority, labels, by these or their
/// common other names. Numbers may have a decimal comma where cells are not parted by commas; a thickness may say its
/// unit. Problems say line and column.
[[nodiscard]] Result<CutList> cutListFrom(std::string_view bytes);

/// Rows as such a file: commas, quotes where they are needed, lines ended as RFC 4180 has it.
[[nodiscard]] std::string csvOf(const std::vector<std::vector<std::string>>& rows);

} // namespace ferro::formats

#include "formats/cut_list.h"

#include "base/quantity.h"
#include "formats/dxf_text_internal.h"

namespace ferro::formats {

namespace {

enum class Column { file, name, quantity, material, thickness, turns, mirror, priority, labels, none };
constexpr std::array<std::string_view, 10> columnNames = {"file", "part",   "quantity", "material", "thickness",
                                                          "turn", "mirror", "priority", "labels",   ""};
constexpr std::pair<std::string_view, Column> known[] = {
    {"file", Column::file},         {"drawing", Column::file},        {"dxf", Column::file},
    {"svg", Column::file},          {"part", Column::name},           {"name", Column::name},
    {"partname", Column::name},     {"partnumber", Column::name},     {"quantity", Column::quantity},
    {"qty", Column::quantity},      {"count", Column::quantity},      {"pieces", Column::quantity},
    {"off", Column::quantity},      {"number", Column::quantity},     {"material", Column::material},
    {"stock", Column::material},    {"thickness", Column::thickness}, {"thick", Column::thickness},
    {"turn", Column::turns},        {"turns", Column::turns},         {"rotation", Column::turns},
    {"grain", Column::turns},       {"mirror", Column::mirror},       {"flip", Column::mirror},
    {"priority", Column::priority}, {"labels", Column::labels},       {"label", Column::labels}};

/// Letters and digits alone, small.
std::string plain(std::string_view text) {
    std::string out;
    for (const char c : text)
        if (std::isalnum(static_cast<unsigned char>(c)))
            out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return out;
}
std::string trimmed(std::string_view text) {
    const auto isSpace = [](char c) { return c == ' ' || c == '\t'; };
    while (!text.empty() && isSpace(text.front())) text.remove_prefix(1);
    while (!text.empty() && isSpace(text.back())) text.remove_suffix(1);
    return std::string(text);
}

void appendUtf8(std::string& out, std::uint32_t c) {
    if (c < 0x80) {
        out += static_cast<char>(c);
    } else if (c < 0x800) {
        out += static_cast<char>(0xC0 | c >> 6);
        out += static_cast<char>(0x80 | (c & 0x3F));
    } else if (c < 0x10000) {
        out += static_cast<char>(0xE0 | c >> 12);
        out += static_cast<char>(0x80 | (c >> 6 & 0x3F));
        out += static_cast<char>(0x80 | (c & 0x3F));
    } else {
        out += static_cast<char>(0xF0 | c >> 18);
        out += static_cast<char>(0x80 | (c >> 12 & 0x3F));
        out += static_cast<char>(0x80 | (c >> 6 & 0x3F));
        out += static_cast<char>(0x80 | (c & 0x3F));
    }
}

bool isUtf8(std::string_view text) {
    for (std::size_t i = 0; i < text.size();) {
        const auto c = static_cast<unsigned char>(text[i]);
        const std::size_t more = c < 0x80 ? 0 : (c >> 5) == 6 ? 1 : (c >> 4) == 14 ? 2 : (c >> 3) == 30 ? 3 : 9;
        if (more == 9 || i + more >= text.size() + (more == 0)) return false;
        for (std::size_t k = 1; k <= more; ++k)
            if ((static_cast<unsigned char>(text[i + k]) & 0xC0) != 0x80) return false;
        i += more + 1;
    }
    return true;
}

std::string utf8Of(std::string_view bytes) {
    const auto at = [&](std::size_t i) { return static_cast<std::uint32_t>(static_cast<unsigned char>(bytes[i])); };
    if (bytes.starts_with("\xEF\xBB\xBF")) bytes.remove_prefix(3);
    if (bytes.size() >= 2 && ((at(0) == 0xFF && at(1) == 0xFE) || (at(0) == 0xFE && at(1) == 0xFF))) {
        const bool little = at(0) == 0xFF;
        std::string out;
        const auto unit = [&](std::size_t i) { return little ? at(i) | at(i + 1) << 8 : at(i) << 8 | at(i + 1); };
        for (std::size_t i = 2; i + 1 < bytes.size(); i += 2) {
            std::uint32_t c = unit(i);
            if (c >= 0xD800 && c < 0xDC00 && i + 3 < bytes.size()) {
                const std::uint32_t low = unit(i + 2);
                if (low >= 0xDC00 && low < 0xE000) c = 0x10000 + ((c - 0xD800) << 10) + (low - 0xDC00), i += 2;
            }
            appendUtf8(out, c >= 0xD800 && c < 0xE000 ? 0xFFFD : c);
        }
        return out;
    }
    if (isUtf8(bytes)) return std::string(bytes);
    constexpr std::array<std::uint32_t, 32> windows = {0x20AC, 0xFFFD, 0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021,
                                                       0x02C6, 0x2030, 0x0160, 0x2039, 0x0152, 0xFFFD, 0x017D, 0xFFFD,
                                                       0xFFFD, 0x2018, 0x2019, 0x201C, 0x201D, 0x2022, 0x2013, 0x2014,
                                                       0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, 0xFFFD, 0x017E, 0x0178};
    std::string out;
    for (std::size_t i = 0; i < bytes.size(); ++i)
        appendUtf8(out, at(i) >= 0x80 && at(i) < 0xA0 ? windows[at(i) - 0x80] : at(i));
    return out;
}

struct Record {
    std::size_t line = 1;
    std::vector<std::string> cells;
};

Problem at(std::size_t line, std::string_view column, std::string what, std::string mend) {
    return {.what = std::move(what),
            .where = column.empty() ? fmt::format("line {}", line) : fmt::format("line {}, column {}", line, column),
            .mend = std::move(mend)};
}

Result<std::vector<Record>> recordsOf(std::string_view text, char parts) {
    std::vector<Record> out;
    Record record{1, {""}};
    std::size_t line = 1;
    bool quoted = false, wasQuoted = false, any = false;
    const auto finish = [&] {
        if (any) out.push_back(std::move(record));
        record = {line, {""}};
        wasQuoted = any = false;
    };
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            if (c == '\n') ++line;
            if (c != '"')
                record.cells.back() += c;
            else if (i + 1 < text.size() && text[i + 1] == '"')
                record.cells.back() += '"', ++i;
            else
                quoted = false;
        } else if (c == '"' && trimmed(record.cells.back()).empty() && !wasQuoted) {
            record.cells.back().clear();
            quoted = wasQuoted = any = true;
        } else if (c == parts) {
            record.cells.emplace_back();
            wasQuoted = false, any = true;
            if (record.cells.size() > 1000)
                return at(record.line, {}, "There are more than 1000 cells.", "Is this a cut list?");
        } else if (c == '\n' || c == '\r') {
            if (c == '\r' && i + 1 < text.size() && text[i + 1] == '\n') ++i;
            ++line;
            finish();
        } else {
            record.cells.back() += c;
            any = any || (c != ' ' && c != '\t');
        }
    }
    if (quoted) return at(record.line, {}, "A quote is opened and never closed.", "Close it, or take it out.");
    finish();
    return out;
}

/// "6", "6.5", "6,5" where commas do not part cells, "1/4in", "6 mm".
std::string pointed(std::string text, char parts) {
    if (parts != ',') std::replace(text.begin(), text.end(), ',', '.');
    return text;
}

Result<void> take(CutRow& row, Column column, const std::string& cell, char parts) {
    const auto name = columnNames[static_cast<std::size_t>(column)];
    const auto word = plain(cell);
    switch (column) {
    case Column::file: row.file = cell; break;
    case Column::name: row.name = cell; break;
    case Column::material: row.material = cell; break;
    case Column::quantity: {
        if (cell.empty()) break; // once
        const auto count = parseQuantity(pointed(cell, parts), Measure::count, Units::mm);
        if (!count || *count < 0 || *count != std::floor(*count) || *count > 100'000)
            return at(row.line, name, fmt::format("“{}” is no number of parts.", cell.substr(0, 40)),
                      "Give a whole number up to 100 000; 0 leaves the part out.");
        row.part.quantity = static_cast<int>(*count);
        break;
    }
    case Column::thickness: {
        if (cell.empty()) break;
        const auto size = parseQuantity(pointed(cell, parts), Measure::length, Units::mm);
        if (!size || !(*size > 0 && *size < 10'000))
            return at(row.line, name, fmt::format("“{}” is no thickness.", cell.substr(0, 40)),
                      "Give mm, or a number with its unit: “6”, “1/4in”.");
        row.part.thickness = *size;
        break;
    }
    case Column::turns:
        if (word.empty() || word == "any" || word == "free" || word == "yes")
            row.part.turns = artwork::Turns::any;
        else if (word == "none" || word == "no" || word == "0" || word == "fixed" || word == "grain")
            row.part.turns = artwork::Turns::none;
        else if (word == "half" || word == "180" || word == "alonggrain")
            row.part.turns = artwork::Turns::half;
        else if (word == "quarter" || word == "90")
            row.part.turns = artwork::Turns::quarter;
        else
            return at(row.line, name, fmt::format("“{}” is no turn.", cell.substr(0, 40)),
                      "Use any, none, half or quarter.");
        break;
    case Column::mirror:
        if (word == "yes" || word == "on" || word == "true" || word == "1" || word == "x")
            row.part.mirror = true;
        else if (!word.empty() && word != "no" && word != "off" && word != "false" && word != "0")
            return at(row.line, name, fmt::format("“{}” is neither yes nor no.", cell.substr(0, 40)), "Use yes or no.");
        break;
    case Column::priority:
        if (word == "filler")
            row.part.priority = artwork::Priority::filler;
        else if (!word.empty() && word != "must")
            return at(row.line, name, fmt::format("“{}” is no priority.", cell.substr(0, 40)), "Use must or filler.");
        break;
    case Column::labels:
        for (std::size_t from = 0; from < cell.size();) {
            const auto end = std::min(cell.find_first_of(";|/", from), cell.size());
            if (auto label = trimmed(cell.substr(from, end - from)); !label.empty()) row.part.labels.push_back(label);
            from = end + 1;
        }
        break;
    case Column::none: break;
    }
    return {};
}

} // namespace

Result<CutList> cutListFrom(std::string_view bytes) {
    if (bytes.size() > 50'000'000)
        return Problem{.what = "A cut list of more than 50 MB.", .where = {}, .mend = "Is this the right file?"};
    const std::string text = utf8Of(bytes);
    if (text.find('\0') != std::string::npos)
        return Problem{.what = "This is no text.", .where = {}, .mend = "Save the list as CSV."};
    const auto first = std::string_view(text).substr(0, text.find_first_of("\r\n"));
    char parts = ',';
    for (const char c : {',', ';', '\t'})
        if (std::count(first.begin(), first.end(), c) > std::count(first.begin(), first.end(), parts)) parts = c;
    auto records = recordsOf(text, parts);
    if (!records) return records.problem();
    if (records->empty())
        return Problem{.what = "The cut list is empty.", .where = {}, .mend = "Its first line names the columns."};

    CutList out;
    std::vector<Column> columns;
    for (const auto& cell : records->front().cells) {
        const auto word = plain(cell);
        const auto found =
            std::find_if(std::begin(known), std::end(known), [&](const auto& k) { return k.first == word; });
        const auto column = found == std::end(known) ? Column::none : found->second;
        if (column != Column::none && std::find(columns.begin(), columns.end(), column) != columns.end())
            return at(1, trimmed(cell), "Two columns mean the same.", "Take one of them out.");
        if (column == Column::none && !word.empty())
            out.notices.push_back({fmt::format("The column “{}” is passed over.", trimmed(cell).substr(0, 60))});
        columns.push_back(column);
    }
    if (std::find(columns.begin(), columns.end(), Column::file) == columns.end())
        return at(1, {}, "No column names the drawings.", "Call it “file”; the first line names the columns.");

    for (std::size_t r = 1; r < records->size(); ++r) {
        const auto& record = (*records)[r];
        CutRow row;
        row.line = record.line;
        for (std::size_t i = 0; i < record.cells.size(); ++i) {
            const auto cell = trimmed(record.cells[i]);
            if (i >= columns.size()) {
                if (cell.empty()) continue;
                return at(row.line, {}, fmt::format("“{}” stands beyond the last column.", cell.substr(0, 40)),
                          "Put cells that hold commas into quotes.");
            }
            if (auto taken = take(row, columns[i], cell, parts); !taken) return taken.problem();
        }
        if (std::all_of(record.cells.begin(), record.cells.end(), [](const auto& c) { return trimmed(c).empty(); }))
            continue;
        if (row.file.empty())
            return at(row.line, "file", "No drawing is named.", "Name its file, or take the line out.");
        if (row.name.empty()) row.name = std::filesystem::path(row.file).stem().string();
        if (row.part.quantity == 0) {
            out.notices.push_back({fmt::format("Line {}: none of “{}” is wanted.", row.line, row.name)});
            continue;
        }
        out.rows.push_back(std::move(row));
    }
    if (out.rows.empty())
        return Problem{.what = "The cut list wants nothing.", .where = {}, .mend = "Give it a line for each part."};
    return out;
}

std::string csvOf(const std::vector<std::vector<std::string>>& rows) {
    std::string out;
    for (const auto& row : rows) {
        for (std::size_t i = 0; i < row.size(); ++i) {
            if (i) out += ',';
            if (row[i].find_first_of(",\"\r\n;\t") == std::string::npos && row[i] == trimmed(row[i])) {
                out += row[i];
                continue;
            }
            out += '"';
            for (const char c : row[i]) out += c == '"' ? std::string("\"\"") : std::string(1, c);
            out += '"';
        }
        out += "\r\n";
    }
    return out;
}

} // namespace ferro::formats

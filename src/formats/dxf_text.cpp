#include "formats/dxf_text_internal.h"

#include <charconv>
#include <iconv.h>

namespace ferro::formats {

namespace {

bool isUtf8(std::string_view s) {
    for (std::size_t i = 0; i < s.size();) {
        const auto c = static_cast<unsigned char>(s[i]);
        const std::size_t more = c < 0x80                ? 0
                                 : c >= 0xC2 && c < 0xE0 ? 1
                                 : c < 0xF0 && c >= 0xE0 ? 2
                                 : c < 0xF5              ? 3
                                                         : 9;
        if ((c >= 0x80 && c < 0xC2) || more == 9 || i + more >= s.size()) return false;
        for (std::size_t k = 1; k <= more; ++k)
            if ((static_cast<unsigned char>(s[i + k]) & 0xC0) != 0x80) return false;
        i += more + 1;
    }
    return true;
}

/// The value of a variable of the header, which stands near the beginning.
std::string_view variable(std::string_view file, std::string_view name) {
    const auto head = file.substr(0, 1 << 16);
    auto at = head.find(name);
    for (int line = 0; line < 2 && at != std::string_view::npos; ++line) { // its group code, then it
        at = head.find('\n', at);
        if (at != std::string_view::npos) ++at;
    }
    if (at == std::string_view::npos) return {};
    return head.substr(at, head.find_first_of("\r\n", at) - at);
}

/// As iconv calls it.
std::string codePage(std::string_view name) {
    std::string out;
    for (const char c : name)
        if (std::isalnum(static_cast<unsigned char>(c)) || c == '-')
            out += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    for (const std::string_view family : {"ANSI", "DOS"})
        if (out.starts_with(family)) return "CP" + out.substr(family.size());
    if (out.starts_with("ISO8859")) return "ISO-" + out.substr(3);
    return out;
}

void putUtf8(std::string& out, unsigned code) {
    if (code < 0x80) {
        out += static_cast<char>(code);
    } else if (code < 0x800) {
        out += static_cast<char>(0xC0 | (code >> 6));
        out += static_cast<char>(0x80 | (code & 0x3F));
    } else {
        out += static_cast<char>(0xE0 | (code >> 12));
        out += static_cast<char>(0x80 | ((code >> 6) & 0x3F));
        out += static_cast<char>(0x80 | (code & 0x3F));
    }
}

} // namespace

std::optional<std::string> utf8FromCodePage(std::string_view file) {
    if (std::none_of(file.begin(), file.end(), [](char c) { return (c & 0x80) != 0; })) return std::nullopt;
    if (variable(file, "$ACADVER") >= "AC1021" || isUtf8(file)) return std::nullopt;
    const auto name = codePage(variable(file, "$DWGCODEPAGE"));
    auto pages = iconv_open("UTF-8", name.empty() ? "CP1252" : name.c_str());
    if (pages == iconv_t(-1)) pages = iconv_open("UTF-8", "CP1252");
    if (pages == iconv_t(-1)) return std::nullopt;
    std::string out(file.size() + file.size() / 2 + 64, '\0');
    std::size_t used = 0, left = file.size();
    auto* from = const_cast<char*>(file.data()); // as its signature wants; it is only read
    while (left > 0) {
        char* to = out.data() + used;
        std::size_t room = out.size() - used;
        const bool stopped = iconv(pages, &from, &left, &to, &room) == std::size_t(-1);
        used = static_cast<std::size_t>(to - out.data());
        if (!stopped) break;
        if (errno == E2BIG) {
            out.resize(out.size() * 2);
        } else { // no character of that page
            if (used == out.size()) out.resize(out.size() * 2);
            out[used++] = '?';
            ++from, --left;
        }
    }
    iconv_close(pages);
    out.resize(used);
    return out;
}

std::string textFromDxf(std::string_view raw) {
    const bool utf8 = isUtf8(raw);
    std::string out;
    for (std::size_t i = 0; i < raw.size(); ++i) {
        unsigned code = 0;
        if (raw.substr(i, 3) == "\\U+" && i + 7 <= raw.size() &&
            std::from_chars(raw.data() + i + 3, raw.data() + i + 7, code, 16).ptr == raw.data() + i + 7 &&
            (code < 0xD800 || code > 0xDFFF) && code >= 0x20) {
            putUtf8(out, code);
            i += 6;
        } else if (static_cast<unsigned char>(raw[i]) < 0x20) {
            out += ' ';
        } else if (utf8) {
            out += raw[i];
        } else {
            putUtf8(out, static_cast<unsigned char>(raw[i]));
        }
    }
    return out;
}

std::string plainTextFromDxf(std::string_view raw) {
    const auto text = textFromDxf(raw);
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i], next = i + 1 < text.size() ? text[i + 1] : '\0';
        if (c == '{' || c == '}') continue;
        if (c == '%' && next == '%' && i + 2 < text.size()) {
            const char sign = static_cast<char>(std::tolower(static_cast<unsigned char>(text[i + 2])));
            out += sign == 'c' ? "Ø" : sign == 'd' ? "°" : sign == 'p' ? "±" : "";
            i += 2;
        } else if (c == '\\' && (next == 'P' || next == 'n')) {
            out += '\n', ++i;
        } else if (c == '\\' && (next == '\\' || next == '{' || next == '}')) {
            out += next, ++i;
        } else if (c == '\\' && next == '~') {
            out += ' ', ++i;
        } else if (c == '\\' && std::isalpha(static_cast<unsigned char>(next))) {
            if (std::string_view("LlOoKk").find(next) == std::string_view::npos) { // one with a value, up to ;
                const auto end = text.find(';', i);
                if (end == std::string::npos) break;
                if (next == 'S') { // a fraction: one over the other, or aslant
                    if (!out.empty() && std::isdigit(static_cast<unsigned char>(out.back()))) out += ' ';
                    for (std::size_t k = i + 2; k < end; ++k)
                        if (text[k] != ' ') out += text[k] == '^' || text[k] == '#' ? '/' : text[k];
                }
                i = end;
            } else {
                ++i;
            }
        } else {
            out += c;
        }
    }
    return out;
}

} // namespace ferro::formats

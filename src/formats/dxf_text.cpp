#include "formats/dxf_text_internal.h"

#include <charconv>

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

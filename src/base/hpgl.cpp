#include "base/hpgl.h"

#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace ferro {

namespace {

bool isLetter(char c) { return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z'); }
bool isGap(char c) { return c == ' ' || c == ',' || c == '\t' || c == '\r' || c == '\n'; }
char capital(char c) { return c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c; }

} // namespace

Result<std::vector<HpglWord>> hpglFrom(std::string_view text) {
    std::vector<HpglWord> words;
    std::size_t at = 0, line = 1;
    char labelEnd = '\3';
    const auto bad = [&](std::string what) {
        return Problem{.what = std::move(what),
                       .where = fmt::format("line {}", line),
                       .mend = "Check that it is a plotter's file (HPGL)."};
    };
    const auto next = [&] { line += text[at++] == '\n'; };
    while (at < text.size()) {
        const char c = text[at];
        if (isGap(c) || c == ';' || c == '\0') {
            next();
            continue;
        }
        if (c == '\33') { // a device's own: ESC . letter (numbers) :, or ESC % numbers letter
            ++at;
            if (at < text.size() && text[at] == '.') {
                at += 2;
                while (at < text.size() && (text[at] == ';' || text[at] == ' ' || (text[at] >= '0' && text[at] <= '9')))
                    ++at;
                if (at < text.size() && text[at] == ':') ++at;
            } else {
                while (at < text.size() && !isLetter(text[at])) next();
                if (at < text.size()) ++at;
            }
            continue;
        }
        if (!isLetter(c) || at + 1 >= text.size() || !isLetter(text[at + 1]))
            return bad(fmt::format("An instruction of two letters was expected, not “{}”.",
                                   static_cast<unsigned char>(c) < 0x20 || static_cast<unsigned char>(c) > 0x7e
                                       ? "?"
                                       : std::string(text.substr(at, 2))));
        HpglWord word{{capital(c), capital(text[at + 1])}, {}, {}, line};
        at += 2;
        if (word.code == "LB" || word.code == "PE") {
            const char end = word.code == "LB" ? labelEnd : ';';
            while (at < text.size() && text[at] != end) word.label += text[at], next();
            if (at < text.size()) ++at;
            words.push_back(std::move(word));
            continue;
        }
        if (word.code == "DT" && at < text.size() && text[at] != ';') {
            labelEnd = text[at];
            next();
        }
        while (at < text.size()) {
            if (isGap(text[at])) {
                next();
                continue;
            }
            const char* begin = text.data() + at + (text[at] == '+' ? 1 : 0);
            double value = 0;
            const auto read = std::from_chars(begin, text.data() + text.size(), value, std::chars_format::fixed);
            if (read.ec != std::errc() || read.ptr == begin) break;
            if (!std::isfinite(value) || std::abs(value) > 1e9) return bad("A number is beyond all measure.");
            word.numbers.push_back(value);
            at = static_cast<std::size_t>(read.ptr - text.data());
        }
        if (at < text.size() && !isLetter(text[at]) && text[at] != ';' && text[at] != '\33' && text[at] != '\0')
            return bad(fmt::format("“{}” cannot be read behind {}.", text[at], word.code));
        words.push_back(std::move(word));
        if (words.size() > 20'000'000) return bad("The file has too many instructions.");
    }
    return words;
}

} // namespace ferro

#include "base/json_members.h"

namespace ferro::json_members {

namespace {

/// The library's fault in words for who has typed the file.
std::string_view plainly(std::string_view said) {
    const auto has = [&](std::string_view words) { return said.find(words) != std::string_view::npos; };
    if (has("unexpected end of input")) return "the file ends too early: a bracket or a quotation mark is not closed";
    if (has("invalid string") || has("ill-formed UTF-8")) return "a text in quotation marks is not sound";
    if (has("expected ':'") || has("object separator")) return "a colon is missing";
    if (has("; expected string literal") || has("object key")) return "a name in quotation marks was expected";
    if (has("expected '}'") || has("expected ']'")) return "a comma is missing";
    if (has("number overflow")) return "the number is absurd";
    return "this cannot be read";
}

} // namespace

Result<json> parsed(std::string_view text) {
    try {
        return json::parse(text);
    } catch (const json::parse_error& error) {
        // The fault lies at the last character that was read.
        const auto upTo = text.substr(0, std::min<std::size_t>(error.byte ? error.byte - 1 : 0, text.size()));
        const auto line = 1 + std::count(upTo.begin(), upTo.end(), '\n');
        return Problem{
            .what = fmt::format("Line {}: {}.", line, plainly(error.what())), .where = {}, .mend = "Correct the file."};
    } catch (const json::exception&) {
        return Problem{.what = "The numbers in it cannot be read.", .where = {}, .mend = "Correct the file."};
    }
}

} // namespace ferro::json_members

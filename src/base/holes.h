#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace ferro {

/// `pattern` with each {word} in it replaced by what `valueOf(word)` gives (an optional text; none: the word stays as
/// it is). One pass: what was filled in is not looked at again, so a job called "{name}" does no harm.
template<class ValueOf> [[nodiscard]] std::string holesFilled(std::string_view pattern, const ValueOf& valueOf) {
    std::string out;
    while (!pattern.empty()) {
        const auto open = pattern.find('{');
        const auto close = open == std::string_view::npos ? open : pattern.find('}', open);
        if (close == std::string_view::npos) break;
        const std::optional<std::string> value = valueOf(pattern.substr(open + 1, close - open - 1));
        out += pattern.substr(0, open);
        out += value ? *value : std::string(pattern.substr(open, close + 1 - open));
        pattern.remove_prefix(close + 1);
    }
    return out.append(pattern);
}

} // namespace ferro

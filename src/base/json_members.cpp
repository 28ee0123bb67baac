#include "base/json_members.h"

namespace ferro::json_members {

std::string placeOf(const json& entry, std::size_t index) {
    if (const auto* name = entry.find("name"); name && name->isText()) return fmt::format("“{}”", name->text());
    return fmt::format("{}", index + 1);
}

bool truthIn(const json& j) {
    if (!j.isBool()) throw Fault{"true or false was expected", {}};
    return j.truth();
}

const std::string& textIn(const json& j) {
    if (!j.isText()) throw Fault{"a text was expected", {}};
    return j.text();
}

double numberIn(const json& j) {
    if (!j.isNumber()) throw Fault{"a number was expected", {}};
    if (!std::isfinite(j.number())) throw Fault{"the number is absurd", {}};
    return j.number();
}

const json::List& listIn(const json& j) {
    if (!j.isList()) throw Fault{"a list in [ ] was expected", {}};
    return j.list();
}

const json::Group& groupIn(const json& j) {
    if (!j.isGroup()) throw Fault{"a group of members in { } was expected", {}};
    return j.group();
}

std::size_t wordIn(const json& j, std::span<const std::string_view> known) {
    const auto& word = textIn(j);
    std::string all;
    for (std::size_t i = 0; i < known.size(); ++i) {
        if (word == known[i]) return i;
        all += fmt::format("{}“{}”", i ? ", " : "", known[i]);
    }
    throw Fault{fmt::format("“{}” is not known here; it may be {}", word.substr(0, 60), all), {}};
}

Problem problemOf(const Fault& fault, std::string mend) {
    std::string where;
    for (auto name = fault.path.rbegin(); name != fault.path.rend(); ++name)
        where += (where.empty() ? "" : ", ") + *name;
    std::string what = fault.what + (fault.what.ends_with('.') ? "" : ".");
    if (!what.empty() && what.front() >= 'a' && what.front() <= 'z')
        what.front() = static_cast<char>(what.front() - 32);
    return Problem{.what = std::move(what), .where = std::move(where), .mend = std::move(mend)};
}

} // namespace ferro::json_members

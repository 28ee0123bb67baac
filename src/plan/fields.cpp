#include "plan/fields.h"

#include <array>
#include <cmath>

namespace ferro::plan {

namespace {

constexpr std::array<std::string_view, 2> enabledWords = {"off", "on"};
constexpr std::array<std::string_view, 2> stopWords = {"no", "yes"};

constexpr Choice enabledChoice = {"enabled",
                                  "In the program",
                                  enabledWords,
                                  Place::entry,
                                  shop::everyProcess,
                                  [](const Step& s) { return static_cast<int>(s.enabled); },
                                  [](Step& s, int v) { s.enabled = v != 0; }};
constexpr Choice stopChoice = {"stop",
                               "Stop before",
                               stopWords,
                               Place::entry,
                               shop::everyProcess,
                               [](const Step& s) { return static_cast<int>(s.stopBefore); },
                               [](Step& s, int v) { s.stopBefore = v != 0; }};
constexpr Choice roleChoice = {"role",
                               "Takes",
                               roleWords,
                               Place::takes,
                               shop::everyProcess,
                               [](const Step& s) { return static_cast<int>(s.rule.role); },
                               [](Step& s, int v) { s.rule.role = static_cast<Role>(v); }};

} // namespace

std::vector<const Choice*> choicesOf(const Kind& kind) {
    std::vector<const Choice*> all;
    for (const auto& choice : kind.choices) all.push_back(&choice);
    if (kind.takesByRole) all.push_back(&roleChoice);
    all.push_back(&enabledChoice);
    all.push_back(&stopChoice);
    return all;
}

const Field* fieldNamed(const Kind& kind, std::string_view name) {
    for (const auto& field : kind.fields)
        if (field.name == name) return &field;
    return nullptr;
}

const Choice* choiceNamed(const Kind& kind, std::string_view name) {
    for (const auto* choice : choicesOf(kind))
        if (choice->name == name) return choice;
    return nullptr;
}

double valueOf(const Field& field, const Step& step) {
    Step copy = step;
    return field.number(copy);
}

const shop::Proven* provenFor(const Step& step, const Beginning& from) {
    return shop::provenFor(from.material, from.machine.key, from.tool.key, kindOf(step).name, from.thickness);
}

bool isOfBook(const Field& field, const Step& step, const Beginning& from) {
    if (field.fromBook) return true;
    const auto* proven = provenFor(step, from);
    return proven && proven->settings.contains(std::string(field.name));
}

double fasterBy(const Step& step) {
    const auto engaged = kindOf(step).engaged;
    return engaged ? shop::thinChips(engaged(step)) : 1;
}

double bookValue(const Field& field, const Step& step, const Beginning& from) {
    if (const auto* proven = provenFor(step, from))
        if (const auto at = proven->settings.find(std::string(field.name)); at != proven->settings.end())
            return std::clamp(at->second, field.low, field.high);
    const auto start = shop::startFor(from.tool, from.material, from.machine, kindOf(step).work, from.thickness);
    if (field.name == "feed")
        return fasterBy(step) > 1 ? std::min(from.machine.maxFeed, std::round(start.feed * fasterBy(step) / 10) * 10)
                                  : start.feed;
    if (field.name == "plunge") return start.plunge;
    if (field.name == "spindle") return start.spindle;
    if (field.name == "power") return start.power;
    if (field.name == "force") return start.force;
    if (field.name == "passes") return start.passes;
    if (field.name == "depthPerPass") return start.depthPerPass;
    return valueOf(field, step);
}

std::string exactly(const Field& field, double value) { return ferro::exactly(value, field.measure); }

std::vector<std::string> namesIn(std::string_view text) {
    std::vector<std::string> names;
    while (!text.empty()) {
        const auto comma = std::min(text.find(','), text.size());
        std::string_view name = text.substr(0, comma);
        while (name.starts_with(' ')) name.remove_prefix(1);
        while (name.ends_with(' ')) name.remove_suffix(1);
        if (!name.empty()) names.emplace_back(name);
        text.remove_prefix(std::min(comma + 1, text.size()));
    }
    return names;
}

namespace {

Problem outOfRange(const Field& field, double value) {
    return ferro::outOfRange(field.label, value, field.measure, field.low, field.high);
}

Result<Step> withChoice(Step step, const Choice& choice, std::string_view word) {
    if (choice.words.size() == 2 && choice.words[0] == "off" && choice.words[1] == "on")
        word = word == "yes" || word == "true" ? "on" : word == "no" || word == "false" ? "off" : word;
    std::string words;
    for (std::size_t i = 0; i < choice.words.size(); ++i) {
        if (choice.words[i] == word) {
            choice.set(step, static_cast<int>(i));
            return step;
        }
        words += fmt::format("{}“{}”", i ? ", " : "", choice.words[i]);
    }
    return Problem{.what = fmt::format("{} cannot be “{}”.", choice.label, word),
                   .where = {},
                   .mend = fmt::format("Use one of {}.", words)};
}

void markTyped(Step& step, std::string_view name) {
    if (std::find(step.typed.begin(), step.typed.end(), name) == step.typed.end()) step.typed.emplace_back(name);
    std::sort(step.typed.begin(), step.typed.end());
}

/// Settings that all kinds have and that are neither numbers of a kind nor choices.
Result<bool> setInHead(Step& step, std::string_view name, std::string_view text, Units units) {
    if (name == "name") {
        if (text.empty()) return Problem{.what = "A step needs a name.", .where = {}, .mend = {}};
        step.name = text;
    } else if (name == "tool") {
        step.tool = text;
    } else if (name == "note") {
        step.note = text;
    } else if (name == "layers") {
        step.rule.layers = namesIn(text);
    } else if (name == "above" || name == "below") {
        auto size = parseQuantity(text, Measure::length, units);
        if (!size) return size.problem();
        if (!(*size >= 0))
            return Problem{.what = "A size limit cannot be below 0.", .where = {}, .mend = "Give 0 for no limit."};
        (name == "above" ? step.rule.above : step.rule.below) = *size;
    } else {
        return false;
    }
    return true;
}

} // namespace

Result<Step> withSetting(const Step& step, std::string_view name, std::string_view text, Units units) {
    Step out = step;
    const auto head = setInHead(out, name, text, units);
    if (!head) return head.problem();
    if (*head) return out;
    const Kind& kind = kindOf(step);
    if (const auto* choice = choiceNamed(kind, name)) return withChoice(std::move(out), *choice, text);
    const auto* field = fieldNamed(kind, name);
    if (!field) {
        std::string known = "name, tool, layers, above, below, note";
        for (const auto& f : kind.fields) known += fmt::format(", {}", f.name);
        for (const auto* c : choicesOf(kind)) known += fmt::format(", {}", c->name);
        return Problem{.what = fmt::format("A step of kind {} has no setting “{}”.", kind.name, name),
                       .where = {},
                       .mend = fmt::format("Use one of: {}.", known)};
    }
    auto value = parseQuantity(text, field->measure, units);
    if (!value) return value.problem();
    if (field->measure == Measure::count) *value = std::round(*value);
    if (!(*value >= field->low && *value <= field->high)) return outOfRange(*field, *value);
    field->number(out) = *value;
    markTyped(out, name);
    return out;
}

Result<void> checked(const Step& step) {
    for (const auto& field : kindOf(step).fields) {
        const double value = valueOf(field, step);
        // A value from the book may be a hair beside: it was computed.
        if (!(value >= field.low - 1e-9 && value <= field.high + 1e-9))
            return outOfRange(field, value).within(fmt::format("step “{}”", step.name));
    }
    return {};
}

} // namespace ferro::plan

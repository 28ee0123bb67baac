#include "plan/fields.h"

#include <array>

namespace ferro::plan {

namespace {

constexpr unsigned outline = 1, drill = 2, scribe = 4, all = 7;
using enum Measure;

constexpr std::array<Field, 16> table = {{
    {"startDepth", "Start depth", length, 0, 500, all, true, false, false,
     [](Step& s) -> double& { return s.startDepth; }},
    {"depth", "Depth", length, 0.01, 500, all, true, false, false, [](Step& s) -> double& { return s.depth; }},
    {"extra", "Extra below", length, 0, 20, outline | drill, true, false, false,
     [](Step& s) -> double& { return s.extra; }},
    {"depthPerPass", "Depth per pass", length, 0.01, 100, outline | scribe, true, false, true,
     [](Step& s) -> double& { return s.depthPerPass; }},
    {"peck", "Peck", length, 0, 100, drill, true, false, false, [](Step& s) -> double& { return s.peck; }},
    {"power", "Power", percent, 0, 100, outline | scribe, false, true, true,
     [](Step& s) -> double& { return s.power; }},
    {"feed", "Feed", feed, 1, 100000, outline | scribe, true, true, true, [](Step& s) -> double& { return s.feed; }},
    {"plunge", "Plunge", feed, 1, 100000, all, true, false, true, [](Step& s) -> double& { return s.plunge; }},
    {"spindle", "Spindle", turns, 0, 100000, all, true, false, true, [](Step& s) -> double& { return s.spindle; }},
    {"passes", "Passes", count, 1, 50, outline | scribe, false, true, true,
     [](Step& s) -> double& { return s.passes; }},
    {"rampAngle", "Ramp angle", angle, 0.5, 45, outline | scribe, true, false, false,
     [](Step& s) -> double& { return s.rampAngle; }},
    {"lead", "Lead radius", length, 0, 50, outline, true, true, false, [](Step& s) -> double& { return s.lead; }},
    {"allowance", "Allowance", length, -5, 5, outline, true, true, false,
     [](Step& s) -> double& { return s.allowance; }},
    {"tabWidth", "Tab width", length, 0.1, 100, outline, true, true, false,
     [](Step& s) -> double& { return s.tabWidth; }},
    {"tabHeight", "Tab height", length, 0.1, 100, outline, true, false, false,
     [](Step& s) -> double& { return s.tabHeight; }},
    {"tabSpacing", "Tab spacing", length, 5, 5000, outline, true, true, false,
     [](Step& s) -> double& { return s.tabSpacing; }},
}};

constexpr std::array<std::string_view, 4> sideWords = {"auto", "outside", "inside", "on line"};
constexpr std::array<std::string_view, 2> throughWords = {"to depth", "through"};
constexpr std::array<std::string_view, 2> directionWords = {"climb", "conventional"};
constexpr std::array<std::string_view, 2> entryWords = {"ramp", "plunge"};
constexpr std::array<std::string_view, 2> holdWords = {"none", "tabs"};
constexpr std::array<std::string_view, 4> roleWords = {"any", "openings", "outer edges", "open lines"};
constexpr std::array<std::string_view, 2> enabledWords = {"off", "on"};

constexpr std::array<Choice, 7> choiceTable = {{
    {"enabled", "In the program", enabledWords, all, true, true,
     [](const Step& s) { return static_cast<int>(s.enabled); }, [](Step& s, int v) { s.enabled = v != 0; }},
    {"role", "Takes", roleWords, outline | scribe, true, true,
     [](const Step& s) { return static_cast<int>(s.rule.role); },
     [](Step& s, int v) { s.rule.role = static_cast<Role>(v); }},
    {"side", "Side", sideWords, outline, true, true, [](const Step& s) { return static_cast<int>(s.side); },
     [](Step& s, int v) { s.side = static_cast<Side>(v); }},
    {"through", "Goes", throughWords, outline | drill, true, false,
     [](const Step& s) { return static_cast<int>(s.through); }, [](Step& s, int v) { s.through = v != 0; }},
    {"direction", "Direction", directionWords, outline, true, false,
     [](const Step& s) { return static_cast<int>(s.direction); },
     [](Step& s, int v) { s.direction = static_cast<Direction>(v); }},
    {"entry", "Entry", entryWords, outline | scribe, true, false,
     [](const Step& s) { return static_cast<int>(s.entry); }, [](Step& s, int v) { s.entry = static_cast<Entry>(v); }},
    {"hold", "Hold by", holdWords, outline, true, true, [](const Step& s) { return static_cast<int>(s.hold); },
     [](Step& s, int v) { s.hold = static_cast<Hold>(v); }},
}};

} // namespace

std::span<const Field> fields() { return table; }

const Field* fieldNamed(std::string_view name) {
    for (const auto& field : fields())
        if (field.name == name) return &field;
    return nullptr;
}

bool uses(const Field& field, StepKind kind, shop::MachineKind machine) {
    return (field.kinds & 1u << static_cast<unsigned>(kind)) &&
           (machine == shop::MachineKind::laser ? field.laser : field.mill);
}

double valueOf(const Field& field, const Step& step) {
    Step copy = step;
    return field.number(copy);
}

double bookValue(const Field& field, const Step& step, const shop::Tool& tool, const shop::Material& material,
                 const shop::Machine& machine, double thickness) {
    const auto work = step.kind == StepKind::drill    ? shop::Work::drill
                      : step.kind == StepKind::scribe ? shop::Work::scribe
                                                      : shop::Work::cut;
    const auto start = shop::startFor(tool, material, machine, work, thickness);
    if (field.name == "feed") return start.feed;
    if (field.name == "plunge") return start.plunge;
    if (field.name == "spindle") return start.spindle;
    if (field.name == "power") return start.power;
    if (field.name == "passes") return start.passes;
    if (field.name == "depthPerPass") return start.depthPerPass;
    return valueOf(field, step);
}

std::span<const Choice> choices() { return choiceTable; }

const Choice* choiceNamed(std::string_view name) {
    for (const auto& choice : choiceTable)
        if (choice.name == name) return &choice;
    return nullptr;
}

namespace {

Problem outOfRange(const Field& field, double value) {
    return {.what = fmt::format("{} cannot be {}.", field.label, shown(value, field.measure)),
            .where = {},
            .mend = fmt::format("Give between {} and {}.", shown(field.low, field.measure),
                                shown(field.high, field.measure))};
}

std::vector<std::string> splitNames(std::string_view text) {
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

Result<Step> withChoice(Step step, const Choice& choice, std::string_view word) {
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

} // namespace

Result<Step> withSetting(const Step& step, std::string_view name, std::string_view text, Units units) {
    Step out = step;
    if (name == "name") {
        if (text.empty()) return Problem{.what = "A step needs a name.", .where = {}, .mend = {}};
        out.name = text;
        return out;
    }
    if (name == "tool") return out.tool = text, out;
    if (name == "layers") return out.rule.layers = splitNames(text), out;
    if (name == "above" || name == "below") {
        auto size = parseQuantity(text, Measure::length, units);
        if (!size) return size.problem();
        if (*size < 0)
            return Problem{.what = "A size limit cannot be below 0.", .where = {}, .mend = "Give 0 for no limit."};
        (name == "above" ? out.rule.above : out.rule.below) = *size;
        return out;
    }
    if (const auto* choice = choiceNamed(name)) return withChoice(std::move(out), *choice, text);
    const auto* field = fieldNamed(name);
    if (!field) {
        std::string known = "name, tool, layers, above, below";
        for (const auto& f : fields()) known += fmt::format(", {}", f.name);
        for (const auto& c : choices()) known += fmt::format(", {}", c.name);
        return Problem{.what = fmt::format("A step has no setting “{}”.", name),
                       .where = {},
                       .mend = fmt::format("Use one of: {}.", known)};
    }
    auto value = parseQuantity(text, field->measure, units);
    if (!value) return value.problem();
    if (field->measure == Measure::count) *value = std::round(*value);
    if (!(*value >= field->low && *value <= field->high)) return outOfRange(*field, *value);
    field->number(out) = *value;
    if (std::find(out.typed.begin(), out.typed.end(), name) == out.typed.end()) out.typed.emplace_back(name);
    std::sort(out.typed.begin(), out.typed.end());
    return out;
}

} // namespace ferro::plan

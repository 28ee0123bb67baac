#include "shop/fields.h"

#include <cmath>
#include <numbers>

namespace ferro::shop {

namespace {

template<auto member, class Thing> double numberOf(const Thing& thing) { return static_cast<double>(thing.*member); }
template<auto member, class Thing> void setNumber(Thing& thing, double value) {
    using Value = std::remove_reference_t<decltype(thing.*member)>;
    thing.*member = static_cast<Value>(value);
}
template<auto member, class Thing>
constexpr Number<Thing> number(std::string_view name, std::string_view label, Measure measure, double low, double high,
                               bool (*counts)(const Thing&) = nullptr, std::string_view unless = {}) {
    return {name, label, measure, low, high, numberOf<member, Thing>, setNumber<member, Thing>, counts, unless};
}

constexpr auto spins = [](const Machine& m) { return m.does(Process::rotary); };
constexpr auto burns = [](const Machine& m) { return m.does(Process::beam); };
constexpr auto slits = [](const Machine& m) { return m.does(Process::blade); };
constexpr Number<Machine> machineNumbers[] = {
    number<&Machine::bedX, Machine>("bedX", "Bed, across", Measure::length, 1, 100'000),
    number<&Machine::bedY, Machine>("bedY", "Bed, away", Measure::length, 1, 100'000),
    number<&Machine::travelZ, Machine>("travelZ", "Travel, up", Measure::length, 0.1, 10'000),
    number<&Machine::maxFeed, Machine>("maxFeed", "Quickest cut", Measure::feed, 1, 1e6),
    number<&Machine::maxFeedZ, Machine>("maxFeedZ", "Quickest down", Measure::feed, 1, 1e6),
    number<&Machine::rapid, Machine>("rapid", "Rapids", Measure::feed, 1, 1e6),
    number<&Machine::rapidZ, Machine>("rapidZ", "Rapids, up", Measure::feed, 1, 1e6),
    number<&Machine::acceleration, Machine>("acceleration", "Acceleration, mm/s²", Measure::plain, 1, 1e6),
    number<&Machine::accelerationZ, Machine>("accelerationZ", "Upwards, mm/s²", Measure::plain, 1, 1e6),
    number<&Machine::junction, Machine>("junction", "Corners rounded by", Measure::length, 0.0001, 10),
    number<&Machine::minSpindle, Machine>("minSpindle", "Slowest spindle", Measure::turns, 0, 1e6, spins),
    number<&Machine::maxSpindle, Machine>("maxSpindle", "Quickest spindle", Measure::turns, 0, 1e6, spins),
    number<&Machine::toolChangeSeconds, Machine>("toolChangeSeconds", "A tool change", Measure::time, 0, 86'400, spins),
    number<&Machine::turnSpeed, Machine>("turnSpeed", "Turns a knife, °/s", Measure::plain, 1, 1e5, slits),
    number<&Machine::leastPower, Machine>("leastPower", "Burns from", Measure::percent, 0, 100, burns),
    number<&Machine::mostPower, Machine>("mostPower", "Driven up to", Measure::percent, 1, 100, burns),
    number<&Machine::holder, Machine>("holder", "Holder's width", Measure::length, 0, 1000, spins, "not known"),
    number<&Machine::hourCost, Machine>("hourCost", "Cost of an hour", Measure::plain, 0, 1e6, nullptr, "not reckoned"),
};

constexpr auto turns = [](const Tool& t) { return t.process() == Process::rotary; };
constexpr auto hasPoint = [](const Tool& t) { return t.isPointed(); };
constexpr auto flatTipped = [](const Tool& t) {
    return t.kind == ToolKind::vBit || t.kind == ToolKind::engraver || t.kind == ToolKind::bevel;
};
constexpr auto hasRoundEdge = [](const Tool& t) {
    return t.kind == ToolKind::bullNose || t.kind == ToolKind::taperedBall;
};
constexpr auto isBlade = [](const Tool& t) { return t.kind == ToolKind::blade; };
constexpr Number<Tool> toolNumbers[] = {
    number<&Tool::number, Tool>("number", "Number", Measure::count, 0, 9999),
    number<&Tool::diameter, Tool>("diameter", "Diameter", Measure::length, 0.01, 1000),
    number<&Tool::tip, Tool>("tip", "Tip's width", Measure::length, 0, 1000, flatTipped),
    number<&Tool::angle, Tool>("angle", "Point's angle", Measure::angle, 1, 179, hasPoint),
    number<&Tool::corner, Tool>("corner", "Corner's radius", Measure::length, 0.01, 500, hasRoundEdge),
    number<&Tool::fluteLength, Tool>("fluteLength", "Cuts as deep as", Measure::length, 0.01, 1000),
    number<&Tool::flutes, Tool>("flutes", "Flutes", Measure::count, 0, 64, turns),
    number<&Tool::shank, Tool>("shank", "Shank", Measure::length, 0, 1000, turns, "as the tool"),
    number<&Tool::stickOut, Tool>("stickOut", "Stick-out", Measure::length, 0, 1000, turns, "not known"),
    number<&Tool::trail, Tool>("trail", "Tip trails by", Measure::length, 0, 20, isBlade, "turned by the machine"),
    number<&Tool::metreCost, Tool>("metreCost", "Wear, a metre", Measure::plain, 0, 1e6, nullptr, "not reckoned"),
};

constexpr Number<Material> materialNumbers[] = {
    number<&Material::surfaceSpeed, Material>("surfaceSpeed", "Edge's speed, m/min", Measure::plain, 0.1, 1e5),
    number<&Material::chipPerDiameter, Material>("chipPerDiameter", "Chip for 1 mm, mm", Measure::plain, 1e-5, 1),
    number<&Material::depthPerDiameter, Material>("depthPerDiameter", "Depth for 1 mm of tool", Measure::length, 0.001,
                                                  100),
    number<&Material::cutPower, Material>("cutPower", "Power to cut", Measure::percent, 0.1, 100),
    number<&Material::cutSpeed, Material>("cutSpeed", "Speed to cut", Measure::feed, 1, 1e6),
    number<&Material::scribePower, Material>("scribePower", "Power to scribe", Measure::percent, 0.1, 100),
    number<&Material::scribeSpeed, Material>("scribeSpeed", "Speed to scribe", Measure::feed, 1, 1e6),
    number<&Material::laserDepth, Material>("laserDepth", "A beam's pass goes", Measure::length, 0.001, 1000),
    number<&Material::slitSpeed, Material>("slitSpeed", "Speed of a blade", Measure::feed, 1, 1e6),
    number<&Material::slitForce, Material>("slitForce", "Force of a blade, g", Measure::plain, 1, 5000),
    number<&Material::pressFit, Material>("pressFit", "Press fit, slot wider by", Measure::length, -1, 5),
    number<&Material::snugFit, Material>("snugFit", "Snug fit, by", Measure::length, -1, 5),
    number<&Material::looseFit, Material>("looseFit", "Loose fit, by", Measure::length, -1, 5),
    number<&Material::ply, Material>("ply", "A ply's thickness", Measure::length, 0, 1000, nullptr, "none"),
    number<&Material::squareCost, Material>("squareCost", "Cost, m² by 1 mm", Measure::plain, 0, 1e6, nullptr,
                                            "not reckoned"),
};

constexpr Number<Board> boardNumbers[] = {
    number<&Board::width, Board>("width", "Width", Measure::length, 0.1, 9999),
    number<&Board::height, Board>("height", "Height", Measure::length, 0.1, 9999),
    number<&Board::thickness, Board>("thickness", "Thickness", Measure::length, 0.05, 500),
    number<&Board::count, Board>("count", "On the shelf", Measure::count, 0, 100'000, nullptr, "used up"),
    number<&Board::cost, Board>("cost", "Cost of one", Measure::plain, 0, 1e6, nullptr, "by the material"),
};

constexpr Word<Tool> toolWords[] = {{"kind", "Kind", toolKindNames,
                                     [](const Tool& t) { return static_cast<int>(t.kind); },
                                     [](Tool& t, int v) {
                                         t.kind = static_cast<ToolKind>(v);
                                         // What it did not have until now begins with something that can be.
                                         if (hasRoundEdge(t) && t.corner <= 0)
                                             t.corner = std::max(0.01, t.diameter / 6);
                                         if (t.kind == ToolKind::taperedBall && t.angle >= 60) t.angle = 12;
                                     }}};
constexpr std::array<std::string_view, 2> grainNames = {"plain", "grained"};
constexpr std::array<std::string_view, 2> faceNames = {"front", "back"};
constexpr Word<Material> materialWords[] = {
    {"grain", "Look", grainNames, [](const Material& m) { return m.grain ? 1 : 0; },
     [](Material& m, int v) { m.grain = v != 0; }},
    {"face", "Cut from its", faceNames, [](const Material& m) { return m.fromBack ? 1 : 0; },
     [](Material& m, int v) { m.fromBack = v != 0; }}};

Problem bad(std::string_view noun, const std::string& name, std::string what, std::string mend) {
    return {.what = fmt::format("The {} “{}” {}.", noun, name, what), .where = {}, .mend = std::move(mend)};
}

template<class Thing> Result<void> checkedNumbers(const Thing& thing) {
    if (thing.key.empty()) return bad(nounOf<Thing>(), thing.name, "has no key", "Give it a key of its own.");
    for (const auto& field : numbersOf<Thing>()) {
        if (field.counts && !field.counts(thing)) continue;
        if (const double value = field.get(thing); !(value >= field.low && value <= field.high))
            return outOfRange(field.label, value, field.measure, field.low, field.high)
                .within(fmt::format("{} “{}”, {}", nounOf<Thing>(), thing.name.empty() ? thing.key : thing.name,
                                    field.name));
    }
    return {};
}

std::string_view trimmed(std::string_view text) {
    while (text.starts_with(' ')) text.remove_prefix(1);
    while (text.ends_with(' ')) text.remove_suffix(1);
    return text;
}

/// What is text of its own in each kind of thing; nothing where it has no such.
Result<bool> setText(Tool&, std::string_view, std::string_view) { return false; }
Result<bool> setText(Material& m, std::string_view name, std::string_view text) {
    if (name != "colour") return false;
    const bool hex = text.size() == 7 && text[0] == '#' &&
                     text.find_first_not_of("0123456789abcdefABCDEF", 1) == std::string_view::npos;
    if (!hex)
        return Problem{.what = fmt::format("“{}” is no colour.", text), .where = {}, .mend = "Give it as #E8D7B4."};
    m.colour = text;
    return true;
}
Result<bool> setText(Board& b, std::string_view name, std::string_view text) {
    if (name != "material" && name != "outline") return false;
    (name == "material" ? b.material : b.outline) = text;
    return true;
}
Result<bool> setText(Machine& m, std::string_view name, std::string_view text) {
    if (name == "dialect" || name == "conversation") {
        (name == "dialect" ? m.dialect : m.conversation) = text;
        return true;
    }
    if (name != "processes") return false;
    m.processes = {};
    while (!text.empty()) {
        const auto comma = std::min(text.find(','), text.size());
        const auto word = trimmed(text.substr(0, comma));
        const auto at = std::find(processNames.begin(), processNames.end(), word);
        if (at == processNames.end())
            return Problem{
                .what = fmt::format("“{}” is no process.", word), .where = {}, .mend = "Use rotary, beam or blade."};
        m.processes.add(static_cast<Process>(at - processNames.begin()));
        text.remove_prefix(std::min(comma + 1, text.size()));
    }
    return true;
}
void texts(const Tool&, std::vector<std::pair<std::string, std::string>>&) {}
void texts(const Material& m, std::vector<std::pair<std::string, std::string>>& out) {
    out.emplace_back("colour", m.colour);
}
void texts(const Board& b, std::vector<std::pair<std::string, std::string>>& out) {
    out.emplace_back("material", b.material);
    if (!b.outline.empty()) out.emplace_back("outline", b.outline);
}
void texts(const Machine& m, std::vector<std::pair<std::string, std::string>>& out) {
    std::string list;
    for (const Process p : m.processes.list()) list += fmt::format("{}{}", list.empty() ? "" : ", ", nameOf(p));
    out.emplace_back("processes", list);
    out.emplace_back("dialect", m.dialect);
    out.emplace_back("conversation", m.conversation);
}

} // namespace

template<> std::span<const Number<Machine>> numbersOf() { return machineNumbers; }
template<> std::span<const Number<Tool>> numbersOf() { return toolNumbers; }
template<> std::span<const Number<Material>> numbersOf() { return materialNumbers; }
template<> std::span<const Number<Board>> numbersOf() { return boardNumbers; }
template<> std::span<const Word<Board>> wordsOf() { return {}; }
template<> std::string_view nounOf<Board>() { return "board"; }
template<> std::span<const Word<Machine>> wordsOf() { return {}; }
template<> std::span<const Word<Tool>> wordsOf() { return toolWords; }
template<> std::span<const Word<Material>> wordsOf() { return materialWords; }
template<> std::string_view nounOf<Machine>() { return "machine"; }
template<> std::string_view nounOf<Tool>() { return "tool"; }
template<> std::string_view nounOf<Material>() { return "material"; }

template<class Thing>
Result<Thing> withSetting(const Thing& thing, std::string_view name, std::string_view text, Units units) {
    Thing out = thing;
    if (name == "name") {
        if (trimmed(text).empty())
            return Problem{.what = fmt::format("A {} needs a name.", nounOf<Thing>()), .where = {}, .mend = {}};
        out.name = trimmed(text);
        return out;
    }
    const auto own = setText(out, name, text);
    if (!own) return own.problem();
    std::string known = "name";
    for (const auto& word : wordsOf<Thing>()) {
        known += fmt::format(", {}", word.name);
        if (word.name != name) continue;
        const auto at = std::find(word.words.begin(), word.words.end(), text);
        if (at == word.words.end()) {
            std::string words;
            for (const auto w : word.words) words += fmt::format("{}{}", words.empty() ? "" : ", ", w);
            return Problem{.what = fmt::format("{} cannot be “{}”.", word.label, text),
                           .where = {},
                           .mend = fmt::format("Use one of: {}.", words)};
        }
        word.set(out, static_cast<int>(at - word.words.begin()));
        if (auto fine = checked(out); !fine) return fine.problem();
        return out;
    }
    for (const auto& field : numbersOf<Thing>()) {
        known += fmt::format(", {}", field.name);
        if (field.name != name) continue;
        auto value = parseQuantity(text, field.measure, units);
        if (!value) return value.problem();
        if (field.measure == Measure::count) *value = std::round(*value);
        if (!(*value >= field.low && *value <= field.high))
            return outOfRange(field.label, *value, field.measure, field.low, field.high);
        field.set(out, *value);
        if constexpr (std::is_same_v<Thing, Machine>) // files of before may say so; nobody is to say it now
            if (out.minSpindle > out.maxSpindle)
                return Problem{.what = "The slowest spindle would be quicker than the quickest.",
                               .where = {},
                               .mend = "Correct the other one first."};
        if (auto fine = checked(out); !fine) return fine.problem();
        return out;
    }
    if (!*own) {
        std::vector<std::pair<std::string, std::string>> more;
        texts(thing, more);
        for (const auto& [word, value] : more) known += fmt::format(", {}", word);
        return Problem{.what = fmt::format("A {} has no “{}”.", nounOf<Thing>(), name),
                       .where = {},
                       .mend = fmt::format("Use one of: {}.", known)};
    }
    if (auto fine = checked(out); !fine) return fine.problem();
    return out;
}
template Result<Machine> withSetting(const Machine&, std::string_view, std::string_view, Units);
template Result<Tool> withSetting(const Tool&, std::string_view, std::string_view, Units);
template Result<Board> withSetting(const Board&, std::string_view, std::string_view, Units);
template Result<Material> withSetting(const Material&, std::string_view, std::string_view, Units);

template<class Thing> std::vector<std::pair<std::string, std::string>> settingsOf(const Thing& thing) {
    std::vector<std::pair<std::string, std::string>> out{{"name", thing.name}};
    texts(thing, out);
    for (const auto& word : wordsOf<Thing>())
        out.emplace_back(word.name, word.words[static_cast<std::size_t>(word.get(thing))]);
    for (const auto& field : numbersOf<Thing>())
        if (!field.counts || field.counts(thing))
            out.emplace_back(field.name, exactly(field.get(thing), field.measure));
    return out;
}
template std::vector<std::pair<std::string, std::string>> settingsOf(const Machine&);
template std::vector<std::pair<std::string, std::string>> settingsOf(const Tool&);
template std::vector<std::pair<std::string, std::string>> settingsOf(const Material&);
template std::vector<std::pair<std::string, std::string>> settingsOf(const Board&);

Result<void> checked(const Machine& m) {
    if (m.processes.empty()) return bad("machine", m.name, "does nothing", "Give it a process: rotary, beam or blade.");
    return checkedNumbers(m);
}
Result<void> checked(const Tool& t) {
    if (auto fine = checkedNumbers(t); !fine) return fine;
    if (t.tip > t.diameter) return bad("tool", t.name, "has a tip wider than itself", "Give a narrower tip.");
    if (t.kind == ToolKind::bullNose && t.corner > t.radius() - 0.05)
        return bad("tool", t.name, "has corners that leave nothing flat between them",
                   "Make them smaller, or it a ball.");
    if (t.kind == ToolKind::taperedBall && t.corner * std::cos(t.angle * std::numbers::pi / 360) > t.radius())
        return bad("tool", t.name, "has a ball wider than itself", "Give a smaller one.");
    return {};
}
Result<void> checked(const Material& m) {
    for (const auto& proven : m.proven)
        for (const auto& [name, value] : proven.settings)
            if (!std::isfinite(value) || !(proven.thickness > 0 && proven.thickness < 10'000) ||
                proven.settings.size() > 100)
                return bad("material", m.name, "has proven settings that cannot be", "Take them out of the book.");
    return checkedNumbers(m);
}

Result<void> checked(const Board& b) {
    if (b.outline.size() > 1'000'000) return bad("board", b.name, "has an endless outline", "Give a simpler one.");
    return checkedNumbers(b);
}

Result<void> checked(const Book& book) {
    const auto all = [](const auto& things) -> Result<void> {
        for (const auto& thing : things)
            if (auto fine = checked(thing); !fine) return fine;
        return {};
    };
    for (auto fine : {all(book.machines), all(book.tools), all(book.materials), all(book.boards)})
        if (!fine) return fine;
    return {};
}

} // namespace ferro::shop

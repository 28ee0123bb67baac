#include "plan/json_internal.h"

#include "plan/fields.h"

namespace ferro::plan {

json writtenForm(const Step& step) {
    const Kind& kind = kindOf(step);
    json j{{"id", step.id.value},     {"name", step.name}, {"kind", kind.name},
           {"enabled", step.enabled}, {"tool", step.tool}, {"rule", json_members::written(step.rule)}};
    if (!step.note.empty()) j["note"] = step.note;
    if (step.stopBefore) j["stopBefore"] = true;
    for (const auto& field : kind.fields) j[std::string(field.name)] = valueOf(field, step);
    for (const auto& choice : kind.choices)
        j[std::string(choice.name)] = choice.words[static_cast<std::size_t>(choice.get(step))];
    if (const auto* tabs = tabsIn(step); tabs && !tabs->empty()) j["tabs"] = json_members::written(*tabs);
    if (const auto* starts = startsIn(step); starts && !starts->empty()) j["starts"] = json_members::written(*starts);
    if (step.again) j["again"] = step.again.value;
    if (!step.typed.empty()) j["typed"] = step.typed;
    return j;
}

/// A word of a choice. Before schema 2 “through” was true or false.
static int wordFrom(const json& j, const Choice& choice) {
    if (j.isBool() && choice.words.size() == 2) return j.truth();
    return static_cast<int>(json_members::wordIn(j, choice.words));
}

/// Settings of any kind: schema 1 wrote all of them into every step.
static bool wasInEveryStep(std::string_view name) {
    for (const auto* kind : kinds()) {
        if (fieldNamed(*kind, name)) return true;
        for (const auto& choice : kind->choices)
            if (choice.name == name) return true;
    }
    return name == "tabs";
}

void readFrom(const json& j, Step& step) {
    json_members::Reading io(j);
    std::string word;
    io.need("kind", word);
    const Kind* kind = kindNamed(word);
    if (!kind)
        throw json_members::Fault{fmt::format("“{}” is no kind of step that this Ferrograph knows", word.substr(0, 60)),
                                  {"kind"}};
    step.settings = kind->fresh();
    io.need("id", step.id).need("name", step.name)("enabled", step.enabled)("tool", step.tool)("rule", step.rule);
    io("note", step.note)("stopBefore", step.stopBefore)("typed", step.typed)("again", step.again);
    for (const auto& field : kind->fields) io(std::string(field.name).c_str(), field.number(step));
    for (const auto& choice : kind->choices)
        if (const auto* value = io.member(std::string(choice.name).c_str())) try {
                choice.set(step, wordFrom(*value, choice));
            } catch (json_members::Fault& fault) {
                fault.path.emplace_back(choice.name);
                throw;
            }
    if (auto* tabs = tabsIn(step)) io("tabs", *tabs);
    if (auto* starts = startsIn(step)) io("starts", *starts);
    for (const auto& [key, value] : j.group())
        if (wasInEveryStep(key)) io.forget({key.c_str()});
    io.done();
}

} // namespace ferro::plan

#include "plan/kind.h"

#include "plan/fields.h"

namespace ferro::plan {

namespace {
template<class... K> auto rowsOf(const std::variant<K...>*) {
    return std::array<const Kind*, sizeof...(K)>{&K::kind()...};
}
} // namespace

std::span<const Kind* const> kinds() {
    static const auto rows = rowsOf(static_cast<const Settings*>(nullptr));
    return rows;
}

const Kind& kindOf(const Step& step) {
    return std::visit([](const auto& settings) -> const Kind& { return settings.kind(); }, step.settings);
}

const Kind* kindNamed(std::string_view name) {
    for (const Kind* kind : kinds())
        if (kind->name == name) return kind;
    return nullptr;
}

Step freshStep(StepId id, const Kind& kind, const Beginning& beginning) {
    Step step;
    step.id = id;
    step.name = kind.title;
    step.tool = beginning.tool.key;
    step.settings = kind.fresh();
    for (const auto& field : kind.fields)
        if (field.fromBook) field.number(step) = bookValue(field, step, beginning);
    if (kind.begin) kind.begin(step, beginning);
    for (const auto& field : kind.fields) // what was proven wins over both
        if (isOfBook(field, step, beginning)) field.number(step) = bookValue(field, step, beginning);
    return step;
}

} // namespace ferro::plan

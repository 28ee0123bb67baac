#include "job/from_book.h"

#include "job/book_values_internal.h"
#include "shop/fields.h"

#include <set>

namespace ferro::job {

namespace {

template<class Thing> const Thing* in(const std::vector<Thing>& list, std::string_view key) {
    const auto at = std::find_if(list.begin(), list.end(), [&](const Thing& thing) { return thing.key == key; });
    return at == list.end() ? nullptr : &*at;
}

template<class Thing> void compare(std::vector<BookChange>& out, const Thing& here, const std::vector<Thing>& book) {
    const auto* there = in(book, here.key);
    if (!there || *there == here) return;
    const auto before = shop::settingsOf(here), after = shop::settingsOf(*there);
    const auto find = [](const auto& list, const std::string& name) {
        const auto at = std::find_if(list.begin(), list.end(), [&](const auto& pair) { return pair.first == name; });
        return at == list.end() ? std::string() : at->second;
    };
    std::vector<std::string> names;
    for (const auto* list : {&before, &after})
        for (const auto& [name, value] : *list)
            if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
    const auto labelOf = [&](const std::string& name) {
        for (const auto& field : shop::numbersOf<Thing>())
            if (field.name == name) return std::string(field.label);
        for (const auto& word : shop::wordsOf<Thing>())
            if (word.name == name) return std::string(word.label);
        return name;
    };
    const auto known = out.size();
    for (const auto& name : names)
        if (auto a = find(before, name), b = find(after, name); a != b)
            out.push_back({here.name, name, std::move(a), std::move(b), labelOf(name)});
    if (out.size() == known) // what is no setting
        out.push_back({here.name, std::is_same_v<Thing, shop::Machine> ? "dialects" : "proven settings", {}, {}});
}

} // namespace

std::string wordsFor(const BookChange& change) {
    if (change.setting.empty()) return fmt::format("{}: not in the job yet", change.thing);
    if (change.here.empty() && change.book.empty()) return fmt::format("{}: other {}", change.thing, change.setting);
    const auto or0 = [](const std::string& value) { return value.empty() ? std::string("none") : value; };
    return fmt::format("{}: “{}” {}, in the book {}", change.thing, change.label, or0(change.here), or0(change.book));
}

std::vector<BookChange> changesFrom(const Job& job, const shop::Book& book) {
    std::vector<BookChange> out;
    compare(out, job.machine, book.machines);
    std::set<std::string> seen;
    const auto material = [&](const shop::Material& one) {
        if (seen.insert(one.key).second) compare(out, one, book.materials);
    };
    material(job.material);
    for (const auto& sheet : job.sheets)
        if (sheet.material) material(*sheet.material);
    for (const auto& tool : job.tools) compare(out, tool, book.tools);
    for (const auto& tool : book.tools)
        if (!in(job.tools, tool.key)) out.push_back({tool.name, {}, {}, {}});
    return out;
}

Job withShopBook(const Job& job, const shop::Book& book) {
    Job out = job;
    const auto take = [](auto& thing, const auto& list) {
        if (const auto* there = in(list, thing.key)) thing = *there;
    };
    take(out.machine, book.machines);
    take(out.material, book.materials);
    for (auto& sheet : out.sheets)
        if (sheet.material) {
            take(*sheet.material, book.materials);
            if (*sheet.material == out.material) sheet.material.reset();
        }
    for (auto& tool : out.tools) take(tool, book.tools);
    for (const auto& tool : book.tools)
        if (!in(out.tools, tool.key)) out.tools.push_back(tool);
    for (auto& step : out.plan.steps) takeBookValues(out, step);
    return out;
}

} // namespace ferro::job

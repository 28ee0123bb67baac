#include "cli/words_internal.h"

#include "plan/selection.h"

#include <charconv>

namespace ferro::cli {

Result<double> lengthOf(const Job& job, const std::string& text) {
    return parseQuantity(text, Measure::length, job.units);
}

Result<std::vector<double>> lengths(const Job& job, const Words& words, std::size_t from, std::size_t count) {
    std::vector<double> out;
    for (std::size_t i = from; i < from + count; ++i) {
        auto value = lengthOf(job, words[i]);
        if (!value) return value.problem();
        out.push_back(*value);
    }
    return out;
}

Result<std::uint32_t> idFrom(std::string_view word) {
    std::uint32_t id = 0;
    const auto [stop, error] = std::from_chars(word.data(), word.data() + word.size(), id);
    if (error != std::errc{} || stop != word.data() + word.size())
        return Problem{.what = fmt::format("“{}” is no number of an item or step.", word),
                       .where = {},
                       .mend = "See ferrograph-cli info JOB --json."};
    return id;
}

Result<artwork::Ids> itemsFrom(const Job& job, const std::string& word) {
    artwork::Ids ids;
    if (word.starts_with("layer:") || word.starts_with("name:") || word == "all") {
        for (const auto& item : job.artwork->items) {
            const auto* layer = artwork::find(*job.artwork, item.layer);
            const bool wanted = word == "all"                ? !item.underlay
                                : word.starts_with("layer:") ? layer && plan::matches(word.substr(6), layer->name)
                                                             : plan::matches(word.substr(5), item.name);
            if (wanted) ids.push_back(item.id);
        }
        if (ids.empty())
            return Problem{.what = fmt::format("Nothing answers to “{}”.", word),
                           .where = {},
                           .mend = "See ferrograph-cli info JOB --json."};
        return ids;
    }
    std::string_view rest = word;
    while (!rest.empty()) {
        const auto comma = std::min(rest.find(','), rest.size());
        auto id = idFrom(rest.substr(0, comma));
        if (!id) return id.problem();
        if (!artwork::find(*job.artwork, artwork::ItemId{*id}))
            return Problem{.what = fmt::format("There is no item {}.", *id),
                           .where = {},
                           .mend = "See ferrograph-cli info JOB --json."};
        ids.push_back({*id});
        rest.remove_prefix(std::min(comma + 1, rest.size()));
    }
    return ids;
}

Result<plan::StepId> stepFrom(const Job& job, const std::string& word) {
    for (const auto& step : job.plan.steps)
        if (step.name == word) return step.id;
    auto id = idFrom(word);
    if (!id)
        return Problem{.what = fmt::format("There is no step “{}”.", word),
                       .where = {},
                       .mend = "See ferrograph-cli info JOB --json."};
    return plan::StepId{*id};
}

Result<bool> onOff(const std::string& word) {
    if (word == "on") return true;
    if (word == "off") return false;
    return Problem{.what = fmt::format("Say on or off, not “{}”.", word), .where = {}, .mend = {}};
}

Result<Assignment> assignmentFrom(const std::string& word) {
    const auto equals = word.find('=');
    if (equals == std::string::npos || equals == 0)
        return Problem{.what = fmt::format("“{}” is no setting.", word), .where = {}, .mend = "Write name=value."};
    return Assignment{word.substr(0, equals), word.substr(equals + 1)};
}

} // namespace ferro::cli

#include "artwork/choose.h"
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

namespace {
Problem nothingAnswers(const std::string& word) {
    return {.what = fmt::format("Nothing answers to “{}”.", word),
            .where = {},
            .mend = "See ferrograph-cli info JOB --json."};
}

/// Chosen by what they are like; none when the word does not begin that way.
std::optional<Result<artwork::Ids>> chosenFrom(const Job& job, const std::string& word) {
    const auto& art = *job.artwork;
    const auto colon = word.find(':');
    if (colon == std::string::npos) return std::nullopt;
    const auto kind = word.substr(0, colon), rest = word.substr(colon + 1);
    if (kind == "upto") {
        const auto size = lengthOf(job, rest);
        if (!size) return Result<artwork::Ids>(size.problem());
        return artwork::upToSize(art, *size);
    }
    if (kind == "form") {
        constexpr std::pair<std::string_view, artwork::Form> forms[] = {{"openLines", artwork::Form::openLines},
                                                                        {"outlines", artwork::Form::outlines},
                                                                        {"points", artwork::Form::points},
                                                                        {"circles", artwork::Form::circles}};
        for (const auto& [name, form] : forms)
            if (name == rest) return artwork::ofForm(art, form);
        return Result<artwork::Ids>(Problem{.what = fmt::format("There is no form “{}”.", rest),
                                            .where = {},
                                            .mend = "Use openLines, outlines, points or circles."});
    }
    if (kind != "like" && kind != "in" && kind != "not") return std::nullopt;
    auto of = itemsFrom(job, rest);
    if (!of) return of;
    return kind == "like" ? artwork::likeThese(art, *of)
           : kind == "in" ? artwork::inside(art, *of)
                          : artwork::inverted(art, *of);
}
} // namespace

Result<artwork::Ids> itemsFrom(const Job& job, const std::string& word) {
    artwork::Ids ids;
    if (auto some = chosenFrom(job, word)) {
        if (*some && (*some)->empty()) return nothingAnswers(word);
        return *some;
    }
    if (word.starts_with("layer:") || word.starts_with("name:") || word == "all") {
        for (const auto& item : job.artwork->items) {
            const auto* layer = artwork::find(*job.artwork, item.layer);
            const bool wanted = word == "all"                ? !item.underlay
                                : word.starts_with("layer:") ? layer && plan::matches(word.substr(6), layer->name)
                                                             : plan::matches(word.substr(5), item.name);
            if (wanted && item.sheet == job.artwork->sheet) ids.push_back(item.id);
        }
        if (ids.empty()) return nothingAnswers(word);
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
                           .mend = "Say its number (ferrograph-cli info JOB --json), name:NAME, layer:NAME or all."};
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

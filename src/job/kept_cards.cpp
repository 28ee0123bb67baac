#include "job/kept_cards.h"

#include "job/job_file.h"
#include "plan/kind.h"

#include <algorithm>
#include <cctype>

namespace ferro::job {

namespace {

std::filesystem::path folder() { return userDataFolder() / "cards"; }

/// Letters and digits of a name, with hyphens between.
std::string plain(std::string_view name) {
    std::string out;
    for (const char c : name)
        if (std::isalnum(static_cast<unsigned char>(c)))
            out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (!out.empty() && out.back() != '-')
            out += '-';
    while (out.ends_with('-')) out.pop_back();
    return out;
}
bool isKey(std::string_view key) {
    return !key.empty() && key.size() <= 120 && std::all_of(key.begin(), key.end(), [](char c) {
        return std::isalnum(static_cast<unsigned char>(c)) || c == '-';
    });
}
Problem noCard(std::string_view key, Disk& disk) {
    std::string known;
    for (const auto& card : keptCards(disk)) known += (known.empty() ? "" : ", ") + card.key;
    return {.what = fmt::format("No card “{}” is kept.", key.substr(0, 120)),
            .where = "shop book",
            .mend = known.empty() ? "Make one, and keep it." : fmt::format("Kept are {}.", known)};
}

} // namespace

Result<std::string> keepCard(Disk& disk, const Job& card, std::string_view date) {
    for (const auto& kept : keptCards(disk))
        if (const auto other = keptCard(disk, kept.key); other && *other == card) return kept.key;
    // By what its cells are: the step that most of them are of.
    std::map<std::string, int> kinds;
    for (const auto& step : card.plan.steps) ++kinds[std::string(plan::kindOf(step).name)];
    const auto most =
        std::max_element(kinds.begin(), kinds.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
    const std::string wanted =
        fmt::format("{}-{}-{}", date, most == kinds.end() ? "card" : most->first, plain(materialOf(card).key));
    if (!isKey(wanted))
        return Problem{
            .what = fmt::format("“{}” cannot be a card's key.", wanted.substr(0, 120)), .where = {}, .mend = {}};
    std::error_code none;
    std::filesystem::create_directories(folder(), none); // told by the saving
    std::string key = wanted;
    for (int i = 2; std::filesystem::exists(folder() / (key + ".ferro"), none); ++i)
        key = fmt::format("{}-{}", wanted, i);
    if (auto saved = save(disk, card, folder() / (key + ".ferro")); !saved) return saved.problem();
    return key;
}

std::vector<KeptCard> keptCards(Disk& disk) {
    std::vector<KeptCard> out;
    std::error_code error;
    for (const auto& entry : std::filesystem::directory_iterator(folder(), error)) {
        const auto key = entry.path().stem().string();
        if (entry.path().extension() != ".ferro" || !isKey(key)) continue;
        const auto card = load(disk, entry.path());
        if (card) out.push_back({key, card->name, key.substr(0, 10)});
    }
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.key > b.key; });
    return out;
}

Result<Job> keptCard(Disk& disk, std::string_view key) {
    std::error_code none;
    const auto file = folder() / (std::string(key) + ".ferro");
    if (!isKey(key) || !std::filesystem::exists(file, none)) return noCard(key, disk);
    return load(disk, file);
}

Result<void> forgetCard(Disk& disk, std::string_view key) {
    std::error_code none;
    const auto file = folder() / (std::string(key) + ".ferro");
    if (!isKey(key) || !std::filesystem::exists(file, none)) return noCard(key, disk);
    disk.remove(file);
    return {};
}

} // namespace ferro::job

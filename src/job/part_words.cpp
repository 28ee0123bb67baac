#include "job/part_words.h"

#include "artwork/copies.h"
#include "base/quantity.h"
#include "job/edits.h"
#include "job/part_list.h"

#include <charconv>
#include <map>
#include <set>

namespace ferro::job {

namespace {

std::string lower(std::string_view text) {
    std::string out;
    for (const char c : text) out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return out;
}

/// Words as they are parted by blanks and signs; “×” counts as an x, a comma between digits as a point.
std::vector<std::string> wordsOf(std::string_view text) {
    std::string plain = lower(text);
    for (auto at = plain.find("×"); at != std::string::npos; at = plain.find("×")) plain.replace(at, 2, "x");
    std::vector<std::string> words(1);
    const auto digit = [&](std::size_t i) { return i < plain.size() && plain[i] >= '0' && plain[i] <= '9'; };
    for (std::size_t i = 0; i < plain.size(); ++i) {
        const char c = plain[i];
        if (c == ',' && i > 0 && digit(i - 1) && digit(i + 1))
            words.back() += '.';
        else if (std::string_view(" ,;:()[]|_\t").find(c) != std::string_view::npos)
            words.emplace_back();
        else
            words.back() += c;
    }
    std::erase(words, "");
    return words;
}

std::optional<int> wholeFrom(std::string_view word) {
    int number = 0;
    const auto [stop, error] = std::from_chars(word.data(), word.data() + word.size(), number);
    return error == std::errc{} && stop == word.data() + word.size() && number >= 1 && number <= 100'000
               ? std::optional(number)
               : std::nullopt;
}

/// A number with a unit of length, mm; the unit may be a word of its own.
std::optional<double> thicknessFrom(const std::string& word, const std::string& next) {
    const auto unit = word.find_first_not_of("0123456789./");
    const std::string_view behind =
        unit == std::string::npos ? std::string_view(next) : std::string_view(word).substr(unit);
    if (unit == 0 || (behind != "mm" && behind != "cm" && behind != "in" && behind != "inch")) return std::nullopt;
    const auto number = word.substr(0, unit) + (behind == "inch" ? "in" : std::string(behind));
    const auto value = parseQuantity(number, Measure::length, Units::mm);
    return value && *value > 0 && *value < 500 ? std::optional(*value) : std::nullopt;
}

std::optional<int> quantityFrom(const std::string& word, const std::string& next) {
    for (const char* behind : {"off", "pcs", "pc", "pieces", "times", "x"})
        if (next == behind)
            if (const auto number = wholeFrom(word)) return number;
    for (const char* before : {"qty", "quantity", "x"})
        if (word == before)
            if (const auto number = wholeFrom(next)) return number;
    if (word.size() > 1 && word.back() == 'x') return wholeFrom(std::string_view(word).substr(0, word.size() - 1));
    if (word.size() > 1 && word.front() == 'x') return wholeFrom(std::string_view(word).substr(1));
    return std::nullopt;
}

std::optional<std::string> materialFrom(const std::string& word, const shop::Book& book) {
    std::optional<std::string> found;
    for (const auto& material : book.materials) {
        const auto words = wordsOf(material.name);
        if (lower(material.key) != word && std::find(words.begin(), words.end(), word) == words.end()) continue;
        if (found) return std::nullopt; // of two: none of them is meant for sure
        found = material.key;
    }
    return found;
}

/// Takes it over; where it says another thing than before, neither counts.
template<class Fact> void say(std::optional<Fact>& fact, bool& torn, const std::optional<Fact>& said) {
    if (!said || torn) return;
    torn = fact && *fact != *said;
    fact = torn ? std::nullopt : said;
}

} // namespace

PartWords partWordsIn(std::string_view text, const shop::Book& book) {
    PartWords out;
    bool tornMaterial = false, tornThickness = false, tornQuantity = false;
    if (const auto whole = book.materialKey(text)) out.material = *whole;
    const auto words = wordsOf(text);
    for (std::size_t i = 0; i < words.size(); ++i) {
        const std::string next = i + 1 < words.size() ? words[i + 1] : "";
        say(out.material, tornMaterial, materialFrom(words[i], book));
        say(out.thickness, tornThickness, thicknessFrom(words[i], next));
        say(out.quantity, tornQuantity, quantityFrom(words[i], next));
    }
    out.unclear = tornMaterial || tornThickness || tornQuantity;
    return out;
}

Result<PartsRead> withPartWords(const Job& job, const artwork::Ids& items, const shop::Book& book) {
    PartsRead out{job, 0, {}};
    struct Group { // of the same facts, which stand on the outermost of them
        artwork::Part part;
        artwork::Ids items;
        std::string words;
    };
    std::vector<Group> groups;
    std::set<std::string> unclear;
    const auto outermost = outermostOf(*job.artwork);
    for (const auto& item : job.artwork->items) {
        const auto root = outermost.find(item.id);
        if (root == outermost.end() || root->second != item.id || item.of) continue;
        if (!items.empty() && std::find(items.begin(), items.end(), item.id) == items.end()) continue;
        const auto* layer = artwork::find(*job.artwork, item.layer);
        const auto own = partWordsIn(item.name, book), its = layer ? partWordsIn(layer->name, book) : PartWords{};
        if (own.unclear) unclear.insert(item.name);
        if (its.unclear) unclear.insert(layer->name);
        const PartWords said{own.quantity ? own.quantity : its.quantity, own.material ? own.material : its.material,
                             own.thickness ? own.thickness : its.thickness, false};
        if (said.empty()) continue;
        Group group{artwork::partOf(*job.artwork, item), {item.id}, {}};
        const auto add = [&](const std::string& more) { group.words += (group.words.empty() ? "" : ", ") + more; };
        if (said.material) add(book.material(group.part.material = *said.material)->name);
        if (said.thickness) add(mm(group.part.thickness = *said.thickness));
        if (said.quantity) add(fmt::format("{} of each", group.part.quantity = *said.quantity));
        const auto same = std::find_if(groups.begin(), groups.end(),
                                       [&](const Group& g) { return g.part == group.part && g.words == group.words; });
        if (same == groups.end())
            groups.push_back(std::move(group));
        else
            same->items.push_back(item.id);
    }
    auto art = *job.artwork;
    std::vector<std::pair<std::string, std::size_t>> told;
    for (const auto& group : groups) {
        auto next = artwork::withPart(art, group.items, group.part);
        if (!next) return next.problem();
        std::size_t changed = 0;
        for (const auto id : group.items)
            changed +=
                !(artwork::partOf(art, *artwork::find(art, id)) == artwork::partOf(*next, *artwork::find(*next, id)));
        art = std::move(*next);
        out.parts += changed;
        if (changed > 0) told.emplace_back(group.words, changed);
    }
    for (const auto& [words, count] : told)
        out.told.push_back(fmt::format("{} part{}: {}", count, count == 1 ? "" : "s", words));
    for (const auto& name : unclear)
        out.told.push_back(fmt::format("“{}” says two things of one kind: none of them was read", name));
    out.job = withArtwork(job, std::move(art));
    return out;
}

} // namespace ferro::job

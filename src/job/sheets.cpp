#include "job/sheets.h"

#include "artwork/copies.h"

#include <set>

namespace ferro::job {

namespace {

constexpr std::size_t mostSheets = 1000;

Problem noSheet(std::string_view word) {
    return {.what = fmt::format("There is no sheet {}.", word),
            .where = {},
            .mend = "Give the name of a sheet, or its number from 1."};
}
auto at(std::vector<Sheet>& sheets, SheetId id) {
    return std::find_if(sheets.begin(), sheets.end(), [&](const Sheet& sheet) { return sheet.id == id; });
}
Job shown(Job job, SheetId sheet) {
    if (job.artwork->sheet == sheet) return job;
    artwork::Artwork art = *job.artwork;
    art.sheet = sheet;
    job.artwork = std::make_shared<const artwork::Artwork>(std::move(art));
    return job;
}

} // namespace

Result<Job> atSheet(const Job& job, SheetId id) {
    if (!find(job, id)) return noSheet(fmt::format("{}", id.value));
    return shown(job, id);
}

Job atBeside(const Job& job) { return shown(job, {}); }

Result<Job> withSheetAdded(const Job& job, std::string_view name) {
    if (job.sheets.size() >= mostSheets)
        return Problem{.what = fmt::format("A job has {} sheets at most.", mostSheets), .where = {}, .mend = {}};
    Sheet sheet = job.sheet();
    sheet.clamps.clear();
    sheet.lie.reset(); // of another blank
    sheet.tray.reset();
    sheet.mirrored = false;
    auto art = *job.artwork;
    for (const auto& other : job.sheets) art.lastId = std::max(art.lastId, other.id.value);
    sheet.id = {++art.lastId};
    std::size_t number = job.sheets.size() + 1;
    const auto taken = [&](const std::string& wanted) {
        return std::any_of(job.sheets.begin(), job.sheets.end(), [&](const Sheet& s) { return s.name == wanted; });
    };
    sheet.name = fmt::format("Sheet {}", number);
    while (taken(sheet.name)) sheet.name = fmt::format("Sheet {}", ++number);
    art.sheet = sheet.id;
    Job out = withArtwork(job, std::move(art));
    out.sheets.push_back(std::move(sheet));
    return name.empty() ? Result<Job>(out) : withSheetNamed(out, out.sheets.back().id, name);
}

Result<Job> withSheetMirrored(const Job& job, bool mirrored) {
    if (job.sheet().mirrored == mirrored) return job;
    const auto over = Transform::scaled(-1, 1, {job.sheet().stock.width / 2, 0});
    auto art = *job.artwork;
    for (auto& item : art.items)
        if (item.sheet == art.sheet) item.place = over * item.place;
    Job out = withArtwork(job, std::move(art));
    out.sheet().mirrored = mirrored;
    return out;
}

Result<Job> withSheetNamed(const Job& job, SheetId id, std::string_view name) {
    if (name.empty() || name.size() > 100)
        return Problem{.what = "A sheet needs a name of up to 100 letters.", .where = {}, .mend = {}};
    Job out = job;
    const auto sheet = at(out.sheets, id);
    if (sheet == out.sheets.end()) return noSheet(fmt::format("{}", id.value));
    for (const auto& other : out.sheets)
        if (other.id != id && other.name == name)
            return Problem{.what = fmt::format("There is a sheet “{}” already.", name),
                           .where = {},
                           .mend = "Give it another name."};
    sheet->name = name;
    return out;
}

Result<Job> withSheetMoved(const Job& job, SheetId id, std::size_t to) {
    Job out = job;
    const auto from = at(out.sheets, id);
    if (from == out.sheets.end()) return noSheet(fmt::format("{}", id.value));
    Sheet moved = std::move(*from);
    out.sheets.erase(from);
    out.sheets.insert(out.sheets.begin() + static_cast<std::ptrdiff_t>(std::min(to, out.sheets.size())),
                      std::move(moved));
    return out;
}

Result<Job> withoutSheet(const Job& job, SheetId id) {
    Job out = job;
    const auto gone = at(out.sheets, id);
    if (gone == out.sheets.end()) return noSheet(fmt::format("{}", id.value));
    if (out.sheets.size() == 1)
        return Problem{.what = "The last sheet stays.", .where = {}, .mend = "Give it another size instead."};
    const auto index = static_cast<std::size_t>(gone - out.sheets.begin());
    out.sheets.erase(gone);
    artwork::Artwork art = *job.artwork;
    for (auto& item : art.items)
        if (item.sheet == id) item.sheet = {};
    if (art.sheet == id) art.sheet = out.sheets[std::min(index, out.sheets.size() - 1)].id;
    return withArtwork(out, std::move(art));
}

std::vector<Job> sheetsToCut(const Job& job) {
    std::vector<Job> out;
    for (const auto& sheet : job.sheets)
        if (std::any_of(job.artwork->items.begin(), job.artwork->items.end(),
                        [&](const auto& item) { return item.sheet == sheet.id; }))
            out.push_back(*atSheet(job, sheet.id));
    return out;
}

Result<SheetId> sheetNamed(const Job& job, std::string_view word) {
    for (const auto& sheet : job.sheets)
        if (sheet.name == word) return sheet.id;
    std::size_t number = 0;
    for (const char digit : word) {
        if (digit < '0' || digit > '9' || number > mostSheets) return noSheet(fmt::format("“{}”", word.substr(0, 60)));
        number = number * 10 + static_cast<std::size_t>(digit - '0');
    }
    if (number >= 1 && number <= job.sheets.size()) return job.sheets[number - 1].id;
    return noSheet(fmt::format("“{}”", word.substr(0, 60)));
}

} // namespace ferro::job

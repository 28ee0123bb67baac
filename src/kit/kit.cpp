#include "kit/kit.h"

#include "base/quantity.h"
#include "formats/cut_list.h"
#include "formats/kit.h"
#include "job/house.h"
#include "job/job_file.h"
#include "job/kit.h"
#include "job/nesting.h"
#include "job/sheets.h"
#include "mend/repair.h"
#include "print/setup_sheet.h"
#include "print/sheet_map.h"
#include "program/for_job.h"

namespace ferro::kit {

namespace {

constexpr const char* filesOwn = "kit-files.txt";

/// What lies where: a row for each group, or piece that is in none.
std::string laidList(const job::Job& job) {
    std::vector<std::vector<std::string>> rows{{"sheet", "part", "x", "y", "width", "height"}};
    std::map<std::pair<std::uint32_t, std::uint32_t>, artwork::Ids> parts; // group or item, in their order
    for (const auto& item : job.artwork->items)
        parts[item.group ? std::pair{item.group.value, 0u} : std::pair{0u, item.id.value}].push_back(item.id);
    const auto number = [](double v) { return fmt::format("{:.3f}", v); };
    for (const auto& sheet : job.sheets)
        for (const auto& [key, ids] : parts) {
            const auto* first = artwork::find(*job.artwork, ids.front());
            if (first->sheet != sheet.id) continue;
            const Box box = artwork::boundsOf(*job.artwork, ids);
            rows.push_back({sheet.name, first->name, number(box.low.x), number(box.low.y), number(box.width()),
                            number(box.height())});
        }
    return formats::csvOf(rows);
}

/// Programs and setup sheets of all sheets, by file name, into `made`.
Result<void> putPapers(Made& made, Disk& disk, Progress& progress) {
    const auto dialect = program::dialectOf(disk, made.job);
    if (!dialect) return dialect.problem();
    std::vector<print::ProofedSheet> proofed;
    std::map<std::string, std::string> programs;
    const auto sheets = job::sheetsToCut(made.job);
    for (std::size_t s = 0; s < sheets.size(); ++s) {
        const auto& sheet = sheets[s];
        const auto share = [&](std::size_t of) {
            return 0.5 + 0.5 * static_cast<double>(of) / static_cast<double>(sheets.size());
        };
        progress.stage(share(s), share(s + 1));
        auto proof = proof::proofOf(sheet, progress);
        if (!proof) return proof.problem();
        for (const auto& f : proof->findings)
            if (f.verdict != Verdict::note)
                made.look.emplace_back(f.verdict, fmt::format("{}: {} {}", sheet.sheet().name, f.what, f.mend));
        made.go = made.go && proof->mayRun();
        proofed.push_back({sheet, *proof});
        if (!proof->mayRun()) continue;
        auto files = program::programFilesFor(sheet, proof->path, *dialect, program::Clearance::passed);
        if (!files) return files.problem();
        for (auto& file : *files) {
            const auto facts = print::ProgramFacts::of(file.name, file.program.text, file.program.lines);
            auto pdf = print::setupSheet(sheet, *proof, files->size() == 1 ? std::optional(facts) : std::nullopt);
            if (!pdf) return pdf.problem();
            programs[program::fileNameFor(sheet, {{}, "pdf", {}, 0})] = std::move(*pdf);
            if (!programs.emplace(file.name, std::move(file.program.text)).second)
                return Problem{.what = fmt::format("Two programs would be called {}.", file.name),
                               .where = {},
                               .mend = "Put {sheet} and {number} into the name of the job's files."};
        }
    }
    if (made.go) made.files = std::move(programs);
    made.files["laid.csv"] = laidList(made.job);
    if (proofed.empty()) return {}; // nothing fits onto any sheet, which is told
    auto map = print::sheetMap(proofed);
    if (!map) return map.problem();
    made.files["map.pdf"] = std::move(*map);
    if (print::partsOf(proofed).empty()) return {};
    auto labels = print::labelSheet(proofed);
    if (!labels) return labels.problem();
    made.files["labels.pdf"] = std::move(*labels);
    return {};
}

} // namespace

std::string countWords(std::size_t parts, std::size_t drawings) {
    return fmt::format("{} {} of {} {}", parts, parts == 1 ? "part" : "parts", drawings,
                       drawings == 1 ? "drawing" : "drawings");
}

job::Job benchFrom(const job::Job& job) {
    job::Job out = job;
    artwork::Artwork art;
    art.layers = job.artwork->layers;
    art.lastId = job.artwork->lastId;
    job::Sheet sheet = job.sheet();
    art.sheet = sheet.id;
    sheet.lie.reset();
    sheet.tray.reset(); // the list says how many are wanted
    sheet.board.clear();
    out.artwork = std::make_shared<const artwork::Artwork>(std::move(art));
    out.sheets = {std::move(sheet)};
    auto& steps = out.plan.steps;
    std::erase_if(steps, [](const plan::Step& step) { return !step.rule.items.empty(); });
    for (auto& step : steps) {
        if (auto* tabs = plan::tabsIn(step)) tabs->clear();
        if (auto* starts = plan::startsIn(step)) starts->clear();
        if (step.again && !plan::find(out.plan, step.again)) step.again = {};
    }
    return out;
}

Result<std::optional<double>> unitFrom(std::string_view word) {
    if (word.empty()) return std::optional<double>();
    std::string known;
    for (const auto& unit : formats::drawnUnits) {
        if (unit.word == word) return std::optional(unit.mm);
        known += fmt::format("{}{}", known.empty() ? "" : ", ", unit.word);
    }
    return Problem{.what = fmt::format("There is no unit “{}” for drawings.", word),
                   .where = {},
                   .mend = fmt::format("Use {}.", known)};
}

Result<Taken> takenFrom(const Wish& wish, Disk& disk, Progress& progress) {
    const auto text = disk.read(wish.list);
    if (!text) return text.problem();
    const auto list = formats::cutListFrom(*text);
    if (!list) return list.problem().within(wish.list.filename().string());
    const auto folder = wish.list.parent_path();
    auto kit = formats::withCutList(*wish.bench.artwork, *list,
                                    {.bytes = [&](const std::string& file) { return disk.read(folder / file); },
                                     .material = [&](std::string_view word) { return wish.book.materialKey(word); },
                                     .add =
                                         [](const artwork::Artwork& art, const formats::Drawing& drawing) {
                                             auto added = formats::withDrawing(art, drawing);
                                             return drawing.loose ? mend::withOutlines(std::move(added), 0.01) : added;
                                         },
                                     .options = {wish.mmPerUnit, false, false, {}, formats::installedFaces()}},
                                    progress);
    if (!kit) return kit.problem().within(wish.list.filename().string());
    auto next = job::withSheetsForParts(job::withArtwork(wish.bench, std::move(kit->artwork)), wish.book);
    if (!next) return next.problem();
    Taken taken{.job = std::move(*next), .drawings = kit->drawings, .parts = kit->parts};
    for (const auto& notice : kit->notices) taken.notices.push_back(notice.text);
    if (!taken.job.plan.steps.empty()) return taken;
    std::vector<std::string> told;
    auto planned = job::withUsualSteps(taken.job, wish.house, wish.book, told);
    if (!planned) return planned.problem();
    taken.job = std::move(*planned);
    for (auto& line : told) taken.notices.push_back(line + ".");
    return taken;
}

Result<Made> made(const Wish& wish, Disk& disk, Progress& progress) {
    progress.stage(0, 0.1);
    auto taken = takenFrom(wish, disk, progress);
    if (!taken) return taken.problem();
    Made out{.job = std::move(taken->job), .drawings = taken->drawings, .parts = taken->parts};
    for (auto& notice : taken->notices) out.look.emplace_back(Verdict::note, std::move(notice));
    auto how = job::usualLayingOut(out.job);
    how.how.effort = static_cast<std::uint64_t>(wish.effort * 1e6);
    how.book = wish.book;
    progress.stage(0.1, 0.5);
    auto laid = job::laidOut(out.job, how, progress);
    if (!laid) return laid.problem();
    out.job = std::move(laid->job);
    out.sheets = laid->sheets, out.share = laid->share, out.left = laid->leftCount;
    for (auto& left : laid->left) out.look.emplace_back(Verdict::noGo, std::move(left));
    if (auto papers = putPapers(out, disk, progress); !papers) return papers.problem();
    return out;
}

Result<std::vector<std::filesystem::path>> written(const Made& made, const std::filesystem::path& folder, Disk& disk) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (error)
        return Problem{.what = fmt::format("The folder {} cannot be made: {}.", folder.string(), error.message()),
                       .where = {},
                       .mend = "Choose another."};
    // What was written before goes first, so that nothing old lies beside what is new if the disk is full.
    if (const auto before = std::filesystem::exists(folder / filesOwn) ? disk.read(folder / filesOwn, 1 << 20)
                                                                       : Result<std::string>(std::string());
        before) {
        std::string_view rest = *before;
        while (!rest.empty()) {
            const auto end = std::min(rest.find('\n'), rest.size());
            const std::string name(rest.substr(0, end));
            rest.remove_prefix(std::min(end + 1, rest.size()));
            if (!name.empty() && name.find('/') == std::string::npos && name != "." && name != "..")
                disk.remove(folder / name);
        }
    }
    std::string names;
    for (const auto& [name, bytes] : made.files) names += name + "\n";
    if (auto kept = writeAtomically(disk, folder / filesOwn, names); !kept) return kept.problem();
    std::vector<std::filesystem::path> out{folder / "kit.ferro"};
    if (auto saved = job::save(disk, made.job, out.front()); !saved) return saved.problem();
    for (const auto& [name, bytes] : made.files) {
        out.push_back(folder / name);
        if (auto done = writeAtomically(disk, out.back(), bytes); !done) return done.problem();
    }
    return out;
}

} // namespace ferro::kit

// From a cut list to programs in one go.
#include "formats/kit.h"
#include "cli/common.h"
#include "cli/verbs.h"
#include "job/house.h"
#include "job/job_file.h"
#include "job/kit.h"
#include "job/nesting.h"
#include "mend/repair.h"
#include "print/setup_sheet.h"
#include "print/sheet_map.h"
#include "program/for_job.h"

namespace ferro::cli {

namespace {

struct KitAsked {
    std::string list, out = "kit", unit;
    BenchAsked bench; ///< what is cut on, and how: of a job of before without its pieces, or fresh
    double effort = 20;
};

Result<job::Job> withParts(const KitAsked& o, job::Job job, const Shop& book) {
    const auto text = realDisk().read(o.list);
    if (!text) return text.problem();
    const auto list = formats::cutListFrom(*text);
    if (!list) return list.problem().within(o.list);
    const auto folder = std::filesystem::path(o.list).parent_path();
    std::optional<double> mmPerUnit;
    for (const auto& unit : formats::drawnUnits)
        if (unit.word == o.unit) mmPerUnit = unit.mm;
    if (!o.unit.empty() && !mmPerUnit)
        return Problem{.what = fmt::format("There is no unit “{}” for drawings.", o.unit),
                       .where = {},
                       .mend = "Use mm, inch, cm, m or foot."};
    ShownProgress shown("reading");
    auto kit = formats::withCutList(*job.artwork, *list,
                                    {.bytes = [&](const std::string& file) { return realDisk().read(folder / file); },
                                     .material = [&](std::string_view word) { return book.materialKey(word); },
                                     .add =
                                         [](const artwork::Artwork& art, const formats::Drawing& drawing) {
                                             auto added = formats::withDrawing(art, drawing);
                                             return drawing.loose ? mend::withOutlines(std::move(added), 0.01) : added;
                                         },
                                     .options = {mmPerUnit, false, false, {}, formats::installedFaces()}},
                                    shown.progress);
    if (!kit) return kit.problem().within(o.list);
    for (const auto& n : kit->notices) notice(n.text);
    notice(fmt::format("{} parts of {} drawings.", kit->parts, kit->drawings));
    auto next = job::withSheetsForParts(job::withArtwork(job, std::move(kit->artwork)), book);
    if (!next || !next->plan.steps.empty()) return next;
    std::vector<std::string> told;
    next = job::withUsualSteps(*next, book.house, book, told);
    for (const auto& line : told) notice(line + ".");
    return next;
}

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

/// Programs and setup sheets of all sheets, by file name; none of them when one has a no-go.
Result<std::map<std::string, std::string>> papersOf(const job::Job& job, bool& go) {
    std::map<std::string, std::string> out;
    std::vector<print::ProofedSheet> proofed;
    const auto dialect = program::dialectOf(realDisk(), job);
    if (!dialect) return dialect.problem();
    for (const auto& sheet : job::sheetsToCut(job)) {
        ShownProgress shown(fmt::format("proofing {}", sheet.sheet().name));
        auto proof = proof::proofOf(sheet, shown.progress);
        if (!proof) return proof.problem();
        for (const auto& f : proof->findings)
            if (f.verdict != proof::Verdict::note)
                notice(fmt::format("{}: {} {} {}", sheet.sheet().name, proof::verdictName(f.verdict), f.what, f.mend));
        go = go && proof->mayRun();
        proofed.push_back({sheet, *proof});
        if (!proof->mayRun()) continue;
        auto files = program::programFilesFor(sheet, proof->path, *dialect, program::Clearance::passed);
        if (!files) return files.problem();
        for (auto& file : *files) {
            const auto facts = print::ProgramFacts::of(file.name, file.program.text, file.program.lines);
            if (auto pdf = files->size() == 1 ? print::setupSheet(sheet, *proof, facts)
                                              : print::setupSheet(sheet, *proof, std::nullopt);
                pdf)
                out[program::fileNameFor(sheet, {{}, "pdf", {}, 0})] = std::move(*pdf);
            else
                return pdf.problem();
            if (!out.emplace(file.name, std::move(file.program.text)).second)
                return Problem{.what = fmt::format("Two programs would be called {}.", file.name),
                               .where = {},
                               .mend = "Put {sheet} and {number} into the name of the job's files."};
        }
    }
    if (proofed.empty()) return out; // nothing fits onto any sheet, which is told
    auto map = print::sheetMap(proofed);
    if (!map) return map.problem();
    out["map.pdf"] = std::move(*map);
    if (print::partsOf(proofed).empty()) return out;
    auto labels = print::labelSheet(proofed);
    if (!labels) return labels.problem();
    out["labels.pdf"] = std::move(*labels);
    return out;
}

int make(const KitAsked& o) {
    const auto book = theShop();
    if (!book) return complain(book.problem());
    auto job = benchOf(o.bench, *book);
    if (job) job = withParts(o, std::move(*job), *book);
    if (!job) return complain(job.problem());
    if (o.bench.jobFile.empty()) job->name = std::filesystem::path(o.list).stem().string();
    auto wish = job::usualLayingOut(*job);
    wish.how.effort = static_cast<std::uint64_t>(o.effort * 1e6);
    wish.book = *book;
    std::optional<job::LaidOut> laid;
    {
        ShownProgress shown("laying out");
        auto made = job::laidOut(*job, wish, shown.progress);
        if (!made) return complain(made.problem());
        laid = std::move(*made);
    }
    for (const auto& left : laid->left) notice(left);
    bool go = true;
    auto papers = papersOf(laid->job, go);
    if (!papers) return complain(papers.problem());
    std::error_code error;
    std::filesystem::create_directories(o.out, error);
    const auto folder = std::filesystem::path(o.out);
    if (auto saved = job::save(realDisk(), laid->job, folder / "kit.ferro"); !saved) return complain(saved.problem());
    if (!go) // a sheet with a no-go keeps the others from being cut as if all were well
        std::erase_if(*papers,
                      [](const auto& paper) { return paper.first != "map.pdf" && paper.first != "labels.pdf"; });
    (*papers)["laid.csv"] = laidList(laid->job);
    for (const auto& [name, bytes] : *papers)
        if (auto written = writeAtomically(realDisk(), folder / name, bytes); !written)
            return complain(written.problem());
    fmt::print("{} in use, {:.1f} % of that is parts\n",
               laid->sheets == 1 ? "one sheet" : fmt::format("{} sheets", laid->sheets), laid->share * 100);
    fmt::print("{}\n", (folder / "kit.ferro").string());
    for (const auto& [name, bytes] : *papers) fmt::print("{}\n", (folder / name).string());
    return go && laid->leftCount == 0 ? fine : noGo;
}

} // namespace

void addKit(Options& app, int& exit) {
    auto command = app.command(
        "kit",
        "From a cut list (CSV: file, part, quantity, material, thickness, turn) to laid out sheets, programs and "
        "setup sheets. Exit code 2 when a part is left or a sheet is a no-go; then no program is "
        "written.\nExample: ferrograph-cli kit stage.csv --stock 800 500 6 -o out");
    auto o = std::make_shared<KitAsked>();
    command.option("list", o->list, "the drawings lie beside it").required();
    command.option("-o,--out", o->out, "folder");
    command.option("--job", o->bench.jobFile, "job whose machine, sheets and steps are used");
    addBench(command, o->bench);
    command.option("--unit", o->unit, "of drawings that do not say theirs: mm, inch, cm, m, foot");
    command.option("--effort", o->effort, "million places to try").range(0.01, 100000.0);
    command.run([o, &exit] { exit = make(*o); });
}

} // namespace ferro::cli

#include "cli/common.h"
#include "job/sheets.h"
#include "print/sheet_map.h"

namespace ferro::cli {

namespace {

struct MapAsked {
    std::string file, out, labels;
    std::vector<double> size{70, 37}, grid{3, 8}, margin{0, 0.5}, gap{0, 0};
};

int map(const MapAsked& o) {
    for (const auto& file : {o.out, o.labels})
        if (const auto named = file.empty() ? Result<void>() : checkedName(file, {".pdf"}); !named)
            return complain(named.problem());
    if (o.out.empty() && o.labels.empty())
        return complain(
            {.what = "Neither a map nor labels are asked for.", .where = {}, .mend = "Say --out or --labels."});
    for (const double count : o.grid)
        if (count != std::floor(count))
            return complain({.what = "Labels are counted in whole numbers.", .where = "--label-grid", .mend = {}});
    const print::LabelStock stock{
        o.size[0], o.size[1], static_cast<int>(o.grid[0]), static_cast<int>(o.grid[1]), o.margin[0], o.margin[1],
        o.gap[0],  o.gap[1]};
    if (auto fine = print::checked(stock); !fine) return complain(fine.problem());
    const auto job = jobAt(o.file, {});
    if (!job) return complain(job.problem());
    std::vector<print::ProofedSheet> sheets;
    for (auto& sheet : job::sheetsToCut(*job)) {
        ShownProgress shown(fmt::format("proofing {}", sheet.sheet().name));
        auto proof = proof::proofOf(sheet, shown.progress);
        if (!proof) return complain(proof.problem());
        sheets.push_back({std::move(sheet), std::move(*proof)});
    }
    const std::pair<std::string, Result<std::string>> papers[] = {
        {o.out, o.out.empty() ? Result<std::string>(std::string()) : print::sheetMap(sheets)},
        {o.labels, o.labels.empty() ? Result<std::string>(std::string()) : print::labelSheet(sheets, stock)}};
    for (const auto& [file, pdf] : papers)
        if (!pdf) return complain(pdf.problem());
    for (const auto& [file, pdf] : papers)
        if (!file.empty())
            if (auto written = writeAtomically(realDisk(), file, *pdf); !written) return complain(written.problem());
    return fine;
}

} // namespace

void addMap(Options& app, int& exit) {
    auto command =
        app.command("map", "The map of a job's sheets with the parts' numbers in the order they are cut, and labels "
                           "for them, as PDF.\nExample: ferrograph-cli map kit.ferro -o map.pdf --labels "
                           "labels.pdf --label-size 63.5 38 --label-grid 3 7 --label-margin 7 15");
    auto o = std::make_shared<MapAsked>();
    command.option("job", o->file).required();
    command.option("-o,--out", o->out, "PDF of the map");
    command.option("--labels", o->labels, "PDF of the labels");
    command.option("--label-size", o->size, "width and height of a label, mm").expected(2);
    command.option("--label-grid", o->grid, "how many across and down on a page").expected(2);
    command.option("--label-margin", o->margin, "mm from the page's left and top to the first").expected(2);
    command.option("--label-gap", o->gap, "mm between them, across and down").expected(2);
    command.run([o, &exit] { exit = map(*o); });
}

} // namespace ferro::cli

// Test pieces that tell how wide slots have to be, and how wide a cut is.
#include "job/gauge.h"
#include "cli/common.h"
#include "job/job_file.h"
#include "shop/fields.h"
#include "shop/own.h"

namespace ferro::cli {

namespace {

struct GaugeAsked {
    std::string file, kind = "fit", tool;
    BenchAsked bench;
    job::FitGauge fit;
    job::KerfComb comb;
    int count = 0;
    double measured = 0;
    bool force = false;
};

Result<void> make(const GaugeAsked& o) {
    const auto book = shop::openBook(realDisk());
    if (!book) return book.problem();
    const auto bench = benchOf(o.bench, *book);
    if (!bench) return bench.problem();
    const auto job = o.kind == "fit" ? job::fitGauge(*bench, o.fit) : job::kerfComb(*bench, o.comb);
    if (!job) return job.problem();
    return job::save(realDisk(), *job, o.file);
}

/// What the bars measured becomes the width of the tool's cut in the shop book.
Result<void> keep(const GaugeAsked& o) {
    const auto kerf = job::kerfBy(o.comb, o.measured);
    if (!kerf) return kerf.problem();
    fmt::print("{}\n", mm(*kerf));
    if (o.tool.empty()) return {};
    const auto lock = FileLock::taken(userDataFolder());
    if (!lock) return lock.problem();
    const auto shelves = shop::openShelves(realDisk());
    if (!shelves) return shelves.problem();
    const auto tool = shelves->onHand().tool(o.tool);
    if (!tool) return tool.problem();
    const auto set = shop::withSetting(*tool, "diameter", exactly(*kerf, Measure::length), Units::mm);
    if (!set) return set.problem();
    const auto next = shop::withThing(*shelves, *set);
    if (!next) return next.problem();
    return shop::saveShelves(realDisk(), *next);
}

Result<void> run(GaugeAsked& o) {
    if (o.kind != "fit" && o.kind != "kerf")
        return Problem{.what = fmt::format("There is no gauge “{}”.", o.kind),
                       .where = {},
                       .mend = "Make a fit gauge or a kerf comb: fit, kerf."};
    if (o.count > 0) o.fit.count = o.comb.count = o.count;
    if (o.measured > 0) return keep(o);
    if (auto may = checkedFresh(o.file, o.force); !may) return may;
    return make(o);
}

} // namespace

void addGauge(Options& app, int& exit) {
    auto command = app.command(
        "gauge",
        "A test piece as a job: notches from tight to loose (“fit”), or bars that tell how wide a cut is (“kerf”).\n"
        "Example: ferrograph-cli gauge fit.ferro --machine mill-600 --material birch-ply --stock 300 60 6");
    auto o = std::make_shared<GaugeAsked>();
    command.option("file", o->file, "the job to write");
    command.option("--kind", o->kind, "fit or kerf");
    command.option("--job", o->bench.jobFile, "job whose machine, material, tools and sheet are used");
    addBench(command, o->bench);
    command.option("--from", o->fit.from, "mm that the tightest notch is wider than the sheet");
    command.option("--to", o->fit.to, "and the loosest");
    command.option("--count", o->count, "of notches or bars");
    command.option("--width", o->comb.width, "mm of a bar");
    command.option("--length", o->comb.length, "mm of a bar");
    command.option("--measured", o->measured, "mm of all bars pushed together: tells the width of the cut");
    command.option("--tool", o->tool, "with --measured: the tool of the shop book that gets it");
    command.flag("--force", o->force, "write over a file that is there");
    command.run([o, &exit] {
        if (auto done = run(*o); !done) exit = complain(done.problem());
    });
}

} // namespace ferro::cli

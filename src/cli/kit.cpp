// From a cut list to programs in one go.
#include "kit/kit.h"
#include "cli/common.h"
#include "cli/verbs.h"

namespace ferro::cli {

namespace {

struct KitAsked {
    std::string list, out = "kit", unit;
    BenchAsked bench; ///< what is cut on, and how: of a job of before without its pieces, or fresh
    double effort = 20;
};

int make(const KitAsked& o) {
    const auto book = theShop();
    if (!book) return complain(book.problem());
    auto bench = benchOf(o.bench, *book);
    if (!bench) return complain(bench.problem());
    if (!o.bench.jobFile.empty()) bench = kit::benchFrom(*bench);
    bench->name = std::filesystem::path(o.list).stem().string();
    const auto unit = kit::unitFrom(o.unit);
    if (!unit) return complain(unit.problem());
    ShownProgress shown("making the kit");
    const auto made = kit::made({.list = o.list,
                                 .bench = std::move(*bench),
                                 .book = *book,
                                 .house = book->house,
                                 .mmPerUnit = *unit,
                                 .effort = o.effort},
                                realDisk(), shown.progress);
    if (!made) return complain(made.problem());
    for (const auto& [verdict, what] : made->look)
        notice(verdict == Verdict::note ? what : fmt::format("{}: {}", verdictName(verdict), what));
    notice(kit::countWords(made->parts, made->drawings) + ".");
    const auto files = kit::written(*made, o.out, realDisk());
    if (!files) return complain(files.problem());
    fmt::print("{} in use, {:.1f} % of that is parts\n",
               made->sheets == 1 ? "one sheet" : fmt::format("{} sheets", made->sheets), made->share * 100);
    for (const auto& file : *files) fmt::print("{}\n", file.string());
    return made->go && made->left == 0 ? fine : noGo;
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

// A material test as a job.
#include "job/swatch.h"
#include "cli/common.h"
#include "cli/verbs.h"
#include "cli/words_internal.h"
#include "job/job_file.h"
#include "shop/own.h"

namespace ferro::cli {

namespace {

/// "power=10..80x8".
Result<job::SwatchAxis> axisFrom(const std::string& word) {
    const auto bad = [&] {
        return Problem{
            .what = fmt::format("“{}” is no row of cells.", word), .where = {}, .mend = "Say it as power=10..80x8."};
    };
    const auto set = assignmentFrom(word);
    if (!set) return set.problem();
    const auto dots = set->value.find(".."), times = set->value.rfind('x');
    if (dots == std::string::npos || times == std::string::npos || times < dots) return bad();
    const auto from = parseQuantity(set->value.substr(0, dots), Measure::plain, Units::mm),
               to = parseQuantity(set->value.substr(dots + 2, times - dots - 2), Measure::plain, Units::mm);
    const auto count = idFrom(set->value.substr(times + 1));
    if (!from || !to || !count) return bad();
    return job::SwatchAxis{set->name, *from, *to, static_cast<int>(std::min(*count, 1000u))};
}

} // namespace

void addSwatch(Options& app, int& exit) {
    struct Asked {
        std::string file, rows, columns;
        BenchAsked bench;
        job::SwatchCard card{"hatch", {}, {}, {}, 0, 3, {}};
        std::vector<std::string> others;
        bool force = false;
    };
    auto command = app.command(
        "swatch",
        "A material test as a job: cells that are alike but for one setting in each direction. What came out best "
        "is kept by “book prove”.\nExample: ferrograph-cli swatch card.ferro --machine laser-700 --material poplar "
        "--stock 120 90 3 --kind hatch --rows power=8..40x6 --columns feed=1000..6000x6");
    auto o = std::make_shared<Asked>();
    command.option("file", o->file, "the job to write").required();
    command.option("--job", o->bench.jobFile, "job whose machine, material, tools and sheet are used");
    addBench(command, o->bench);
    command.option("--kind", o->card.kind, "of step");
    command.option("--tool", o->card.tool, "key");
    command.option("--rows", o->rows, "setting=FROM..TOxCOUNT, upwards").required();
    command.option("--columns", o->columns, "likewise, to the right").required();
    command.option("--cell", o->card.cell, "mm; 0: as large as fits");
    command.option("--gap", o->card.gap, "mm between cells");
    command.option("--set", o->others, "NAME=VALUE of all cells");
    command.flag("--force", o->force, "write over a file that is there");
    command.run([o, &exit] {
        if (auto may = checkedFresh(o->file, o->force); !may) return void(exit = complain(may.problem()));
        const auto book = shop::openBook(realDisk());
        if (!book) return void(exit = complain(book.problem()));
        const auto bench = benchOf(o->bench, *book);
        if (!bench) return void(exit = complain(bench.problem()));
        auto rows = axisFrom(o->rows), columns = axisFrom(o->columns);
        if (!rows) return void(exit = complain(rows.problem()));
        if (!columns) return void(exit = complain(columns.problem()));
        o->card.rows = *rows, o->card.columns = *columns;
        for (const auto& word : o->others) {
            const auto set = assignmentFrom(word);
            if (!set) return void(exit = complain(set.problem()));
            o->card.others.emplace_back(set->name, set->value);
        }
        const auto job = job::swatchCard(*bench, o->card);
        if (!job) return void(exit = complain(job.problem()));
        if (auto saved = job::save(realDisk(), *job, o->file); !saved) exit = complain(saved.problem());
    });
}

} // namespace ferro::cli

// A material test as a job.
#include "job/swatch.h"
#include "cli/common.h"
#include "cli/proving.h"
#include "cli/verbs.h"
#include "cli/words_internal.h"
#include "job/greys.h"
#include "job/job_file.h"
#include "job/kept_cards.h"
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
        bool force = false, keep = false;
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
    command.flag("--keep", o->keep, "in the shop book too, with its plan");
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
        if (auto saved = job::save(realDisk(), *job, o->file); !saved) return void(exit = complain(saved.problem()));
        if (!o->keep) return;
        const auto key = job::keepCard(realDisk(), *job, today());
        if (!key) return void(exit = complain(key.problem()));
        fmt::print("{}\n", *key);
    });
}

namespace {

struct PickAsked {
    std::string card, picture;
    std::vector<std::string> corners;
    std::string greys, note; ///< a cell's step
    bool asJson = false, prove = false;
};
/// "120.5,88": px from the picture's upper left.
Result<Vec2> pxFrom(const std::string& word) {
    const auto comma = word.find(',');
    const auto x = parseQuantity(word.substr(0, comma), Measure::plain, Units::mm),
               y = comma == std::string::npos ? x : parseQuantity(word.substr(comma + 1), Measure::plain, Units::mm);
    if (comma == std::string::npos || !x || !y)
        return Problem{.what = fmt::format("“{}” is no place in a picture.", word),
                       .where = "--corners",
                       .mend = "Say it in px from its upper left, as 120.5,88."};
    return Vec2{*x, *y};
}
/// What the cells like one of them make of greys; kept where that is asked for.
Result<void> tellGreys(const job::Job& card, const job::SwatchReading& read, const PickAsked& o) {
    const auto step = stepFrom(card, o.greys);
    if (!step) return step.problem();
    const auto greys = job::greysFrom(card, read, *step);
    if (!greys) return greys.problem();
    if (o.asJson)
        fmt::print("{}\n", Json{{"power", greys->power},
                                {"least", greys->least},
                                {"gamma", greys->gamma},
                                {"off", greys->off},
                                {"offPlain", greys->offPlain},
                                {"cells", greys->measured.size()}}
                               .dump(2));
    else
        fmt::print("greys from {} cells: power {:g} %, faintest {:g} %, middle greys {:g}\toff by {:.0f} % at most, "
                   "{:.0f} % without\n",
                   greys->measured.size(), greys->power, greys->least, greys->gamma, 100 * greys->off,
                   100 * greys->offPlain);
    if (!o.prove) return {};
    const auto proven = job::provenGreys(card, *greys, *step, today(), o.note);
    if (!proven) return proven.problem();
    const auto kept = keptProven(card, *proven);
    if (!kept) return kept.problem();
    fmt::print("{}", *kept);
    return {};
}
Result<void> pick(const PickAsked& o) {
    const auto card = jobAt(o.card, {});
    if (!card) return card.problem();
    const auto loaded = picture::load(o.picture);
    if (!loaded) return loaded.problem();
    const auto grey = picture::greyOf(*loaded);
    std::vector<Vec2> corners;
    for (const auto& word : o.corners) {
        const auto at = pxFrom(word);
        if (!at) return at.problem();
        corners.push_back(*at);
    }
    if (o.corners.empty()) {
        auto found = job::cornerMarksIn(picture::roundMarksIn(grey));
        if (!found)
            return Problem{.what = "The corner marks are not seen.",
                           .where = o.picture,
                           .mend =
                               "Say where they are in the picture, from the lower left counter-clockwise: --corners "
                               "90,700 1100,690 1090,80 95,85."};
        corners = std::move(*found);
    }
    const auto read = job::swatchRead(*card, grey, corners);
    if (!read) return read.problem();
    if (!o.greys.empty()) return tellGreys(*card, *read, o);
    Json all = Json::array();
    for (std::size_t i = 0; i < read->cells.size(); ++i) {
        const auto& cell = read->cells[i];
        const auto* step = plan::find(card->plan, cell.step);
        if (o.asJson)
            all.push_back({{"cell", cell.name},
                           {"step", step->name},
                           {"dark", cell.dark},
                           {"uneven", cell.uneven},
                           {"best", read->best == i}});
        else
            fmt::print("{}\t{}\tdark {:.1f} %\tuneven {:.1f} %{}\n", cell.name, step->name, 100 * cell.dark,
                       100 * cell.uneven, read->best == i ? "\tthe darkest that is even" : "");
    }
    if (o.asJson) fmt::print("{}\n", all.dump(2));
    return {};
}

} // namespace

void addPick(Options& app, int& exit) {
    auto command =
        app.command("pick", "How dark and how even the cells of a swatch card came out, from a picture of it. "
                            "What is best is kept by “book prove CARD CELL”.\n"
                            "Example: ferrograph-cli pick card.ferro card.jpg");
    auto o = std::make_shared<PickAsked>();
    command.option("card", o->card, "the card's job").required();
    command.option("picture", o->picture).required();
    command.option("--corners", o->corners, "px of its four corner marks, from the lower left counter-clockwise");
    command.option("--greys", o->greys, "even greys for pictures, from the cells like this one but for their power");
    command.flag("--prove", o->prove, "keep them as proven on the card's material");
    command.option("--note", o->note, "with what is proven");
    command.flag("--json", o->asJson, "as JSON");
    command.run([o, &exit] {
        if (auto done = pick(*o); !done) exit = complain(done.problem());
    });
}

} // namespace ferro::cli

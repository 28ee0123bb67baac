// Cut to print: marks round the artwork, the page to print, and where they lie when it comes back.
#include "cli/common.h"
#include "cli/words_internal.h"
#include "job/camera.h"
#include "job/job_file.h"
#include "print/artwork_page.h"
#include "shop/own.h"

namespace ferro::cli {

namespace {

struct MarksAsked {
    std::string what;
    std::vector<std::string> words, places;
    BenchAsked bench;
    std::string sheet, out;
    job::MarksWish wish;
    bool force = false, look = false;
};

Problem wrongWords(std::string mend) {
    return {.what = "Something is missing, or too much.", .where = "marks", .mend = std::move(mend)};
}

Result<picture::Grey> greyAt(const std::string& file) {
    const auto picture = picture::load(file);
    if (!picture) return picture.problem();
    return picture::greyOf(*picture);
}

/// "3=120.5,40": the third mark is there. Later ones win.
Result<void> putPlaces(const std::vector<std::string>& words, std::vector<std::optional<Vec2>>& found) {
    for (const auto& word : words) {
        const auto set = assignmentFrom(word);
        if (!set) return set.problem();
        const auto number = idFrom(set->name);
        const auto comma = set->value.find(',');
        if (!number || *number < 1 || *number > found.size() || (comma == std::string::npos && set->value != "none"))
            return Problem{.what = fmt::format("“{}” is no place of a mark.", word),
                           .where = {},
                           .mend =
                               fmt::format("Say it as 3=120.5,40 in mm on the sheet, or 3=none; there are {} marks.",
                                           found.size())};
        if (set->value == "none") {
            found[*number - 1].reset();
            continue;
        }
        const auto x = parseQuantity(set->value.substr(0, comma), Measure::length, Units::mm),
                   y = parseQuantity(set->value.substr(comma + 1), Measure::length, Units::mm);
        if (!x) return x.problem();
        if (!y) return y.problem();
        found[*number - 1] = Vec2{*x, *y};
    }
    return {};
}

/// Says what was found, moves all to fit, and keeps the job.
Result<void> corrected(const MarksAsked& o, const std::string& file, std::vector<std::optional<Vec2>> found,
                       const job::Job& job) {
    const auto marks = job::marksOf(job);
    found.resize(marks.size());
    if (auto put = putPlaces(o.places, found); !put) return put.problem();
    const auto correction = job::correctionBy(job, found);
    std::size_t n = 0;
    for (std::size_t i = 0; i < marks.size(); ++i)
        if (found[i])
            fmt::print("mark {}: at {}, {}{}\n", i + 1, mm(found[i]->x), mm(found[i]->y),
                       correction ? fmt::format(", off by {} after all", mm(correction->off[n++])) : std::string());
        else
            fmt::print("mark {}: not found, drawn at {}, {}\n", i + 1, mm(marks[i].at.x), mm(marks[i].at.y));
    if (!correction) return correction.problem();
    fmt::print("shifted {}, {}, turned {:.3f}°, {:.3f} % wide, {:.3f} % high, skewed {:.3f}°\n",
               mm(correction->shift.x), mm(correction->shift.y), correction->turn * 180 / pi, 100 * correction->wider,
               100 * correction->higher, correction->skew * 180 / pi);
    if (o.look) return {};
    const auto moved = job::withCorrection(job, *correction);
    if (!moved) return moved.problem();
    return job::save(realDisk(), *moved, o.out.empty() ? file : o.out);
}

/// The job that is named first, nobody else changing it meanwhile.
template<class Edit> Result<void> onJob(const MarksAsked& o, std::size_t words, const char* usage, const Edit& edit) {
    if (o.words.size() != words) return wrongWords(usage);
    const auto lock = FileLock::taken(o.words[0]);
    if (!lock) return lock.problem();
    const auto job = jobAt(o.words[0], o.sheet);
    if (!job) return job.problem();
    return edit(*job);
}

Result<void> put(const MarksAsked& o) {
    return onJob(o, 1, "Say: marks put JOB", [&](const job::Job& job) -> Result<void> {
        const auto with = job::withMarks(job, o.wish);
        if (!with) return with.problem();
        fmt::print("{} marks\n", job::marksOf(*with).size());
        return job::save(realDisk(), *with, o.out.empty() ? o.words[0] : o.out);
    });
}
Result<void> at(const MarksAsked& o) {
    return onJob(o, 1, "Say: marks at JOB --at 1=12.5,40 …",
                 [&](const job::Job& job) { return corrected(o, o.words[0], {}, job); });
}
Result<void> find(const MarksAsked& o) {
    return onJob(o, 2, "Say: marks find JOB PICTURE", [&](const job::Job& job) -> Result<void> {
        const auto camera = job::cameraOf(realDisk(), job.machine.key);
        if (!camera) return camera.problem();
        const auto picture = greyAt(o.words[1]);
        if (!picture) return picture.problem();
        auto found = job::marksSeen(job, *camera, picture::roundMarksIn(*picture), picture->width, picture->height);
        if (!found) return found.problem();
        return corrected(o, o.words[0], std::move(*found), job);
    });
}
Result<void> card(const MarksAsked& o) {
    if (o.words.size() != 1) return wrongWords("Say: marks card FILE --machine KEY --stock WIDTH HEIGHT THICKNESS");
    if (auto may = checkedFresh(o.words[0], o.force); !may) return may;
    const auto book = shop::openBook(realDisk());
    if (!book) return book.problem();
    const auto bench = benchOf(o.bench, *book);
    if (!bench) return bench.problem();
    const auto job = job::cameraCard(*bench);
    if (!job) return job.problem();
    return job::save(realDisk(), *job, o.words[0]);
}
Result<void> camera(const MarksAsked& o) {
    if (o.words.size() != 2) return wrongWords("Say: marks camera CARD PICTURE");
    const auto card = jobAt(o.words[0], o.sheet);
    if (!card) return card.problem();
    const auto picture = greyAt(o.words[1]);
    if (!picture) return picture.problem();
    const auto spots = job::spotsOf(*card);
    std::vector<std::optional<Vec2>> told(spots.size());
    if (auto put = putPlaces(o.places, told); !put) return put.problem();
    std::vector<Vec2> from, to;
    for (std::size_t i = 0; i < told.size(); ++i)
        if (told[i]) from.push_back(spots[i]), to.push_back(*told[i]);
    // Two places or more say where a printed card lies.
    const auto lies = from.size() > 1 ? fittedMap(from, to).map : Transform{};
    if (card->plan.steps.empty() && from.size() < 2)
        return Problem{.what = "Where a printed card lies has to be told.",
                       .where = o.words[0],
                       .mend = "Go to two of its spots or more and say where they are: --at 1=12.5,10.2 --at …"};
    const auto found = job::cameraFrom(*card, picture::roundMarksIn(*picture), picture->width, picture->height, lies);
    if (!found) return found.problem();
    fmt::print("{} of {} spots, up to {} off\n", found->found, found->of, mm(found->worst));
    if (o.look) return {};
    return job::keepCamera(realDisk(), card->machine.key, found->view);
}

Result<void> run(const MarksAsked& o) {
    if (o.what == "put") return put(o);
    if (o.what == "at") return at(o);
    if (o.what == "find") return find(o);
    if (o.what == "card") return card(o);
    return camera(o);
}

struct PrintAsked {
    std::string file, out, sheet;
    print::ArtworkPage page;
    double pxPerMm = 12;
};
Result<void> page(const PrintAsked& o) {
    if (auto named = checkedName(o.out, {".pdf", ".png"}); !named) return named;
    const auto job = jobAt(o.file, o.sheet);
    if (!job) return job.problem();
    if (hasEnding(o.out, {".png"})) {
        const auto picture = print::artworkPicture(*job, o.page, o.pxPerMm);
        if (!picture) return picture.problem();
        return writeAtomically(realDisk(), o.out, picture::toPng(*picture, o.pxPerMm));
    }
    const auto pdf = print::artworkPdf(*job, o.page);
    if (!pdf) return pdf.problem();
    return writeAtomically(realDisk(), o.out, *pdf);
}

} // namespace

void addMarks(Options& app, int& exit) {
    auto command = app.command(
        "marks", "Printed marks: put round the artwork (put), found in a picture by the machine's camera (find) or "
                 "told (at), and all moved to where the print lies. How the camera stands is told by a card that the "
                 "machine makes (card) and a picture of that (camera).\n"
                 "Example: ferrograph-cli marks put moons.ferro; ferrograph-cli print moons.ferro -o moons.pdf; "
                 "ferrograph-cli marks find moons.ferro bed.png");
    auto o = std::make_shared<MarksAsked>();
    command.option("what", o->what, "put, find, at, card or camera")
        .required()
        .oneOf({"put", "find", "at", "card", "camera"});
    command.option("words", o->words, "the job or card, and the picture");
    command.option("--at", o->places,
                   "N=X,Y: where mark (or a card's spot) N is, mm on the sheet; N=none: not to be used");
    command.option("--diameter", o->wish.diameter, "mm of a mark");
    command.option("--gap", o->wish.gap, "mm from the artwork to the marks");
    command.option("--spacing", o->wish.spacing, "mm between marks at most");
    command.option("--sheet", o->sheet, "by name or number");
    command.option("-o,--out", o->out, "another file than the job's own");
    command.option("--job", o->bench.jobFile, "job whose machine, material, tools and sheet the card has");
    addBench(command, o->bench);
    command.flag("--look", o->look, "only say what was found");
    command.flag("--force", o->force, "write over a file that is there");
    command.run([o, &exit] {
        if (auto done = run(*o); !done) exit = complain(done.problem());
    });
}

void addPrint(Options& app, int& exit) {
    auto command =
        app.command("print", "The sheet as it is to be printed, with its marks, at its exact size: a PDF, or "
                             "a picture. What is cut is left out.\n"
                             "Example: ferrograph-cli print moons.ferro -o moons.pdf");
    auto o = std::make_shared<PrintAsked>();
    command.option("job", o->file).required();
    command.option("-o,--out", o->out, "PDF or PNG").required();
    command.option("--sheet", o->sheet, "by name or number");
    command.flag("--cut-lines", o->page.cutLines, "print them too");
    command.option("--px-per-mm", o->pxPerMm, "of a PNG").range(1, 60);
    command.run([o, &exit] {
        if (auto done = page(*o); !done) exit = complain(done.problem());
    });
}

} // namespace ferro::cli

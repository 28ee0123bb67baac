#include "cli/common.h"
#include "job/sheets.h"
#include "program/for_job.h"

namespace ferro::cli {

namespace {

struct Asked {
    std::string file, folder = ".", dialect, sheet;
};

/// The sheets that a program is wanted for: the one that is named, else all on which something lies.
std::vector<job::Job> wanted(const job::Job& job, const Asked& o) {
    if (!o.sheet.empty() || job.sheets.size() == 1) return {job};
    auto out = job::sheetsToCut(job);
    for (const auto& sheet : job.sheets)
        if (std::none_of(out.begin(), out.end(), [&](const auto& cut) { return cut.sheet().id == sheet.id; }))
            notice(fmt::format("{}: nothing lies on it.", sheet.name));
    return out;
}

/// Whether what was asked for is a file such as is written, and no folder that is there.
bool namesFile(const std::filesystem::path& out, const std::filesystem::path& program) {
    std::error_code none;
    return out.has_extension() && out.extension() == program.extension() && !std::filesystem::is_directory(out, none);
}

/// All programs, or none of them: a sheet with a no-go keeps the others from being cut as if all were well.
int write(const Asked& o) {
    auto job = jobAt(o.file, o.sheet);
    if (job && !o.dialect.empty()) job = job::withDialect(*job, o.dialect);
    if (!job) return complain(job.problem());
    const auto dialect = program::dialectOf(realDisk(), *job);
    if (!dialect) return complain(dialect.problem());
    std::vector<std::pair<std::filesystem::path, std::string>> programs;
    for (const auto& sheet : wanted(*job, o)) {
        ShownProgress shown(job->sheets.size() > 1 ? fmt::format("proofing {}", sheet.sheet().name) : "proofing");
        const auto proof = proof::proofOf(sheet, shown.progress);
        if (!proof) return complain(proof.problem());
        if (!mayBeWritten(*proof)) return noGo;
        auto files = program::programFilesFor(sheet, proof->path, *dialect, program::Clearance::passed);
        if (!files) return complain(files.problem());
        for (auto& part : *files) {
            const auto file = std::filesystem::path(o.folder) / part.name;
            for (const auto& [other, text] : programs)
                if (other == file)
                    return complain({.what = fmt::format("Two sheets would be written to {}.", part.name),
                                     .where = {},
                                     .mend = "Give the sheets names that differ in letters or digits, and put {sheet} "
                                             "into the name of the files."});
            programs.emplace_back(file, std::move(part.program.text));
        }
    }
    if (programs.empty())
        return complain({.what = "Nothing lies on any sheet.", .where = o.file, .mend = "Lay pieces on a sheet."});
    std::error_code error;
    if (namesFile(o.folder, programs.front().first)) {
        if (programs.size() > 1)
            return complain(
                {.what = fmt::format("{} programs come of this job, and {} names one.", programs.size(), o.folder),
                 .where = "--out",
                 .mend = "Name a folder for them, or one sheet by --sheet."});
        programs.front().first = o.folder;
    } else {
        std::filesystem::create_directories(o.folder, error);
    }
    for (const auto& [file, text] : programs) {
        if (auto done = writeAtomically(realDisk(), file, text); !done) return complain(done.problem());
        fmt::print("{}\n", file.string());
    }
    return fine;
}

} // namespace

void addWrite(Options& app, int& exit) {
    auto command = app.command("write", "Write a job's programs, for each sheet one, or one a tool or step as the "
                                        "job's output says. Nothing is written while a no-go stands "
                                        "(exit code 2).\nExample: ferrograph-cli write proscenium.ferro -o out");
    auto o = std::make_shared<Asked>();
    command.option("job", o->file).required();
    command.option("-o,--out", o->folder, "a folder (default: this one), or the file if it is one program");
    command.option("--dialect", o->dialect, "instead of the job's own");
    command.option("--sheet", o->sheet, "only this one, by name or number");
    command.run([o, &exit] { exit = write(*o); });
}

} // namespace ferro::cli

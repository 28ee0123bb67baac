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
    std::vector<job::Job> out;
    for (const auto& sheet : job.sheets) {
        const auto& items = job.artwork->items;
        if (std::any_of(items.begin(), items.end(), [&](const auto& item) { return item.sheet == sheet.id; }))
            out.push_back(*job::atSheet(job, sheet.id));
        else
            notice(fmt::format("{}: nothing lies on it.", sheet.name));
    }
    return out;
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
        auto program = program::programFor(sheet, proof->path, *dialect, program::Clearance::passed);
        if (!program) return complain(program.problem());
        const auto file = std::filesystem::path(o.folder) / program::fileNameFor(sheet, *program);
        for (const auto& [other, text] : programs)
            if (other == file)
                return complain({.what = fmt::format("Two sheets would be written to {}.", file.filename().string()),
                                 .where = {},
                                 .mend = "Give the sheets names that differ in letters or digits."});
        programs.emplace_back(file, std::move(program->text));
    }
    if (programs.empty())
        return complain({.what = "Nothing lies on any sheet.", .where = o.file, .mend = "Lay pieces on a sheet."});
    std::error_code error;
    std::filesystem::create_directories(o.folder, error);
    for (const auto& [file, text] : programs) {
        if (auto done = writeAtomically(realDisk(), file, text); !done) return complain(done.problem());
        fmt::print("{}\n", file.string());
    }
    return fine;
}

} // namespace

void addWrite(Options& app, int& exit) {
    auto command = app.command("write", "Write a job's programs, one a sheet. Nothing is written while a no-go stands "
                                        "(exit code 2).\nExample: ferrograph-cli write proscenium.ferro -o out");
    auto o = std::make_shared<Asked>();
    command.option("job", o->file).required();
    command.option("-o,--out", o->folder, "folder");
    command.option("--dialect", o->dialect, "instead of the job's own");
    command.option("--sheet", o->sheet, "only this one, by name or number");
    command.run([o, &exit] { exit = write(*o); });
}

} // namespace ferro::cli

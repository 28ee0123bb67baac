#include "cli/common.h"
#include "job/edits.h"
#include "job/job_file.h"
#include "program/for_job.h"

namespace ferro::cli {

void addWrite(Options& app, int& exit) {
    struct Asked {
        std::string file, folder = ".", dialect;
    };
    auto command = app.command("write", "Write a job's program. Nothing is written while a no-go stands (exit "
                                        "code 2).\nExample: ferrograph-cli write proscenium.ferro -o out");
    auto o = std::make_shared<Asked>();
    command.option("job", o->file).required();
    command.option("-o,--out", o->folder, "folder");
    command.option("--dialect", o->dialect, "instead of the job's own");
    command.run([o, &exit] {
        auto job = job::load(realDisk(), o->file);
        if (job && !o->dialect.empty()) job = job::withDialect(*job, o->dialect);
        if (!job) return void(exit = complain(job.problem()));
        const auto dialect = program::dialectOf(realDisk(), *job);
        if (!dialect) return void(exit = complain(dialect.problem()));
        ShownProgress shown("proofing");
        const auto proof = proof::proofOf(*job, shown.progress);
        if (!proof) return void(exit = complain(proof.problem()));
        if (!mayBeWritten(*proof)) return void(exit = noGo);
        const auto program = program::programFor(*job, proof->path, *dialect, program::Clearance::passed);
        if (!program) return void(exit = complain(program.problem()));
        std::error_code error;
        std::filesystem::create_directories(o->folder, error);
        const auto file = std::filesystem::path(o->folder) / program::fileNameFor(*job, *program);
        if (auto done = writeAtomically(realDisk(), file, program->text); !done)
            return void(exit = complain(done.problem()));
        fmt::print("{}\n", file.string());
    });
}

} // namespace ferro::cli

#include "cli/common.h"
#include "print/setup_sheet.h"
#include "program/for_job.h"

namespace ferro::cli {

namespace {

int printSetup(const std::string& file, const std::string& sheet, const std::string& out) {
    if (const auto named = checkedName(out, {".pdf"}); !named) return complain(named.problem());
    const auto job = jobAt(file, sheet);
    if (!job) return complain(job.problem());
    ShownProgress shown("proofing");
    const auto proof = proof::proofOf(*job, shown.progress);
    if (!proof) return complain(proof.problem());
    std::optional<print::ProgramFacts> facts;
    if (proof->mayRun()) {
        const auto dialect = program::dialectOf(realDisk(), *job);
        if (!dialect) return complain(dialect.problem());
        const auto program = program::programFor(*job, proof->path, *dialect, program::Clearance::passed);
        if (!program) return complain(program.problem());
        facts = print::ProgramFacts::of(program::fileNameFor(*job, *program), program->text, program->lines);
    }
    const auto pdf = print::setupSheet(*job, *proof, facts);
    if (!pdf) return complain(pdf.problem());
    if (auto written = writeAtomically(realDisk(), out, *pdf); !written) return complain(written.problem());
    return proof->mayRun() ? fine : noGo;
}

} // namespace

void addSetup(Options& app, int& exit) {
    struct SetupAsked {
        std::string file, sheet, out;
    };
    auto command =
        app.command("setup", "The setup sheet of a job as a PDF: picture, stock, zero, tools, steps, what the "
                             "proof says. Exit code 2 when it is a no-go.\nExample: ferrograph-cli setup "
                             "sign.ferro -o sign.pdf");
    auto o = std::make_shared<SetupAsked>();
    command.option("job", o->file).required();
    command.option("-o,--out", o->out, "PDF to write").required();
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.run([o, &exit] { exit = printSetup(o->file, o->sheet, o->out); });
}

} // namespace ferro::cli

#include "app/shell/program_writer.h"

#include "app/shell/session.h"

namespace ferro::app {

namespace {
Result<program::Program> written(const job::Job& job, const proof::Proof& proof) {
    const auto dialect = program::dialectOf(realDisk(), job);
    if (!dialect) return dialect.problem();
    return program::programFor(job, proof.path, *dialect,
                               proof.mayRun() ? program::Clearance::passed : program::Clearance::refused);
}
} // namespace

ProgramWriter::ProgramWriter(Session& session) : session_(session) {
    connect(&session, &Session::stationChanged, this, &ProgramWriter::startAhead);
    connect(&session.prover(), &Prover::changed, this, &ProgramWriter::startAhead);
}

void ProgramWriter::startAhead() {
    const auto& prover = session_.prover();
    if (of_ != prover.proof()) of_.reset(), program_.reset();
    if (session_.station() != StationId::run || !prover.isFresh() || program_) return;
    session_.background().run(
        "write", tr("Writing the program"),
        [job = session_.job(), proof = prover.proof()](Progress&) { return written(job, *proof); }, this,
        [this, proof = prover.proof()](Result<program::Program> program) {
            if (proof != session_.prover().proof()) return; // outdated
            of_ = proof;
            program_ = std::move(program);
            Q_EMIT changed();
        });
}

Result<program::Program> ProgramWriter::program() {
    const auto& prover = session_.prover();
    if (!prover.isFresh())
        return Problem{.what = "The job is not proofed yet.", .where = {}, .mend = "Wait for the proof to finish."};
    if (!program_ || of_ != prover.proof()) {
        session_.background().cancel("write");
        of_ = prover.proof();
        program_ = written(session_.job(), *of_);
    }
    return *program_;
}

Result<program::Dialect> ProgramWriter::dialect() const { return program::dialectOf(realDisk(), session_.job()); }

Result<link::Run> ProgramWriter::run() {
    auto written = program();
    if (!written) return written.problem();
    const auto dialect = this->dialect();
    if (!dialect) return dialect.problem();
    if (auto may = program::mayStream(*dialect); !may) return may.problem();
    return link::runOf(session_.job(), of_->path, *written, *dialect);
}

QString ProgramWriter::runLogFile() const {
    const auto& file = session_.file();
    return file.isEmpty() ? QString::fromStdString((userDataFolder() / "last.runlog").string()) : file + ".runlog";
}

} // namespace ferro::app

#pragma once

#include <QObject>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "link/run.h"
#include "program/for_job.h"
#include "proof/proof.h"
#endif

namespace ferro::app {

class Session;

/// The program of the sheet at hand, of its fresh proof: written in the background while Run is shown, else when it is
/// asked for.
class ProgramWriter : public QObject {
    Q_OBJECT
public:
    explicit ProgramWriter(Session& session);

    [[nodiscard]] Result<program::Program> program();
    [[nodiscard]] Result<program::Dialect> dialect() const;
    /// The program as a run; a problem while a no-go stands or the proof is not fresh.
    [[nodiscard]] Result<link::Run> run();
    /// Beside the job, or in the data folder while it has no file.
    [[nodiscard]] QString runLogFile() const;

Q_SIGNALS:
    void changed();

private:
    void startAhead();

    Session& session_;
    std::shared_ptr<const proof::Proof> of_;
    std::optional<Result<program::Program>> program_; ///< of that proof
};

} // namespace ferro::app

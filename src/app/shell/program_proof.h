#pragma once

#include "app/shell/session.h"

#include <QDialog>
#include <QLabel>
#include <QVBoxLayout>

namespace ferro::app {

/// Proofs a program from a file, whoever wrote it, on the open job's stock, clamps, machine and tools; anew whenever
/// the job changes. It is shown in a window of its own beside the job.
class ProgramProof : public QDialog {
    Q_OBJECT
public:
    ProgramProof(Session& session, const QString& file, QWidget* parent);

    /// Endings of files that are taken for programs.
    [[nodiscard]] static bool takes(const QString& file);

private:
    struct Answer {
        std::optional<Problem> problem;
        std::vector<proof::Finding> findings;
        std::vector<Notice> notices;
        std::size_t lines = 0, moves = 0;
        double seconds = 0;
        bool go = false;
        QImage surface;
    };
    void start();
    void show_(const Answer& answer);
    [[nodiscard]] static Answer proofed(const job::Job& job, const program::Dialect& dialect, const std::string& text,
                                        const QColor& through, Progress& progress);
    void resizeEvent(QResizeEvent*) override;
    void paintSurface();

    Session& session_;
    QString file_;
    QLabel *verdict_, *facts_, *picture_;
    QVBoxLayout* list_;
    QImage surface_;
};

} // namespace ferro::app

#pragma once

#include "app/shell/session.h"

#include <QTimer>

namespace ferro::app {

/// Runs the open job on a stand-in from the proof to the end, without a hand: starts it, homes, sets the zero beside
/// the bed's corner, streams, and answers its questions. For trying a job (`ferrograph --rehearse`) and for pictures.
class Rehearsal : public QObject {
    Q_OBJECT
public:
    Rehearsal(Session& session, double faster, QObject* parent = nullptr);
    /// Lines done of the program, 0 to 1.
    [[nodiscard]] double progress() const;

Q_SIGNALS:
    /// The moment to press Start.
    void ready();

private:
    void look();
    Session& session_;
    double faster_;
    enum class Stage { proofing, starting, homing, zeroing, running } stage_ = Stage::proofing;
    QTimer timer_;
};

} // namespace ferro::app

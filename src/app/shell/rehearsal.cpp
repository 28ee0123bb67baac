#include "app/shell/rehearsal.h"

namespace ferro::app {

Rehearsal::Rehearsal(Session& session, double faster, QObject* parent)
    : QObject(parent), session_(session), faster_(faster) {
    session_.goTo(StationId::run);
    connect(&timer_, &QTimer::timeout, this, &Rehearsal::look);
    timer_.start(50);
}

double Rehearsal::progress() const {
    const auto& facts = session_.runner().facts();
    return stage_ == Stage::running && facts.lines > 0
               ? static_cast<double>(facts.done) / static_cast<double>(facts.lines)
               : 0;
}

void Rehearsal::look() {
    auto& runner = session_.runner();
    const auto& facts = runner.facts();
    if (stage_ == Stage::proofing && session_.prover().isFresh()) {
        if (!session_.prover().proof()->mayRun()) return timer_.stop(); // the sheet says why
        const auto& machine = session_.job().machine;
        runner.startStandIn(QString::fromStdString(machine.key), QString::fromStdString(machine.conversation), faster_,
                            0);
        stage_ = Stage::starting;
    } else if (stage_ == Stage::starting && facts.connected) {
        runner.home();
        stage_ = Stage::homing;
    } else if (stage_ == Stage::homing && facts.homed) {
        // The sheet's lower left corner 5 mm from the bed's, its top low enough for rapids to fit under the upper end.
        const auto zero = job::zeroOf(session_.job().sheet().stock);
        runner.send({QStringLiteral("G21 G90 G0 X%1 Y%2 Z%3")
                         .arg(5 + zero.at.x)
                         .arg(5 + zero.at.y)
                         .arg(zero.z - job::travelHeight(session_.job()) - 5),
                     "G92 X0 Y0 Z0"},
                    Runner::Then::zeroSet);
        stage_ = Stage::zeroing;
    } else if (stage_ == Stage::zeroing && facts.zeroSet) {
        stage_ = Stage::running;
        Q_EMIT ready();
    } else if (stage_ == Stage::running && facts.state == link::Streamer::State::asking) {
        runner.resume();
    }
}

} // namespace ferro::app

#pragma once

#include <QImage>
#include <QObject>
#include <QTimer>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "base/kept.h"
#include "proof/proof.h"
#endif

namespace ferro::app {

class Session;

/// The proof of the sheet at hand, made anew in the background when the job changes, and the surface it leaves at the
/// moment looked at, while that is seen.
class Prover : public QObject {
    Q_OBJECT
public:
    explicit Prover(Session& session);

    /// The last one made; of an older job until `isFresh`.
    [[nodiscard]] std::shared_ptr<const proof::Proof> proof() const { return proof_; }
    [[nodiscard]] bool isFresh() const;
    /// The moves as they were planned last, here before their proof is; of a tray those on the first blank.
    [[nodiscard]] std::shared_ptr<const toolpath::Toolpath> moves() const { return moves_; }
    [[nodiscard]] const QImage& surface() const { return surface_; }
    /// What the surface is cut by; none until it was seen.
    [[nodiscard]] std::shared_ptr<const proof::Strokes> strokes() const { return strokes_; }
    /// The moment looked at, s from the job's start; below 0: all is cut.
    [[nodiscard]] double playhead() const { return playhead_; }
    void setPlayhead(double seconds);
    /// Where a machine is on the time line by its own clock, and how long it still takes, s; 0 without a proof.
    [[nodiscard]] double timeAt(double machineClock) const;
    [[nodiscard]] double leftAt(double machineClock) const;
    void applyFix(std::size_t finding);
    /// As if the job had changed: something that it names has, outside of it.
    void again() { prove(); }
    /// Nothing is known any more, until the next proof.
    void forget();

Q_SIGNALS:
    void changed();
    void movesChanged();
    void surfaceChanged();

private:
    void prove();
    void judge(std::shared_ptr<proof::Proof> planned, std::uint64_t asked);
    void cut();

    Session& session_;
    std::shared_ptr<Kept> kept_ = std::make_shared<Kept>(); ///< of earlier proofs
    std::shared_ptr<const toolpath::Toolpath> moves_;
    std::shared_ptr<const proof::Proof> proof_;
    std::uint64_t revision_ = 0; ///< of the job it is of
    std::shared_ptr<const proof::Strokes> strokes_;
    QImage surface_; ///< none where it is not seen
    double playhead_ = -1;
    QTimer delay_;
};

} // namespace ferro::app

#pragma once

#include <QObject>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/job.h"
#include "mend/audit.h"
#include "mend/fits.h"
#endif

namespace ferro::app {

class Session;

/// The audit of the drawing while its station is open: made anew in the background when the drawing, the stock or a
/// tolerance changes; what it finds is walked and mended from here.
class Auditor : public QObject {
    Q_OBJECT
public:
    explicit Auditor(Session& session);

    [[nodiscard]] std::shared_ptr<const mend::Audit> audit() const { return audit_; }
    /// Whether the audit is of the drawing as it is now.
    [[nodiscard]] bool isFresh() const;
    /// The job's own; setting them is an edit of it.
    [[nodiscard]] const mend::Tolerances& tolerances() const;
    void setTolerances(const mend::Tolerances& tolerances, quint64 gesture = 0);
    /// The finding being looked at, an index into the audit's; -1: none.
    [[nodiscard]] int current() const { return current_; }

    /// To the next finding of a fault, round and round: chooses its piece and brings it into view.
    void walk(mend::Fault fault);
    /// What mending the finding at hand would make of outlines, and which would go; empty until it is known.
    [[nodiscard]] const std::vector<Path>& becomes() const { return becomes_; }
    [[nodiscard]] const std::vector<Path>& goes() const { return goes_; }
    [[nodiscard]] const QString& wouldDo() const { return wouldDo_; }
    void mendCurrent();
    void mend(mend::Fault fault);
    void mendAll();
    /// Fewer points for the chosen pieces, within the tolerance for thinning.
    void thinChosen();

    /// What of the chosen pieces, or of all, could be made exact, or made to fit; forgotten with the next change of the
    /// drawing.
    void lookForTruth(double within);
    void lookForJoints(const mend::Fitting& fitting);
    enum class Asked { nothing, truth, joints };
    struct Proposed {
        Asked asked = Asked::nothing;
        std::vector<mend::Proposal> changes;
        std::vector<std::string> left; ///< what stays as it is and why
        std::size_t found = 0;         ///< joints
        int number = 0;                ///< another for each look
    };
    [[nodiscard]] const Proposed& proposed() const { return proposed_; }
    void takeProposed(const std::vector<std::size_t>& which);

Q_SIGNALS:
    void changed();
    void proposedChanged();

private:
    void refresh();
    void forgetPreview();
    void previewCurrent();
    template<class Work> void repair(const QString& label, Work work);
    [[nodiscard]] bool isOfNow() const;
    void mendFaults(const QString& label, std::vector<mend::Fault> which);
    [[nodiscard]] Piece blank() const;
    void propose(Proposed proposed);

    Session& session_;
    mend::Tolerances ofTolerances_;
    std::shared_ptr<const mend::Audit> audit_;
    std::shared_ptr<const artwork::Artwork> of_;
    Piece ofBlank_;
    int current_ = -1;
    std::vector<Path> becomes_, goes_;
    QString wouldDo_;
    Proposed proposed_;
};

} // namespace ferro::app

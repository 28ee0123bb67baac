#include "app/shell/auditor.h"

#include "app/shell/session.h"
#include "mend/repair.h"
#include "proof/timing.h"

#include <span>

namespace ferro::app {

Auditor::Auditor(Session& session) : session_(session) {
    connect(&session, &Session::jobChanged, this, &Auditor::refresh);
    connect(&session, &Session::stationChanged, this, &Auditor::refresh);
}

Piece Auditor::blank() const { return job::blankOf(session_.job().sheet().stock); }

const mend::Tolerances& Auditor::tolerances() const { return session_.job().tolerances; }

bool Auditor::isOfNow() const {
    return of_ == session_.job().artwork && ofBlank_ == blank() && ofTolerances_ == tolerances();
}
bool Auditor::isFresh() const { return audit_ && isOfNow(); }

void Auditor::setTolerances(const mend::Tolerances& tolerances, quint64 gesture) {
    if (tolerances != this->tolerances())
        session_.apply(tr("Tolerances"), job::withTolerances(session_.job(), tolerances), gesture);
}

void Auditor::propose(Proposed proposed) {
    proposed.number = proposed_.number + 1;
    proposed_ = std::move(proposed);
    Q_EMIT proposedChanged();
    Q_EMIT changed();
}
void Auditor::lookForTruth(double within) {
    session_.background().run(
        "proposals", tr("Looking for what is near-exact"),
        [art = session_.job().artwork, ids = session_.selection(), within](Progress&) {
            return mend::proposals(*art, ids, within);
        },
        this,
        [this, art = session_.job().artwork](std::vector<mend::Proposal> found) {
            if (art == session_.job().artwork) propose({Asked::truth, std::move(found), {}, 0, 0});
        });
}
void Auditor::lookForJoints(const mend::Fitting& fitting) {
    session_.background().run(
        "proposals", tr("Looking for joints"),
        [art = session_.job().artwork, ids = session_.selection(), fitting](Progress&) {
            return mend::fitsOf(*art, ids, fitting);
        },
        this,
        [this, art = session_.job().artwork](mend::Fits fits) {
            if (art == session_.job().artwork)
                propose({Asked::joints, std::move(fits.changes), std::move(fits.left), fits.joints.size(), 0});
        });
}
void Auditor::takeProposed(const std::vector<std::size_t>& which) {
    std::vector<mend::Proposal> taken;
    for (const auto i : which)
        if (i < proposed_.changes.size()) taken.push_back(proposed_.changes[i]);
    if (taken.empty()) return;
    const bool truth = proposed_.asked == Asked::truth;
    if (session_.apply(truth ? tr("True up") : tr("Fit joints"),
                       job::withArtwork(session_.job(), mend::withTruedUp(*session_.job().artwork, taken))))
        Q_EMIT session_.told((truth ? tr("%1 made exact.") : tr("%1 lines fitted.")).arg(taken.size()), false);
}

void Auditor::refresh() {
    if (proposed_.asked != Asked::nothing && of_ != session_.job().artwork) {
        proposed_ = {Asked::nothing, {}, {}, 0, proposed_.number + 1};
        Q_EMIT proposedChanged();
    }
    if (session_.station() != StationId::mend) return session_.background().cancel("audit");
    if (isOfNow()) return;
    of_ = session_.job().artwork;
    ofBlank_ = blank();
    ofTolerances_ = tolerances();
    audit_.reset();
    current_ = -1;
    forgetPreview();
    session_.background().run(
        "audit", tr("Auditing"),
        [art = of_, tolerances = ofTolerances_, blank = ofBlank_](Progress& progress) {
            return mend::audited(*art, tolerances, blank, progress);
        },
        this,
        [this](Result<mend::Audit> audit) {
            if (audit)
                audit_ = std::make_shared<const mend::Audit>(std::move(*audit));
            else
                of_.reset(); // cancelled: looked at again with the next change
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

void Auditor::walk(mend::Fault fault) {
    if (!isFresh()) return;
    const auto& all = audit_->flaws;
    const int count = static_cast<int>(all.size());
    for (int k = 1; k <= count; ++k) {
        const int i = (std::max(current_, -1) + k + count) % count;
        const auto& finding = all[static_cast<std::size_t>(i)];
        if (finding.fault != fault) continue;
        current_ = i;
        previewCurrent();
        session_.select({finding.item});
        Q_EMIT session_.jumpAsked({finding.at.x, finding.at.y});
        return Q_EMIT changed();
    }
}

void Auditor::forgetPreview() {
    becomes_.clear();
    goes_.clear();
    wouldDo_.clear();
    session_.background().cancel("mend-look");
}

/// Mends the finding at hand on a copy, so that it is seen before it is taken.
void Auditor::previewCurrent() {
    forgetPreview();
    struct Look {
        mend::Changes changes;
        std::string words;
    };
    session_.background().run(
        "mend-look", tr("Looking at what mending does"),
        [art = of_, one = audit_->flaws[static_cast<std::size_t>(current_)], tolerances = tolerances(),
         blank = ofBlank_](Progress&) -> Result<Look> {
            const auto mended = mend::withMended(*art, std::span(&one, 1), tolerances, blank);
            if (!mended) return mended.problem();
            return Look{mend::changesOf(*art, mended->artwork), mended->told()};
        },
        this,
        [this, art = of_, now = current_](Result<Look> look) {
            if (!look || art != of_ || now != current_) return;
            becomes_ = std::move(look->changes.becomes);
            goes_ = std::move(look->changes.goes);
            wouldDo_ = QString::fromStdString(look->words);
            Q_EMIT changed();
        });
}

void Auditor::mendCurrent() {
    if (!isFresh() || current_ < 0) return;
    repair(tr("Mend one"),
           [art = of_, one = audit_->flaws[static_cast<std::size_t>(current_)], tolerances = tolerances(),
            blank = ofBlank_](Progress&) { return mend::withMended(*art, std::span(&one, 1), tolerances, blank); });
}

void Auditor::mend(mend::Fault fault) { mendFaults(tr("Mend"), {fault}); }
void Auditor::mendAll() { mendFaults(tr("Mend all"), {mend::surely.begin(), mend::surely.end()}); }

void Auditor::mendFaults(const QString& label, std::vector<mend::Fault> which) {
    repair(label, [art = session_.job().artwork, which = std::move(which), tolerances = tolerances(), blank = blank()](
                      Progress& progress) { return mend::withAllMended(*art, which, tolerances, blank, progress); });
}

void Auditor::thinChosen() {
    repair(tr("Thin points"),
           [job = session_.job(), chosen = session_.selection(), within = tolerances().thin](Progress& progress) {
               auto thinned = mend::withThinned(*job.artwork, chosen, within);
               if (!thinned || thinned->count == 0) return thinned;
               const auto after = job::withArtwork(job, thinned->artwork);
               if (const auto time = proof::timeBeforeAndAfter(job, after, progress); !time.empty())
                   thinned->did += "; " + time;
               return thinned;
           });
}

template<class Work> void Auditor::repair(const QString& label, Work work) {
    session_.editArtwork(label, [work = std::move(work)](Progress& progress) -> Result<Session::Edited> {
        auto mended = work(progress);
        if (!mended) return mended.problem();
        Session::Edited edited{std::nullopt, mended->told()};
        if (mended->count > 0) edited.artwork = std::move(mended->artwork);
        return edited;
    });
}

} // namespace ferro::app

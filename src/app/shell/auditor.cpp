#include "app/shell/auditor.h"

#include "app/shell/session.h"
#include "mend/repair.h"

#include <span>

namespace ferro::app {

Auditor::Auditor(Session& session) : session_(session) {
    connect(&session, &Session::jobChanged, this, &Auditor::refresh);
    connect(&session, &Session::stationChanged, this, &Auditor::refresh);
}

Box Auditor::stock() const {
    const auto& stock = session_.job().stock;
    return {{0, 0}, {stock.width, stock.height}};
}

bool Auditor::isFresh() const {
    return audit_ && of_ == session_.job().artwork && ofStock_.low == stock().low && ofStock_.high == stock().high;
}

void Auditor::setTolerances(const mend::Tolerances& tolerances) {
    if (tolerances == tolerances_) return;
    tolerances_ = tolerances;
    of_.reset();
    refresh();
}

void Auditor::refresh() {
    if (session_.station() != StationId::mend) return session_.background().cancel("audit");
    const Box box = stock();
    if (of_ == session_.job().artwork && ofStock_.low == box.low && ofStock_.high == box.high) return;
    of_ = session_.job().artwork;
    ofStock_ = box;
    audit_.reset();
    current_ = -1;
    session_.background().run(
        "audit", tr("Auditing"),
        [art = of_, tolerances = tolerances_, box](Progress& progress) {
            return mend::audited(*art, tolerances, box, progress);
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
    const auto& all = audit_->findings;
    const int count = static_cast<int>(all.size());
    for (int k = 1; k <= count; ++k) {
        const int i = (std::max(current_, -1) + k + count) % count;
        const auto& finding = all[static_cast<std::size_t>(i)];
        if (finding.fault != fault) continue;
        current_ = i;
        session_.select({finding.item});
        Q_EMIT session_.jumpAsked({finding.at.x, finding.at.y});
        return Q_EMIT changed();
    }
}

void Auditor::mendCurrent() {
    if (!isFresh() || current_ < 0) return;
    repair(tr("Mend one"),
           [art = of_, one = audit_->findings[static_cast<std::size_t>(current_)], tolerances = tolerances_,
            box = ofStock_](Progress&) { return mend::withMended(*art, std::span(&one, 1), tolerances, box); });
}

void Auditor::mend(mend::Fault fault) { mendFaults(tr("Mend"), {fault}); }
void Auditor::mendAll() { mendFaults(tr("Mend all"), {mend::faults.begin(), mend::faults.end()}); }

void Auditor::mendFaults(const QString& label, std::vector<mend::Fault> which) {
    repair(label, [art = session_.job().artwork, which = std::move(which), tolerances = tolerances_, box = stock()](
                      Progress& progress) { return mend::withAllMended(*art, which, tolerances, box, progress); });
}

void Auditor::thinChosen() {
    repair(tr("Thin points"), [art = session_.job().artwork, chosen = session_.selection(), within = tolerances_.thin](
                                  Progress&) { return mend::withThinned(*art, chosen, within); });
}

template<class Work> void Auditor::repair(const QString& label, Work work) {
    session_.background().run(
        "mend", tr("Mending"), std::move(work), this,
        [this, label, art = session_.job().artwork](Result<mend::Mended> mended) {
            if (!mended) {
                if (!mended.problem().isCancelled)
                    Q_EMIT session_.told(QString::fromStdString(mended.problem().text()), true);
                return;
            }
            if (art != session_.job().artwork) return; // the drawing went on meanwhile
            const auto did = QString::fromStdString(mended->did);
            if (mended->count == 0 ||
                session_.apply(label, job::withArtwork(session_.job(), std::move(mended->artwork))))
                Q_EMIT session_.told(did.left(1).toUpper() + did.mid(1) + ".", false);
        });
}

} // namespace ferro::app

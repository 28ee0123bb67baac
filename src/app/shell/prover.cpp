#include "app/shell/prover.h"

#include "app/shell/session.h"
#include "app/shell/surface.h"
#include "app/theme/theme.h"
#include "program/for_job.h"

namespace ferro::app {

Prover::Prover(Session& session) : session_(session) {
    delay_.setSingleShot(true);
    delay_.setInterval(60); // a drag makes many snapshots; only the one it rests on is proofed
    connect(&delay_, &QTimer::timeout, this, &Prover::prove);
    connect(&session, &Session::jobChanged, this, [this] { delay_.start(); });
    connect(&session, &Session::stationChanged, this, [this] {
        if (surface_.isNull()) cut();
    });
    connect(&theme(), &Theme::changed, this, &Prover::cut);
}

bool Prover::isFresh() const { return proof_ && revision_ == session_.history().revision(); }

void Prover::forget() {
    playhead_ = -1;
    moves_.reset(), proof_.reset(), strokes_.reset(), surface_ = {};
    Q_EMIT changed();
}

void Prover::prove() {
    using Planned = Result<std::shared_ptr<proof::Proof>>;
    session_.background().run(
        "proof", tr("Proofing"),
        [job = session_.job(), kept = kept_](Progress& progress) -> Planned {
            progress.stage(0, 0.4);
            auto path = toolpath::toolpathOf(job, progress, {}, kept.get());
            if (!path) return path.problem();
            auto proof = std::make_shared<proof::Proof>();
            proof->path = std::move(*path);
            return proof;
        },
        this,
        [this, asked = session_.history().revision()](Planned planned) {
            if (!planned) return planned.problem().isCancelled ? void() : session_.tell(planned.problem());
            if (asked != session_.history().revision()) return; // outdated
            const auto& path = (*planned)->path;
            if (path.blanks.empty())
                moves_ = {*planned, &path};
            else
                moves_ = std::make_shared<const toolpath::Toolpath>(toolpath::onFirstBlank(path));
            Q_EMIT movesChanged();
            judge(std::move(*planned), asked);
        });
}

void Prover::judge(std::shared_ptr<proof::Proof> planned, std::uint64_t asked) {
    using Proved = Result<std::shared_ptr<const proof::Proof>>;
    session_.background().run(
        "proof", tr("Proofing"),
        [job = session_.job(), kept = kept_, proof = std::move(planned)](Progress& progress) -> Proved {
            if (const auto done = proof::prove(*proof, job, progress, kept.get()); !done) return done.problem();
            kept->turn();
            const auto dialect = program::dialectOf(realDisk(), job);
            if (!dialect)
                proof::refuse(*proof, dialect.problem(),
                              proof::Finding::Fix{tr("Use the machine's own dialect").toStdString(),
                                                  [](const job::Job& j) { return job::withDialect(j, ""); }});
            else
                for (const auto& problem : program::unsaidBy(*dialect, proof->path)) proof::remark(*proof, problem);
            return std::shared_ptr<const proof::Proof>(proof);
        },
        this,
        [this, asked](Proved proved) {
            if (!proved) return proved.problem().isCancelled ? void() : session_.tell(proved.problem());
            if (asked != session_.history().revision()) return; // outdated
            proof_ = std::move(*proved);
            revision_ = asked;
            strokes_.reset();
            if (playhead_ > proof_->timing.total) playhead_ = -1;
            Q_EMIT changed();
            cut();
        });
}

void Prover::setPlayhead(double seconds) {
    if (seconds == playhead_) return;
    playhead_ = seconds;
    cut();
    Q_EMIT changed();
}

void Prover::cut() {
    if (!proof_) return;
    if (session_.station() < StationId::proof) { // not seen here, and it would be another job's when it is
        session_.background().cancel("surface");
        surface_ = {};
        return;
    }
    struct Answer {
        std::shared_ptr<const proof::Strokes> strokes;
        QImage image;
    };
    session_.background().run(
        "surface", tr("Cutting the proof"),
        [proof = proof_, strokes = strokes_, job = session_.job(), through = theme().color(Token::bench),
         until = playhead_ < 0 ? 1e300 : playhead_](Progress& progress) mutable -> Answer {
            if (!strokes)
                strokes = std::make_shared<const proof::Strokes>(
                    proof::strokesOf(proof->path, job.sheet().stock.thickness, 0.02, &proof->timing));
            return {strokes, surfaceImage(job, proof->path, *strokes, through, progress, &proof->timing, until)};
        },
        this,
        [this](Answer answer) {
            if (answer.image.isNull()) return;
            strokes_ = answer.strokes;
            surface_ = answer.image;
            Q_EMIT surfaceChanged();
        });
}

double Prover::timeAt(double machineClock) const {
    return proof_ ? proof::onTimeLine(proof_->timing, proof_->path, machineClock) : 0;
}

double Prover::leftAt(double machineClock) const {
    return proof_ ? std::max(0.0, proof_->timing.total - timeAt(machineClock)) : 0;
}

void Prover::applyFix(std::size_t finding) {
    if (!isFresh() || finding >= proof_->findings.size() || !proof_->findings[finding].fix) return;
    const auto fix = *proof_->findings[finding].fix;
    session_.apply(QString::fromStdString(fix.label), fix.apply(session_.job()));
}

} // namespace ferro::app

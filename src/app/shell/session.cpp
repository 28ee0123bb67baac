#include "app/shell/session.h"

#include "app/shell/surface.h"
#include "app/theme/theme.h"
#include "job/sheets.h"

#include <QFile>
#include <set>

namespace ferro::app {

Session::Session(shop::Book book, QObject* parent) : QObject(parent), book_(std::move(book)), history_(firstJob()) {
    proofDelay_.setSingleShot(true);
    proofDelay_.setInterval(60); // a drag makes many snapshots; only the one it rests on is proofed
    connect(&proofDelay_, &QTimer::timeout, this, &Session::startProof);
    connect(&theme(), &Theme::changed, this, &Session::startSurface);
    connect(&background_, &Background::ranOut, this, [this](const QString& what) {
        Q_EMIT told(tr("%1: the memory does not suffice. Use a smaller drawing or picture.").arg(what), true);
    });
}

Session::~Session() = default; // ended in order: nothing is left to recover

bool Session::apply(const QString& label, Result<job::Job> next, quint64 gesture) {
    if (!next) {
        if (!next.problem().isCancelled) tell(next.problem());
        return false;
    }
    history_.push(std::move(*next), {label.toStdString(), gesture});
    afterChange();
    return true;
}

void Session::editArtwork(const QString& label, std::function<Result<Edited>(Progress&)> work) {
    background_.run("edit", label, std::move(work), this, [this, label, art = job().artwork](Result<Edited> edited) {
        if (!edited) return edited.problem().isCancelled ? void() : tell(edited.problem());
        if (art != job().artwork) return; // the drawing went on meanwhile
        const auto did = QString::fromStdString(edited->did);
        if (edited->artwork && !apply(label, job::withArtwork(job(), std::move(*edited->artwork)))) return;
        if (!edited->select.empty()) select(edited->select);
        if (!did.isEmpty()) Q_EMIT told(did.left(1).toUpper() + did.mid(1) + QLatin1Char('.'), false);
    });
}

void Session::undo() {
    if (!history_.canUndo()) return;
    const auto label = QString::fromStdString(history_.undoLabel());
    history_.undo();
    afterChange();
    Q_EMIT told(tr("Undone: %1").arg(label), false);
}

void Session::redo() {
    if (!history_.canRedo()) return;
    const auto label = QString::fromStdString(history_.redoLabel());
    history_.redo();
    afterChange();
    Q_EMIT told(tr("Done again: %1").arg(label), false);
}

void Session::afterChange() {
    std::set<artwork::ItemId> here;
    for (const auto& item : job().artwork->items) // what is out of sight on another sheet is not chosen
        if (item.sheet == job().artwork->sheet) here.insert(item.id);
    const auto gone = std::erase_if(selection_, [&](artwork::ItemId id) { return !here.contains(id); });
    if (!plan::find(job().plan, step_)) step_ = job().plan.steps.empty() ? plan::StepId{} : job().plan.steps.front().id;
    proofDelay_.start();
    Q_EMIT jobChanged();
    if (gone) Q_EMIT selectionChanged();
}

void Session::select(artwork::Ids items) {
    if (items == selection_) return;
    selection_ = std::move(items);
    Q_EMIT selectionChanged();
}

void Session::layOut(job::SheetId sheet) {
    auto seen = sheet ? job::atSheet(job(), sheet) : Result<job::Job>(job::atBeside(job()));
    if (!seen) return tell(seen.problem());
    history_.look(std::move(*seen));
    select({});
    playhead_ = -1;
    proof_.reset(), strokes_.reset(), program_.reset(), surface_ = {}; // of the other sheet
    afterChange();
    Q_EMIT proofChanged();
}

void Session::selectStep(plan::StepId step) {
    if (step == step_) return;
    step_ = step;
    Q_EMIT selectionChanged();
}

void Session::goTo(StationId station) {
    if (station == station_) return;
    station_ = station;
    startProgram();
    if (surface_.isNull()) startSurface();
    Q_EMIT stationChanged();
}

// Proof

void Session::startProof() {
    background_.run(
        "proof", tr("Proofing"),
        [job = job()](Progress& progress) {
            auto proof = proof::proofOf(job, progress);
            if (const auto dialect = program::dialectOf(realDisk(), job); proof && !dialect)
                proof::refuse(*proof, dialect.problem(),
                              proof::Finding::Fix{tr("Use the machine's own dialect").toStdString(),
                                                  [](const job::Job& j) { return job::withDialect(j, ""); }});
            return proof;
        },
        this,
        [this, asked = history_.revision()](Result<proof::Proof> proof) {
            if (!proof) return proof.problem().isCancelled ? void() : tell(proof.problem());
            if (asked != history_.revision()) return; // outdated
            proof_ = std::make_shared<const proof::Proof>(std::move(*proof));
            proofRevision_ = asked;
            strokes_.reset();
            program_.reset();
            if (playhead_ > proof_->timing.total) playhead_ = -1;
            Q_EMIT proofChanged();
            startSurface();
            startProgram();
        });
}

void Session::setPlayhead(double seconds) {
    if (seconds == playhead_) return;
    playhead_ = seconds;
    startSurface();
    Q_EMIT proofChanged();
}

void Session::startSurface() {
    if (!proof_) return;
    if (station_ < StationId::proof) { // not seen here, and it would be another job's when it is
        background_.cancel("surface");
        surface_ = {};
        return;
    }
    struct Answer {
        std::shared_ptr<const proof::Strokes> strokes;
        QImage image;
    };
    background_.run(
        "surface", tr("Cutting the proof"),
        [proof = proof_, strokes = strokes_, job = job(), through = theme().color(Token::bench),
         until = playhead_ < 0 ? 1e300 : playhead_](Progress& progress) mutable -> Answer {
            if (!strokes)
                strokes = std::make_shared<const proof::Strokes>(
                    proof::strokesOf(proof->path, job.sheet().stock.thickness, 0.02, &proof->timing));
            return {strokes, surfaceImage(job, *strokes, proof->path.byBeam(), through, progress, until)};
        },
        this,
        [this](Answer answer) {
            if (answer.image.isNull()) return;
            strokes_ = answer.strokes;
            surface_ = answer.image;
            Q_EMIT surfaceChanged();
        });
}

void Session::applyFix(std::size_t finding) {
    if (!proofIsFresh() || finding >= proof_->findings.size() || !proof_->findings[finding].fix) return;
    const auto fix = *proof_->findings[finding].fix;
    apply(QString::fromStdString(fix.label), fix.apply(job()));
}

// Run

double Session::runClock() const {
    if (!proof_) return 0;
    // The machine's clock counts all but what waits for a person: tool changes lie between.
    double ran = runner_.facts().status.clock - proof_->timing.wayOut;
    for (std::size_t i = 0; i < proof_->timing.steps.size(); ++i) {
        const auto& step = proof_->timing.steps[i];
        const double spin = proof_->path.steps[i].spinUp;
        if (ran <= spin + step.motion) return std::max(0.0, step.begin + step.change - spin + ran);
        ran -= spin + step.motion;
    }
    return proof_->timing.total;
}

Result<program::Dialect> Session::dialect() { return program::dialectOf(realDisk(), job()); }

namespace {
Result<program::Program> written(const job::Job& job, const proof::Proof& proof) {
    const auto dialect = program::dialectOf(realDisk(), job);
    if (!dialect) return dialect.problem();
    return program::programFor(job, proof.path, *dialect,
                               proof.mayRun() ? program::Clearance::passed : program::Clearance::refused);
}
} // namespace

void Session::startProgram() {
    if (station_ != StationId::run || !proofIsFresh() || program_) return;
    background_.run(
        "write", tr("Writing the program"), [job = job(), proof = proof_](Progress&) { return written(job, *proof); },
        this,
        [this, of = proof_](Result<program::Program> program) {
            if (of != proof_) return; // outdated
            program_ = std::move(program);
            Q_EMIT proofChanged();
        });
}

Result<program::Program> Session::program() {
    if (!proofIsFresh())
        return Problem{.what = "The job is not proofed yet.", .where = {}, .mend = "Wait for the proof to finish."};
    if (!program_) {
        background_.cancel("write");
        program_ = written(job(), *proof_);
    }
    return *program_;
}

Result<link::Run> Session::run() {
    auto written = program();
    if (!written) return written.problem();
    const auto dialect = this->dialect();
    if (!dialect) return dialect.problem();
    return link::runOf(job(), proof_->path, *written, *dialect);
}

QString Session::runLogFile() const {
    return file().isEmpty() ? QString::fromStdString((userDataFolder() / "last.runlog").string()) : file() + ".runlog";
}

} // namespace ferro::app

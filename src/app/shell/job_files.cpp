#include "app/shell/job_files.h"

#include "app/shell/session.h"
#include "base/hash.h"
#include "job/job_file.h"

#include <QFileInfo>
#include <mutex>

namespace ferro::app {

struct JobFiles::Known {
    std::mutex mutex;
    std::uint64_t print = 0;
};

namespace {

std::uint64_t printOf(std::string_view bytes) { return Hash()(bytes).value(); }
std::string nameOf(const QString& file) { return QFileInfo(file).fileName().toStdString(); }

struct Opened {
    Result<job::Job> job;
    std::uint64_t print = 0;
};
Opened opened(const std::string& file, const std::string& name) {
    const auto bytes = realDisk().read(file);
    if (!bytes) return {bytes.problem(), 0};
    auto job = job::fromBytes(*bytes);
    if (!job) return {job.problem().within(name), 0};
    return {std::move(job), printOf(*bytes)};
}

/// Where a job that was never open here is taken up: at what is still to be done of it.
StationId firstStationOf(const job::Job& job) {
    if (!job.plan.steps.empty()) return StationId::cuts;
    return artwork::countsOf(*job.artwork).pieces ? StationId::mend : StationId::source;
}

enum class Saved { there, changedOnDisk };

} // namespace

JobFiles::JobFiles(Session& session) : session_(session), known_(std::make_shared<Known>()) {
    setAutosave(30);
    connect(&timer_, &QTimer::timeout, this, &JobFiles::autosave);
    timer_.start();
}

void JobFiles::leave() {
    if (!file_.isEmpty()) recent_.note(file_, session_.station());
}

void JobFiles::forget() {
    leave();
    file_.clear();
    known_ = std::make_shared<Known>();
    recovery_.clear();
}

void JobFiles::open(const QString& file) {
    session_.background().run(
        "open", tr("Opening %1").arg(QFileInfo(file).fileName()),
        [file = file.toStdString(), name = nameOf(file)](Progress&) { return opened(file, name); }, this,
        [this, file, before = session_.history().present()](Opened opened) {
            if (!opened.job) return session_.tell(opened.job.problem());
            if (before != session_.history().present())
                return session_.tell({.what = tr("The job was changed while %1 was read, and stays.")
                                                  .arg(QFileInfo(file).fileName())
                                                  .toStdString(),
                                      .where = {},
                                      .mend = tr("Open it once more.").toStdString()});
            forget();
            file_ = file;
            known_->print = opened.print;
            const auto at = recent_.leftAt(file).value_or(firstStationOf(*opened.job));
            session_.replace(std::move(*opened.job));
            session_.goTo(at);
            leave();
        });
}

void JobFiles::save(const QString& file, std::function<void()> then, bool sure) {
    job::Job named = session_.job();
    named.name = QFileInfo(file).completeBaseName().toStdString();
    // Another file's content is not ours to know.
    auto known = file == file_ ? known_ : std::make_shared<Known>();
    const bool careful = !sure && file == file_;
    session_.background().run(
        "save", tr("Saving %1").arg(QFileInfo(file).fileName()),
        [named, known, careful, path = std::filesystem::path(file.toStdString())](Progress&) -> Result<Saved> {
            const std::lock_guard turn(known->mutex); // a save that was overtaken ends first
            // From here to the rename nobody else writes it: not another window, not the command line.
            std::optional<FileLock> lock;
            std::error_code none;
            if (std::filesystem::exists(path, none)) {
                auto taken = FileLock::taken(path, std::chrono::seconds(2));
                if (!taken) return taken.problem();
                lock.emplace(std::move(*taken));
                const auto there = realDisk().read(path);
                if (there && careful && printOf(*there) != known->print) return Saved::changedOnDisk;
            }
            const auto bytes = job::toBytes(named);
            if (!bytes) return bytes.problem();
            if (auto saved = writeAtomically(realDisk(), path, *bytes); !saved) return saved.problem();
            known->print = printOf(*bytes);
            return Saved::there;
        },
        this,
        [this, file, known, then = std::move(then), name = named.name,
         saved = session_.history().present()](const Result<Saved>& done) {
            if (!done) return session_.tell(done.problem());
            if (*done == Saved::changedOnDisk) return Q_EMIT changedOnDisk(file);
            file_ = file;
            known_ = known;
            session_.nowSaved(saved, name);
            if (!session_.changed()) recovery_.clear();
            leave();
            Q_EMIT session_.told(tr("Saved %1").arg(QFileInfo(file).fileName()), false);
            if (then) then();
        });
}

void JobFiles::takeTheirs() {
    session_.background().run(
        "open", tr("Opening %1").arg(QFileInfo(file_).fileName()),
        [file = file_.toStdString(), name = nameOf(file_)](Progress&) { return opened(file, name); }, this,
        [this](Opened theirs) {
            if (!session_.apply(tr("Take the file as it is"), std::move(theirs.job))) return;
            known_ = std::make_shared<Known>();
            known_->print = theirs.print;
            session_.nowSaved(session_.history().present(), session_.job().name);
            recovery_.clear();
        });
}

void JobFiles::setAutosave(int seconds) { timer_.setInterval(std::clamp(seconds, 1, 30) * 1000); }

void JobFiles::autosave() {
    const auto present = session_.history().present();
    if (!session_.changed() || autosaved_ == present) return;
    autosaved_ = present;
    session_.background().run(
        "autosave", tr("Keeping a copy"),
        [job = session_.job(), file = recovery_.file().toStdString()](Progress&) {
            return job::save(realDisk(), job, file);
        },
        this,
        [this](const Result<void>& done) {
            const bool failedBefore = std::exchange(autosaveFailed_, !done);
            if (done) return;
            autosaved_ = 0; // tried again when the timer comes round
            if (!failedBefore) session_.tell(done.problem().within(tr("keeping a copy").toStdString()));
        });
}

void JobFiles::recover() {
    const QString left = recoverable();
    if (left.isEmpty()) return;
    session_.background().run(
        "open", tr("Opening what was kept"),
        [left = left.toStdString(), name = nameOf(left)](Progress&) { return opened(left, name); }, this,
        [this, left](Opened kept) {
            if (!kept.job) return session_.tell(kept.job.problem());
            // What is open stays one step back. The recovered job belongs to no file until it is saved.
            recovery_.adopt(left);
            file_.clear();
            known_ = std::make_shared<Known>();
            session_.apply(tr("Recover the unfinished job"), std::move(*kept.job));
        });
}

void JobFiles::discardRecovery() {
    if (const QString left = recoverable(); !left.isEmpty()) Recovery::discard(left);
}

} // namespace ferro::app

// What goes into a session's job from outside and is kept of it: job files, recovery, pictures, drawings.
#include "app/shell/session.h"

#include "base/hash.h"
#include "job/job_file.h"
#include "mend/repair.h"

#include <QFileInfo>

namespace ferro::app {

namespace {
std::uint64_t printOf(std::string_view bytes) { return Hash()(bytes).value(); }
} // namespace

job::Job Session::firstJob() const {
    auto job = job::freshJob(book_);
    return job ? std::move(*job) : job::Job{};
}

void Session::reset(job::Job job, const QString& file) {
    background_.cancelAll();
    recovery_.clear();
    history_ = job::History(std::move(job));
    file_ = file;
    selection_.clear();
    tracer_.reset();
    proof_.reset();
    strokes_.reset();
    surface_ = {};
    playhead_ = -1;
    afterChange();
    Q_EMIT selectionChanged();
    Q_EMIT proofChanged();
}

void Session::newJob() { reset(firstJob(), {}); }

bool Session::open(const QString& file) {
    const auto bytes = realDisk().read(file.toStdString());
    auto job = bytes ? job::fromBytes(*bytes) : Result<job::Job>(bytes.problem());
    if (!job)
        return tell(bytes ? job.problem().within(QFileInfo(file).fileName().toStdString()) : job.problem()), false;
    reset(std::move(*job), file);
    print_ = printOf(*bytes);
    return true;
}

bool Session::save(const QString& file, bool sure) {
    job::Job named = job();
    named.name = QFileInfo(file).completeBaseName().toStdString();
    const std::filesystem::path path = file.toStdString();
    // From here to the rename nobody else writes it: not another window, not the command line.
    std::optional<FileLock> lock;
    if (QFileInfo::exists(file)) {
        auto taken = FileLock::taken(path, std::chrono::seconds(2));
        if (!taken) return tell(taken.problem()), false;
        lock.emplace(std::move(*taken));
        const auto there = realDisk().read(path);
        if (there && !sure && file == file_ && printOf(*there) != print_) {
            lock.reset(); // whoever answers may want to save
            return Q_EMIT changedOnDisk(file), false;
        }
    }
    const auto bytes = job::toBytes(named);
    if (!bytes) return tell(bytes.problem()), false;
    if (auto saved = writeAtomically(realDisk(), path, *bytes); !saved) return tell(saved.problem()), false;
    print_ = printOf(*bytes);
    if (named.name != job().name) history_.push(std::move(named), {tr("Name the job").toStdString(), 0});
    file_ = file;
    history_.markSaved();
    recovery_.clear();
    Q_EMIT jobChanged();
    Q_EMIT told(tr("Saved %1").arg(QFileInfo(file).fileName()), false);
    return true;
}

bool Session::takeTheirs() {
    const auto bytes = realDisk().read(file_.toStdString());
    auto job = bytes ? job::fromBytes(*bytes) : Result<job::Job>(bytes.problem());
    if (!apply(tr("Take the file as it is"), std::move(job))) return false;
    print_ = printOf(*bytes);
    history_.markSaved();
    recovery_.clear();
    Q_EMIT jobChanged();
    return true;
}

void Session::autosave() {
    if (history_.isSaved() || autosaved_ == history_.revision()) return;
    autosaved_ = history_.revision();
    background_.run(
        "autosave", tr("Keeping a copy"),
        [job = job(), file = recovery_.file().toStdString()](Progress&) { return job::save(realDisk(), job, file); },
        this,
        [this](const Result<void>& done) {
            const bool failedBefore = std::exchange(autosaveFailed_, !done);
            if (done) return;
            autosaved_ = 0; // tried again when the timer comes round
            if (!failedBefore) tell(done.problem().within(tr("keeping a copy").toStdString()));
        });
}

QString Session::recoverable() const { return recovery_.left(); }

void Session::recover() {
    const QString file = recoverable();
    if (file.isEmpty()) return;
    auto job = job::load(realDisk(), file.toStdString());
    if (!job) return tell(job.problem());
    // What is open stays one step back. The recovered job belongs to no file until it is saved.
    recovery_.adopt(file);
    file_.clear();
    print_ = 0;
    apply(tr("Recover the unfinished job"), std::move(*job));
}

void Session::discardRecovery() {
    if (const QString file = recoverable(); !file.isEmpty()) Recovery::discard(file);
}

void Session::addPicture(const QString& name, const QByteArray& bytes) {
    background_.run(
        "picture", tr("Opening %1").arg(name),
        [bytes](Progress&) {
            return picture::decoded(std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size())));
        },
        this,
        [this, name, bytes](Result<picture::Picture> picture) {
            if (!picture) return tell(picture.problem().within(name.toStdString()));
            const double width = picture->pxPerMm ? picture->width / *picture->pxPerMm : 200;
            if (!picture->pxPerMm)
                Q_EMIT told(
                    tr("%1 does not say its size; taken as 200 mm wide. Type the width if it is another.").arg(name),
                    false);
            for (const auto& n : picture->notices) Q_EMIT told(QString::fromStdString(n.text), false);
            artwork::PictureLeaf leaf{name.toStdString(),
                                      std::make_shared<const std::string>(bytes.toStdString()),
                                      *picture,
                                      {width, width * picture->height / picture->width}};
            auto added = artwork::withPicture(*job().artwork, std::move(leaf), {20, 20});
            const auto ids = added.ids;
            if (apply(tr("Add %1").arg(name), job::withArtwork(job(), std::move(added.artwork)))) {
                select(ids);
                goTo(StationId::source);
            }
        });
}

void Session::addDrawing(const QString& name, const QByteArray& bytes, const QString& folder,
                         std::optional<double> mmPerUnit, bool strokesAsOutlines) {
    struct Answer {
        Result<formats::Drawing> drawing;
        artwork::Added added;
        QString did;
    };
    background_.run(
        "drawing", tr("Opening %1").arg(name),
        [bytes, name = name.toStdString(), folder = folder.toStdString(), mmPerUnit, strokesAsOutlines,
         art = job().artwork](Progress&) -> Answer {
            const std::string_view view(bytes.constData(), static_cast<std::size_t>(bytes.size()));
            auto drawing = formats::drawingFrom(
                view, name, {mmPerUnit, strokesAsOutlines, formats::linkedIn(folder), formats::installedFaces()});
            if (!drawing) return {std::move(drawing), {}, {}};
            auto added = formats::withDrawing(*art, *drawing);
            if (!drawing->loose) return {std::move(drawing), std::move(added), {}};
            auto made = mend::withOutlines(added.artwork, added.ids, 0.01);
            added.artwork = std::move(made.artwork);
            return {std::move(drawing), std::move(added), QString::fromStdString(made.did)};
        },
        this,
        [this, name, bytes, folder, strokesAsOutlines, art = job().artwork](Answer answer) {
            if (!answer.drawing) return tell(answer.drawing.problem().within(name.toStdString()));
            const auto& drawing = *answer.drawing;
            if (drawing.drawn.by == formats::Drawing::Drawn::By::guess && !drawing.items.empty())
                return Q_EMIT unitAsked(name, bytes, folder, drawing.drawn);
            if (art != job().artwork)
                return addDrawing(name, bytes, folder, drawing.drawn.mmPerUnit, strokesAsOutlines); // the job went on
            QStringList words;
            if (drawing.items.empty() && drawing.pictures.empty()) {
                words << tr("%1 holds nothing to cut.").arg(name);
            } else {
                words << tr("%1: %2.").arg(name, QString::fromStdString(formats::layersIn(drawing)));
                if (!answer.did.isEmpty()) words << answer.did + QLatin1Char('.');
            }
            for (const auto& n : drawing.notices) words << QString::fromStdString(n.text);
            const auto before = job().artwork->lastId;
            if (!(drawing.items.empty() && drawing.pictures.empty()) &&
                apply(tr("Add %1").arg(name), job::withArtwork(job(), std::move(answer.added.artwork)))) {
                artwork::Ids fresh;
                for (const auto& item : job().artwork->items)
                    if (item.id.value > before) fresh.push_back(item.id);
                select(fresh);
                goTo(StationId::mend);
            }
            Q_EMIT told(words.join(' '), drawing.items.empty());
        });
}

} // namespace ferro::app

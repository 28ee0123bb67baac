// What comes into a session's job from outside: another job, pictures, drawings.
#include "app/shell/session.h"

#include "kit/kit.h"
#include "mend/repair.h"

#include <QFileInfo>

namespace ferro::app {

namespace {
/// The machine and the material that were chosen last, a line each: a shop's next job is most often for the same.
std::filesystem::path shopUsed() { return userDataFolder() / "shop-used"; }
} // namespace

job::Job Session::firstJob() const {
    const auto used = realDisk().read(shopUsed(), 1 << 12);
    const auto lines = used ? QString::fromStdString(*used).split('\n') : QStringList{};
    auto job = lines.size() < 2 ? job::freshJob(book())
                                : job::freshJob(book(), lines[0].toStdString(), lines[1].toStdString());
    if (!job) job = job::freshJob(book()); // what was used is in the book no longer
    return job ? std::move(*job) : job::Job{};
}

void Session::noteShop() const {
    std::error_code none;
    std::filesystem::create_directories(userDataFolder(), none);
    (void)writeAtomically(realDisk(), shopUsed(), fmt::format("{}\n{}\n", job().machine.key, job().material.key));
}

Session::Hands Session::handsKept() {
    Hands hands;
    const auto text = realDisk().read(userDataFolder() / "hands", 1 << 12);
    if (!text) return hands;
    const auto lines = QString::fromStdString(*text).split('\n');
    if (lines.size() < 2) return hands;
    const double nudge = lines[0].toDouble(), grid = lines[1].toDouble(); // 0 for what is no number
    if (nudge >= 0.001 && nudge <= 1000) hands.nudge = nudge;
    if (grid >= 0 && grid <= 1000) hands.grid = grid;
    hands.apart = lines.size() > 2 && lines[2] == QStringLiteral("apart");
    return hands;
}

void Session::setHands(const Hands& hands) {
    hands_ = hands;
    std::error_code none;
    std::filesystem::create_directories(userDataFolder(), none);
    (void)writeAtomically(realDisk(), userDataFolder() / "hands",
                          fmt::format("{}\n{}\n{}\n", hands.nudge, hands.grid, hands.apart ? "apart" : ""));
    Q_EMIT selectionChanged();
}

void Session::replace(job::Job job) {
    background_.cancelAll();
    history_ = job::History(std::move(job));
    selection_.clear();
    tracer_.reset();
    prover_.forget();
    afterChange();
    Q_EMIT selectionChanged();
    Q_EMIT replaced();
}

void Session::newJob() {
    files_.forget();
    replace(firstJob());
    goTo(StationId::source);
}

void Session::nowSaved(std::uint64_t state, const std::string& name) {
    const bool present = state == history_.present();
    if (name != job().name) {
        job::Job named = job();
        named.name = name;
        history_.push(std::move(named), {tr("Name the job").toStdString(), 0});
        if (present) state = history_.present();
    }
    history_.markSaved(state);
    Q_EMIT jobChanged();
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
            for (const auto& n : picture->notices) Q_EMIT told(QString::fromStdString(n.text), false);
            artwork::PictureLeaf leaf{name.toStdString(), std::make_shared<const std::string>(bytes.toStdString()),
                                      *picture, picture::naturalSize(*picture)};
            const Box sheet = job::sheetOf(job().sheet().stock);
            const Vec2 own = leaf.size;
            auto added = artwork::withPicture(*job().artwork, std::move(leaf), sheet.centre() - own / 2);
            const auto ids = added.ids;
            const bool large = own.x > sheet.width() + 1e-6 || own.y > sheet.height() + 1e-6;
            const auto placed = large ? artwork::fittedInto(added.artwork, ids, sheet) : std::move(added.artwork);
            if (apply(tr("Add %1").arg(name), job::withArtwork(job(), placed))) {
                select(ids);
                goTo(StationId::source);
                QStringList words{
                    tr("%1: %2.").arg(name, QString::fromStdString(picture::sizeWords(*picture, job().units)))};
                if (large) words << tr("That is more than the sheet: it was fitted.");
                Q_EMIT arrived(ids, own, words.join(' '));
            }
        });
}

void Session::addCutList(const QString& file) {
    background_.run(
        "open", tr("Reading %1").arg(QFileInfo(file).fileName()),
        [wish = kit::Wish{file.toStdString(), job(), book(), shop_.house()}](Progress& progress) {
            return kit::takenFrom(wish, realDisk(), progress);
        },
        this,
        [this, was = history_.revision()](Result<kit::Taken> taken) {
            if (!taken) return taken.problem().isCancelled ? void() : tell(taken.problem());
            if (was != history_.revision())
                return tell(Problem{.what = "The job changed while the cut list was read.",
                                    .where = {},
                                    .mend = "Take the list once more."});
            if (!apply(tr("Take a cut list"), std::move(taken->job))) return;
            goTo(StationId::sheet);
            QStringList words{QString::fromStdString(kit::countWords(taken->parts, taken->drawings)) +
                              QLatin1Char('.')};
            for (const auto& notice : taken->notices) words << QString::fromStdString(notice);
            Q_EMIT told(words.join(' '), false);
            nester_.start();
        });
}

void Session::addDrawing(const QString& name, const QByteArray& bytes, const DrawingWish& wish) {
    struct Answer {
        Result<formats::Drawing> drawing;
        artwork::Added added;
        QString did;
    };
    background_.run(
        "drawing", tr("Opening %1").arg(name),
        [bytes, name = name.toStdString(), wish, art = job().artwork](Progress&) -> Answer {
            const std::string_view view(bytes.constData(), static_cast<std::size_t>(bytes.size()));
            auto drawing =
                formats::drawingFrom(view, name,
                                     {wish.mmPerUnit, wish.strokesAsOutlines, wish.dropStrays,
                                      formats::linkedIn(wish.folder.toStdString()), formats::installedFaces()});
            if (!drawing) return {std::move(drawing), {}, {}};
            auto added = formats::withDrawing(*art, *drawing);
            if (!drawing->loose) return {std::move(drawing), std::move(added), {}};
            std::string did;
            added = mend::withOutlines(std::move(added), 0.01, &did);
            return {std::move(drawing), std::move(added), QString::fromStdString(did)};
        },
        this,
        [this, name, bytes, wish, art = job().artwork](Answer answer) {
            if (!answer.drawing) return tell(answer.drawing.problem().within(name.toStdString()));
            const auto& drawing = *answer.drawing;
            if (drawing.drawn.by == formats::Drawing::Drawn::By::guess && !drawing.items.empty())
                return Q_EMIT unitAsked(name, bytes, wish, drawing.drawn);
            if (art != job().artwork) { // the job went on
                auto again = wish;
                again.mmPerUnit = drawing.drawn.mmPerUnit;
                return addDrawing(name, bytes, again);
            }
            QStringList words;
            if (drawing.items.empty() && drawing.pictures.empty()) {
                words << tr("%1 holds nothing to cut.").arg(name);
            } else {
                words << tr("%1: %2.").arg(name, QString::fromStdString(formats::layersIn(drawing)));
                if (!answer.did.isEmpty()) words << answer.did + QLatin1Char('.');
            }
            for (const auto& n : drawing.notices) words << QString::fromStdString(n.text);
            const auto before = job().artwork->lastId;
            std::vector<std::string> told;
            if (!(drawing.items.empty() && drawing.pictures.empty()) &&
                apply(tr("Add %1").arg(name),
                      job::withArrivalSteps(job::withArtwork(job(), std::move(answer.added.artwork)), shop_.house(),
                                            book(), told))) {
                artwork::Ids fresh;
                for (const auto& item : job().artwork->items)
                    if (item.id.value > before) fresh.push_back(item.id);
                select(fresh);
                goTo(StationId::mend);
                const Box box = artwork::boundsOf(*job().artwork, fresh);
                Q_EMIT arrived(fresh, {box.width(), box.height()},
                               tr("%1: %2 × %3.")
                                   .arg(name, QString::fromStdString(shown(box.width(), Measure::length, job().units)),
                                        QString::fromStdString(shown(box.height(), Measure::length, job().units))));
            }
            for (const auto& line : told) words << QString::fromStdString(line) + QLatin1Char('.');
            Q_EMIT this->told(words.join(' '), drawing.items.empty());
        });
}

} // namespace ferro::app

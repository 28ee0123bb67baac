#include "app/shell/nester.h"

#include "app/shell/session.h"

#include <QAbstractEventDispatcher>
#include <QPointer>

namespace ferro::app {

namespace {
constexpr std::uint64_t effort = 30'000'000; ///< half a minute or so on two cores; nobody has to wait for it
}

Nester::Nester(Session& session) : session_(session) {
    connect(&session, &Session::jobChanged, this, [this] {
        if (taking_ || (isRunning() && session_.job() == of_)) return;
        if (isRunning()) stop();
        if (std::exchange(best_, nullptr)) Q_EMIT changed();
        curve_.clear();
    });
    connect(&session, &Session::replaced, this, [this] {
        kept_.clear();
        Q_EMIT changed();
    });
    // Cancelled, here or for all work at once: then its answer never comes.
    connect(&session.background(), &Background::changed, this, [this] {
        if (!isRunning() || session_.background().busy("nest")) return;
        enough_.reset();
        best_.reset();
        curve_.clear();
        Q_EMIT changed();
    });
}

job::LayingOut Nester::wish() const {
    auto wish = job::usualLayingOut(session_.job());
    if (spacing_) wish.how.spacing = *spacing_;
    if (margin_) wish.how.margin = *margin_;
    wish.how.start = start_;
    wish.how.keeps = along_;
    wish.how.effort = effort;
    wish.mayAddSheets = mayAdd_;
    return wish;
}
job::LayingOut Nester::wishFromShelf() const {
    auto wish = this->wish();
    wish.book = session_.book();
    return wish;
}
void Nester::setSpacing(std::optional<double> mm) { spacing_ = mm, Q_EMIT changed(); }
void Nester::setMargin(std::optional<double> mm) { margin_ = mm, Q_EMIT changed(); }
void Nester::setStart(nest::Corner corner) { start_ = corner, Q_EMIT changed(); }
void Nester::setAlong(nest::Along along) { along_ = along, Q_EMIT changed(); }
void Nester::setMayAddSheets(bool may) { mayAdd_ = may, Q_EMIT changed(); }
bool Nester::isRunning() const { return enough_ != nullptr; }

job::Job Nester::seen() const {
    const auto at = job::atSheet(best_->job, session_.job().artwork->sheet);
    return at ? *at : job::atBeside(best_->job);
}

void Nester::start() {
    if (isRunning()) return;
    of_ = session_.job();
    enough_ = std::make_shared<std::atomic<bool>>(false);
    best_.reset();
    curve_.clear();
    clock_.start();
    ++run_;
    const auto take = [self = QPointer(this), run = run_](std::shared_ptr<const job::LaidOut> best) {
        if (!self || run != self->run_ || !self->isRunning()) return;
        self->best_ = std::move(best);
        self->curve_.emplace_back(static_cast<double>(self->clock_.elapsed()) / 1000, self->best_->share);
        Q_EMIT self->changed();
    };
    session_.background().run(
        "nest", tr("Laying out"),
        [job = session_.job(), wish = wishFromShelf(), enough = enough_, take, window = thread()](Progress& progress) {
            job::LayingWatch watch;
            watch.isEnough = [enough] { return enough->load(); };
            watch.better = [&](const job::LaidOut& laid) {
                QMetaObject::invokeMethod(
                    QAbstractEventDispatcher::instance(window),
                    [take, best = std::make_shared<const job::LaidOut>(laid)] { take(best); }, Qt::QueuedConnection);
            };
            return job::laidOut(job, wish, progress, watch);
        },
        this,
        [this](Result<job::LaidOut> laid) {
            enough_.reset();
            if (!laid) {
                best_.reset();
                if (!laid.problem().isCancelled) session_.tell(laid.problem());
                Q_EMIT changed();
                return;
            }
            taking_ = true;
            best_ = std::make_shared<const job::LaidOut>(std::move(*laid));
            session_.apply(tr("Lay out"), seen());
            taking_ = false;
            curve_.emplace_back(static_cast<double>(clock_.elapsed()) / 1000, best_->share);
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

void Nester::keep() {
    const auto& job = isRunning() && best_ ? best_->job : session_.job();
    std::size_t inUse = 0;
    double area = 0, parts = 0;
    for (const auto& sheet : job.sheets) {
        double covered = 0;
        for (const auto& item : job.artwork->items)
            if (const auto* shape = artwork::shapeOf(item);
                shape && item.sheet == sheet.id && shape->piece.outline.closed)
                covered += areaOf(artwork::placed(item));
        if (covered <= 0) continue;
        ++inUse;
        area += sheet.stock.width * sheet.stock.height;
        parts += covered;
    }
    const auto share = QString::number(area > 0 ? 100 * parts / area : 0, 'f', 1);
    kept_.push_back({job, inUse == 1 ? tr("One sheet, %1 %").arg(share) : tr("%1 sheets, %2 %").arg(inUse).arg(share)});
    Q_EMIT changed();
}

void Nester::takeKept(std::size_t index) {
    if (index >= kept_.size() || isRunning()) return;
    auto laid = job::withLayoutOf(session_.job(), kept_[index].job);
    if (!laid) return session_.tell(laid.problem());
    const auto before = session_.job().artwork->items.size(), after = laid->artwork->items.size();
    if (session_.apply(tr("Take the kept layout"), std::move(*laid)) && after < before)
        Q_EMIT session_.told(tr("Copies that it does not have went: %1.").arg(before - after), false);
}

void Nester::dropKept(std::size_t index) {
    if (index >= kept_.size()) return;
    kept_.erase(kept_.begin() + static_cast<std::ptrdiff_t>(index));
    Q_EMIT changed();
}

void Nester::takeBest() {
    if (enough_) enough_->store(true);
}

void Nester::stop() {
    if (isRunning()) session_.background().cancel("nest");
}

} // namespace ferro::app

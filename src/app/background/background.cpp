#include "app/background/background.h"

#include <QDateTime>
#include <QPointer>
#include <new>

namespace ferro::app {

Background::Background(QObject* parent) : QObject(parent) {
    pool_.setMaxThreadCount(3);
    tick_.setInterval(80);
    connect(&tick_, &QTimer::timeout, this, &Background::changed);
}

Background::~Background() {
    cancelAll();
    pool_.waitForDone();
}

void Background::begin(const QString& lane, const QString& what, std::function<void(Progress&)> work, QObject* receiver,
                       std::function<void()> done) {
    cancel(lane);
    Task task{what, ++last_, QDateTime::currentMSecsSinceEpoch(), std::make_shared<Progress>()};
    const auto progress = task.progress;
    const auto number = task.number;
    tasks_[lane] = std::move(task);
    tick_.start();
    QPointer<QObject> alive(receiver);
    pool_.start([this, alive, progress, lane, what, number, work = std::move(work), done = std::move(done)]() mutable {
        bool fine = true;
        try {
            work(*progress);
        } catch (const std::bad_alloc&) { fine = false; }
        // Posted to this object: it outlives the pool.
        QMetaObject::invokeMethod(
            this,
            [this, alive, progress, lane, what, number, fine, done = std::move(done)]() mutable {
                const auto at = tasks_.find(lane);
                if (at == tasks_.end() || at->second.number != number) return; // outdated
                tasks_.erase(at);
                if (tasks_.empty()) tick_.stop();
                if (!fine) Q_EMIT ranOut(what);
                if (fine && alive && !progress->cancelled()) done();
                Q_EMIT changed();
            },
            Qt::QueuedConnection);
    });
    Q_EMIT changed();
}

void Background::cancel(const QString& lane) {
    const auto at = tasks_.find(lane);
    if (at == tasks_.end()) return;
    at->second.progress->cancel();
    tasks_.erase(at);
    if (tasks_.empty()) tick_.stop();
    Q_EMIT changed();
}

void Background::cancelAll() {
    for (auto& [lane, task] : tasks_) task.progress->cancel();
    tasks_.clear();
    tick_.stop();
    Q_EMIT changed();
}

namespace {
constexpr qint64 worthShowing = 300; // ms
}

QString Background::activity() const {
    const qint64 now = QDateTime::currentMSecsSinceEpoch();
    for (const auto& [lane, task] : tasks_)
        if (now - task.begun > worthShowing) return task.what;
    return {};
}

double Background::fraction() const {
    double least = 1;
    for (const auto& [lane, task] : tasks_) least = std::min(least, task.progress->fraction());
    return least;
}

} // namespace ferro::app

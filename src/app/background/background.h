#pragma once

#include "base/progress.h"

#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <any>
#include <map>

namespace ferro::app {

/// Runs derived work off the window's thread. Each lane has at most one task: a new one cancels the old, whose answer
/// is dropped. Work takes copies and returns a value; the receiver is called on the window's thread while it lives.
class Background : public QObject {
    Q_OBJECT
public:
    explicit Background(QObject* parent = nullptr);
    ~Background() override;

    template<class Work, class Done>
    void run(const QString& lane, const QString& what, Work work, QObject* receiver, Done done) {
        using Answer = decltype(work(std::declval<Progress&>()));
        auto answer = std::make_shared<std::optional<Answer>>();
        begin(
            lane, what,
            [work = std::move(work), answer](Progress& progress) mutable { answer->emplace(work(progress)); }, receiver,
            [answer, done = std::move(done)]() mutable { done(std::move(**answer)); });
    }
    void cancel(const QString& lane);
    void cancelAll();
    [[nodiscard]] bool busy() const { return !tasks_.empty(); }
    [[nodiscard]] bool busy(const QString& lane) const { return tasks_.contains(lane); }
    /// What takes longest now and how far it is, for the progress line; empty when nothing runs.
    [[nodiscard]] QString activity() const;
    [[nodiscard]] double fraction() const;

Q_SIGNALS:
    void changed();
    /// A task has run out of memory; nothing of it is taken.
    void ranOut(const QString& what);

private:
    struct Task {
        QString what;
        quint64 number = 0;
        qint64 begun = 0;
        std::shared_ptr<Progress> progress;
    };
    void begin(const QString& lane, const QString& what, std::function<void(Progress&)> work, QObject* receiver,
               std::function<void()> done);
    QThreadPool pool_;
    std::map<QString, Task> tasks_;
    quint64 last_ = 0;
    QTimer tick_;
};

} // namespace ferro::app

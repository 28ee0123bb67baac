#pragma once

#include "link/streamer.h"

#include <QObject>
#include <QProcess>
#include <condition_variable>
#include <mutex>
#include <thread>

namespace ferro::app {

/// The link to the machine on a thread of its own. Wishes go in as calls, facts come out as signals on the window's
/// thread.
class Runner : public QObject {
    Q_OBJECT
public:
    struct Facts {
        bool connected = false;
        link::Streamer::State state = link::Streamer::State::ready;
        link::Status status;
        long lines = 0, done = 0, acknowledged = 0;
        QString problem, question;
        bool zeroSet = false, homed = false;
    };
    explicit Runner(QObject* parent = nullptr);
    ~Runner() override;

    /// Starts `ferrograph-standin` beside this program and connects to it.
    void startStandIn(const QString& machine, double faster);
    void connectTo(const QString& device);
    void disconnectNow();
    /// Blocks outside a program, one after the other; `then` says what has become true when all are answered.
    enum class Then { nothing, homed, zeroSet };
    void send(const QStringList& blocks, Then then = Then::nothing);
    void start(const QString& program, const QString& logFile);
    void hold();
    void resume();
    void stop();

    [[nodiscard]] const Facts& facts() const { return facts_; }
    [[nodiscard]] bool active() const;
    [[nodiscard]] QString standInDevice() const { return standInDevice_; }

Q_SIGNALS:
    void changed();

private:
    void loop();
    void post(std::function<void()> wish);
    void publish();
    void closeStandIn();

    std::thread thread_;
    std::mutex mutex_;
    std::condition_variable wake_;
    std::deque<std::function<void()>> wishes_;
    bool ending_ = false;
    // Only the thread's own:
    std::unique_ptr<link::Streamer> streamer_;
    Facts working_;
    std::shared_ptr<std::ofstream> log_;
    // Only the window's:
    Facts facts_;
    std::unique_ptr<QProcess> standIn_;
    QString standInDevice_;
};

} // namespace ferro::app

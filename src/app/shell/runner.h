#pragma once

#include "link/measuring.h"
#include "link/resume.h"
#include "link/run_log.h"
#include "link/streamer.h"
#include "link/zeroing.h"

#include <QObject>
#include <QProcess>
#include <condition_variable>
#include <mutex>
#include <thread>

namespace ferro::app {

/// What a machine does, for a person.
[[nodiscard]] QString wordOf(link::MachineState state);

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
        bool zeroSet = false, homed = false; ///< the zero: of all axes
        std::array<bool, 3> zeroed{};        ///< X, Y, Z
        bool sending = false;                ///< blocks outside a program are on their way
        bool tellsPlace = true;              ///< the machine says where it stands
        QStringList limits;                  ///< what cannot be promised in its conversation
        bool feeling = false;                ///< the blank's top is being felt
        std::size_t felt = 0, toFeel = 0;    ///< places
        std::optional<job::Lie> lie;         ///< of the last feeling that came to its end
        int lies = 0;                        ///< how many have
        double running = 0;                  ///< s that this program has run, without what it waited for a person
    };
    explicit Runner(QObject* parent = nullptr);
    ~Runner() override;

    /// Starts `ferrograph-standin` beside this program and connects to it.
    /// `plate`: mm above the bed, the top of a touch-off plate that lies under its head; `thick`: mm of it. `more`:
    /// arguments of its own.
    void startStandIn(const QString& machine, const QString& conversation, double faster, double plate,
                      double thick = 0, const QStringList& more = {});
    void connectTo(const QString& device, const QString& conversation);
    void disconnectNow();
    /// Finds the height of the zero by a plate; makes the zero of the last run on this machine the zero again.
    void touchOff(const link::TouchOff& touch);
    void takeLastZero(const QString& machine);
    /// Feels the top of the blank; what comes of it is among the facts.
    void feel(const link::FeelGrid& grid, Vec2 zero, double zeroZ);
    /// Blocks outside a program, one after the other; `then` says what has become true when all are answered.
    enum class Then { nothing, homed, zeroSet, zeroX, zeroY, zeroZ };
    void send(const QStringList& blocks, Then then = Then::nothing);
    void home();
    /// A run from its beginning, or from a step on, with a fresh log in this file, or the rest of one, into the log
    /// that told of it. The zero is kept under the machine's name.
    void start(const link::Run& run, const QString& logFile, const QString& machine,
               const std::optional<link::Resumption>& from = {});
    void goOn(const link::Resumption& rest, const QString& logFile);
    void hold();
    void resume();
    void stop();

    /// How many runs of the job's queue are done, and how many are left after this one.
    struct Rounds {
        int done = 0, left = 0;
    };
    void noteRounds(Rounds rounds) { rounds_ = rounds; }
    [[nodiscard]] Rounds rounds() const { return rounds_; }
    [[nodiscard]] const Facts& facts() const { return facts_; }
    [[nodiscard]] bool active() const;
    [[nodiscard]] bool hasStandIn() const { return standIn_ != nullptr; }
    [[nodiscard]] QString standInDevice() const { return standInDevice_; }
    /// mm thick, of the plate that lies on the stand-in's blank.
    [[nodiscard]] double standInPlate() const { return standInPlate_; }

Q_SIGNALS:
    void changed();

private:
    void loop();
    void post(std::function<void()> wish);
    void publish();
    void settleBlocks();
    void goOnFeeling();
    void begin(Result<link::RunLog> log, std::string_view text, link::Streamer::Numbering numbering);
    void whenAnswered(std::function<void()> wish);
    void closeStandIn();

    std::thread thread_;
    std::mutex mutex_;
    std::condition_variable wake_;
    std::deque<std::function<void()>> wishes_;
    bool ending_ = false;
    // Only the thread's own:
    std::unique_ptr<link::Streamer> streamer_;
    Facts working_;
    std::shared_ptr<link::RunLog> log_;
    std::optional<Then> then_;   ///< what becomes true when all blocks are answered
    std::function<void()> next_; ///< a run that waits for that
    std::optional<link::Feeling> feeling_;
    std::chrono::steady_clock::time_point answeredAt_; ///< its last blocks were, or later
    // Only the window's:
    Facts facts_;
    Rounds rounds_;
    std::unique_ptr<QProcess> standIn_;
    QString standInDevice_;
    double standInPlate_ = 0;
};

} // namespace ferro::app

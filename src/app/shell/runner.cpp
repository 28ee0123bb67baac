#include "app/shell/runner.h"

#include <QCoreApplication>
#include <QDir>

namespace ferro::app {

using State = link::Streamer::State;

QString wordOf(link::MachineState state) {
    switch (state) {
    case link::MachineState::resting: return QObject::tr("at rest");
    case link::MachineState::moving: return QObject::tr("moving");
    case link::MachineState::waiting: return QObject::tr("held, waits to go on");
    case link::MachineState::pausing: return QObject::tr("at a stop");
    case link::MachineState::changing: return QObject::tr("waits for the tool");
    case link::MachineState::tripped: return QObject::tr("tripped, home it first");
    case link::MachineState::reset: return QObject::tr("was reset");
    }
    return {};
}

Runner::Runner(QObject* parent) : QObject(parent) {
    thread_ = std::thread([this] { loop(); });
}

Runner::~Runner() {
    {
        const std::lock_guard lock(mutex_);
        ending_ = true;
    }
    wake_.notify_all();
    thread_.join();
    closeStandIn();
}

void Runner::closeStandIn() {
    if (!standIn_) return;
    standIn_->terminate();
    if (!standIn_->waitForFinished(1500)) standIn_->kill();
    standIn_.reset();
}

void Runner::post(std::function<void()> wish) {
    {
        const std::lock_guard lock(mutex_);
        wishes_.push_back(std::move(wish));
    }
    wake_.notify_all();
}

bool Runner::active() const {
    return facts_.state == State::running || facts_.state == State::holding || facts_.state == State::asking;
}

void Runner::publish() {
    Facts now = working_;
    now.connected = streamer_ && streamer_->connected();
    if (streamer_) {
        now.state = streamer_->state();
        now.status = streamer_->status();
        now.lines = streamer_->programLines();
        now.done = std::max(0L, streamer_->programLine());
        now.sending = streamer_->sending();
        now.acknowledged = std::max(0L, streamer_->acknowledged());
        now.question = QString::fromStdString(streamer_->question());
        if (streamer_->problem()) now.problem = QString::fromStdString(streamer_->problem()->text());
    }
    QMetaObject::invokeMethod(
        this,
        [this, now] {
            facts_ = now;
            Q_EMIT changed();
        },
        Qt::QueuedConnection);
}

void Runner::loop() {
    auto shown = std::chrono::steady_clock::now();
    for (;;) {
        std::deque<std::function<void()>> wishes;
        {
            std::unique_lock lock(mutex_);
            if (!streamer_ && wishes_.empty() && !ending_) wake_.wait(lock);
            if (ending_) return;
            wishes.swap(wishes_);
        }
        for (auto& wish : wishes) {
            wish();
            publish();
        }
        if (!streamer_) continue;
        const auto before = streamer_->state();
        const auto began = std::chrono::steady_clock::now();
        if (streamer_->connected() || before == State::running || before == State::holding || before == State::asking)
            streamer_->work(15);
        else
            std::this_thread::sleep_for(std::chrono::milliseconds(15));
        if (before == State::running)
            working_.running += std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
        settleBlocks();
        goOnFeeling();
        const auto now = std::chrono::steady_clock::now();
        const bool idle =
            before == State::ready || before == State::finished || before == State::stopped || before == State::failed;
        if (now - shown > std::chrono::milliseconds(60) || streamer_->state() != before) {
            if (idle && streamer_->connected()) streamer_->askForStatus();
            shown = now;
            publish();
        }
    }
}

void Runner::connectTo(const QString& device, const QString& conversation) {
    post([this, name = device.toStdString(), key = conversation.toStdString()] {
        working_ = {};
        feeling_.reset();
        streamer_.reset();
        auto talk = link::openConversation(realDisk(), key);
        if (!talk) return void(working_.problem = QString::fromStdString(talk.problem().text()));
        working_.tellsPlace = talk->tellsPlace();
        for (const auto& limit : link::limitsOf(*talk)) working_.limits << QString::fromStdString(limit);
        streamer_ =
            std::make_unique<link::Streamer>([name, wire = talk->wire] { return link::openPort(name, wire); }, *talk);
        if (auto fine = streamer_->connect(); !fine) {
            working_.problem = QString::fromStdString(fine.problem().text());
            streamer_.reset();
        }
    });
}

void Runner::disconnectNow() {
    post([this] {
        streamer_.reset();
        feeling_.reset();
        working_ = {};
    });
    closeStandIn();
}

void Runner::startStandIn(const QString& machine, const QString& conversation, double faster, double plate,
                          double thick, const QStringList& more) {
    closeStandIn();
    standInPlate_ = thick;
    standInDevice_ =
        QDir::temp().filePath(QStringLiteral("ferrograph-standin-%1").arg(QCoreApplication::applicationPid()));
    standIn_ = std::make_unique<QProcess>();
    QString program = QCoreApplication::applicationDirPath() + "/ferrograph-standin";
    if (!QFile::exists(program)) program = "ferrograph-standin";
    connect(standIn_.get(), &QProcess::readyReadStandardOutput, this, [this, conversation] {
        if (standIn_->readAllStandardOutput().contains("listening")) connectTo(standInDevice_, conversation);
    });
    connect(standIn_.get(), &QProcess::errorOccurred, this, [this] {
        facts_.problem = tr("The stand-in could not be started.");
        Q_EMIT changed();
    });
    standIn_->start(program, QStringList{"--link", standInDevice_, "--machine", machine, "--speaks", conversation,
                                         "--faster", QString::number(faster), "--plate", QString::number(plate)} +
                                 more);
}

void Runner::send(const QStringList& blocks, Then then) {
    post([this, blocks, then] {
        working_.problem.clear();
        if (!streamer_) return;
        std::vector<std::string> list;
        for (const auto& block : blocks) list.push_back(block.toStdString());
        if (auto fine = streamer_->queue(std::move(list)); !fine)
            working_.problem = QString::fromStdString(fine.problem().text());
        else
            then_ = then;
    });
}

namespace {
QStringList listOf(const std::vector<std::string>& blocks) {
    QStringList list;
    for (const auto& block : blocks) list << QString::fromStdString(block);
    return list;
}
} // namespace

void Runner::home() {
    post([this] {
        working_.problem.clear();
        if (!streamer_) return;
        if (auto fine = streamer_->queue(streamer_->talk().home); !fine)
            working_.problem = QString::fromStdString(fine.problem().text());
        else
            then_ = Then::homed;
    });
}

void Runner::touchOff(const link::TouchOff& touch) { send(listOf(link::blocksFor(touch)), Then::zeroZ); }

void Runner::takeLastZero(const QString& machine) {
    const auto zero = link::lastZero(realDisk(), link::lastZeroFile(), machine.toStdString());
    if (!zero || !facts_.homed || facts_.sending || facts_.status.state != link::MachineState::resting) return;
    send(listOf(link::blocksForZero(*zero, facts_.status.machine)), Then::zeroSet);
}

void Runner::feel(const link::FeelGrid& grid, Vec2 zero, double zeroZ) {
    post([this, grid, zero, zeroZ] {
        working_.problem.clear();
        if (!streamer_ || !streamer_->connected() || streamer_->sending() || feeling_) return;
        link::Feeling feeling(grid, zero, zeroZ);
        if (auto fine = streamer_->queue(feeling.blocks()); !fine)
            return void(working_.problem = QString::fromStdString(fine.problem().text()));
        feeling_ = feeling;
        working_.feeling = true, working_.felt = 0, working_.toFeel = feeling.count();
        answeredAt_ = std::chrono::steady_clock::now();
    });
}

/// One place more, when the machine has come to rest on it.
void Runner::goOnFeeling() {
    if (!feeling_) return;
    const auto now = std::chrono::steady_clock::now();
    const auto& status = streamer_->status();
    const bool tripped = status.state == link::MachineState::tripped || status.state == link::MachineState::reset;
    if (!streamer_->connected() || streamer_->looseProblem() || tripped) {
        if (streamer_->looseProblem())
            working_.problem = QString::fromStdString(streamer_->looseProblem()->text());
        else if (tripped)
            working_.problem =
                tr("Nothing was met at place %1. Home the machine, and set the zero again.").arg(feeling_->done() + 1);
        feeling_.reset();
        working_.feeling = false;
        return;
    }
    if (streamer_->sending()) return void(answeredAt_ = now);
    streamer_->askForStatus();
    // What was asked before the last block was sent may tell of a rest that is over.
    if (now - answeredAt_ < std::chrono::milliseconds(80) || status.state != link::MachineState::resting ||
        status.queue > 0)
        return;
    feeling_->met(status.at.z);
    working_.felt = feeling_->done();
    const bool last = feeling_->finished();
    if (last) working_.lie = feeling_->lie(), ++working_.lies, working_.feeling = false;
    if (auto fine = streamer_->queue(feeling_->blocks()); !fine)
        working_.problem = QString::fromStdString(fine.problem().text());
    answeredAt_ = now;
    if (last) feeling_.reset();
}

/// What was sent outside a program has been answered, all of it, or one of it has failed.
void Runner::settleBlocks() {
    if (!then_ || !streamer_ || streamer_->sending()) return;
    if (streamer_->looseProblem())
        working_.problem = QString::fromStdString(streamer_->looseProblem()->text());
    else if (*then_ == Then::homed)
        working_.homed = true;
    else if (*then_ >= Then::zeroSet) {
        const auto axis = static_cast<int>(*then_) - static_cast<int>(Then::zeroX);
        for (int i = 0; i < 3; ++i)
            if (*then_ == Then::zeroSet || i == axis) working_.zeroed[static_cast<std::size_t>(i)] = true;
        working_.zeroSet = std::all_of(working_.zeroed.begin(), working_.zeroed.end(), [](bool set) { return set; });
    }
    then_.reset();
    if (auto next = std::exchange(next_, nullptr); next && !streamer_->looseProblem()) next();
}

/// A run begins when the machine is through with what was sent before.
void Runner::whenAnswered(std::function<void()> wish) {
    working_.problem.clear();
    if (!streamer_ || !streamer_->connected()) return; // nothing is written over for a run that cannot begin
    if (streamer_->sending())
        next_ = std::move(wish);
    else
        wish();
}

void Runner::begin(Result<link::RunLog> log, std::string_view text, link::Streamer::Numbering numbering) {
    if (!log) return void(working_.problem = QString::fromStdString(log.problem().text()));
    log_ = std::make_shared<link::RunLog>(std::move(*log));
    working_.running = 0;
    streamer_->setLog([this, log = log_](const std::string& entry) {
        if (!log->add(entry)) working_.problem = tr("The run log cannot be written: this run could not be resumed.");
    });
    if (auto fine = streamer_->start(text, numbering); !fine)
        working_.problem = QString::fromStdString(fine.problem().text());
}

void Runner::start(const link::Run& run, const QString& logFile, const QString& machine,
                   const std::optional<link::Resumption>& from) {
    post([this, run, logFile, from, key = machine.toStdString()] {
        whenAnswered([=, this] {
            const auto& status = streamer_->status();
            const toolpath::Vec3 zero{status.machine.x - status.at.x, status.machine.y - status.at.y,
                                      status.machine.z - status.at.z};
            begin(link::RunLog::begun(logFile.toStdString(), run), from ? from->text : run.program,
                  from ? link::Streamer::Numbering{from->head, from->fromLine} : link::Streamer::Numbering{0, 1});
            if (working_.homed && working_.tellsPlace && !link::keepZero(realDisk(), link::lastZeroFile(), key, zero))
                working_.problem = tr("The zero of this run could not be kept.");
        });
    });
}

void Runner::goOn(const link::Resumption& rest, const QString& logFile) {
    post([this, rest, logFile] {
        whenAnswered([=, this] {
            begin(link::RunLog::continued(logFile.toStdString()), rest.text, {rest.head, rest.fromLine});
        });
    });
}

void Runner::hold() {
    post([this] {
        if (streamer_) streamer_->hold();
    });
}
void Runner::resume() {
    post([this] {
        if (streamer_) streamer_->resume();
    });
}
void Runner::stop() {
    post([this] {
        next_ = nullptr;
        feeling_.reset();
        working_.feeling = false;
        if (streamer_) streamer_->stop();
    });
}

} // namespace ferro::app

#pragma once

#include "app/shell/recent_jobs.h"
#include "app/shell/recovery.h"
#include "base/result.h"

#include <QObject>
#include <QTimer>
#include <functional>

namespace ferro::app {

class Session;

/// Where the open job lies on the disk: opened, saved and kept in the background, and never over what somebody else has
/// written meanwhile.
class JobFiles : public QObject {
    Q_OBJECT
public:
    explicit JobFiles(Session& session);

    /// Empty: the job has no file yet.
    [[nodiscard]] const QString& file() const { return file_; }
    /// The job of the file takes the place of the open one when it has been read whole; if that was changed meanwhile,
    /// it stays and that is said.
    void open(const QString& file);
    /// As the job is now; `then` follows when it lies there. A file that is not as it was opened or saved here last is
    /// not written over: `changedOnDisk` tells of it. `sure`: the person has seen that.
    void save(const QString& file, std::function<void()> then = {}, bool sure = false);
    /// The open job's file as it is on the disk now, as an edit that can be undone.
    void takeTheirs();
    /// The open job's file as it is on the disk now takes its place: what was not saved is given up.
    void revert() { open(file_); }
    /// The open job belongs to no file.
    void forget();
    /// The window goes: where the job is left at is kept for the next time.
    void leave();
    [[nodiscard]] const RecentJobs& recent() const { return recent_; }

    /// A changed job is kept in the user's data folder this often, at most 30 s.
    void setAutosave(int seconds);
    /// Unfinished work of a window that did not end well; empty when there is none.
    [[nodiscard]] QString recoverable() const { return recovery_.left(); }
    void recover();
    void discardRecovery();

Q_SIGNALS:
    void changedOnDisk(const QString& file);

private:
    struct Known; ///< what the file held when it was read or written here last; saves one after the other ask it
    void autosave();
    Session& session_;
    QString file_;
    std::shared_ptr<Known> known_;
    Recovery recovery_;
    RecentJobs recent_;
    bool autosaveFailed_ = false;
    std::uint64_t autosaved_ = 0;
    QTimer timer_;
};

} // namespace ferro::app

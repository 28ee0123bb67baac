#include "app/shell/recovery.h"

#include "base/disk.h"

#include <QDir>
#include <QFileInfo>
#include <QUuid>
#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

namespace ferro::app {

namespace {

QDir folder() {
    QDir there(QString::fromStdString(userDataFolder().string()) + "/unfinished");
    there.mkpath(".");
    return there;
}

QString lockOf(const QString& copy) {
    const QFileInfo info(copy);
    return info.dir().filePath(info.completeBaseName() + ".lock");
}

/// Whether a living window holds the lock of a copy.
bool isHeld(const QString& copy) {
    const int handle = ::open(lockOf(copy).toLocal8Bit().constData(), O_RDWR | O_CLOEXEC);
    if (handle < 0) return false;
    const bool held = ::flock(handle, LOCK_EX | LOCK_NB) != 0;
    ::close(handle);
    return held;
}

} // namespace

Recovery::Recovery() : file_(folder().filePath(QUuid::createUuid().toString(QUuid::WithoutBraces) + ".ferro")) {
    lock_ = ::open(lockOf(file_).toLocal8Bit().constData(), O_RDWR | O_CREAT | O_EXCL | O_CLOEXEC, 0600);
    if (lock_ >= 0) ::flock(lock_, LOCK_EX | LOCK_NB);
}

Recovery::~Recovery() {
    clear();
    QFile::remove(lockOf(file_));
    if (lock_ >= 0) ::close(lock_);
}

void Recovery::clear() const { QFile::remove(file_); }

QString Recovery::left() const {
    for (const auto& entry : folder().entryInfoList({"*.ferro"}, QDir::Files, QDir::Time))
        if (entry.filePath() != file_ && !isHeld(entry.filePath())) return entry.filePath();
    return {};
}

void Recovery::adopt(const QString& left) const {
    QFile::remove(file_);
    QFile::rename(left, file_);
    QFile::remove(lockOf(left));
}

void Recovery::discard(const QString& left) {
    QFile::remove(left);
    QFile::remove(lockOf(left));
}

} // namespace ferro::app

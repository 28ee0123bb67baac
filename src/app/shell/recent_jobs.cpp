#include "app/shell/recent_jobs.h"

#include "base/disk.h"

#include <QFileInfo>

namespace ferro::app {

namespace {
struct Left {
    QString file;
    int station = 0;
};
std::filesystem::path place() { return userDataFolder() / "recent"; }

/// A line each: the station's number, a blank, the file.
std::vector<Left> all() {
    std::vector<Left> list;
    const auto text = realDisk().read(place(), 1 << 20);
    if (!text) return list;
    for (const auto& line : QString::fromStdString(*text).split('\n', Qt::SkipEmptyParts))
        if (const int station = line.section(' ', 0, 0).toInt(); station >= 1 && station <= 6)
            list.push_back({line.section(' ', 1), station - 1});
    return list;
}
} // namespace

QStringList RecentJobs::files() const {
    QStringList files;
    for (const auto& left : all())
        if (files.size() < most && QFileInfo::exists(left.file)) files << left.file;
    return files;
}

std::optional<StationId> RecentJobs::leftAt(const QString& file) const {
    for (const auto& left : all())
        if (left.file == QFileInfo(file).absoluteFilePath()) return static_cast<StationId>(left.station);
    return {};
}

void RecentJobs::note(const QString& file, StationId at) {
    const QString whole = QFileInfo(file).absoluteFilePath();
    if (whole.contains('\n')) return;
    auto list = all();
    std::erase_if(list, [&](const Left& left) { return left.file == whole; });
    list.insert(list.begin(), {whole, static_cast<int>(at)});
    if (list.size() > 2 * most) list.resize(2 * most); // files on a stick that is out may come back
    QString text;
    for (const auto& left : list) text += QStringLiteral("%1 %2\n").arg(left.station + 1).arg(left.file);
    std::error_code none;
    std::filesystem::create_directories(userDataFolder(), none);
    (void)writeAtomically(realDisk(), place(), text.toStdString());
}

} // namespace ferro::app

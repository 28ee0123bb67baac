#include "base/disk.h"

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <random>
#include <sys/file.h>
#include <sys/stat.h>
#include <thread>
#include <unistd.h>

namespace ferro {

namespace fs = std::filesystem;

namespace {

Problem fileProblem(const fs::path& file, std::string_view doing, int error) {
    return {.what = fmt::format("The file could not be {}: {}.", doing, std::strerror(error)),
            .where = file.string(),
            .mend = error == ENOSPC ? "Make room on the disk." : "Check the path and that you may use it."};
}

class Handle {
public:
    explicit Handle(int handle) : handle_(handle) {}
    ~Handle() {
        const int error = errno;
        if (handle_ >= 0) ::close(handle_);
        errno = error;
    }
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    [[nodiscard]] int get() const { return handle_; }

private:
    int handle_;
};

class RealDisk : public Disk {
public:
    Result<std::string> read(const fs::path& file, std::size_t limit) override {
        // Without waiting: a pipe that nobody writes to would hold us for ever.
        const Handle in(::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOCTTY));
        if (in.get() < 0) return fileProblem(file, "opened", errno);
        struct stat facts {};
        if (::fstat(in.get(), &facts) != 0) return fileProblem(file, "opened", errno);
        if (S_ISDIR(facts.st_mode))
            return Problem{.what = "This is a folder, not a file.", .where = file.string(), .mend = "Name a file."};
        if (!S_ISREG(facts.st_mode))
            return Problem{
                .what = "This is a device or a pipe, not a file.", .where = file.string(), .mend = "Name a file."};
        std::string bytes;
        bytes.reserve(std::min(limit, static_cast<std::size_t>(std::max<off_t>(facts.st_size, 0))));
        char block[1 << 16];
        for (;;) {
            const ssize_t count = ::read(in.get(), block, sizeof block);
            if (count < 0 && errno == EINTR) continue;
            if (count < 0) return fileProblem(file, "read", errno);
            if (count == 0) return bytes;
            bytes.append(block, static_cast<std::size_t>(count));
            if (bytes.size() > limit)
                return Problem{.what = fmt::format("The file is larger than {} MB.", limit >> 20),
                               .where = file.string(),
                               .mend = "Use a smaller one."};
        }
    }
    Result<void> write(const fs::path& file, std::string_view bytes) override {
        // A part is ours alone: nothing that lies there under its name is followed or written over.
        const int fresh = file.extension() == ".part" ? O_EXCL | O_NOFOLLOW : O_TRUNC;
        const Handle out(::open(file.c_str(), O_WRONLY | O_CREAT | O_CLOEXEC | fresh, 0644));
        if (out.get() < 0) return fileProblem(file, "written", errno);
        std::size_t done = 0;
        while (done < bytes.size()) {
            const ssize_t count = ::write(out.get(), bytes.data() + done, bytes.size() - done);
            if (count < 0 && errno == EINTR) continue;
            if (count < 0) return fileProblem(file, "written", errno);
            done += static_cast<std::size_t>(count);
        }
        // A pipe or a pseudo-file has nothing to flush.
        if (::fsync(out.get()) != 0 && errno != EINVAL) return fileProblem(file, "written", errno);
        return {};
    }
    Result<void> rename(const fs::path& from, const fs::path& to) override {
        if (::rename(from.c_str(), to.c_str()) != 0) return fileProblem(to, "put in place", errno);
        // The rename itself must survive a power cut: flush the folder.
        const fs::path folder = to.has_parent_path() ? to.parent_path() : fs::path(".");
        if (const int handle = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); handle >= 0) {
            ::fsync(handle);
            ::close(handle);
        }
        return {};
    }
    void remove(const fs::path& file) override {
        std::error_code ignored;
        fs::remove(file, ignored);
    }
};

} // namespace

Disk& realDisk() {
    static RealDisk disk;
    return disk;
}

namespace {

/// What a chain of links leads to, so that they stay links.
fs::path behindLinks(fs::path file) {
    std::error_code error;
    for (int links = 0; links < 40 && fs::is_symlink(file, error); ++links) {
        const fs::path to = fs::read_symlink(file, error);
        if (error) break;
        file = to.is_absolute() ? to : file.parent_path() / to;
    }
    return file;
}

std::string partPrefix(const fs::path& file) { return fmt::format(".{}.", file.filename().string()); }

/// What a process that was killed has left beside a file. Younger ones may be somebody's who is writing now.
void clearLeftParts(Disk& disk, const fs::path& file) {
    std::error_code error;
    const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
    const auto old = fs::file_time_type::clock::now() - std::chrono::minutes(10);
    for (fs::directory_iterator entry(folder, error), end; !error && entry != end; entry.increment(error)) {
        const auto name = entry->path().filename().string();
        if (!name.starts_with(partPrefix(file)) || entry->path().extension() != ".part") continue;
        std::error_code ignored;
        if (entry->is_regular_file(ignored) && entry->last_write_time(ignored) < old) disk.remove(entry->path());
    }
}

} // namespace

Result<void> writeAtomically(Disk& disk, const fs::path& named, std::string_view bytes) {
    const fs::path file = behindLinks(named);
    clearLeftParts(disk, file);
    static std::random_device chance;
    const fs::path beside = (file.has_parent_path() ? file.parent_path() : fs::path(".")) /
                            fmt::format("{}{:08x}{:08x}.part", partPrefix(file), chance(), chance());
    struct stat facts {};
    const bool there = ::stat(file.c_str(), &facts) == 0;
    if (there && !S_ISREG(facts.st_mode))
        return disk.write(file, bytes); // a pipe or a device has no old content to keep
    if (auto written = disk.write(beside, bytes); !written) {
        disk.remove(beside);
        Problem problem = written.problem();
        problem.where = named.string();
        return problem;
    }
    if (there) ::chmod(beside.c_str(), facts.st_mode & 07777);
    if (auto renamed = disk.rename(beside, file); !renamed) {
        disk.remove(beside);
        return renamed;
    }
    return {};
}

Result<FileLock> FileLock::taken(const fs::path& file, std::chrono::milliseconds patience) {
    const auto until = std::chrono::steady_clock::now() + patience;
    for (;;) {
        const int handle = ::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
        if (handle < 0) return fileProblem(file, "opened", errno);
        FileLock lock(handle);
        if (::flock(handle, LOCK_EX | LOCK_NB) == 0) {
            // Whoever had it may have put another file in its place: that is the one to lock then.
            struct stat mine {
            }, there{};
            if (::fstat(handle, &mine) == 0 && ::stat(file.c_str(), &there) == 0 && mine.st_ino == there.st_ino &&
                mine.st_dev == there.st_dev)
                return lock;
        } else if (errno != EWOULDBLOCK && errno != EINTR) {
            return lock; // a file system without locks: as well as can be
        }
        if (std::chrono::steady_clock::now() > until)
            return Problem{.what = "The file is being changed by another Ferrograph.",
                           .where = file.string(),
                           .mend = "Try again when it is done."};
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
}

FileLock::~FileLock() {
    if (handle_ >= 0) ::close(handle_);
}

fs::path userDataFolder() {
    const char* data = std::getenv("XDG_DATA_HOME");
    const char* home = std::getenv("HOME");
    const fs::path base = data && *data ? fs::path(data) : fs::path(home ? home : "/tmp") / ".local/share";
    std::error_code ignored;
    fs::create_directories(base / "ferrograph", ignored);
    return base / "ferrograph";
}

fs::path shippedFolder(std::string_view name) {
    std::error_code error;
    const fs::path program = fs::read_symlink("/proc/self/exe", error).parent_path();
    if (const fs::path installed = program.parent_path() / "share/ferrograph" / name; fs::exists(installed, error))
        return installed;
    const std::string_view room = name == "dialects" ? "program" : name == "conversations" ? "link" : "shop";
    return fs::path(FERRO_SOURCE) / room / name;
}

} // namespace ferro

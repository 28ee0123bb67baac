#include "base/disk.h"

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>

namespace ferro {

namespace fs = std::filesystem;

namespace {

Problem fileProblem(const fs::path& file, std::string_view doing, int error) {
    return {.what = fmt::format("The file could not be {}: {}.", doing, std::strerror(error)),
            .where = file.string(),
            .mend = error == ENOSPC ? "Make room on the disk." : "Check the path and that you may use it."};
}

class RealDisk : public Disk {
public:
    Result<std::string> read(const fs::path& file, std::size_t limit) override {
        std::error_code error;
        if (fs::is_directory(file, error))
            return Problem{.what = "This is a folder, not a file.", .where = file.string(), .mend = "Name a file."};
        std::ifstream in(file, std::ios::binary);
        if (!in) return fileProblem(file, "opened", errno);
        std::string bytes;
        char block[1 << 16];
        while (in.read(block, sizeof block) || in.gcount() > 0) {
            bytes.append(block, static_cast<std::size_t>(in.gcount()));
            if (bytes.size() > limit)
                return Problem{.what = fmt::format("The file is larger than {} MB.", limit >> 20),
                               .where = file.string(),
                               .mend = "Use a smaller one."};
        }
        return bytes;
    }
    Result<void> write(const fs::path& file, std::string_view bytes) override {
        const int handle = ::open(file.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
        if (handle < 0) return fileProblem(file, "written", errno);
        std::size_t done = 0;
        while (done < bytes.size()) {
            const ssize_t count = ::write(handle, bytes.data() + done, bytes.size() - done);
            if (count < 0 && errno == EINTR) continue;
            if (count < 0) {
                const int error = errno;
                ::close(handle);
                return fileProblem(file, "written", error);
            }
            done += static_cast<std::size_t>(count);
        }
        const bool flushed = ::fsync(handle) == 0 || errno == EINVAL; // a pipe or a pseudo-file has nothing to flush
        const int error = errno;
        ::close(handle);
        if (!flushed) return fileProblem(file, "written", error);
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

Result<void> writeAtomically(Disk& disk, const fs::path& file, std::string_view bytes) {
    fs::path beside = file;
    beside += fmt::format(".{}.part", ::getpid());
    if (auto written = disk.write(beside, bytes); !written) {
        disk.remove(beside);
        return written;
    }
    if (auto renamed = disk.rename(beside, file); !renamed) {
        disk.remove(beside);
        return renamed;
    }
    return {};
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
    return fs::path(FERRO_SOURCE) / (name == "dialects" ? "program" : "shop") / name;
}

} // namespace ferro

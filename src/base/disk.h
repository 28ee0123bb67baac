#pragma once

#include "base/result.h"

#include <chrono>
#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>

namespace ferro {

/// The few file operations the core needs, behind a narrow front so that tests can make each of them fail.
class Disk {
public:
    virtual ~Disk() = default;
    /// Refuses files above `limit` bytes instead of filling the memory, and devices, pipes and sockets at once.
    [[nodiscard]] virtual Result<std::string> read(const std::filesystem::path& file,
                                                   std::size_t limit = std::size_t{2} << 30) = 0;
    /// Writes and flushes to the device before it returns.
    [[nodiscard]] virtual Result<void> write(const std::filesystem::path& file, std::string_view bytes) = 0;
    [[nodiscard]] virtual Result<void> rename(const std::filesystem::path& from, const std::filesystem::path& to) = 0;
    virtual void remove(const std::filesystem::path& file) = 0;
};

[[nodiscard]] Disk& realDisk();

/// Either the whole new content is in `file` afterwards or, whatever failed, the old one: written beside under a name
/// that nobody can have planted, and renamed. A link stays a link: what it leads to is replaced. Modes are kept, and
/// what former writes have left half done is cleared away.
[[nodiscard]] Result<void> writeAtomically(Disk& disk, const std::filesystem::path& file, std::string_view bytes);

/// While it lives no other process of ours changes this file: window and command line take it round their reading and
/// writing. Only for a file that is there; waits for whoever has it, up to `patience`.
class FileLock {
public:
    [[nodiscard]] static Result<FileLock> taken(const std::filesystem::path& file,
                                                std::chrono::milliseconds patience = std::chrono::seconds(20));
    FileLock(FileLock&& other) noexcept : handle_(std::exchange(other.handle_, -1)) {}
    FileLock& operator=(FileLock&& other) noexcept {
        std::swap(handle_, other.handle_);
        return *this;
    }
    ~FileLock();

private:
    explicit FileLock(int handle) : handle_(handle) {}
    int handle_ = -1;
};

/// The user's own data folder for this program, by the XDG base directory rules; made when missing.
[[nodiscard]] std::filesystem::path userDataFolder();
/// Where shipped data lies (`starter`, `dialects`, `conversations`): the installed share folder, or the source tree of
/// this build.
[[nodiscard]] std::filesystem::path shippedFolder(std::string_view name);

} // namespace ferro

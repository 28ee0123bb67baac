#pragma once

#include "base/result.h"

#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>

namespace ferro {

/// The few file operations the core needs, behind a narrow front so that tests can make each of them fail.
class Disk {
public:
    virtual ~Disk() = default;
    /// Refuses files above `limit` bytes instead of filling the memory.
    [[nodiscard]] virtual Result<std::string> read(const std::filesystem::path& file,
                                                   std::size_t limit = std::size_t{2} << 30) = 0;
    /// Writes and flushes to the device before it returns.
    [[nodiscard]] virtual Result<void> write(const std::filesystem::path& file, std::string_view bytes) = 0;
    [[nodiscard]] virtual Result<void> rename(const std::filesystem::path& from, const std::filesystem::path& to) = 0;
    virtual void remove(const std::filesystem::path& file) = 0;
};

[[nodiscard]] Disk& realDisk();

/// Either the whole new content is in `file` afterwards or, whatever failed, the old one: written beside and renamed.
[[nodiscard]] Result<void> writeAtomically(Disk& disk, const std::filesystem::path& file, std::string_view bytes);

/// The user's own data folder for this program, by the XDG base directory rules; made when missing.
[[nodiscard]] std::filesystem::path userDataFolder();
/// Where shipped data lies (`starter`, `dialects`): the installed share folder, or the source tree of this build.
[[nodiscard]] std::filesystem::path shippedFolder(std::string_view name);

} // namespace ferro

#pragma once

#include "base/disk.h"

#include <string>
#include <vector>

namespace ferro {

/// Small JSON files that are named by a key, such as dialects: the user's own, in a folder of the data folder, win over
/// those that are shipped. A key is never a path: what a job names must mean the same wherever it is opened.
class KeyedFiles {
public:
    /// The folder's name, and what one of its files is called in messages.
    constexpr KeyedFiles(std::string_view folder, std::string_view noun) : folder_(folder), noun_(noun) {}

    /// A problem names those that there are.
    [[nodiscard]] Result<std::string> text(Disk& disk, std::string_view key) const;
    [[nodiscard]] std::vector<std::string> keys() const;
    [[nodiscard]] bool isOwn(std::string_view key) const;
    /// One of the user's own, atomically; a problem when the key is not made of letters, digits and hyphens.
    [[nodiscard]] Result<void> keep(Disk& disk, std::string_view key, const std::string& text) const;
    /// Takes one of the user's own away; a shipped one of that key is used again.
    [[nodiscard]] Result<void> remove(std::string_view key) const;

private:
    [[nodiscard]] std::filesystem::path ownFile(std::string_view key) const;
    std::string_view folder_, noun_;
};

} // namespace ferro

#include "base/keyed_files.h"

#include <algorithm>
#include <fmt/format.h>

namespace ferro {

namespace fs = std::filesystem;

fs::path KeyedFiles::ownFile(std::string_view key) const {
    return userDataFolder() / folder_ / fmt::format("{}.json", key);
}

Result<std::string> KeyedFiles::text(Disk& disk, std::string_view key) const {
    std::error_code ignored;
    const bool plain = !key.empty() && !key.starts_with('.') && key.find_first_of("/\\") == std::string_view::npos;
    fs::path file = ownFile(key);
    if (plain && !fs::exists(file, ignored)) file = shippedFolder(folder_) / fmt::format("{}.json", key);
    if (plain && fs::exists(file, ignored)) return disk.read(file, 1 << 20);
    std::string have;
    for (const auto& name : keys()) have += (have.empty() ? "" : ", ") + name;
    return Problem{.what = fmt::format("There is no {} “{}”.", noun_, key),
                   .where = {},
                   .mend = fmt::format("Use one of: {}; your own go into the {} folder.", have, folder_)};
}

std::vector<std::string> KeyedFiles::keys() const {
    std::vector<std::string> names;
    std::error_code ignored;
    for (const auto& folder : {userDataFolder() / folder_, shippedFolder(folder_)})
        for (const auto& entry : fs::directory_iterator(folder, ignored))
            if (entry.path().extension() == ".json") names.push_back(entry.path().stem().string());
    std::sort(names.begin(), names.end());
    names.erase(std::unique(names.begin(), names.end()), names.end());
    return names;
}

bool KeyedFiles::isOwn(std::string_view key) const {
    std::error_code ignored;
    return fs::exists(ownFile(key), ignored);
}

Result<void> KeyedFiles::keep(Disk& disk, std::string_view key, const std::string& text) const {
    const auto fits = [](char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '-'; };
    if (key.empty() || key.size() > 60 || !std::all_of(key.begin(), key.end(), fits))
        return Problem{.what = fmt::format("“{}” is no key for a {}.", key.substr(0, 80), noun_),
                       .where = {},
                       .mend = "Use letters, digits and hyphens."};
    std::error_code error;
    fs::create_directories(ownFile(key).parent_path(), error);
    return writeAtomically(disk, ownFile(key), text);
}

Result<void> KeyedFiles::remove(std::string_view key) const {
    std::error_code error;
    if (!isOwn(key) || !fs::remove(ownFile(key), error))
        return Problem{.what = fmt::format("“{}” is none of your own {}s.", key, noun_), .where = {}, .mend = {}};
    return {};
}

} // namespace ferro

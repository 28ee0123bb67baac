#pragma once

#include <cstdlib>
#include <filesystem>
#include <string>

namespace ferro::test {

/// A home of this run's own, gone when it ends: nothing a test does reaches the user's folders or another run's.
class OwnHome {
public:
    OwnHome() {
        std::string name = (std::filesystem::temp_directory_path() / "ferro-test-XXXXXX").string();
        if (!::mkdtemp(name.data())) std::abort();
        path_ = name;
        for (const char* variable : {"HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME", "XDG_STATE_HOME"}) {
            const auto folder = path_ / variable;
            std::filesystem::create_directories(folder);
            ::setenv(variable, folder.c_str(), 1);
        }
    }
    ~OwnHome() {
        std::error_code ignored;
        std::filesystem::remove_all(path_, ignored);
    }
    OwnHome(const OwnHome&) = delete;
    OwnHome& operator=(const OwnHome&) = delete;

private:
    std::filesystem::path path_;
};

} // namespace ferro::test

#pragma once

#include "base/disk.h"

#include <catch2/catch.hpp>
#include <cstdlib>
#include <optional>
#include <random>
#include <unistd.h>

namespace ferro::test {

/// A real disk whose n-th change fails.
class FailingDisk : public Disk {
public:
    explicit FailingDisk(int failing) : left_(failing) {}
    Result<std::string> read(const std::filesystem::path& file, std::size_t limit) override {
        return realDisk().read(file, limit);
    }
    Result<void> write(const std::filesystem::path& file, std::string_view bytes) override {
        if (left_-- == 0) {
            (void)realDisk().write(file, bytes.substr(0, bytes.size() / 2)); // as a full disk does
            return Problem{.what = "The disk is full.", .where = file.string(), .mend = {}};
        }
        return realDisk().write(file, bytes);
    }
    Result<void> rename(const std::filesystem::path& from, const std::filesystem::path& to) override {
        if (left_-- == 0) return Problem{.what = "The disk is gone.", .where = to.string(), .mend = {}};
        return realDisk().rename(from, to);
    }
    void remove(const std::filesystem::path& file) override { realDisk().remove(file); }

private:
    int left_;
};

/// A folder that is gone afterwards.
struct TemporaryFolder {
    TemporaryFolder() {
        static int count = 0;
        path = std::filesystem::temp_directory_path() /
               ("ferrograph-test-" + std::to_string(::getpid()) + "-" + std::to_string(++count));
        std::filesystem::create_directories(path);
    }
    ~TemporaryFolder() { std::filesystem::remove_all(path); }
    TemporaryFolder(const TemporaryFolder&) = delete;
    TemporaryFolder& operator=(const TemporaryFolder&) = delete;
    std::filesystem::path path;
};

/// The user's data folder, empty and nobody else's: another test may run at the same time.
struct OwnDataFolder : TemporaryFolder {
    OwnDataFolder() {
        if (const char* had = std::getenv("XDG_DATA_HOME")) before_ = had;
        ::setenv("XDG_DATA_HOME", path.c_str(), 1);
    }
    ~OwnDataFolder() { before_ ? ::setenv("XDG_DATA_HOME", before_->c_str(), 1) : ::unsetenv("XDG_DATA_HOME"); }

private:
    std::optional<std::string> before_;
};

} // namespace ferro::test

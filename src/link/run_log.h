#pragma once

#include "link/run.h"

#include <filesystem>

namespace ferro::link {

/// What a run's log tells: the run itself and how far all its attempts have come together.
struct Logged {
    Run run;
    long done = 0; ///< last line carried out, of the run's own program
    bool finished = false;
    int attempts = 0;
};
[[nodiscard]] Result<Logged> loggedIn(std::string_view log);

/// The log of a run on disk: its first line says what file this is, its second the whole run, then come the attempts,
/// each line flushed before the next is sent. Nothing that is no log is ever written over.
class RunLog {
public:
    /// For a fresh run. A log that was there is kept as `….before`.
    [[nodiscard]] static Result<RunLog> begun(const std::filesystem::path& file, const Run& run);
    /// For another attempt at a run that the file tells of.
    [[nodiscard]] static Result<RunLog> continued(const std::filesystem::path& file);

    RunLog(RunLog&& other) noexcept : handle_(std::exchange(other.handle_, -1)) {}
    RunLog& operator=(RunLog&& other) noexcept {
        std::swap(handle_, other.handle_);
        return *this;
    }
    ~RunLog();
    /// False when it could not be written: a run without a log cannot be resumed.
    bool add(std::string_view entry);

private:
    explicit RunLog(int handle) : handle_(handle) {}
    int handle_ = -1;
};

} // namespace ferro::link

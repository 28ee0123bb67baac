#include "link/run_log.h"

#include "base/json_members.h"
#include "base/log.h"

#include <cerrno>
#include <charconv>
#include <cstring>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

namespace ferro::link {

namespace fs = std::filesystem;

template<class Io> void members(Io& io, Run::Step& s) {
    io.need("name", s.name).need("toolName", s.toolName).need("tool", s.tool).need("firstLine", s.firstLine);
    io.need("lastLine", s.lastLine).need("plunge", s.plunge);
}

template<class Io> void members(Io& io, Run& r) {
    std::string print = r.fingerprint();
    io.need("job", r.job).need("revision", r.revision).need("program", r.program).need("fingerprint", print);
    io.need("dialect", r.dialect).need("beam", r.beam).need("beamScale", r.beamScale).need("decimals", r.decimals);
    io.need("zeroX", r.zero.x).need("zeroY", r.zero.y).need("zeroZ", r.zeroZ).need("travel", r.travel);
    io.need("spinUp", r.spinUp)
        .need("steps", r.steps)("machine", r.machine)("conversation", r.conversation)("board", r.board)(
            "boards", r.boards)("turn", r.turn)("wear", r.wear);
    if (Io::reads && r.turn != "" && r.turn != "A" && r.turn != "B" && r.turn != "C")
        throw json_members::Fault{"a knife is turned by A, B or C", {"turn"}};
    if (Io::reads && print != r.fingerprint())
        throw json_members::Fault{"the program in the log is not the one that was run", {"program"}};
}

namespace {

constexpr std::string_view magic = "ferrograph run log 2";

std::string_view lineOff(std::string_view& text) {
    const auto end = std::min(text.find('\n'), text.size());
    auto line = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    if (line.ends_with('\r')) line.remove_suffix(1);
    return line;
}

Problem fileProblem(const fs::path& file, const char* doing) {
    return {.what = fmt::format("The run log could not be {}: {}.", doing, std::strerror(errno)),
            .where = file.string(),
            .mend = "Give another place for it."};
}

bool writeAll(int handle, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t count = ::write(handle, bytes.data(), bytes.size());
        if (count < 0 && errno == EINTR) continue;
        if (count <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(count));
    }
    return true;
}

/// Whether a file is a run log, of this form or the one before. Nothing there, or nothing in it: yes.
bool mayBeReplaced(const fs::path& file) {
    struct stat facts {};
    if (::lstat(file.c_str(), &facts) != 0) return errno == ENOENT;
    if (!S_ISREG(facts.st_mode)) return false;
    if (facts.st_size == 0) return true;
    const int handle = ::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NOFOLLOW);
    if (handle < 0) return false;
    char head[32] = {};
    const ssize_t count = ::read(handle, head, sizeof head - 1);
    ::close(handle);
    const std::string_view begin(head, static_cast<std::size_t>(std::max<ssize_t>(count, 0)));
    return begin.starts_with("ferrograph run log") || begin.starts_with("start ");
}

} // namespace

Result<Logged> loggedIn(std::string_view log) {
    const auto first = lineOff(log);
    if (first != magic)
        return Problem{.what = first.starts_with("start ")
                                   ? "The run log was written by an older Ferrograph and does not "
                                     "hold its program."
                                   : "This is no run log.",
                       .where = {},
                       .mend = "Run the job anew."};
    Logged logged;
    auto run = json_members::readJson<Result<Run>>(lineOff(log), "Run the job anew.",
                                                   [](const json_members::json& all) -> Result<Run> {
                                                       Run read;
                                                       json_members::read(all, read);
                                                       return read;
                                                   });
    if (!run) return run.problem().within("run log");
    logged.run = std::move(*run);
    while (!log.empty()) {
        const bool whole = log.find('\n') != std::string_view::npos;
        const auto line = lineOff(log);
        if (!whole) break; // cut short in the middle of a write: it does not count
        if (line.starts_with("start ")) ++logged.attempts;
        if (line == "finished") logged.finished = true;
        if (!line.starts_with("done ")) continue;
        long number = 0;
        const auto [stop, error] = std::from_chars(line.data() + 5, line.data() + line.size(), number);
        if (error == std::errc{} && stop == line.data() + line.size()) logged.done = std::max(logged.done, number);
    }
    return logged;
}

Result<RunLog> RunLog::begun(const fs::path& file, const Run& run) {
    if (!mayBeReplaced(file))
        return Problem{.what = "There is a file of this name that is no run log; it is left alone.",
                       .where = file.string(),
                       .mend = "Give another place for the log."};
    std::error_code ignored;
    if (fs::exists(file, ignored)) {
        fs::path before = file;
        before += ".before";
        if (mayBeReplaced(before)) fs::rename(file, before, ignored);
    }
    const int handle = ::open(file.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC | O_NOFOLLOW, 0644);
    if (handle < 0) return fileProblem(file, "written");
    RunLog log(handle);
    const std::string head = fmt::format("{}\n{}\n", magic, json_members::written(run).dump());
    if (!writeAll(handle, head) || ::fdatasync(handle) != 0) return fileProblem(file, "written");
    log::record(fmt::format("“{}” begun, program {}, {}", run.job, run.fingerprint(), file.string()));
    return log;
}

Result<RunLog> RunLog::continued(const fs::path& file) {
    const int handle = ::open(file.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC | O_NOFOLLOW);
    if (handle < 0) return fileProblem(file, "written");
    RunLog log(handle);
    if (!log.add("")) return fileProblem(file, "written"); // ends what a power cut left half written
    log::record(fmt::format("resumed, {}", file.string()));
    return log;
}

RunLog::~RunLog() {
    if (handle_ >= 0) ::close(handle_);
}

bool RunLog::add(std::string_view entry) {
    if (entry.starts_with("finished") || entry.starts_with("stopped") || entry.starts_with("failed"))
        log::record(std::string(entry));
    std::string line(entry);
    line += '\n';
    return writeAll(handle_, line) && ::fdatasync(handle_) == 0;
}

} // namespace ferro::link

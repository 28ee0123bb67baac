#include "link/run_times.h"

#include "link/zeroing.h"

#include <charconv>
#include <ctime>

namespace ferro::link {

namespace {

constexpr std::size_t mostKept = 2000;

std::string lineOf(const RunTime& run) {
    std::string job = run.job;
    for (char& c : job)
        if (static_cast<unsigned char>(c) < 0x20) c = ' ';
    return fmt::format("{},{},{:.1f},{:.1f},{}\n", run.when, run.machine, run.proofed, run.taken, job);
}

/// Up to the next comma, which is taken off with it.
std::string_view fieldOf(std::string_view& line) {
    const auto end = std::min(line.find(','), line.size());
    const auto field = line.substr(0, end);
    line.remove_prefix(std::min(end + 1, line.size()));
    return field;
}

std::optional<RunTime> runIn(std::string_view line) {
    RunTime run;
    run.when = fieldOf(line);
    run.machine = fieldOf(line);
    for (double* number : {&run.proofed, &run.taken}) {
        const auto text = fieldOf(line);
        const auto [stop, error] = std::from_chars(text.data(), text.data() + text.size(), *number);
        if (error != std::errc{} || stop != text.data() + text.size() || !(*number > 0 && *number < 1e8))
            return std::nullopt;
    }
    run.job = line;
    if (run.when.empty() || run.machine.empty()) return std::nullopt;
    return run;
}

} // namespace

Result<void> keepRunTime(Disk& disk, const std::filesystem::path& file, const RunTime& run) {
    auto runs = runTimes(disk, file);
    runs.push_back(run);
    std::string text;
    for (std::size_t i = runs.size() > mostKept ? runs.size() - mostKept : 0; i < runs.size(); ++i)
        text += lineOf(runs[i]);
    std::error_code ignored; // told by the writing
    std::filesystem::create_directories(file.parent_path(), ignored);
    return writeAtomically(disk, file, text);
}

std::vector<RunTime> runTimes(Disk& disk, const std::filesystem::path& file) {
    std::vector<RunTime> runs;
    const auto text = disk.read(file, 1 << 20);
    if (!text) return runs;
    for (std::string_view rest = *text; !rest.empty();) {
        const auto end = std::min(rest.find('\n'), rest.size());
        if (auto run = runIn(rest.substr(0, end))) runs.push_back(std::move(*run));
        rest.remove_prefix(std::min(end + 1, rest.size()));
    }
    return runs;
}

std::filesystem::path runTimesFile() { return lastZeroFile().parent_path() / "run-times.csv"; }

RunsOn runsOn(const std::vector<RunTime>& runs, std::string_view machine) {
    RunsOn out;
    double proofed = 0, taken = 0;
    for (auto run = runs.rbegin(); run != runs.rend() && out.runs < 20; ++run)
        if (run->machine == machine) proofed += run->proofed, taken += run->taken, ++out.runs;
    if (proofed > 0) out.share = taken / proofed;
    return out;
}

std::string timeNow() {
    const std::time_t now = std::time(nullptr);
    std::tm here{};
    localtime_r(&now, &here);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%d %H:%M", &here);
    return text;
}

} // namespace ferro::link

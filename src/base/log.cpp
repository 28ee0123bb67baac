#include "base/log.h"

#include <cstdlib>
#include <filesystem>
#include <spdlog/sinks/basic_file_sink.h>
#include <spdlog/spdlog.h>

namespace ferro::log {

namespace {

std::shared_ptr<spdlog::logger> opened() {
    namespace fs = std::filesystem;
    const char* state = std::getenv("XDG_STATE_HOME");
    const char* home = std::getenv("HOME");
    const fs::path folder =
        (state && *state ? fs::path(state) : fs::path(home ? home : "/tmp") / ".local/state") / "ferrograph";
    try {
        auto logger = std::make_shared<spdlog::logger>(
            "runs", std::make_shared<spdlog::sinks::basic_file_sink_mt>((folder / "runs.log").string()));
        logger->set_pattern("%Y-%m-%d %H:%M:%S %v");
        logger->flush_on(spdlog::level::info);
        return logger;
    } catch (const spdlog::spdlog_ex&) { return nullptr; }
}

} // namespace

void record(const std::string& text) {
    static const auto logger = opened();
    if (logger) logger->info(text);
}

} // namespace ferro::log

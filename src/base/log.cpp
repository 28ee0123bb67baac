#include "base/log.h"

#include <cstdlib>
#include <spdlog/sinks/stdout_sinks.h>
#include <spdlog/spdlog.h>

namespace ferro::log {

namespace {
spdlog::logger& logger() {
    static const auto made = [] {
        auto fresh = std::make_shared<spdlog::logger>("ferrograph", std::make_shared<spdlog::sinks::stderr_sink_mt>());
        const char* wish = std::getenv("FERROGRAPH_LOG");
        fresh->set_level(wish && std::string(wish) == "debug" ? spdlog::level::debug : spdlog::level::warn);
        return fresh;
    }();
    return *made;
}
} // namespace

void debug(const std::string& text) { logger().debug(text); }
void warning(const std::string& text) { logger().warn(text); }

} // namespace ferro::log

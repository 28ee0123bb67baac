#include "link/zeroing.h"

#include <map>
#include <sstream>

namespace ferro::link {

std::vector<std::string> blocksFor(const TouchOff& touch) {
    // Relative at first: the same wherever the tool stands. Whatever else is sent or run says G90 for itself.
    return {fmt::format("G21 G91 G38.2 Z{:.3f} F{:.0f}", -touch.seek, touch.fast),
            fmt::format("G0 Z{:.3f}", touch.back), fmt::format("G38.2 Z{:.3f} F{:.0f}", -2 * touch.back, touch.slow),
            fmt::format("G90 G92 Z{:.4f}", touch.plate), fmt::format("G0 Z{:.3f}", touch.plate + 5 * touch.back)};
}

Result<EdgeTouch> edgeTouch(const job::Job& job, Edge edge, double pin) {
    const auto& stock = job.sheet().stock;
    if (stock.outline)
        return Problem{.what = "The sheet has an outline of its own: where beside it the pin stands is not known.",
                       .where = {},
                       .mend = "Jog to its zero instead."};
    if (!(pin > 0 && pin <= 50))
        return Problem{.what = "A pin is 0 to 50 mm thick.", .where = {}, .mend = "Measure what is in the spindle."};
    const Vec2 zero = job::zeroOf(stock).at;
    const double places[] = {-zero.x, stock.width - zero.x, -zero.y, stock.height - zero.y};
    return EdgeTouch{.edge = edge, .place = places[static_cast<std::size_t>(edge)], .pin = pin};
}

std::vector<std::string> blocksFor(const EdgeTouch& touch) {
    const char axis = touch.inX() ? 'X' : 'Y';
    const double on = touch.edge == Edge::left || touch.edge == Edge::lower ? 1 : -1; // towards the sheet
    const double rests = touch.place - on * touch.pin / 2;
    return {fmt::format("G21 G91 G38.2 {}{:.3f} F{:.0f}", axis, on * touch.seek, touch.fast),
            fmt::format("G0 {}{:.3f}", axis, -on * touch.back),
            fmt::format("G38.2 {}{:.3f} F{:.0f}", axis, on * 2 * touch.back, touch.slow),
            fmt::format("G90 G92 {}{:.4f}", axis, rests), fmt::format("G0 {}{:.3f}", axis, rests - on * touch.back)};
}

std::vector<std::string> blocksForZero(toolpath::Vec3 zero, toolpath::Vec3 at) {
    return {"G21 G90", fmt::format("G92 X{:.4f} Y{:.4f} Z{:.4f}", at.x - zero.x, at.y - zero.y, at.z - zero.z)};
}

namespace {
using Zeros = std::map<std::string, toolpath::Vec3, std::less<>>;

/// "12.5 40 -38 mill-600" in each line; what cannot be read is passed over, as if it had not been kept.
Zeros zerosIn(Disk& disk, const std::filesystem::path& file) {
    Zeros zeros;
    const auto text = disk.read(file, 1 << 16);
    if (!text) return zeros;
    std::istringstream lines(*text);
    lines.imbue(std::locale::classic());
    for (std::string line; std::getline(lines, line);) {
        std::istringstream words(line);
        words.imbue(std::locale::classic());
        toolpath::Vec3 zero;
        std::string machine;
        if (words >> zero.x >> zero.y >> zero.z >> machine && isFinite(zero.flat()) && std::isfinite(zero.z))
            zeros[machine] = zero;
    }
    return zeros;
}
} // namespace

std::optional<toolpath::Vec3> lastZero(Disk& disk, const std::filesystem::path& file, std::string_view machine) {
    const auto zeros = zerosIn(disk, file);
    const auto at = zeros.find(machine);
    return at == zeros.end() ? std::nullopt : std::optional(at->second);
}

Result<void> keepZero(Disk& disk, const std::filesystem::path& file, std::string_view machine, toolpath::Vec3 zero) {
    auto zeros = zerosIn(disk, file);
    zeros[std::string(machine)] = zero;
    std::string text;
    for (const auto& [key, at] : zeros) text += fmt::format("{:.4f} {:.4f} {:.4f} {}\n", at.x, at.y, at.z, key);
    std::error_code none;
    std::filesystem::create_directories(file.parent_path(), none);
    return writeAtomically(disk, file, text);
}

std::filesystem::path lastZeroFile() { return userDataFolder() / "last-zero"; }

} // namespace ferro::link

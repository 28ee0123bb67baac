#include "link/protocol.h"

#include <algorithm>
#include <array>
#include <charconv>

namespace ferro::link {

std::uint16_t checkOf(std::string_view text) {
    // CRC-16/CCITT-FALSE, bit by bit: lines are short.
    std::uint16_t crc = 0xFFFF;
    for (const char c : text) {
        crc = static_cast<std::uint16_t>(crc ^ static_cast<std::uint16_t>(static_cast<unsigned char>(c) << 8));
        for (int bit = 0; bit < 8; ++bit) crc = static_cast<std::uint16_t>(crc & 0x8000 ? crc << 1 ^ 0x1021 : crc << 1);
    }
    return crc;
}

std::string checked(std::string_view text) {
    std::string line(text);
    line += ' ';
    return line + fmt::format("(k={:04x})\n", checkOf(line));
}

std::optional<std::string_view> unchecked(std::string_view line) {
    while (line.ends_with('\r') || line.ends_with('\n')) line.remove_suffix(1);
    const auto at = line.rfind("(k=");
    if (at == std::string_view::npos || !line.ends_with(')')) return std::nullopt;
    unsigned check = 0;
    const auto hex = line.substr(at + 3, line.size() - at - 4);
    const auto [stop, error] = std::from_chars(hex.data(), hex.data() + hex.size(), check, 16);
    line = line.substr(0, at);
    if (error != std::errc{} || stop != hex.data() + hex.size() || check != checkOf(line)) return std::nullopt;
    if (line.ends_with(' ')) line.remove_suffix(1);
    return line;
}

namespace {
constexpr std::array<std::string_view, stateCount> states = {"resting",  "moving",  "waiting", "pausing",
                                                             "changing", "tripped", "reset"};
}
std::string_view stateName(MachineState state) { return states[static_cast<std::size_t>(state)]; }

} // namespace ferro::link

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

std::string framed(long number, std::string_view block) { return checked(fmt::format("N{} {}", number, block)); }
std::string framedLoose(long number, std::string_view block) { return checked(fmt::format("L{} {}", number, block)); }

std::optional<Unframed> unframed(std::string_view line) {
    const auto sound = unchecked(line);
    while (line.ends_with('\r') || line.ends_with('\n')) line.remove_suffix(1);
    if (!sound && line.find("(k") != std::string_view::npos) return std::nullopt; // a check was meant
    if (sound) line = *sound;
    Unframed out;
    if (line.starts_with('N') || line.starts_with('L')) {
        long& number = line.front() == 'N' ? out.number : out.loose;
        const auto [stop, error] = std::from_chars(line.data() + 1, line.data() + line.size(), number);
        if (error != std::errc{} || number < 0) return std::nullopt;
        if (!sound) return std::nullopt;
        line.remove_prefix(static_cast<std::size_t>(stop - line.data()));
    }
    while (line.starts_with(' ')) line.remove_prefix(1);
    while (line.ends_with(' ')) line.remove_suffix(1);
    out.block = line;
    return out;
}

namespace {
constexpr std::array<std::string_view, 7> states = {"resting",  "moving",  "waiting", "pausing",
                                                    "changing", "tripped", "reset"};
}
std::string_view stateName(MachineState state) { return states[static_cast<std::size_t>(state)]; }

std::string toText(const Status& s) {
    return fmt::format("status state={} x={:.4f} y={:.4f} z={:.4f} mx={:.4f} my={:.4f} mz={:.4f} line={} done={} "
                       "queue={} room={} clock={:.3f}",
                       stateName(s.state), s.at.x, s.at.y, s.at.z, s.machine.x, s.machine.y, s.machine.z, s.accepted,
                       s.done, s.queue, s.room, s.clock);
}

std::optional<Status> statusFrom(std::string_view line) {
    if (!line.starts_with("status ")) return std::nullopt;
    Status status;
    const std::array<std::pair<std::string_view, double*>, 7> reals = {{{"x", &status.at.x},
                                                                        {"y", &status.at.y},
                                                                        {"z", &status.at.z},
                                                                        {"mx", &status.machine.x},
                                                                        {"my", &status.machine.y},
                                                                        {"mz", &status.machine.z},
                                                                        {"clock", &status.clock}}};
    const std::array<std::pair<std::string_view, long*>, 4> wholes = {
        {{"line", &status.accepted}, {"done", &status.done}, {"queue", &status.queue}, {"room", &status.room}}};
    int known = 0; // of the four without which it is no status
    line.remove_prefix(7);
    while (!line.empty()) {
        const auto end = std::min(line.find(' '), line.size());
        const auto word = line.substr(0, end);
        line.remove_prefix(std::min(end + 1, line.size()));
        const auto equals = word.find('=');
        if (equals == std::string_view::npos) return std::nullopt;
        const auto name = word.substr(0, equals), value = word.substr(equals + 1);
        const auto named = [&](const auto& entry) { return entry.first == name; };
        const auto number = [&](auto& into) {
            const auto [stop, error] = std::from_chars(value.data(), value.data() + value.size(), into);
            return error == std::errc{} && stop == value.data() + value.size();
        };
        bool fine = false;
        if (name == "state") {
            for (std::size_t i = 0; i < states.size(); ++i)
                if (states[i] == value) status.state = static_cast<MachineState>(i), fine = true;
        } else if (const auto real = std::find_if(reals.begin(), reals.end(), named); real != reals.end()) {
            fine = number(*real->second);
        } else if (const auto whole = std::find_if(wholes.begin(), wholes.end(), named); whole != wholes.end()) {
            fine = number(*whole->second);
        }
        known += fine && (name == "state" || name == "line" || name == "done" || name == "clock");
        if (!fine) return std::nullopt; // garbled: better no status than a wrong one
    }
    return known == 4 ? std::optional(status) : std::nullopt;
}

} // namespace ferro::link

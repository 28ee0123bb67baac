#pragma once

#include "toolpath/moves.h"

#include <optional>
#include <string>
#include <string_view>

namespace ferro::link {

/// CRC-16/CCITT-FALSE.
[[nodiscard]] std::uint16_t checkOf(std::string_view text);
/// The text with its check, that looks like a remark to machines that do not know it, and a line end.
[[nodiscard]] std::string checked(std::string_view text);
/// The text of a line without its check; none when the check is missing or wrong.
[[nodiscard]] std::optional<std::string_view> unchecked(std::string_view line);
enum class MachineState { resting, moving, waiting, pausing, changing, tripped, reset };
inline constexpr int stateCount = 7;
[[nodiscard]] std::string_view stateName(MachineState state);

struct Status {
    MachineState state = MachineState::resting;
    toolpath::Vec3 at;      ///< program coordinates, mm
    toolpath::Vec3 machine; ///< machine coordinates, mm
    long accepted = 0;      ///< last line taken in
    long done = 0;          ///< last line carried out
    long queue = 0;         ///< motions waiting
    long room = 0;          ///< motions that can still be taken in
    double clock = 0;       ///< s of moving since the stream began
};
} // namespace ferro::link

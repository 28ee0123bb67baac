#pragma once

#include "toolpath/moves.h"

#include <optional>
#include <string>
#include <string_view>

namespace ferro::link {

/// The line protocol between us and a machine (docs/link.md). Every line of ours and every answer ends in a check, a
/// CRC-16/CCITT of all before it that looks like a remark to machines that do not know it. A program's blocks go as
/// "N<number> <block>", others, such as a jog, as "L<number> <block>". Answers are "ok <number>" or "error <number>
/// <reason>", with an L before the number where the block had one; the reason "busy" only means: send it again when
/// there is room. Four single bytes act at once, queue or no queue.
inline constexpr char askStatus = 0x05; ///< ENQ
inline constexpr char doHold = 0x03;    ///< ETX
inline constexpr char doResume = 0x02;  ///< STX
inline constexpr char doReset = 0x04;   ///< EOT

[[nodiscard]] std::uint16_t checkOf(std::string_view text);
/// The text with its check and a line end.
[[nodiscard]] std::string checked(std::string_view text);
/// The text of a line without its check; none when the check is missing or wrong.
[[nodiscard]] std::optional<std::string_view> unchecked(std::string_view line);
[[nodiscard]] std::string framed(long number, std::string_view block);
[[nodiscard]] std::string framedLoose(long number, std::string_view block);
/// Takes frame and check off. Only a block without a number, as a person types it, may do without a check.
struct Unframed {
    long number = -1; ///< of a program's block
    long loose = -1;  ///< of another
    std::string block;
};
[[nodiscard]] std::optional<Unframed> unframed(std::string_view line);

enum class MachineState { resting, moving, waiting, pausing, changing, tripped, reset };
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
[[nodiscard]] std::string toText(const Status& status);
/// From a line whose check has been taken off.
[[nodiscard]] std::optional<Status> statusFrom(std::string_view line);

} // namespace ferro::link

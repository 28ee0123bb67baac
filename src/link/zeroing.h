#pragma once

#include "base/disk.h"
#include "toolpath/moves.h"

namespace ferro::link {

/// Blocks that find the height of the zero by a touch-off plate lying on it, the tool standing over the plate: down at
/// `fast` until it is met, up a little, down again at `slow` (the axis runs on a little as it stops, the less the
/// slower), that place is told to be the plate's thickness above the zero, and up again.
struct TouchOff {
    double plate = 10;            ///< mm thick, above 0
    double seek = 40;             ///< mm down at most; nothing met by then trips the machine
    double fast = 150, slow = 20; ///< mm/min
    double back = 2;              ///< mm up between the two
};
[[nodiscard]] std::vector<std::string> blocksFor(const TouchOff& touch);

/// Blocks that make a place in machine coordinates the zero again; `at`: where the machine stands, at rest, homed.
[[nodiscard]] std::vector<std::string> blocksForZero(toolpath::Vec3 zero, toolpath::Vec3 at);

/// The zero that a machine last ran with, in machine coordinates, kept for each machine in one file of lines.
[[nodiscard]] std::optional<toolpath::Vec3> lastZero(Disk& disk, const std::filesystem::path& file,
                                                     std::string_view machine);
[[nodiscard]] Result<void> keepZero(Disk& disk, const std::filesystem::path& file, std::string_view machine,
                                    toolpath::Vec3 zero);
/// Where that file lies.
[[nodiscard]] std::filesystem::path lastZeroFile();

} // namespace ferro::link

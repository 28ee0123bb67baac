#pragma once

#include "base/disk.h"
#include "job/job.h"
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

/// Which edge of the sheet is touched, from beside it.
enum class Edge : std::uint8_t { left, right, lower, upper };
inline constexpr std::array<std::string_view, 4> edgeWords = {"left", "right", "lower", "upper"};

/// Blocks that find X or Y of the zero by an edge of the sheet. What is in the spindle, a pin of a known diameter,
/// stands beside it, lower than its top: sideways at `fast` until it is met, back a little, once more at `slow`, and
/// away from it again.
struct EdgeTouch {
    Edge edge = Edge::left;
    double place = 0;             ///< mm, of that edge from the zero, in X or Y
    double pin = 6;               ///< mm, its diameter
    double seek = 20;             ///< mm at most; nothing met by then trips the machine
    double fast = 150, slow = 20; ///< mm/min
    double back = 2;              ///< mm away between the two
    [[nodiscard]] bool inX() const { return edge == Edge::left || edge == Edge::right; }
};
/// An edge of the job's sheet. A problem where it is no rectangle, for an edge is then met anywhere.
[[nodiscard]] Result<EdgeTouch> edgeTouch(const job::Job& job, Edge edge, double pin);
[[nodiscard]] std::vector<std::string> blocksFor(const EdgeTouch& touch);

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

#pragma once

#include "artwork/edits.h"

namespace ferro::artwork {

/// How pieces are repeated; all they become are copies that follow them.
struct Repeat {
    enum class Way : std::uint8_t { grid, ring, line } way = Way::grid;
    // A grid: the pieces are its lower left; 0 columns or rows: as many as go into the area.
    int columns = 3, rows = 2;
    Vec2 gap{5, 5};         ///< mm between the bounds of neighbours; below 0 they overlap
    bool staggered = false; ///< every second row half a step to the right, as bricks lie
    // A ring: the pieces are its first.
    int count = 6; ///< with the pieces themselves; along a line the copies alone
    Vec2 centre{};
    double span = 2 * pi; ///< rad counter-clockwise, from the first to the last; a whole turn: to the first again
    bool turns = true;    ///< ring and line: copies turn with their way, else they stay upright
    // Along a line: the middles of their bounds lie on it, evenly from end to end.
    double pitch = 0; ///< mm along the line from one to the next; 0: `count` of them
};
inline constexpr std::array<std::string_view, 3> repeatWords = {"grid", "ring", "line"};

/// Where the copies of pieces with these bounds go, as maps from where the pieces lie. `area`: of the sheet. `line`: on
/// the sheet, for `Way::line`. At least one, or a problem.
[[nodiscard]] Result<std::vector<Transform>> placesOf(const Repeat& repeat, const Box& bounds, const Box& area,
                                                      const Path* line);

/// `line`: the item whose outline they go along; it is not repeated itself.
[[nodiscard]] Result<Added> withRepeated(const Artwork& artwork, const Ids& items, const Repeat& repeat,
                                         const Box& area, std::optional<ItemId> line = {});

} // namespace ferro::artwork

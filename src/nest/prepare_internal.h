#pragma once

#include "nest/board_internal.h"
#include "nest/nest.h"

namespace ferro::nest {

/// The world that the work is done in: parts gather at 0,0 and along x, whatever corner and side were asked for.
class World {
public:
    explicit World(const Settings& settings);
    [[nodiscard]] const Transform& turn() const { return turn_; }
    /// Its x is the sheet's y.
    [[nodiscard]] bool isTransposed() const { return turn_.a == 0; }

private:
    Transform turn_;
};

/// A sheet in that world: how big its usable part is, what stands there, and the way back.
struct Ground {
    Board empty;
    Transform back;   ///< of the board to the sheet
    double area = 0;  ///< mm², usable
    double whole = 0; ///< mm², of the sheet
};
[[nodiscard]] Result<Ground> groundOf(const Sheet& sheet, const Settings& settings, const World& world);

/// A part as a body, or why it is none.
[[nodiscard]] Result<Body> bodyOf(const Part& part, const Settings& settings, const World& world);
/// Where an item's own coordinates go on its sheet.
[[nodiscard]] Transform placeOf(const Item& item, const Ground& ground, const World& world);

} // namespace ferro::nest

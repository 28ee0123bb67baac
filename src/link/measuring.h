#pragma once

#include "job/job.h"

#include <string>
#include <vector>

namespace ferro::link {

/// Where and how the top of a blank is to be felt: over an area of the sheet in rows and columns, each place twice, the
/// second time slowly. The zero has been set before.
struct FeelGrid {
    Box area = {};                ///< on the sheet
    int columns = 4, rows = 3;    ///< 2 to 100 each
    double above = 5;             ///< mm above the blank's top at the zero, between places
    double seek = 8;              ///< mm below it at most; nothing met by then trips the machine
    double fast = 150, slow = 20; ///< mm/min
    double back = 1;              ///< mm up between the two
    double plate = 0;             ///< mm thick, of what is laid on each place to be met; 0: the blank itself is met

    [[nodiscard]] Vec2 at(int column, int row) const;
};
[[nodiscard]] Result<void> checked(const FeelGrid& grid);
/// The same over the job's sheet, so far within its edges, going from place to place over the clamps. A place beside
/// the blank or on a clamp, where the probe would come down on something else, is a problem that names it.
[[nodiscard]] Result<FeelGrid> placedOn(const job::Job& job, FeelGrid grid, double margin);

/// Feels place after place: blocks go out, and where the tool rests when they are done comes back.
class Feeling {
public:
    /// `zero`: of the program, on the sheet; `zeroZ`: its height above the blank's top.
    Feeling(const FeelGrid& grid, Vec2 zero, double zeroZ) : grid_(grid), zero_(zero), zeroZ_(zeroZ) {}

    [[nodiscard]] std::size_t count() const { return static_cast<std::size_t>(grid_.columns * grid_.rows); }
    [[nodiscard]] std::size_t done() const { return heights_.size(); }
    [[nodiscard]] bool finished() const { return done() == count(); }
    /// To the next place and down until it is met; when all are done, up.
    [[nodiscard]] std::vector<std::string> blocks() const;
    /// The tool rests on the place, at this height in program coordinates.
    void met(double z) { heights_.push_back(z + zeroZ_ - grid_.plate); }
    [[nodiscard]] job::Lie lie() const; ///< when it is finished

private:
    /// Along one row and back along the next.
    [[nodiscard]] std::pair<int, int> placeOf(std::size_t k) const;

    FeelGrid grid_;
    Vec2 zero_;
    double zeroZ_;
    std::vector<double> heights_; ///< in the order of feeling
};

} // namespace ferro::link

#include "link/measuring.h"

#include "base/quantity.h"

namespace ferro::link {

Result<void> checked(const FeelGrid& grid) {
    const auto no = [](std::string what, std::string mend) {
        return Problem{.what = std::move(what), .where = {}, .mend = std::move(mend)};
    };
    if (grid.columns < 2 || grid.rows < 2 || grid.columns > 100 || grid.rows > 100)
        return no("A blank is felt in 2 to 100 columns and rows.", "Give as many as 4x3.");
    if (!(grid.area.width() >= 1 && grid.area.height() >= 1))
        return no("There is no area to feel.", "Leave less of a margin.");
    if (!(grid.above > 0 && grid.seek > 0 && grid.plate >= 0))
        return no("It has to come down from above the blank.", "Give heights above 0.");
    return {};
}

std::pair<int, int> Feeling::placeOf(std::size_t k) const {
    const int row = static_cast<int>(k) / grid_.columns, along = static_cast<int>(k) % grid_.columns;
    return {row % 2 ? grid_.columns - 1 - along : along, row};
}

Vec2 Feeling::at(int column, int row) const {
    return {grid_.area.low.x + grid_.area.width() * column / (grid_.columns - 1),
            grid_.area.low.y + grid_.area.height() * row / (grid_.rows - 1)};
}

std::vector<std::string> Feeling::blocks() const {
    const double top = grid_.plate - zeroZ_, above = top + grid_.above;
    std::vector<std::string> out{fmt::format("G21 G90 G0 Z{:.3f}", above)};
    if (finished()) return out;
    const auto [column, row] = placeOf(done());
    const Vec2 p = at(column, row) - zero_;
    out.push_back(fmt::format("G0 X{:.3f} Y{:.3f}", p.x, p.y));
    out.push_back(fmt::format("G38.2 Z{:.3f} F{:.0f}", top - grid_.seek, grid_.fast));
    out.push_back(fmt::format("G91 G0 Z{:.3f}", grid_.back));
    out.push_back(fmt::format("G38.2 Z{:.3f} F{:.0f}", -2 * grid_.back, grid_.slow));
    out.emplace_back("G90");
    return out;
}

job::Lie Feeling::lie() const {
    job::Lie lie;
    for (int c = 0; c < grid_.columns; ++c) lie.xs.push_back(at(c, 0).x);
    for (int r = 0; r < grid_.rows; ++r) lie.ys.push_back(at(0, r).y);
    lie.heights.resize(count());
    for (std::size_t k = 0; k < heights_.size(); ++k) {
        const auto [column, row] = placeOf(k);
        lie.heights[static_cast<std::size_t>(row * grid_.columns + column)] = heights_[k];
    }
    return lie;
}

} // namespace ferro::link

#include "link/measuring.h"

#include "base/quantity.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"

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

Vec2 FeelGrid::at(int column, int row) const {
    return {area.low.x + area.width() * column / (columns - 1), area.low.y + area.height() * row / (rows - 1)};
}

Result<FeelGrid> placedOn(const job::Job& job, FeelGrid grid, double margin) {
    const auto& stock = job.sheet().stock;
    grid.area = job::sheetOf(stock).grown(-margin);
    grid.above = std::max(grid.above, job::travelHeight(job));
    if (auto fine = checked(grid); !fine) return fine.problem();
    const Piece blank = job::blankOf(stock);
    Rings rings{flattened(blank.outline, 0.05)};
    for (const auto& opening : blank.openings) rings.push_back(flattened(opening, 0.05));
    constexpr double probe = 6; // mm, as wide as what comes down may be
    for (int row = 0; row < grid.rows; ++row)
        for (int column = 0; column < grid.columns; ++column) {
            const Vec2 p = grid.at(column, row);
            const auto no = [&](std::string_view where) {
                return Problem{
                    .what = fmt::format("The place at x {}, y {} of the sheet lies {}.", mm(p.x), mm(p.y), where),
                    .where = {},
                    .mend = "Use another number of places, or another margin."};
            };
            if (!contains(rings, p)) return no("beside the blank");
            for (const auto& clamp : job.sheet().clamps)
                if (clamp.area.grown(probe).contains(p)) return no("on a clamp");
        }
    return grid;
}

std::pair<int, int> Feeling::placeOf(std::size_t k) const {
    const int row = static_cast<int>(k) / grid_.columns, along = static_cast<int>(k) % grid_.columns;
    return {row % 2 ? grid_.columns - 1 - along : along, row};
}

std::vector<std::string> Feeling::blocks() const {
    const double top = grid_.plate - zeroZ_, above = top + grid_.above;
    std::vector<std::string> out{fmt::format("G21 G90 G0 Z{:.3f}", above)};
    if (finished()) return out;
    const auto [column, row] = placeOf(done());
    const Vec2 p = grid_.at(column, row) - zero_;
    out.push_back(fmt::format("G0 X{:.3f} Y{:.3f}", p.x, p.y));
    out.push_back(fmt::format("G38.2 Z{:.3f} F{:.0f}", top - grid_.seek, grid_.fast));
    out.push_back(fmt::format("G91 G0 Z{:.3f}", grid_.back));
    out.push_back(fmt::format("G38.2 Z{:.3f} F{:.0f}", -2 * grid_.back, grid_.slow));
    out.emplace_back("G90");
    return out;
}

job::Lie Feeling::lie() const {
    job::Lie lie;
    for (int c = 0; c < grid_.columns; ++c) lie.xs.push_back(grid_.at(c, 0).x);
    for (int r = 0; r < grid_.rows; ++r) lie.ys.push_back(grid_.at(0, r).y);
    lie.heights.resize(count());
    for (std::size_t k = 0; k < heights_.size(); ++k) {
        const auto [column, row] = placeOf(k);
        lie.heights[static_cast<std::size_t>(row * grid_.columns + column)] = heights_[k];
    }
    return lie;
}

} // namespace ferro::link

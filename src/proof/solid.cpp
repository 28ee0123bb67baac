// A height grid as a solid: what hangs together, and where little light gets to.
#include "base/parallel.h"
#include "proof/round.h"

namespace ferro::proof {

namespace {

constexpr float skin = 1e-3f; // mm: thinner is nothing

/// The mean over 2 radius + 1 values along lines, each `count` long, `stride` apart; at the ends the last value goes
/// on.
void blur(const std::vector<float>& from, std::vector<float>& to, std::size_t lines, std::size_t lineStride,
          std::size_t count, std::size_t stride, int radius) {
    parallelSlices(lines, 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t line = begin; line < end; ++line) {
            const float* in = from.data() + line * lineStride;
            float* out = to.data() + line * lineStride;
            const auto at = [&](std::ptrdiff_t i) {
                return static_cast<double>(in[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(
                                                  i, 0, static_cast<std::ptrdiff_t>(count) - 1)) *
                                              stride]);
            };
            double sum = 0;
            for (int i = -radius; i <= radius; ++i) sum += at(i);
            const double share = 1.0 / (2 * radius + 1);
            for (std::size_t i = 0; i < count; ++i) {
                out[i * stride] = static_cast<float>(sum * share);
                const auto k = static_cast<std::ptrdiff_t>(i);
                sum += at(k + radius + 1) - at(k - radius);
            }
        }
    });
}

/// Normals from the cells around, a wall's from farther round, or it would show the cells' stairs; shade by how far a
/// cell lies below the mean of what is within `reach` mm.
std::vector<Solid::Cell> cellsOf(const Solid& solid, double reach) {
    const auto& grid = solid.grid;
    const int radius = std::clamp(static_cast<int>(std::lround(reach / grid.cell)), 1, 200);
    const auto columns = static_cast<std::size_t>(grid.columns), rows = static_cast<std::size_t>(grid.rows);
    std::vector<float> across(grid.heights.size()), mean(grid.heights.size());
    blur(grid.heights, across, rows, columns, columns, 1, radius);
    blur(across, mean, columns, 1, rows, columns, radius);
    std::vector<Solid::Cell> cells(solid.rowAt((grid.rows + 15) / 16 * 16));
    const double full = 1.6 * reach;
    constexpr double steep = 1.5;
    parallelSlices(rows, 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t row = begin; row < end; ++row)
            for (std::size_t column = 0; column < columns; ++column) {
                const int r = static_cast<int>(row), c = static_cast<int>(column);
                const auto height = [&](int dc, int dr) {
                    return static_cast<double>(
                        grid.heights[static_cast<std::size_t>(std::clamp(r + dr, 0, grid.rows - 1)) * columns +
                                     static_cast<std::size_t>(std::clamp(c + dc, 0, grid.columns - 1))]);
                };
                const auto slope = [&](int n) { // from eight cells, those along the axes for twice
                    const double ne = height(n, n), nw = height(-n, n), se = height(n, -n), sw = height(-n, -n);
                    return Vec2{2 * (height(n, 0) - height(-n, 0)) + ne + se - nw - sw,
                                2 * (height(0, n) - height(0, -n)) + ne + nw - se - sw} /
                           (8 * n * grid.cell);
                };
                Vec2 rise = slope(1);
                if (dot(rise, rise) > steep * steep) rise = slope(3);
                const double norm = 127 / std::sqrt(dot(rise, rise) + 1);
                const double below = static_cast<double>(mean[row * columns + column]) - height(0, 0);
                cells[solid.rowAt(r) + solid.columnAt(c)] = {
                    static_cast<float>(height(0, 0)), static_cast<std::int8_t>(std::lround(-rise.x * norm)),
                    static_cast<std::int8_t>(std::lround(-rise.y * norm)),
                    static_cast<std::uint8_t>(255 * std::clamp(below / full, 0.0, 1.0)),
                    static_cast<std::int8_t>(std::lround(2000 * grainAt(grid.middle(c, r))))};
            }
    });
    return cells;
}

/// Cells that hang together by their sides, numbered from 1 in the order of their first; 0 where nothing is left.
struct Bodies {
    std::vector<std::uint32_t> of;
    std::vector<std::size_t> sizes{0};
};
Bodies bodiesOf(const HeightGrid& grid, float under, Progress& progress) {
    Bodies out{std::vector<std::uint32_t>(grid.heights.size(), 0)};
    const auto columns = static_cast<std::size_t>(grid.columns);
    std::vector<std::size_t> open;
    for (std::size_t first = 0; first < out.of.size(); ++first) {
        if (out.of[first] || grid.heights[first] <= under) continue;
        if (progress.cancelled()) return out;
        const auto number = static_cast<std::uint32_t>(out.sizes.size());
        out.sizes.push_back(0);
        out.of[first] = number;
        open.push_back(first);
        const auto reach = [&](std::size_t i) {
            if (out.of[i] || grid.heights[i] <= under) return;
            out.of[i] = number;
            open.push_back(i);
        };
        while (!open.empty()) {
            const std::size_t at = open.back(), column = at % columns;
            open.pop_back();
            ++out.sizes.back();
            if (column > 0) reach(at - 1);
            if (column + 1 < columns) reach(at + 1);
            if (at >= columns) reach(at - columns);
            if (at + columns < out.of.size()) reach(at + columns);
        }
    }
    return out;
}

} // namespace

bool Solid::isLoose(Vec2 p) const {
    if (lifted.empty() || !grid.area.contains(p)) return false;
    const int c = std::clamp(static_cast<int>((p.x - grid.area.low.x) / grid.cell), 0, grid.columns - 1);
    const int r = std::clamp(static_cast<int>((p.y - grid.area.low.y) / grid.cell), 0, grid.rows - 1);
    return lifted[rowAt(r) + columnAt(c)].z > static_cast<float>(-thickness);
}

Result<Solid> solidOf(HeightGrid grid, double thickness, Progress& progress, const Solid* whole) {
    Solid out;
    const auto under = static_cast<float>(-thickness);
    for (float& z : grid.heights) z = std::max(z, under);
    const auto bodies = bodiesOf(grid, under + skin, progress);
    if (progress.cancelled()) return Problem::cancelled();
    std::vector<bool> isLoose(bodies.sizes.size(), false);
    if (whole) { // by most of its cells: near its edge the two grids see it a little differently
        std::vector<std::size_t> votes(bodies.sizes.size(), 0);
        for (int r = 0; r < grid.rows; ++r)
            for (int c = 0; c < grid.columns; ++c)
                votes[bodies.of[static_cast<std::size_t>(r) * static_cast<std::size_t>(grid.columns) +
                                static_cast<std::size_t>(c)]] += whole->isLoose(grid.middle(c, r));
        for (std::size_t i = 1; i < votes.size(); ++i) isLoose[i] = 2 * votes[i] > bodies.sizes[i];
    } else if (bodies.sizes.size() > 2) {
        isLoose.assign(bodies.sizes.size(), true);
        isLoose[0] = false;
        isLoose[static_cast<std::size_t>(std::max_element(bodies.sizes.begin(), bodies.sizes.end()) -
                                         bodies.sizes.begin())] = false;
    }
    out.grid = std::move(grid);
    out.thickness = thickness;
    out.stays = cellsOf(out, std::max(1.5, 0.6 * thickness));
    if (std::find(isLoose.begin(), isLoose.end(), true) == isLoose.end()) return out;
    out.lifted = out.stays;
    for (int r = 0; r < out.grid.rows; ++r)
        for (int c = 0; c < out.grid.columns; ++c) {
            const std::size_t i = out.rowAt(r) + out.columnAt(c);
            const bool free =
                isLoose[bodies.of[static_cast<std::size_t>(r) * static_cast<std::size_t>(out.grid.columns) +
                                  static_cast<std::size_t>(c)]];
            (free ? out.stays : out.lifted)[i].z = under;
            if (free) out.looseArea.take(out.grid.middle(c, r));
        }
    out.looseArea = out.looseArea.grown(out.grid.cell);
    return out;
}

Strokes shownOn(const HeightGrid& grid, Strokes strokes) {
    for (auto& tool : strokes.tools) {
        if (tool.process() != shop::Process::rotary) tool.diameter = std::max(tool.diameter, 1.5 * grid.cell);
        if (tool.kind == shop::ToolKind::vBit || tool.kind == shop::ToolKind::engraver ||
            tool.kind == shop::ToolKind::bevel) {
            tool.tip = std::max(tool.tip, 1.2 * grid.cell);
            tool.diameter = std::max(tool.diameter, tool.tip);
        }
    }
    return strokes;
}

} // namespace ferro::proof

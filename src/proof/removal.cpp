#include "proof/burn.h"
#include "toolpath/blade.h"

#include "base/parallel.h"
#include "geometry/flatten.h"

namespace ferro::proof {

HeightGrid HeightGrid::over(const Box& area, double cell) {
    HeightGrid grid{.area = area,
                    .cell = cell,
                    .columns = std::max(1, static_cast<int>(std::ceil(area.width() / cell - 1e-9))),
                    .rows = std::max(1, static_cast<int>(std::ceil(area.height() / cell - 1e-9))),
                    .heights = {}};
    grid.heights.assign(static_cast<std::size_t>(grid.columns) * static_cast<std::size_t>(grid.rows), 0.0f);
    return grid;
}

HeightGrid HeightGrid::sized(const Box& area, std::size_t cells) {
    return over(area, std::max(0.02, std::sqrt(area.width() * area.height() / static_cast<double>(cells))));
}

HeightGrid HeightGrid::of(const job::Stock& stock, std::size_t cells) {
    auto grid = sized(job::sheetOf(stock), cells);
    if (!stock.outline) return grid;
    const float nothing = static_cast<float>(-stock.thickness) - 0.001F;
    Rings rings{flattened(stock.outline->outline, grid.cell / 4)};
    for (const auto& opening : stock.outline->openings) rings.push_back(flattened(opening, grid.cell / 4));
    std::vector<double> crossings;
    for (int row = 0; row < grid.rows; ++row) { // even-odd along the middle of each row
        const double y = grid.middle(0, row).y;
        crossings.clear();
        for (const auto& ring : rings)
            for (std::size_t i = 0; i < ring.size(); ++i) {
                const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
                if ((a.y <= y) != (b.y <= y)) crossings.push_back(a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y));
            }
        std::sort(crossings.begin(), crossings.end());
        std::size_t passed = 0;
        for (int column = 0; column < grid.columns; ++column) {
            const double x = grid.middle(column, row).x;
            while (passed < crossings.size() && crossings[passed] <= x) ++passed;
            if (passed % 2 == 0)
                grid.heights[static_cast<std::size_t>(row) * static_cast<std::size_t>(grid.columns) +
                             static_cast<std::size_t>(column)] = nothing;
        }
    }
    return grid;
}

float HeightGrid::at(Vec2 p) const {
    const int c = std::clamp(static_cast<int>((p.x - area.low.x) / cell), 0, columns - 1);
    const int r = std::clamp(static_cast<int>((p.y - area.low.y) / cell), 0, rows - 1);
    return heights[static_cast<std::size_t>(r) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(c)];
}

namespace {

/// Collects strokes; a level one that goes on where the last ended lengthens it as long as its chord serves.
class Collector {
public:
    Collector(Strokes& out, double tolerance) : out_(out), tolerance_(tolerance), cone_({}, tolerance) {}

    void add(const Stroke& next) {
        if (next.z >= 0) return;
        bool joined = false;
        if (!out_.list.empty()) {
            Stroke& last = out_.list.back();
            const bool goesOn = last.tool == next.tool && last.to == next.from;
            if (goesOn && last.z == next.z && cone_.narrow(next.to) && cone_.servesAll()) {
                last.to = next.to;
                last.ends = next.ends;
                return;
            }
            joined = goesOn && last.z <= next.z;
        }
        cone_ = ChordCone(next.from, tolerance_);
        cone_.narrow(next.to);
        out_.list.push_back(next);
        out_.list.back().joined = joined;
    }

private:
    Strokes& out_;
    double tolerance_;
    ChordCone cone_;
};

} // namespace

Strokes strokesOf(const toolpath::Toolpath& path, double thickness, double tolerance, const Timing* timing) {
    Strokes out;
    const Burn burn(path);
    Collector collect(out, tolerance * 0.6); // and the rest for the chords of arcs
    constexpr double level = 0.02;           // mm of height per bit of a ramp
    std::size_t stepIndex = static_cast<std::size_t>(-1);
    const toolpath::StepMoves* current = nullptr;
    toolpath::Caster caster(0);
    toolpath::forEachMove(path, [&](const toolpath::StepMoves& step, std::size_t i, toolpath::Vec3 from,
                                    const toolpath::Move& move) {
        if (&step != current) {
            current = &step;
            ++stepIndex;
            out.tools.push_back(step.tool);
            caster = toolpath::Caster(step.tool.trail, caster.heading());
        }
        const bool cuts = move.kind != toolpath::Move::Kind::rapid &&
                          (path.byBeam() ? move.power > 0 : std::min(from.z, move.to.z) < 0);
        if (!cuts || step.onBoard) return;
        Stroke stroke{.from = from.flat(), .to = {}, .tool = static_cast<std::uint32_t>(out.tools.size() - 1)};
        const double begin = timing ? (i == 0 ? timing->steps[stepIndex].begin + timing->steps[stepIndex].change
                                              : timing->steps[stepIndex].ends[i - 1])
                                    : 0;
        const double end = timing ? timing->steps[stepIndex].ends[i] : 0;
        const double climb = move.to.z - from.z;
        double power = move.power;
        const auto depth = [&](double z0, double z1) {
            return static_cast<float>(path.byBeam() ? -thickness * burn.share(stepIndex, i, power) : std::min(z0, z1));
        };
        const auto emit = [&](Vec2 to, double z0, double z1, double t0, double t1) {
            stroke.to = to;
            stroke.z = depth(z0, z1);
            stroke.begins = begin + (end - begin) * t0;
            stroke.ends = begin + (end - begin) * t1;
            collect.add(stroke);
            stroke.from = to;
        };
        if (step.tool.trail > 0) { // what is cut is where the tip is drawn, not the axis
            stroke.from = caster.tipAt(from.flat());
            double t = 0;
            caster.draw(from.flat(), move.flat(), [&](Vec2 tip, Vec2, double share) {
                emit(tip, from.z + climb * t, from.z + climb * share, t, share);
                t = share;
            });
            return;
        }
        if (move.kind == toolpath::Move::Kind::line && climb == 0) return emit(move.to.flat(), from.z, from.z, 0, 1);
        if (move.kind == toolpath::Move::Kind::scan) { // burnt where a run has power
            double t = 0;
            for (std::uint32_t k = 0; k < move.runs.count; ++k) {
                const auto& run = step.runs[move.runs.first + k];
                const double t1 = static_cast<double>(run.end);
                const Vec2 to = lerp(from.flat(), move.to.flat(), t1);
                power = run.power;
                if (run.power > 0)
                    emit(to, from.z, move.to.z, t, t1);
                else
                    stroke.from = to;
                t = t1;
            }
            return;
        }
        const double whole = lengthOf(from.flat(), move.flat());
        if (whole < 1e-9) return emit(move.to.flat(), from.z, move.to.z, 0, 1); // a plunge: only its lower end matters
        const int levels = path.byBeam() ? 1 : std::max(1, static_cast<int>(std::ceil(std::abs(climb) / level)));
        double done = 0;
        Vec2 at = from.flat();
        flattenSegment(from.flat(), move.flat(), tolerance * 0.4, [&](Vec2 to) {
            const double size = ferro::distance(at, to);
            const int bits = std::max(1, static_cast<int>(std::ceil(levels * size / whole)));
            for (int b = 0; b < bits; ++b) {
                const double t0 = (done + size * b / bits) / whole, t1 = (done + size * (b + 1) / bits) / whole;
                emit(b + 1 == bits ? to : lerp(at, to, (b + 1.0) / bits), from.z + climb * t0, from.z + climb * t1, t0,
                     t1);
            }
            done += size;
            at = to;
        });
    });
    return out;
}

namespace {

/// The tool's shape as a table, ready for the inner loop.
constexpr int tableSize = 16'384; // at most 0.001 mm off on the flank of a 12.7 mm V
struct Shape {
    bool flat = true;
    double radius = 0;
    std::vector<float> rise; // over the distance from the axis, evenly
    explicit Shape(const shop::Tool& tool) : radius(tool.radius()) {
        flat = tool.kind == shop::ToolKind::endMill || tool.process() != shop::Process::rotary;
        if (flat) return;
        rise.resize(tableSize + 1);
        for (std::size_t i = 0; i < rise.size(); ++i)
            rise[i] = static_cast<float>(tool.profile(std::min(radius, radius * static_cast<double>(i) / tableSize)));
    }
};

class Band {
public:
    Band(HeightGrid& grid, int first, int last) : grid_(grid), first_(first), last_(last) {}

    /// A flat tool sweeps a stadium: row by row from its leftmost to its rightmost middle of a cell. In cells, row and
    /// column 0 at 0.
    void level(const Stroke& s, double radius) {
        const double r = radius / grid_.cell;
        const Vec2 from = inCells(s.from), to = inCells(s.to), d = to - from;
        const int low = std::max(first_, static_cast<int>(std::ceil(std::min(from.y, to.y) - r)));
        const int high = std::min(last_ - 1, static_cast<int>(std::floor(std::max(from.y, to.y) + r)));
        if (low > high) return;
        const double size = length(d), r2 = r * r;
        const Vec2 n = size > 0 ? perpendicular(d) * (r / size) : Vec2{};
        // The two straight sides; where they lie level the discs reach as far.
        const bool sides = std::abs(d.y) > 1e-9;
        const double slope = sides ? d.x / d.y : 0;
        const double bottom = std::min(from.y, to.y), top = std::max(from.y, to.y);
        for (int row = low; row <= high; ++row) {
            const double y = row;
            const double a2 = r2 - (y - from.y) * (y - from.y), b2 = r2 - (y - to.y) * (y - to.y);
            const double a = a2 >= 0 ? std::sqrt(a2) : -1e300, b = b2 >= 0 ? std::sqrt(b2) : -1e300;
            double left = std::min(from.x - a, to.x - b), right = std::max(from.x + a, to.x + b);
            if (sides)
                for (const Vec2 side : {n, -n}) {
                    const double along = y - side.y; // where on the middle line this row's point of the side belongs
                    if (along < bottom || along > top) continue;
                    const double x = from.x + side.x + (along - from.y) * slope;
                    left = std::min(left, x), right = std::max(right, x);
                }
            if (s.joined && a2 >= 0) { // the disc at the start was swept by the stroke before
                fill(row, left, from.x - a, s.z);
                fill(row, from.x + a, right, s.z);
            } else {
                fill(row, left, right, s.z);
            }
        }
    }

    void shaped(const Stroke& s, const Shape& shape, double reach) {
        const Vec2 d = s.to - s.from;
        const double size2 = dot(d, d);
        const auto [low, high] = rowsOf(std::min(s.from.y, s.to.y) - reach, std::max(s.from.y, s.to.y) + reach);
        const int left = columnFrom(std::min(s.from.x, s.to.x) - reach),
                  right = columnFrom(std::max(s.from.x, s.to.x) + reach);
        const double scale = tableSize / shape.radius;
        for (int row = low; row < high; ++row) {
            float* cells =
                grid_.heights.data() + static_cast<std::size_t>(row) * static_cast<std::size_t>(grid_.columns);
            for (int c = left; c < right; ++c) {
                const Vec2 v = grid_.middle(c, row) - s.from;
                const double t = size2 > 0 ? std::clamp(dot(v, d) / size2, 0.0, 1.0) : 0;
                const Vec2 off = v - d * t;
                const double r2 = dot(off, off);
                if (r2 > reach * reach) continue;
                cells[c] = std::min(
                    cells[c],
                    s.z + shape.rise[static_cast<std::size_t>(std::min<double>(tableSize, std::sqrt(r2) * scale))]);
            }
            visited_ += static_cast<std::size_t>(std::max(0, right - left));
        }
    }
    [[nodiscard]] std::size_t visited() const { return visited_; }

private:
    /// First column whose middle is at or right of x.
    [[nodiscard]] int columnFrom(double x) const {
        return static_cast<int>(
            std::clamp(std::ceil((x - grid_.area.low.x) / grid_.cell - 0.5), 0.0, static_cast<double>(grid_.columns)));
    }
    [[nodiscard]] std::pair<int, int> rowsOf(double bottom, double top) const {
        const double low = std::ceil((bottom - grid_.area.low.y) / grid_.cell - 0.5),
                     high = std::floor((top - grid_.area.low.y) / grid_.cell - 0.5) + 1;
        return {static_cast<int>(std::clamp(low, static_cast<double>(first_), static_cast<double>(last_))),
                static_cast<int>(std::clamp(high, static_cast<double>(first_), static_cast<double>(last_)))};
    }
    [[nodiscard]] Vec2 inCells(Vec2 p) const {
        const Vec2 v = (p - grid_.area.low) / grid_.cell;
        return {v.x - 0.5, v.y - 0.5};
    }
    /// The cells whose middles lie in [left, right), in cells.
    void fill(int row, double left, double right, float z) {
        const auto up = [&](double x) { // ceil for what is clamped to 0 and above, without a call
            const double inside = std::min(std::max(x, 0.0), static_cast<double>(grid_.columns));
            const int whole = static_cast<int>(inside);
            return whole + static_cast<int>(whole < inside);
        };
        const int from = up(left), to = up(right);
        if (to <= from) return;
        float* cells = grid_.heights.data() + static_cast<std::size_t>(row) * static_cast<std::size_t>(grid_.columns);
        // Rows lie far apart in memory; what will be wanted some rows on is fetched early. A hint: any address will do.
        const float* ahead = cells + from + 8 * static_cast<std::ptrdiff_t>(grid_.columns);
        __builtin_prefetch(ahead, 1);
        __builtin_prefetch(ahead + 16, 1);
        for (int c = from; c < to; ++c) cells[c] = std::min(cells[c], z);
        visited_ += static_cast<std::size_t>(to - from);
    }

    HeightGrid& grid_;
    int first_, last_;
    std::size_t visited_ = 0;
};

} // namespace

Result<std::size_t> sweep(HeightGrid& grid, const Strokes& strokes, Progress& progress, double until) {
    std::vector<Shape> shapes;
    for (const auto& tool : strokes.tools) shapes.emplace_back(tool);
    constexpr std::size_t bands = 8;
    std::vector<std::size_t> visited(bands, 0);
    std::atomic<std::size_t> done = 0;
    parallelFor(bands, progress, [&](std::size_t i) {
        const int first = static_cast<int>(static_cast<std::size_t>(grid.rows) * i / bands),
                  last = static_cast<int>(static_cast<std::size_t>(grid.rows) * (i + 1) / bands);
        Band band(grid, first, last);
        std::size_t count = 0;
        for (Stroke stroke : strokes.list) {
            if (stroke.begins > until) break;
            if (stroke.ends > until) // the tool is in the middle of it
                stroke.to = lerp(stroke.from, stroke.to, (until - stroke.begins) / (stroke.ends - stroke.begins));
            if ((++count & 0xFFF) == 0 && progress.cancelled()) return;
            const Shape& shape = shapes[stroke.tool];
            if (shape.flat)
                band.level(stroke, shape.radius);
            else
                band.shaped(stroke, shape,
                            std::min(shape.radius, strokes.tools[stroke.tool].radiusAt(-static_cast<double>(stroke.z)) +
                                                       grid.cell / 2));
        }
        visited[i] = band.visited();
        progress.at(++done, bands);
    });
    if (progress.cancelled()) return Problem::cancelled();
    std::size_t sum = 0;
    for (const std::size_t v : visited) sum += v;
    return sum;
}

} // namespace ferro::proof

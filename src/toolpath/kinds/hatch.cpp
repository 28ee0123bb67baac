#include "plan/kinds/hatch.h"

#include "geometry/polygons.h"
#include "toolpath/regions_internal.h"
#include "toolpath/scan_rows_internal.h"
#include "toolpath/ways_internal.h"

namespace ferro::toolpath {

namespace {

/// A level line with where it is to be burnt, in coordinates turned so that all lines are level.
struct Row {
    double y = 0;
    std::vector<std::pair<double, double>> lit;
};

/// The lines lie on one lattice from the sheet's corner, so that areas side by side are shaded as one.
std::vector<Row> rowsOver(const Rings& area, double angle, double spacing) {
    Rings turned = area;
    const auto level = Transform::rotated(-angle, {});
    Box box;
    for (auto& ring : turned)
        for (auto& p : ring) p = level(p), box.take(p);
    std::vector<Row> rows;
    if (box.empty()) return rows;
    const auto first = static_cast<long>(std::ceil(box.low.y / spacing - 0.5)),
               last = static_cast<long>(std::floor(box.high.y / spacing - 0.5));
    for (long k = first; k <= last; ++k) {
        Row row{(static_cast<double>(k) + 0.5) * spacing, {}};
        for (const auto& [from, to] : insideAt(turned, row.y))
            if (to - from > 1e-4) row.lit.emplace_back(from, to);
        if (!row.lit.empty()) rows.push_back(std::move(row));
    }
    return rows;
}

/// A set of lines over an area, burnt row by row.
class Lines {
public:
    Lines(const plan::Hatch& hatch, const Rings& area, double angle, double runUp)
        : rows_(rowsOver(area, angle, hatch.spacing)), writer_(angle, runUp, hatch.rates.feed),
          power_(hatch.beam.power / 100), bothWays_(hatch.bothWays) {}

    [[nodiscard]] bool empty() const { return rows_.empty(); }
    [[nodiscard]] Vec2 begins() const { return writer_.begins(rows_.front().lit.front().first, rows_.front().y); }
    void write(Pen& pen) const {
        bool ahead = true;
        for (const auto& row : rows_) {
            std::vector<Lit> lit;
            for (const auto& [from, to] : row.lit) lit.push_back({from, to, power_});
            writer_.row(pen, row.y, lit, ahead);
            if (bothWays_) ahead = !ahead;
        }
    }

private:
    std::vector<Row> rows_;
    RowWriter writer_;
    Power power_;
    bool bothWays_;
};

void follow(Pen& pen, const Path& path, const plan::Hatch& hatch) {
    pen.jumpTo(path.start);
    pen.along(path.segments, 0, hatch.rates.feed, hatch.beam.power / 100);
}

/// What is burnt of some regions together, all that the beam's width leaves of them.
struct Shade {
    std::vector<std::size_t> contours;
    Rings area;              ///< where the middle of the beam may be
    std::vector<Path> rings; ///< in place of lines
    std::vector<Path> edges;
};

} // namespace

template<> Planned planned(const StepWork& work, const plan::Hatch& hatch, Progress& progress) {
    Planned planned;
    const double radius = work.tool.radius(), runUp = runUpOf(hatch.rates.feed, work.job.machine);
    std::vector<Shade> shades;
    const auto regions = regionsOf(work);
    for (const auto& region : regions) {
        if (progress.cancelled()) return planned;
        const auto rings = region.flat();
        auto inner = offset(rings, -radius, {.tolerance = 0.002});
        auto edges = hatch.edged ? offsetPaths(rings, -radius, {.tolerance = 0.002}) : std::vector<Path>{};
        std::optional<Ways> ways;
        if (inner && hatch.by == plan::HatchBy::rings && !inner->empty()) {
            auto made = waysOver(rings, {.radius = radius, .step = std::min(hatch.spacing, 2 * radius)}, progress);
            if (!made)
                inner = made.problem();
            else
                ways = std::move(*made);
        }
        const auto& outer = work.contours[region.outer];
        if (!inner || !edges || inner->empty()) {
            planned.snags.push_back(
                snagOn(work, outer, Verdict::look,
                       inner && edges ? fmt::format("An area is narrower than the beam, {}; nothing of it is shaded.",
                                                    mm(work.tool.diameter))
                                      : (inner ? edges.problem() : inner.problem()).what,
                       "Scribe it as a line, or leave it out."));
            continue;
        }
        const bool own = hatch.rows == plan::HatchRows::areaByArea || shades.empty();
        auto& shade = own ? shades.emplace_back() : shades.back();
        shade.contours.push_back(region.outer);
        shade.area.insert(shade.area.end(), inner->begin(), inner->end());
        shade.edges.insert(shade.edges.end(), edges->begin(), edges->end());
        if (ways)
            for (const auto* some : {&ways->inner, &ways->walls})
                for (const auto& way : *some) shade.rings.push_back(way.path);
    }
    if (hatch.by == plan::HatchBy::rings && hatch.spacing > 2 * radius + 1e-9 && !shades.empty())
        planned.snags.push_back(
            snagOn(work, work.contours[shades.front().contours.front()], Verdict::look,
                   fmt::format("Rings are no further apart than the beam is wide, {}; {} was asked for.",
                               mm(2 * radius), mm(hatch.spacing)),
                   "Use lines, which may be as far apart as you like."));
    for (auto& made : shades) {
        std::vector<Lines> sets;
        if (hatch.by == plan::HatchBy::lines)
            for (int i = 0; i < (hatch.crossed ? 2 : 1); ++i)
                if (Lines lines(hatch, made.area, hatch.angle * pi / 180 + i * pi / 2, runUp); !lines.empty())
                    sets.push_back(std::move(lines));
        const auto& outer = work.contours[made.contours.front()];
        if (sets.empty() && made.rings.empty() && made.edges.empty()) { // it lies between two lines of the lattice
            planned.snags.push_back(
                snagOn(work, outer, Verdict::look,
                       fmt::format("No line meets an area: they are {} apart, and nothing of it is shaded.",
                                   mm(hatch.spacing)),
                       "Set the lines nearer to each other, or follow its edge."));
            continue;
        }
        Task task;
        task.intent = intentOn(work, outer);
        task.intent.side = plan::Side::on;
        task.intent.through = false, task.intent.frees = false;
        task.intent.area = made.area;
        task.size = outer.size;
        task.entry =
            !sets.empty() ? sets.front().begins() : (made.rings.empty() ? made.edges : made.rings).front().start;
        task.exit = task.entry;
        task.centre = {task.entry, {}, false}; // what is shaded is drawn, not its many lines
        task.write = [hatch, sets = std::move(sets), rings = std::move(made.rings),
                      edges = std::move(made.edges)](Pen& pen) {
            for (int pass = 0; pass < static_cast<int>(hatch.beam.passes); ++pass) {
                for (const auto& lines : sets) lines.write(pen);
                for (const auto& ring : rings) follow(pen, ring, hatch);
            }
            for (const auto& edge : edges) follow(pen, edge, hatch);
        };
        planned.tasks.push_back(std::move(task));
    }
    return planned;
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Hatch&) { return {}; }

} // namespace ferro::toolpath

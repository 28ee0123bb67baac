#include "plan/kinds/hatch.h"

#include "geometry/polygons.h"
#include "toolpath/regions_internal.h"
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

/// A set of lines over an area, burnt row by row. Every line begins and ends so far outside that the beam is at speed
/// where it burns.
class Lines {
public:
    Lines(const plan::Hatch& hatch, const Rings& area, double angle, double runUp)
        : rows_(rowsOver(area, angle, hatch.spacing)), back_(Transform::rotated(angle, {})), runUp_(runUp),
          feed_(hatch.rates.feed), power_(hatch.beam.power / 100), bothWays_(hatch.bothWays) {}

    [[nodiscard]] bool empty() const { return rows_.empty(); }
    [[nodiscard]] Vec2 begins() const { return back_({rows_.front().lit.front().first - runUp_, rows_.front().y}); }
    void write(Pen& pen) const {
        bool ahead = true;
        for (const auto& row : rows_) {
            for (const auto& some : stretches(row.lit, ahead)) scan(pen, row.y, some, ahead);
            if (bothWays_) ahead = !ahead;
        }
    }

private:
    using Lit = std::vector<std::pair<double, double>>;
    /// What is burnt in one go, in its order: over a wide gap it is quicker without working speed.
    [[nodiscard]] std::vector<Lit> stretches(const Lit& lit, bool ahead) const {
        constexpr double wide = 12; // mm
        std::vector<Lit> out;
        for (const auto& one : lit) {
            if (out.empty() || one.first - out.back().back().second > wide + 2 * runUp_) out.emplace_back();
            out.back().push_back(one);
        }
        if (!ahead) std::reverse(out.begin(), out.end());
        return out;
    }
    void scan(Pen& pen, double y, const Lit& lit, bool ahead) const {
        const double from = lit.front().first - runUp_, to = lit.back().second + runUp_, whole = to - from;
        std::vector<Run> runs;
        const auto until = [&](double x, double power) { // of the way as it is gone
            const double share = (ahead ? x - from : to - x) / whole;
            if (share > (runs.empty() ? 0.0 : static_cast<double>(runs.back().end)) + 1e-9)
                runs.push_back({static_cast<float>(std::min(1.0, share)), Power(power)});
        };
        if (ahead)
            for (const auto& [a, b] : lit) until(a, 0), until(b, power_);
        else
            for (auto one = lit.rbegin(); one != lit.rend(); ++one) until(one->second, 0), until(one->first, power_);
        until(ahead ? to : from, 0);
        runs.back().end = 1;
        pen.jumpTo(back_({ahead ? from : to, y}));
        const Vec2 end = back_({ahead ? to : from, y});
        pen.scan({end.x, end.y, 0}, feed_, power_, runs);
    }

    std::vector<Row> rows_;
    Transform back_;
    double runUp_, feed_, power_;
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
    const double radius = work.tool.radius(), speed = hatch.rates.feed / 60;
    const double runUp = speed * speed / (2 * work.job.machine.acceleration); // v² = 2 a s
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

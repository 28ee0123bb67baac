#include "app/bench/bench_facts.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "plan/selection.h"

namespace ferro::app {

namespace {

double distanceToPath(const Path& path, Vec2 p) {
    double best = std::numeric_limits<double>::infinity();
    if (path.segments.empty()) return ferro::distance(path.start, p);
    Vec2 from = path.start;
    for (const auto& s : path.segments) {
        Vec2 a = from;
        flattenSegment(from, s, 0.05, [&](Vec2 b) {
            best = std::min(best, distanceToLine(p, a, b));
            a = b;
        });
        from = s.end;
    }
    return best;
}

/// At Source a picture that was traced can be taken up again, as locked as it is.
bool canPick(const BenchFacts& facts, const artwork::Item& item) {
    if (artwork::isHidden(*facts.job.artwork, item)) return false;
    if (item.underlay) return facts.station == StationId::source && facts.underlay;
    return !artwork::isLocked(*facts.job.artwork, item);
}

} // namespace

const artwork::Item* itemUnder(const BenchFacts& facts, Vec2 at, double reach) {
    const artwork::Item *edge = nullptr, *inside = nullptr, *picture = nullptr;
    double nearest = reach, smallest = std::numeric_limits<double>::infinity();
    const bool wantsPictures = facts.station == StationId::source;
    for (const auto& item : facts.job.artwork->items) {
        if (!canPick(facts, item)) continue;
        const Box box = artwork::boundsOf(item);
        if (!box.grown(reach).contains(at)) continue;
        if (artwork::shapeOf(item)) {
            const Piece piece = artwork::placed(item);
            double d = distanceToPath(piece.outline, at);
            for (const auto& opening : piece.openings) d = std::min(d, distanceToPath(opening, at));
            if (d <= nearest) nearest = d, edge = &item;
            if (!piece.outline.closed || !contains(flattened(piece, 0.05), at)) continue;
        } else if (wantsPictures) {
            picture = &item;
        }
        if (const double area = box.width() * box.height(); area < smallest) smallest = area, inside = &item;
    }
    return edge ? edge : picture ? picture : inside;
}

artwork::Ids itemsWithin(const BenchFacts& facts, const Box& area) {
    artwork::Ids ids;
    for (const auto& item : facts.job.artwork->items)
        if (canPick(facts, item) && !item.underlay && area.contains(artwork::boundsOf(item))) ids.push_back(item.id);
    return ids;
}

QString wordsUnder(const BenchFacts& facts, Vec2 at, double reach) {
    const auto number = [&](double value) {
        return QString::fromStdString(shown(value, Measure::length, facts.job.units));
    };
    for (std::size_t i = 0; i < facts.job.sheet().clamps.size(); ++i)
        if (facts.job.sheet().clamps[i].area.contains(at))
            return QObject::tr("Clamp %1 · %2 high").arg(i + 1).arg(number(facts.job.sheet().clamps[i].height));
    if (facts.station >= StationId::cuts && facts.moves)
        for (const auto& step : facts.moves->steps)
            for (const auto& cut : step.cuts)
                if (distanceToPath(cut.centre, at) <= std::max(step.tool.radius(), reach) ||
                    contains(cut.intent.area, at))
                    return QObject::tr("%1 · %2 · %3")
                        .arg(QString::fromStdString(step.name), QString::fromStdString(step.tool.name),
                             cut.intent.through ? QObject::tr("through")
                                                : QObject::tr("%1 deep").arg(number(cut.intent.bottom)));
    if (const auto* item = itemUnder(facts, at, reach)) {
        const Box box = artwork::boundsOf(*item);
        const auto* layer = artwork::find(*facts.job.artwork, item->layer);
        return QObject::tr("%1 · layer %2 · %3 × %4")
            .arg(QString::fromStdString(item->name), layer ? QString::fromStdString(layer->name) : QString(),
                 number(box.width()), number(box.height()));
    }
    return {};
}

Snapped snapped(const Box& moving, const std::vector<Box>& targets, double reach, double grid, Vec2 zero) {
    Snapped out;
    double bestX = reach, bestY = reach;
    const auto tryAxis = [](double from, double to, double& best, double& shift, std::optional<double>& line) {
        if (std::abs(to - from) < best) best = std::abs(to - from), shift = to - from, line = to;
    };
    for (const auto& box : targets)
        for (const double from : {moving.low.x, moving.centre().x, moving.high.x})
            for (const double to : {box.low.x, box.centre().x, box.high.x})
                tryAxis(from, to, bestX, out.shift.x, out.x);
    for (const auto& box : targets)
        for (const double from : {moving.low.y, moving.centre().y, moving.high.y})
            for (const double to : {box.low.y, box.centre().y, box.high.y})
                tryAxis(from, to, bestY, out.shift.y, out.y);
    // Nothing near: the lower left corner onto the grid, counted from the zero; without one, to whole millimetres where
    // they are next to it.
    const auto onGrid = [&](double from, double origin) {
        const double step = grid > 0 ? grid : 1;
        const double by = std::round((from - origin) / step) * step + origin - from;
        return grid > 0 || std::abs(by) < reach / 4 ? by : 0;
    };
    if (!out.x) out.shift.x = onGrid(moving.low.x, grid > 0 ? zero.x : 0);
    if (!out.y) out.shift.y = onGrid(moving.low.y, grid > 0 ? zero.y : 0);
    return out;
}

std::optional<double> alongOutline(const plan::Pieces& pieces, artwork::ItemId item, int opening, Vec2 at) {
    const auto* contour = pieces.find(item, opening);
    const Ruler ruler(contour ? contour->path : Path{});
    if (!(ruler.length() > 0)) return std::nullopt;
    return std::clamp(ruler.nearest(at) / ruler.length(), 0.0, 1.0);
}

namespace {
std::optional<TabHit> hitOf(const BenchFacts& facts, const toolpath::StepMoves& step, const toolpath::Cut& cut,
                            std::size_t index) {
    TabHit hit{step.step, cut.intent.item, cut.intent.opening, index, {}};
    const Ruler ruler(cut.centre);
    for (const double tab : cut.tabs)
        if (const auto along =
                alongOutline(*facts.moves->pieces, cut.intent.item, cut.intent.opening, ruler.at(tab).point))
            hit.along.push_back(*along);
    return hit;
}
} // namespace

std::optional<TabHit> tabUnder(const BenchFacts& facts, Vec2 at, double reach) {
    if (!facts.moves) return std::nullopt;
    for (const auto& step : facts.moves->steps)
        for (const auto& cut : step.cuts) {
            const Ruler ruler(cut.centre);
            for (std::size_t i = 0; i < cut.tabs.size(); ++i)
                if (ferro::distance(ruler.at(cut.tabs[i]).point, at) <= std::max(reach, step.tool.radius()))
                    return hitOf(facts, step, cut, i);
        }
    return std::nullopt;
}

std::optional<TabHit> startUnder(const BenchFacts& facts, Vec2 at, double reach) {
    if (!facts.moves) return std::nullopt;
    for (const auto& step : facts.moves->steps) {
        const auto* asked = plan::find(facts.job.plan, step.step);
        if (step.step != facts.step || !asked || !plan::startsIn(*asked)) continue;
        for (const auto& cut : step.cuts)
            if (cut.centre.closed && ferro::distance(cut.centre.start, at) <= reach)
                return hitOf(facts, step, cut, cut.tabs.size());
    }
    return std::nullopt;
}

bool isPlacedStart(const BenchFacts& facts, const toolpath::StepMoves& step, const toolpath::Cut& cut) {
    const auto* asked = plan::find(facts.job.plan, step.step);
    const auto* starts = asked ? plan::startsIn(*asked) : nullptr;
    return starts && std::any_of(starts->begin(), starts->end(), [&](const plan::EdgePlace& place) {
               return place.item == cut.intent.item && place.opening == cut.intent.opening;
           });
}

std::optional<TabHit> outlineUnder(const BenchFacts& facts, Vec2 at, double reach) {
    if (!facts.moves) return std::nullopt;
    for (const auto& step : facts.moves->steps)
        if (step.kind && step.kind->freesParts)
            for (const auto& cut : step.cuts)
                if (cut.centre.closed && distanceToPath(cut.centre, at) <= std::max(reach, step.tool.radius()))
                    return hitOf(facts, step, cut, cut.tabs.size());
    return std::nullopt;
}

std::optional<std::size_t> bridgeUnder(const BenchFacts& facts, Vec2 at, double reach) {
    std::optional<std::size_t> best;
    double nearest = 1e9;
    for (std::size_t i = 0; i < facts.bridges.size(); ++i) {
        const auto& b = facts.bridges[i].bridge;
        const double off = distanceToLine(at, b.from, b.to);
        if (off <= std::max(reach, b.width / 2) && off < nearest) nearest = off, best = i;
    }
    return best;
}

} // namespace ferro::app

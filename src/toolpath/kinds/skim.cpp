#include "plan/kinds/skim.h"

#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "toolpath/work_internal.h"

namespace ferro::toolpath {

namespace {

/// One level line, the tool's axis from end to end.
struct Lane {
    Vec2 from, to;
};

/// Where the tool's axis goes to skim an area: lanes at most `step` apart, the first and last with the tool's edge
/// `beyond` over the border, each `ends` longer on both sides than any of the tool's width is over the area. Level; the
/// caller turns what is to be upright.
std::vector<Lane> lanesOver(const Rings& area, double radius, double beyond, double ends, double step) {
    Box box;
    for (const auto& ring : area)
        for (const Vec2 p : ring) box.take(p);
    const double low = box.low.y - beyond + radius, high = box.high.y + beyond - radius;
    const double span = std::max(0.0, high - low);
    const int count = 1 + static_cast<int>(std::ceil(span / step - 1e-9));
    std::vector<Lane> lanes;
    for (int i = 0; i < count; ++i) {
        const double y = count == 1 ? (low + high) / 2 : low + span * i / (count - 1);
        // Whatever the tool's width passes over, in a few lines of which the widest counts.
        std::vector<std::pair<double, double>> whole;
        constexpr int slices = 16;
        for (int k = -slices; k <= slices; ++k)
            for (const auto& s : insideAt(area, y + (radius - 1e-6) * k / slices)) whole.push_back(s);
        std::sort(whole.begin(), whole.end());
        std::vector<std::pair<double, double>> joined;
        for (const auto& [from, to] : whole) // gaps narrower than the tool are not worth coming out for
            if (!joined.empty() && from <= joined.back().second + 4 * radius)
                joined.back().second = std::max(joined.back().second, to);
            else
                joined.emplace_back(from, to);
        for (const auto& [from, to] : joined) lanes.push_back({{from - ends, y}, {to + ends, y}});
    }
    return lanes;
}

struct Facing {
    std::vector<Lane> lanes;
    plan::Skim skim;
    double thickness, radius, feedZ;
    Box stock; ///< beside it the tool goes down in air
};

/// Entry beside the stock where there is room, else straight down at plunge feed before the lane.
void faced(Pen& pen, const Facing& f) {
    const auto& rates = f.skim.rates;
    double surface = 0;
    for (const double depth : plan::passDepths(f.skim.depth, f.thickness)) {
        bool forth = true, down = false;
        for (std::size_t i = 0; i < f.lanes.size(); ++i) {
            Vec2 from = f.lanes[i].from, to = f.lanes[i].to;
            if (!forth) std::swap(from, to);
            const Vec2 at = pen.at().flat();
            // From lane to lane it stays down: what lies between two neighbouring ends is skimmed anyway.
            const bool neighbour = down && f.skim.bothWays && distance(at, from) < 2.5 * f.radius;
            if (neighbour) {
                pen.feed({from.x, from.y, -depth}, rates.feed);
            } else {
                pen.goOver(from);
                const bool beside = !f.stock.grown(f.radius).contains(from);
                if (beside)
                    pen.feed({from.x, from.y, -depth}, f.feedZ); // nothing stands there
                else
                    pen.sinkTo(-depth, surface);
                down = true;
            }
            pen.feed({to.x, to.y, -depth}, rates.feed);
            if (f.skim.bothWays)
                forth = !forth;
            else
                pen.lift(), down = false;
        }
        if (pen.at().z < 0) pen.lift();
        surface = -depth;
    }
}

Vec2 turned(Vec2 p) { return {p.y, p.x}; }

} // namespace

template<> Planned planned(const StepWork& work, const plan::Skim& skim, Progress&) {
    Planned planned;
    Rings area;
    const Box stock = job::sheetOf(work.job.sheet().stock);
    if (skim.over == plan::SkimOver::stock)
        area = {{stock.low, {stock.high.x, stock.low.y}, stock.high, {stock.low.x, stock.high.y}}};
    else
        for (const std::size_t i : work.taken)
            if (work.contours[i].path.closed) area.push_back(flattened(work.contours[i].path, 0.01));
    if (area.empty()) return planned;

    const bool upright = skim.along == plan::SkimAlong::height;
    Rings level = area;
    if (upright)
        for (auto& ring : level)
            for (Vec2& p : ring) p = turned(p);
    const double radius = work.tool.radius();
    // Beside the stock the whole tool is out at the ends, so that it can go down there; over pieces the axis reaches
    // their border at least, so that corners are cleared.
    const double ends =
        skim.over == plan::SkimOver::stock ? skim.beyond + radius + 0.1 : std::max(0.0, skim.beyond - radius);
    Facing facing{lanesOver(level, radius, skim.beyond, ends, work.tool.diameter * (1 - skim.overlap / 100)),
                  skim,
                  work.thickness(),
                  radius,
                  work.job.machine.maxFeedZ,
                  stock};
    for (auto& lane : facing.lanes) {
        if (upright) lane = {turned(lane.from), turned(lane.to)};
        // Lanes go upwards, or to the right: the uncut stock is on the left of a lane that goes right, on the right of
        // one that goes up. Climb has it on the right (spindle turning clockwise).
        if (upright == (skim.direction == plan::Direction::conventional)) std::swap(lane.from, lane.to);
    }
    if (facing.lanes.empty()) return planned;
    Task task;
    task.intent.top = skim.depth.start;
    task.intent.bottom = plan::bottomOf(skim.depth, work.thickness());
    task.intent.area = area;
    task.centre = {facing.lanes.front().from, {}, false};
    for (const auto& lane : facing.lanes) {
        if (task.centre.end() != lane.from) task.centre.segments.push_back(Segment::line(lane.from));
        task.centre.segments.push_back(Segment::line(lane.to));
    }
    task.entry = facing.lanes.front().from;
    task.exit = facing.lanes.back().to;
    task.write = [facing = std::move(facing)](Pen& pen) { faced(pen, facing); };
    planned.tasks.push_back(std::move(task));
    return planned;
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Skim&) { return {}; }

} // namespace ferro::toolpath

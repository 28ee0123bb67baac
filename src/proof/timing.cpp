#include "proof/timing.h"

namespace ferro::proof {

namespace {

/// How long moves take from standstill to standstill.
double secondsOf(const shop::Machine& machine, toolpath::Vec3 from, std::initializer_list<toolpath::Vec3> way) {
    double seconds = 0;
    toolpath::MotionPlanner planner(machine);
    planner.startAt(from);
    for (const auto to : way) planner.push(toolpath::Move::rapid(to));
    while (!planner.empty()) seconds += planner.pop().seconds();
    return seconds;
}

} // namespace

Result<Timing> timingOf(const toolpath::Toolpath& path, const shop::Machine& machine, Progress& progress,
                        double zeroHeight) {
    Timing timing;
    if (!path.byBeam()) timing.wayOut = secondsOf(machine, {path.start.x, path.start.y, zeroHeight}, {path.start});
    if (!path.steps.empty() && !path.steps.back().moves.empty()) {
        const auto last = path.steps.back().moves.back().to;
        timing.wayHome = secondsOf(machine, last, {{path.start.x, path.start.y, last.z}});
    }
    toolpath::MotionPlanner planner(machine);
    planner.startAt(path.start);
    // Rides come out later than moves go in; `waiting` says which move each belongs to.
    std::deque<std::pair<std::size_t, std::size_t>> waiting;
    std::vector<std::vector<double>> seconds(path.steps.size());
    const auto pop = [&] {
        const auto [step, move] = waiting.front();
        waiting.pop_front();
        seconds[step][move] += planner.pop().seconds();
    };
    std::size_t done = 0;
    const std::size_t all = path.count();
    for (std::size_t s = 0; s < path.steps.size(); ++s) {
        const auto& moves = path.steps[s].moves;
        seconds[s].assign(moves.size(), 0);
        auto wait = path.steps[s].waits.begin();
        auto turn = path.steps[s].turns.begin();
        for (std::size_t i = 0; i < moves.size(); ++i) {
            if (++done % 4096 == 0) {
                if (progress.cancelled()) return Problem::cancelled();
                progress.at(done, all);
            }
            if (moves[i].kind != toolpath::Move::Kind::rapid)
                timing.length += lengthOf(planner.end().flat(), moves[i].flat());
            for (; wait != path.steps[s].waits.end() && wait->before == i; ++wait) {
                while (!planner.empty()) pop(); // it stands
                seconds[s][i] += wait->seconds;
            }
            for (; turn != path.steps[s].turns.end() && turn->before == i; ++turn) {
                while (!planner.empty()) pop();
                seconds[s][i] += turn->seconds;
            }
            if (planner.full()) pop();
            if (planner.push(moves[i])) waiting.emplace_back(s, i);
        }
        // The machine stands still for a tool change and between steps.
        while (!planner.empty()) pop();
    }
    double clock = timing.wayOut;
    timing.motion = timing.wayOut + timing.wayHome;
    for (std::size_t s = 0; s < path.steps.size(); ++s) {
        StepTime step{.begin = clock,
                      .change = path.steps[s].spinUp + (path.steps[s].toolChange ? machine.toolChangeSeconds : 0),
                      .motion = 0,
                      .ends = {}};
        for (const double t : seconds[s]) step.ends.push_back(clock + step.change + (step.motion += t));
        clock = step.end();
        timing.spinUps += path.steps[s].spinUp;
        timing.motion += step.motion;
        timing.steps.push_back(std::move(step));
    }
    timing.total = clock + timing.wayHome;
    return timing;
}

std::vector<StepSum> sumsOf(const toolpath::Toolpath& path, const Timing& timing) {
    std::vector<StepSum> sums;
    std::vector<plan::StepId> of;
    for (std::size_t i = 0; i < path.steps.size(); ++i) {
        const auto& step = path.steps[i];
        auto known = std::find(of.begin(), of.end(), step.step);
        if (known == of.end() || step.blank <= 1) known = of.insert(of.end(), step.step), sums.push_back({step.name});
        auto& sum = sums[static_cast<std::size_t>(known - of.begin())];
        sum.change += timing.steps[i].change, sum.motion += timing.steps[i].motion;
    }
    return sums;
}

double onTimeLine(const Timing& timing, const toolpath::Toolpath& path, double machineClock) {
    double ran = machineClock - timing.wayOut;
    for (std::size_t i = 0; i < timing.steps.size(); ++i) {
        const auto& step = timing.steps[i];
        const double spin = path.steps[i].spinUp;
        if (ran <= spin + step.motion) return std::max(0.0, step.begin + step.change - spin + ran);
        ran -= spin + step.motion;
    }
    return timing.total;
}

std::optional<AtWork> atWork(const toolpath::Toolpath& path, const Timing& timing, double seconds) {
    const toolpath::Move* before = nullptr;
    for (std::size_t s = 0; s < path.steps.size(); ++s) {
        const auto& moves = path.steps[s].moves;
        const auto& ends = timing.steps[s].ends;
        if (moves.empty()) continue;
        if (ends.back() < seconds) {
            before = &moves.back();
            continue;
        }
        const auto i = static_cast<std::size_t>(std::lower_bound(ends.begin(), ends.end(), seconds) - ends.begin());
        if (i > 0) before = &moves[i - 1];
        const auto& move = moves[i];
        if (!before) return AtWork{s, move.to};
        const double from = i > 0 ? ends[i - 1] : timing.steps[s].begin + timing.steps[s].change;
        const double t = ends[i] > from ? std::clamp((seconds - from) / (ends[i] - from), 0.0, 1.0) : 1;
        const Vec2 flat = pointAt(before->to.flat(), move.flat(), t);
        return AtWork{s, {flat.x, flat.y, before->to.z + (move.to.z - before->to.z) * t}};
    }
    return std::nullopt;
}

std::string timeBeforeAndAfter(const job::Job& before, const job::Job& after, Progress& progress) {
    const auto moving = [&](const job::Job& job) {
        const auto path = toolpath::toolpathOf(job, progress);
        const auto timing = path ? timingOf(*path, job.machine, progress) : Result<Timing>(path.problem());
        return timing ? timing->motion : 0;
    };
    const double then = moving(before), now = moving(after);
    if (!(then > 0 && now > 0)) return {};
    return fmt::format("the machine moves for {:.1f} s, before for {:.1f} s", now, then);
}

} // namespace ferro::proof

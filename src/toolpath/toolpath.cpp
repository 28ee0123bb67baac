#include "toolpath/toolpath.h"

#include "base/parallel.h"
#include "job/sheets.h"
#include "plan/fields.h"
#include "toolpath/open_sides_internal.h"

#include <set>

namespace ferro::toolpath {

namespace {

bool isOnBoard(const plan::Step& step) {
    const auto& kind = plan::kindOf(step);
    return kind.onBoard && kind.onBoard(step);
}

/// By the kinds' place in the order of work; those that may free parts by nesting, the deepest first; otherwise as
/// listed. By hand: as listed.
std::vector<std::size_t> stepOrder(const plan::Plan& plan, const plan::Pieces& pieces) {
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < plan.steps.size(); ++i)
        if (plan.steps[i].enabled) order.push_back(i);
    if (plan.order == plan::Order::byHand) return order;
    const auto key = [&](std::size_t i) {
        const auto& kind = plan::kindOf(plan.steps[i]);
        if (isOnBoard(plan.steps[i])) return std::pair(-1, 0); // what it is for comes after
        int shallowest = 1'000'000;
        for (const std::size_t c : pieces.taken[i]) shallowest = std::min(shallowest, pieces.contours[c].depth);
        return std::pair(kind.placeOf ? kind.placeOf(plan.steps[i]) : kind.place, kind.freesParts ? -shallowest : 0);
    };
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return key(a) < key(b); });
    return order;
}

/// One program is one process: that of the first step that has a tool.
shop::Process processOf(const job::Job& job, const std::vector<std::size_t>& order) {
    for (const std::size_t i : order)
        if (const auto* tool = job::toolOf(job, job.plan.steps[i]); tool && job.machine.does(tool->process()))
            return tool->process();
    return job.machine.mainProcess();
}

/// The edges that other moves keep away from.
Keepout keepoutOf(const plan::Plan& plan, const plan::Pieces& pieces) {
    std::vector<char> edges(pieces.contours.size(), 0);
    for (std::size_t s = 0; s < pieces.taken.size(); ++s)
        if (plan::kindOf(plan.steps[s]).protectsParts)
            for (const std::size_t c : pieces.taken[s]) edges[c] = pieces.contours[c].path.closed;
    return {pieces.contours, edges};
}

class Planner {
public:
    Planner(const job::Job& job, Progress& progress, const std::vector<plan::StepId>& only, Kept* kept)
        : job_(job), progress_(progress), kept_(kept),
          pieces_(std::make_shared<const plan::Pieces>(
              opened(job, plan::piecesOf(job.plan, *job.artwork, job.tools), path_.snags))),
          order_(stepOrder(job.plan, *pieces_)), keepout_(keepoutOf(job.plan, *pieces_)) {
        if (!only.empty())
            std::erase_if(order_, [&](std::size_t i) {
                return std::find(only.begin(), only.end(), job.plan.steps[i].id) == only.end();
            });
        path_.pieces = pieces_;
        path_.process = processOf(job, order_);
        path_.travel = job::travelHeight(job);
        const Vec2 zero = job::zeroOf(job.sheet().stock).at;
        path_.start = {zero.x, zero.y, path_.byBeam() ? 0 : path_.travel};
        at_ = path_.start.flat();
    }

    Result<Toolpath> all() {
        for (std::size_t n = 0; n < order_.size(); ++n) {
            one(job_.plan.steps[order_[n]], pieces_->taken[order_[n]]);
            if (progress_.cancelled()) return Problem::cancelled();
            progress_.at(n + 1, order_.size());
        }
        return std::move(path_);
    }

private:
    void snag(Verdict verdict, const plan::Step& step, std::string what, std::string mend) {
        path_.snags.push_back({verdict, step.id, {}, {}, std::move(what), std::move(mend)});
    }

    void one(const plan::Step& step, const std::vector<std::size_t>& mine) {
        const auto* tool = job::toolOf(job_, step);
        if (!tool)
            return snag(Verdict::noGo, step, fmt::format("Step “{}” has no tool.", step.name), "Choose one in Cuts.");
        const StepWork work{job_, step, *tool, pieces_->contours, mine, keepout_, path_.steps, path_.travel, kept_};
        if (!canDo(work, path_.snags)) return;
        if (tool->process() != path_.process)
            return snag(Verdict::noGo, step,
                        fmt::format("Step “{}” works by {}, the steps before it by {}.", step.name,
                                    shop::nameOf(tool->process()), shop::nameOf(path_.process)),
                        "Each is a program of its own: take the one kind out of the program, write, then the other.");
        auto planned = std::visit([&](const auto& settings) { return toolpath::planned(work, settings, progress_); },
                                  step.settings);
        if (progress_.cancelled()) return;
        for (auto& s : planned.snags) path_.snags.push_back(std::move(s));
        if (mine.empty() && planned.tasks.empty() && !takesElsewhere(step))
            snag(Verdict::look, step, fmt::format("Step “{}” takes no piece.", step.name),
                 "Change its rule, or remove it.");
        write(work, planned.tasks);
    }

    /// Whether it has something to do on another sheet of the job. Looked up once, where any step asks.
    bool takesElsewhere(const plan::Step& step) {
        if (job_.sheets.size() < 2) return false;
        if (!elsewhere_) {
            elsewhere_.emplace();
            for (const auto& sheet : job_.sheets) {
                if (sheet.id == job_.sheet().id) continue;
                const auto there = job::atSheet(job_, sheet.id);
                if (!there) continue;
                const auto pieces = plan::piecesOf(there->plan, *there->artwork, there->tools);
                for (std::size_t s = 0; s < pieces.taken.size(); ++s) {
                    const auto& other = job_.plan.steps[s];
                    if (!pieces.taken[s].empty() || !plan::picturesOf(other, *there->artwork).empty())
                        elsewhere_->insert(other.id);
                }
            }
        }
        return elsewhere_->contains(step.id);
    }

    void write(const StepWork& work, std::vector<Task>& tasks) {
        const auto* rates = plan::ratesIn(work.step);
        StepMoves moves{.step = work.step.id,
                        .name = work.step.name,
                        .kind = &plan::kindOf(work.step),
                        .tool = work.tool,
                        .spindle = rates && path_.process == shop::Process::rotary ? rates->spindle : 0,
                        .spinUp = path_.process == shop::Process::rotary ? 2.0 : 0.0,
                        .plunge = rates ? rates->plunge : 0,
                        .toolChange = last_ && last_->key != work.tool.key,
                        .stopBefore = work.step.stopBefore,
                        .onBoard = isOnBoard(work.step),
                        .note = work.step.note,
                        .moves = {},
                        .runs = {},
                        .waits = {},
                        .cuts = {}};
        if (!moves.onBoard && !path_.steps.empty() && path_.steps.back().onBoard) {
            moves.stopBefore = true;
            moves.note = "Lay the blank into its outline." + (moves.note.empty() ? "" : " " + moves.note);
        }
        if (const auto* beam = plan::beamIn(work.step); beam && work.byBeam()) moves.air = beam->air;
        if (const auto* force = plan::fieldNamed(plan::kindOf(work.step), "force"))
            moves.force = plan::valueOf(*force, work.step);
        Pen pen(work, moves);
        pen.heading = heading_, pen.turned = turned_;
        const std::function<void(Task&)> put = [&](Task& task) {
            Cut cut{.intent = std::move(task.intent),
                    .first = moves.moves.size(),
                    .end = 0,
                    .centre = std::move(task.centre),
                    .tabs = std::move(task.tabs),
                    .tabWidth = task.tabWidth,
                    .tabTop = task.tabTop};
            if (task.write) task.write(pen);
            cut.end = moves.moves.size();
            moves.cuts.push_back(std::move(cut));
            if (!moves.moves.empty()) at_ = moves.moves.back().to.flat();
            for (auto& next : task.then) put(next);
        };
        for (const std::size_t i : workOrder(tasks, at_)) put(tasks[i]);
        heading_ = pen.heading, turned_ = pen.turned;
        if (moves.moves.empty()) return;
        if (const auto* beam = plan::beamIn(work.step); beam && work.byBeam() && beam->still < 100)
            ease(moves, path_.steps.empty() ? path_.start : path_.steps.back().moves.back().to, job_.machine,
                 beam->still / 100);
        path_.steps.push_back(std::move(moves));
        last_ = &work.tool;
    }

    const job::Job& job_;
    Progress& progress_;
    Kept* kept_;
    Toolpath path_; // before the pieces, for it takes what they have to tell
    std::shared_ptr<const plan::Pieces> pieces_;
    std::vector<std::size_t> order_;
    Keepout keepout_;
    Vec2 at_, heading_{1, 0};
    double turned_ = 0;
    const shop::Tool* last_ = nullptr;
    std::optional<std::set<plan::StepId>> elsewhere_; ///< steps that take something on another sheet
};

} // namespace

Result<Toolpath> toolpathOf(const job::Job& job, Progress& progress, const std::vector<plan::StepId>& only,
                            Kept* kept) {
    return Planner(job, progress, only, kept).all();
}

} // namespace ferro::toolpath

#include "toolpath/toolpath.h"

#include "base/parallel.h"
#include "job/sheets.h"
#include "plan/fields.h"
#include "toolpath/open_sides_internal.h"

#include <deque>
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
        if (job.sheet().tray) tray_ = &*job.sheet().tray;
    }

    Result<Toolpath> all() {
        for (std::size_t n = 0; n < order_.size(); ++n) {
            one(job_.plan.steps[order_[n]], pieces_->taken[order_[n]]);
            if (progress_.cancelled()) return Problem::cancelled();
            progress_.at(n + 1, order_.size());
        }
        if (tray_) onAllBlanks();
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
        laid_.push_back({{job_, step, *tool, pieces_->contours, mine, keepout_, path_.steps, path_.travel, kept_}});
        if (!plan(laid_.back()) || !tray_) laid_.pop_back();
    }

    /// A step as it was planned, to be written.
    struct Laid {
        StepWork work;
        std::vector<Task> tasks = {};
        std::vector<std::size_t> order = {};
    };

    /// False where it comes to no moves.
    bool plan(Laid& laid) {
        const StepWork& work = laid.work;
        const plan::Step& step = work.step;
        const auto* tool = &work.tool;
        const auto& mine = work.taken;
        if (!canDo(work, path_.snags)) return false;
        if (tool->process() != path_.process) {
            snag(Verdict::noGo, step,
                 fmt::format("Step “{}” works by {}, the steps before it by {}.", step.name,
                             shop::nameOf(tool->process()), shop::nameOf(path_.process)),
                 "Each is a program of its own: take the one kind out of the program, write, then the other.");
            return false;
        }
        auto planned = std::visit([&](const auto& settings) { return toolpath::planned(work, settings, progress_); },
                                  step.settings);
        if (progress_.cancelled()) return false;
        for (auto& s : planned.snags) path_.snags.push_back(std::move(s));
        if (mine.empty() && planned.tasks.empty() && !takesElsewhere(step))
            snag(Verdict::look, step, fmt::format("Step “{}” takes no piece.", step.name),
                 "Change its rule, or remove it.");
        laid.tasks = std::move(planned.tasks);
        laid.order = workOrder(laid.tasks, at_);
        return write(laid, 0);
    }

    /// All of it once more, on one blank after the other: what is carried from move to move, such as where a blade
    /// points, is carried from blank to blank.
    void onAllBlanks() {
        path_.blanks = job::placesOf(job_.sheet());
        path_.steps.clear();
        heading_ = {1, 0}, turned_ = 0, last_ = nullptr;
        const bool whole = tray_->order == job::TrayOrder::blankByBlank;
        const std::size_t outer = whole ? path_.blanks.size() : laid_.size();
        const std::size_t inner = whole ? laid_.size() : path_.blanks.size();
        for (std::size_t i = 0; i < outer; ++i)
            for (std::size_t k = 0; k < inner; ++k)
                write(laid_[whole ? k : i], static_cast<std::uint32_t>(whole ? i : k));
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

    bool write(Laid& laid, std::uint32_t blank) {
        const StepWork& work = laid.work;
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
        const auto ask = [&](std::string what) {
            moves.stopBefore = true;
            moves.note = what + (moves.note.empty() ? "" : " " + moves.note);
        };
        const auto* before = path_.steps.empty() ? nullptr : &path_.steps.back();
        if (!moves.onBoard && before && before->onBoard)
            ask(tray_ && tray_->order == job::TrayOrder::stepByStep ? "Lay the blanks into their outlines."
                                                                    : "Lay the blank into its outline.");
        if (!path_.blanks.empty()) {
            moves.blank = blank + 1;
            if (tray_->stops && before && before->blank != moves.blank)
                ask(fmt::format("Blank {} of {}.", moves.blank, path_.blanks.size()));
        }
        if (const auto* beam = plan::beamIn(work.step); beam && work.byBeam()) moves.air = beam->air;
        if (const auto* force = plan::fieldNamed(plan::kindOf(work.step), "force"))
            moves.force = plan::valueOf(*force, work.step);
        Pen pen(work, moves);
        pen.heading = heading_, pen.turned = turned_;
        const std::function<void(Task&)> put = [&](Task& task) {
            const auto given = [&](auto& value) { return tray_ ? value : std::move(value); }; // needed again there
            Cut cut{.intent = given(task.intent),
                    .first = moves.moves.size(),
                    .end = 0,
                    .centre = given(task.centre),
                    .tabs = given(task.tabs),
                    .tabWidth = task.tabWidth,
                    .tabTop = task.tabTop};
            if (task.write) task.write(pen);
            cut.end = moves.moves.size();
            moves.cuts.push_back(std::move(cut));
            if (!moves.moves.empty()) at_ = moves.moves.back().to.flat();
            for (auto& next : task.then) put(next);
        };
        for (const std::size_t i : laid.order) put(laid.tasks[i]);
        heading_ = pen.heading, turned_ = pen.turned;
        if (moves.moves.empty()) return false;
        if (!path_.blanks.empty()) shift(moves, path_.blanks[blank]);
        if (const auto* beam = plan::beamIn(work.step); beam && work.byBeam() && beam->still < 100)
            ease(moves, before ? before->moves.back().to : path_.start, job_.machine, beam->still / 100);
        path_.steps.push_back(std::move(moves));
        last_ = &work.tool;
        return true;
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
    const job::Tray* tray_ = nullptr; ///< that all is cut on
    std::deque<Laid> laid_;           ///< kept for its other blanks; what is planned keeps hold of where it lies
    std::optional<std::set<plan::StepId>> elsewhere_; ///< steps that take something on another sheet
};

} // namespace

Result<Toolpath> toolpathOf(const job::Job& job, Progress& progress, const std::vector<plan::StepId>& only,
                            Kept* kept) {
    return Planner(job, progress, only, kept).all();
}

} // namespace ferro::toolpath

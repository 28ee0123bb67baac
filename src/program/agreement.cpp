#include "program/agreement_internal.h"

#include "geometry/measure.h"

namespace ferro::program {

using toolpath::Move;
using toolpath::Vec3;

namespace {

/// A motion with where it begins.
struct Stretch {
    Vec3 from;
    const Move* move = nullptr;
    std::uint32_t line = 0;
    const std::vector<toolpath::Run>* runs = nullptr; ///< of the step, for scans
    [[nodiscard]] bool isRapid() const { return move->kind == Move::Kind::rapid; }
    /// The power at a share of its length. `run`: where to look first, and where it was found; what is asked for in
    /// order is found at once.
    [[nodiscard]] double powerAt(double t, std::uint32_t& run) const {
        if (move->kind != Move::Kind::scan) return move->power;
        const auto first = runs->begin() + move->runs.first;
        const auto endOf = [&](std::uint32_t k) { return double((first + k)->end); };
        while (run > 0 && endOf(run - 1) >= t) --run;
        while (run < move->runs.count && endOf(run) < t) ++run;
        return run == move->runs.count ? 0 : double((first + run)->power);
    }
    [[nodiscard]] Vec3 at(double t) const {
        const Vec2 p = pointAt(from.flat(), move->flat(), t);
        return {p.x, p.y, from.z + (move->to.z - from.z) * t};
    }
};

class Comparison {
public:
    Comparison(const toolpath::Toolpath& meant, const ReadProgram& said, const Dialect& dialect)
        : meant_(meant), said_(said), cycles_(dialect.cycles), saidAt_(said.path.start) {
        const double unit = dialect.units == Units::inch ? mmPerInch : 1;
        digit_ = unit * std::pow(10.0, -dialect.decimals);
        feedDigit_ = unit * std::pow(10.0, -dialect.feedDecimals);
        heights_ = !meant.byBeam();
        for (const auto& step : meant.steps)
            for (const auto& move : step.moves) heights_ = heights_ || move.to.z != 0;
    }

    Result<double> run(const std::vector<std::vector<std::uint32_t>>& lineOf) {
        Vec3 at = meant_.start;
        for (std::size_t s = 0; s < meant_.steps.size(); ++s) {
            std::uint32_t before = 0; // the last line of this step's moves: from there on all are its own
            auto hole = meant_.steps[s].drillings.begin();
            for (std::size_t i = 0; i < meant_.steps[s].moves.size(); ++i) {
                if (cycles_ && hole != meant_.steps[s].drillings.end() && hole->first == i) {
                    if (auto fine = passTemplates(before ? before : lineOf[s][i] - 1); !fine) return fine.problem();
                    if (auto fine = passHole(*hole, lineOf[s][i]); !fine) return fine.problem();
                    before = lineOf[s][i];
                    at = meant_.steps[s].moves[hole->end - 1].to;
                    i = hole++->end - 1;
                    continue;
                }
                const Stretch want{at, &meant_.steps[s].moves[i], lineOf[s][i], &meant_.steps[s].runs};
                at = want.move->to;
                if (want.line == 0) continue; // too short to show
                if (auto fine = passTemplates(before ? before : want.line - 1); !fine) return fine.problem();
                if (auto fine = pass(want); !fine) return fine.problem();
                before = want.line;
            }
        }
        if (auto fine = passTemplates(std::numeric_limits<std::uint32_t>::max()); !fine) return fine.problem();
        return worst_;
    }

private:
    static Problem bad(std::uint32_t line, const char* what) {
        return {.what = fmt::format("Line {} {}", line, what),
                .where = {},
                .mend = "Correct the dialect's templates. If it is a shipped one, report this and run nothing."};
    }
    /// Moves up to a line that nobody meant: only rapids, dark, and none below travel height.
    Result<void> passTemplates(std::uint32_t upTo) {
        while (const auto said = next(upTo)) {
            const Stretch& have = *said;
            if (!have.isRapid() || have.move->power > 0) return bad(have.line, "cuts where nothing was meant.");
            if (!meant_.byBeam() && have.move->to.z < meant_.travel - 3 * digit_)
                return bad(have.line, "goes below travel height where nothing was meant.");
        }
        return {};
    }
    Result<void> pass(const Stretch& want) {
        row_.clear();
        while (const auto have = next(want.line)) row_.push_back(*have);
        if (row_.empty()) return bad(want.line, "says no move where one was meant.");
        const double near = 3 * digit_;
        std::uint32_t run = 0;
        for (const Stretch& have : row_) {
            const double middle = want.move->kind == Move::Kind::scan
                                      ? nearestOn(want.from.flat(), want.move->flat(), have.at(0.5).flat())
                                      : 0.5;
            if (have.isRapid() != want.isRapid() || std::abs(have.move->power - want.powerAt(middle, run)) > 0.002)
                return bad(have.line, "is another kind of move than was meant.");
            if (!want.isRapid() && std::abs(have.move->feed - want.move->feed) > feedDigit_)
                return bad(have.line, "has another feed than was meant.");
            const bool straight = have.move->kind != Move::Kind::arc && want.move->kind != Move::Kind::arc;
            for (const double t : {0.25, 0.5, 0.75, 1.0}) {
                if (want.isRapid() && t < 1) continue; // what lies before it may have been a template's
                if (straight && t < 1) continue;       // farthest off at an end, and it begins where another ended
                worst_ = std::max(worst_, apart(have.at(t), want));
            }
        }
        if (want.isRapid() && apart(row_.front().from, want.from) > near && want.move->to.z < meant_.travel - near &&
            !meant_.byBeam())
            return bad(want.line, "goes down from elsewhere than was meant.");
        worst_ = std::max(worst_, apart(row_.back().move->to, want.move->to));
        if (want.isRapid()) return {};
        worst_ = std::max(worst_, apart(row_.front().from, want.from));
        for (const double t : {0.25, 0.5, 0.75}) {
            const Vec3 p = want.at(t);
            double least = std::numeric_limits<double>::infinity();
            for (const Stretch& have : row_)
                if (least > 0) least = std::min(least, apart(p, have));
            worst_ = std::max(worst_, least);
        }
        return {};
    }

    /// A hole in one word: straight down at its place and its feed, from where nothing stands, no deeper at a time than
    /// meant, to its bottom; rapids only through what is gone; back up to travel height.
    Result<void> passHole(const toolpath::Drilling& hole, std::uint32_t line) {
        const double near = 3 * digit_;
        double open = hole.from, height = meant_.travel, deepest = hole.from;
        bool any = false;
        while (const auto have = next(line)) {
            any = true;
            const Vec3 to = have->move->to, from = have->from;
            if (distance(to.flat(), hole.at) > near || distance(from.flat(), hole.at) > near)
                return bad(have->line, "drills elsewhere than was meant.");
            if (have->isRapid()) {
                if (to.z < open - near) return bad(have->line, "goes down in a hole without feeding.");
            } else {
                if (have->move->kind == Move::Kind::arc)
                    return bad(have->line, "is another kind of move than was meant.");
                if (std::abs(have->move->feed - hole.feed) > feedDigit_)
                    return bad(have->line, "has another feed than was meant.");
                if (hole.peck > 0 && open - to.z > hole.peck + near)
                    return bad(have->line, "goes deeper at a time than was meant.");
                open = std::min(open, to.z);
            }
            deepest = std::min(deepest, to.z);
            height = to.z;
            worst_ = std::max(worst_, distance(to.flat(), hole.at));
        }
        if (!any) return bad(line, "says no move where one was meant.");
        if (height < meant_.travel - near) return bad(line, "leaves the tool below travel height.");
        worst_ = std::max(worst_, std::abs(deepest - hole.bottom));
        return {};
    }

    /// The next motion of the text, if its line is at most this one. A picture's are too many to keep beside it.
    std::optional<Stretch> next(std::uint32_t upTo) {
        while (step_ < said_.path.steps.size() && move_ == said_.path.steps[step_].moves.size()) ++step_, move_ = 0;
        if (step_ == said_.path.steps.size() || said_.lineOf[step_][move_] > upTo) return std::nullopt;
        const Move& move = said_.path.steps[step_].moves[move_];
        return Stretch{std::exchange(saidAt_, move.to), &move, said_.lineOf[step_][move_++], nullptr};
    }

    [[nodiscard]] double apart(Vec3 a, Vec3 b) const {
        return std::hypot(a.x - b.x, a.y - b.y, heights_ ? a.z - b.z : 0);
    }
    [[nodiscard]] double apart(Vec3 p, const Stretch& from) const {
        const Vec3 a = from.from, b = from.move->to;
        if (from.move->kind == Move::Kind::arc)
            return apart(p, from.at(nearestOn(a.flat(), from.move->flat(), p.flat())));
        const Vec3 d{b.x - a.x, b.y - a.y, heights_ ? b.z - a.z : 0};
        const double size = d.x * d.x + d.y * d.y + d.z * d.z;
        const double t =
            size > 0 ? std::clamp(((p.x - a.x) * d.x + (p.y - a.y) * d.y + (p.z - a.z) * d.z) / size, 0.0, 1.0) : 0;
        return apart(p, Vec3{a.x + d.x * t, a.y + d.y * t, a.z + d.z * t});
    }

    const toolpath::Toolpath& meant_;
    const ReadProgram& said_;
    bool heights_ = true;             ///< a beam's mean nothing where it does not change its focus
    bool cycles_;                     ///< holes are said in one word
    std::size_t step_ = 0, move_ = 0; ///< of the text, the next
    Vec3 saidAt_;
    std::vector<Stretch> row_; ///< what is said for one move that was meant
    double digit_ = 0.001, feedDigit_ = 1, worst_ = 0;
};

} // namespace

Result<double> largestMiss(const toolpath::Toolpath& meant, const std::vector<std::vector<std::uint32_t>>& lineOf,
                           const ReadProgram& said, const Dialect& dialect) {
    return Comparison(meant, said, dialect).run(lineOf);
}

} // namespace ferro::program

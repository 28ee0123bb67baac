// What the machine is set to while it follows a written program, against what was meant: spindle, tool, dwell, offsets,
// plane, units, and how it is left at the end.
#include "program/agreement_internal.h"

namespace ferro::program {

namespace {

using Happening = ReadProgram::Happening;

struct Said {
    const toolpath::Move* move;
    std::uint32_t line, state;
};

/// All moves of the text by their number. A picture's are too many to be listed once more.
class SaidMoves {
public:
    explicit SaidMoves(const ReadProgram& said) : said_(said) {
        for (const auto& step : said.path.steps)
            ends_.push_back((ends_.empty() ? 0 : ends_.back()) + step.moves.size());
    }
    [[nodiscard]] std::size_t size() const { return ends_.empty() ? 0 : ends_.back(); }
    [[nodiscard]] Said operator[](std::size_t i) const {
        const auto s = static_cast<std::size_t>(std::upper_bound(ends_.begin(), ends_.end(), i) - ends_.begin());
        const auto k = i - (s ? ends_[s - 1] : 0);
        return {&said_.path.steps[s].moves[k], said_.lineOf[s][k], said_.stateOf[s][k]};
    }

private:
    const ReadProgram& said_;
    std::vector<std::size_t> ends_; ///< of each step
};

class StateComparison {
public:
    StateComparison(const toolpath::Toolpath& meant, const ReadProgram& said, const Dialect& dialect)
        : meant_(meant), said_(said), dialect_(dialect), moves_(said) {}

    Result<void> run(const std::vector<std::vector<std::uint32_t>>& lineOf) {
        if (auto fine = words(); !fine) return fine;
        std::size_t next = 0; // first said move that belongs to no step yet
        for (std::size_t s = 0; s < meant_.steps.size(); ++s) {
            const std::uint32_t last = lineOf[s].empty() ? 0 : *std::max_element(lineOf[s].begin(), lineOf[s].end());
            const std::size_t first = next;
            while (next < moves_.size() && moves_[next].line <= last) ++next;
            if (auto fine = step(meant_.steps[s], first, next); !fine) return fine;
            if (auto fine = waits(meant_.steps[s], lineOf[s], first, next); !fine) return fine;
            if (auto fine = turns(meant_.steps[s], first, next); !fine) return fine;
            if (auto fine = wear(meant_.steps[s], lineOf[s], first, next); !fine) return fine;
        }
        return end();
    }

private:
    static Problem bad(std::uint32_t line, const std::string& what) {
        return {.what = fmt::format("Line {}: {}", line, what),
                .where = {},
                .mend = "Correct the dialect's templates. If it is a shipped one, report this and run nothing."};
    }
    /// The line of the last event of a kind before a move, else the move's own.
    [[nodiscard]] std::uint32_t lineOf(Event::Kind kind, std::size_t move) const {
        std::uint32_t line = move < moves_.size() ? moves_[move].line : static_cast<std::uint32_t>(said_.lines);
        for (const auto& h : said_.happenings)
            if (h.moves <= move && h.event.kind == kind) line = h.line;
        return line;
    }

    /// Words that mean something and were passed over, and zeros that move, have no place in a program of ours.
    Result<void> words() const {
        std::size_t lastCut = 0;
        for (std::size_t i = 0; i < moves_.size(); ++i)
            if (moves_[i].move->kind != toolpath::Move::Kind::rapid) lastCut = i + 1;
        for (const auto& h : said_.happenings) {
            if (h.event.kind == Event::Kind::unread) return bad(h.line, h.event.what);
            if (h.event.kind == Event::Kind::zeroSet) return bad(h.line, "G92 moves the zero.");
            if (h.event.kind != Event::Kind::home) continue;
            const bool high =
                meant_.byBeam() || (h.moves > 0 && moves_[h.moves - 1].move->to.z >= meant_.travel - 0.01);
            if (!h.event.bare || !high || h.moves < lastCut)
                return bad(h.line,
                           "G28 or G30 sends the tool through what may stand there; after the last cut, at travel "
                           "height and without coordinates it may stand.");
        }
        return {};
    }

    Result<void> step(const toolpath::StepMoves& want, std::size_t first, std::size_t end) const {
        std::size_t cut = first;
        while (cut < end && moves_[cut].move->kind == toolpath::Move::Kind::rapid) ++cut;
        if (cut == end) return {};
        std::uint32_t checked = std::numeric_limits<std::uint32_t>::max();
        for (std::size_t i = cut; i < end; ++i) {
            if (moves_[i].move->kind == toolpath::Move::Kind::rapid || moves_[i].state == checked) continue;
            checked = moves_[i].state;
            if (auto fine = state(want, said_.states[checked], i); !fine) return fine;
        }
        double dwelt = 0;
        bool paused = false;
        std::uint32_t started = moves_[cut].line;
        for (const auto& h : said_.happenings) {
            if (h.moves > cut || (first > 0 && h.moves < first)) continue;
            if (h.event.kind == Event::Kind::spindle && h.event.value > 0) dwelt = 0, started = h.line;
            if (h.event.kind == Event::Kind::dwell) dwelt += h.event.value;
            paused = paused || h.event.kind == Event::Kind::pause;
        }
        if (meant_.turns() && dwelt < want.spinUp - 0.011)
            return bad(started, fmt::format("The spindle is given {} s to come up to speed, {} were meant (G4).", dwelt,
                                            want.spinUp));
        if (want.stopBefore && !paused) return bad(moves_[cut].line, "The stop before the step is missing (M0).");
        return {};
    }

    /// Each dwell among the cuts where it was meant, and none else.
    Result<void> waits(const toolpath::StepMoves& want, const std::vector<std::uint32_t>& lineOf, std::size_t first,
                       std::size_t end) const {
        std::size_t cut = first;
        while (cut < end && moves_[cut].move->kind == toolpath::Move::Kind::rapid) ++cut;
        auto wait = want.waits.begin();
        for (const auto& h : said_.happenings) {
            // What comes behind the moves of a step is the next one's to judge; behind the last, its own.
            if (h.event.kind != Event::Kind::dwell || (h.moves >= end && &want != &meant_.steps.back())) continue;
            // What comes before the cuts is for the spindle; a beam that burns is not, wherever it stands.
            if (h.event.lit > 0 ? h.moves < first : h.moves <= cut || h.moves >= end) continue;
            if (h.event.lit > 0 && wait == want.waits.end())
                return bad(h.line, "G4: the beam burns where it stands, and that was not meant.");
            if (wait == want.waits.end()) return bad(h.line, "G4: no dwell was meant here.");
            // Moves that came to nothing have no line.
            std::uint32_t before = 0, after = std::numeric_limits<std::uint32_t>::max();
            for (std::size_t i = 0; i < wait->before; ++i) before = std::max(before, lineOf[i]);
            for (std::size_t i = lineOf.size(); i-- > wait->before;)
                if (lineOf[i] > 0) after = lineOf[i];
            if (h.line <= before || h.line >= after) return bad(h.line, "G4: the dwell was meant elsewhere.");
            if (std::abs(h.event.value - wait->seconds) > 0.0051)
                return bad(h.line, fmt::format("G4: {} s, {} were meant.", h.event.value, wait->seconds));
            if (std::abs(h.event.lit - wait->power) > 0.002)
                return bad(h.line, fmt::format("G4: the beam stands at {:.1f} % of its power, {:.1f} % were meant.",
                                               100 * h.event.lit, 100 * wait->power));
            ++wait;
        }
        if (wait != want.waits.end())
            return bad(end > 0 ? moves_[end - 1].line : 0,
                       fmt::format("A dwell of {} s is missing (G4).", wait->seconds));
        return {};
    }

    /// The controller makes up for wear where that was meant, on the side that was meant, and nowhere else.
    Result<void> wear(const toolpath::StepMoves& want, const std::vector<std::uint32_t>& lineOf, std::size_t first,
                      std::size_t end) const {
        struct Shifted {
            std::uint32_t from, to; ///< lines, the last leads off
            int side;
        };
        std::vector<Shifted> stretches;
        if (dialect_.wear)
            for (const auto& worn : want.worn)
                stretches.push_back({lineOf[worn.first], lineOf[worn.end - 1], worn.left ? 41 : 42});
        auto at = stretches.begin();
        for (std::size_t i = first; i < end; ++i) {
            const auto line = moves_[i].line;
            while (at != stretches.end() && line >= at->to) ++at;
            const int side = at != stretches.end() && line >= at->from ? at->side : 40;
            if (const int have = said_.states[moves_[i].state].wear; have != side)
                return bad(line, fmt::format("G{} is in force, G{} was meant.", have, side));
        }
        return {};
    }

    /// A knife that the machine turns points along its way wherever it cuts, and in the stock it is turned on the spot
    /// no further than was meant.
    Result<void> turns(const toolpath::StepMoves& want, std::size_t first, std::size_t end) const {
        if (dialect_.turn.empty() || !want.tool.isTurned()) return {};
        double most = 0; // ° that it is turned by in the stock on purpose
        for (const auto& turn : want.turns)
            if (turn.before > 0 && want.moves[turn.before - 1].to.z < 0) most = std::max(most, std::abs(turn.by));
        toolpath::Vec3 at = first > 0 ? moves_[first - 1].move->to : said_.path.start;
        double pointed = first > 0 ? said_.states[moves_[first - 1].state].turned : 0;
        for (std::size_t i = first; i < end; ++i) {
            const auto said = moves_[i];
            const auto& have = said_.states[said.state];
            const auto from = std::exchange(at, said.move->to);
            const auto before = std::exchange(pointed, have.turned);
            if (from.z < -1e-6 && std::abs(have.turnedFrom - before) > most + 0.01)
                return bad(said.line, fmt::format("The knife is turned by {:.1f}° where it stands in the stock ({}).",
                                                  std::abs(have.turnedFrom - before), dialect_.turn));
            const auto way = said.move->flat();
            const double size = lengthOf(from.flat(), way);
            if (said.move->kind == toolpath::Move::Kind::rapid || size < 1e-6 || std::min(from.z, at.z) >= 0) continue;
            // As far as the last digits of its ends leave its direction open.
            const double open = 1 + std::atan(0.004 / size) * 180 / pi;
            const auto off = [&](double share, double angle) {
                const Vec2 along = tangentAt(from.flat(), way, share);
                return std::abs(std::remainder(std::atan2(along.y, along.x) * 180 / pi - angle, 360));
            };
            // A short chord in place of an arc points along its middle.
            const double bend = way.kind == Segment::Kind::line ? std::abs(have.turned - have.turnedFrom) / 2 : 0;
            if (const double worst = std::max(off(0, have.turnedFrom), off(1, have.turned)); worst > open + bend)
                return bad(said.line, fmt::format("The knife points {:.1f}° off its way ({}).", worst, dialect_.turn));
            if (bend > 3 && size > 0.2)
                return bad(said.line, fmt::format("The knife is turned on a straight line ({}).", dialect_.turn));
        }
        return {};
    }

    Result<void> state(const toolpath::StepMoves& want, const Interpreter::Modes& have, std::size_t move) const {
        const auto line = moves_[move].line;
        if (have.inch != (dialect_.units == Units::inch))
            return bad(line, have.inch ? "G20: the program is in inches." : "G21: the program is in millimetres.");
        if (!have.absolute) return bad(line, "G91: the coordinates are incremental.");
        if (have.plane != 17) return bad(line, fmt::format("G{}: arcs lie in another plane.", have.plane));
        if (have.offset != 54) return bad(line, fmt::format("G{}: another work offset is in force.", have.offset));
        if (have.toolOffset != 49) return bad(line, "G43: the controller corrects for a tool length.");
        if (meant_.byBeam()) {
            const bool dark = moves_[move].move->power <= 0;
            if (!dialect_.air.empty() && !dark && (have.mist || have.flood) != want.air)
                return bad(line, want.air ? "The air is off where it was meant to be on (M7, M8)."
                                          : "The air is on where it was meant to be off (M9).");
            return have.spindle == 5 && !dark ? Result<void>(bad(line, "M5: the beam is off where it should burn."))
                                              : Result<void>();
        }
        if (!meant_.turns())
            return have.spindle == 5 ? tool(want, have, move)
                                     : Result<void>(bad(lineOf(Event::Kind::spindle, move),
                                                        "A spindle is started (M3, M4), and it cuts by a blade."));
        const auto started = lineOf(Event::Kind::spindle, move);
        if (have.spindle == 5) return bad(started, "The spindle is not on (M3) when the cutting begins.");
        if (have.spindle == 4) return bad(started, "M4 turns the spindle backwards, M3 was meant.");
        if (std::abs(have.speed - want.spindle) > 0.5 + 1e-9)
            return bad(started, fmt::format("S{}: {:.0f} rpm were meant.", have.speed, want.spindle));
        return tool(want, have, move);
    }

    Result<void> tool(const toolpath::StepMoves& want, const Interpreter::Modes& have, std::size_t move) const {
        if (have.tool != want.tool.number)
            return bad(lineOf(Event::Kind::toolChange, move),
                       have.tool == 0
                           ? fmt::format("Tool {} is never put in (M6).", want.tool.number)
                           : fmt::format("T{} is in the spindle, tool {} was meant.", have.tool, want.tool.number));
        return {};
    }

    /// How the machine is left: spindle or beam off, air and coolant too.
    Result<void> end() const {
        const auto last = static_cast<std::uint32_t>(said_.lines);
        if (said_.atEnd.spindle != 5)
            return bad(last, meant_.byBeam() ? "The beam is left on (no M5)." : "The spindle is left on (no M5).");
        if (said_.atEnd.wear != 40) return bad(last, "The controller is left making up for wear (no G40).");
        if (said_.atEnd.mist || said_.atEnd.flood) return bad(last, "Air or coolant is left on (no M9).");
        return {};
    }

    const toolpath::Toolpath& meant_;
    const ReadProgram& said_;
    const Dialect& dialect_;
    SaidMoves moves_;
};

} // namespace

Result<void> sameStates(const toolpath::Toolpath& meant, const std::vector<std::vector<std::uint32_t>>& lineOf,
                        const ReadProgram& said, const Dialect& dialect) {
    return StateComparison(meant, said, dialect).run(lineOf);
}

} // namespace ferro::program

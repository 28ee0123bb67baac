#include "program/plotter.h"

#include "base/holes.h"
#include "base/hpgl.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"

namespace ferro::program {

namespace {

using toolpath::Move;

bool isDown(double z) { return z < -1e-9; }
long centimetresASecond(double feed) { return std::max(1L, std::lround(feed / 600)); }

class Plotting {
public:
    Plotting(const toolpath::Toolpath& path, const Dialect& dialect, const Frame& frame)
        : path_(path), dialect_(dialect), frame_(frame) {
        out_.ending = dialect.ending;
    }

    Program all() {
        templates(dialect_.header, nullptr);
        toolpath::Vec3 at = path_.start;
        for (std::size_t s = 0; s < path_.steps.size(); ++s) {
            const auto& step = path_.steps[s];
            if (step.stopBefore) templates(dialect_.pause, &step);
            if (step.toolChange || s == 0) templates(dialect_.toolChange, &step);
            templates(dialect_.start, &step);
            speed_ = -1;
            out_.lineOf.emplace_back();
            for (const auto& move : step.moves) {
                out_.lineOf.back().push_back(one(at, move));
                at = move.to;
            }
            if (down_) say("PU;"), down_ = false;
            templates(dialect_.stop, &step);
        }
        templates(dialect_.footer, nullptr);
        out_.lines = line_;
        return std::move(out_);
    }

private:
    void say(std::string_view text) {
        out_.text += text;
        out_.text += '\n';
        ++line_;
    }
    void templates(const std::vector<std::string>& lines, const toolpath::StepMoves* step) {
        for (const std::string& line : lines)
            say(holesFilled(line, [&](std::string_view word) -> std::optional<std::string> {
                if (step && word == "number") return fmt::format("{}", step->tool.number);
                if (step && word == "force") return fmt::format("{}", std::lround(step->force));
                return {};
            }));
        at_ = unknown; // the dialect's lines may have moved
    }
    [[nodiscard]] std::pair<long, long> stepsOf(Vec2 p) const {
        return {std::lround((p.x - frame_.zero.x) * dialect_.perMm),
                std::lround((p.y - frame_.zero.y) * dialect_.perMm)};
    }
    /// The line it is on; 0 where it moves less than a step.
    std::uint32_t one(toolpath::Vec3 from, const Move& move) {
        const bool down = move.kind != Move::Kind::rapid && (isDown(from.z) || isDown(move.to.z));
        const auto before = line_;
        if (down && !down_) {
            if (const auto here = stepsOf(from.flat()); here != at_) go("PU", here);
            say("PD;");
            down_ = true;
        } else if (!down && down_) {
            say("PU;");
            down_ = false;
        }
        if (distance(from.flat(), move.to.flat()) > 1e-9) {
            if (down) {
                if (const long speed = centimetresASecond(static_cast<double>(move.feed)); speed != speed_)
                    say(fmt::format("VS{};", speed_ = speed));
                flattenSegment(from.flat(), move.flat(), 0.5 / dialect_.perMm, [&](Vec2 p) {
                    if (const auto to = stepsOf(p); to != at_) go("PD", to);
                });
            } else if (const auto to = stepsOf(move.to.flat()); to != at_) {
                go("PU", to);
            }
        }
        return line_ == before ? 0 : static_cast<std::uint32_t>(line_);
    }
    void go(std::string_view word, std::pair<long, long> to) {
        say(fmt::format("{}{},{};", word, to.first, to.second));
        at_ = to;
    }

    const toolpath::Toolpath& path_;
    const Dialect& dialect_;
    Frame frame_;
    Program out_;
    std::size_t line_ = 0;
    bool down_ = false;
    long speed_ = -1;
    static constexpr std::pair<long, long> unknown{std::numeric_limits<long>::min(), 0};
    std::pair<long, long> at_ = unknown;
};

/// What is drawn in one go.
struct Drawn {
    std::vector<Vec2> points; ///< program coordinates, mm
    long tool = 0, force = 0;
    std::vector<long> speeds; ///< of the way to each point but the first
    std::size_t line = 0;
};

std::vector<Drawn> meantBy(const toolpath::Toolpath& path, const Dialect& dialect, const Frame& frame) {
    std::vector<Drawn> out;
    toolpath::Vec3 at = path.start;
    for (const auto& step : path.steps) {
        bool down = false;
        for (const auto& move : step.moves) {
            const auto from = std::exchange(at, move.to);
            const bool now = move.kind != Move::Kind::rapid && (isDown(from.z) || isDown(move.to.z));
            if (now && !down) {
                Drawn one;
                one.points = {from.flat() - frame.zero};
                one.tool = step.tool.number, one.force = std::lround(step.force);
                out.push_back(std::move(one));
            }
            down = now;
            if (now && distance(from.flat(), move.to.flat()) > 1e-9)
                flattenSegment(from.flat(), move.flat(), 0.1 / dialect.perMm, [&](Vec2 p) {
                    out.back().points.push_back(p - frame.zero);
                    out.back().speeds.push_back(centimetresASecond(static_cast<double>(move.feed)));
                });
        }
    }
    return out;
}

bool isOneOf(std::string_view code, std::initializer_list<std::string_view> codes) {
    return std::find(codes.begin(), codes.end(), code) != codes.end();
}

Result<std::vector<Drawn>> saidBy(std::string_view text, const Dialect& dialect) {
    const auto words = hpglFrom(text);
    if (!words) return words.problem();
    std::vector<Drawn> out;
    Vec2 at;
    bool down = false;
    long tool = 0, force = 0, speed = 0;
    const auto bad = [](const HpglWord& word, std::string what) {
        return Problem{
            .what = fmt::format("Line {}: {}", word.line, what), .where = {}, .mend = "Correct the dialect's lines."};
    };
    for (const auto& word : *words) {
        if (word.code == "SP") tool = word.numbers.empty() ? 0 : std::lround(word.numbers[0]);
        if (word.code == "FS" && !word.numbers.empty()) force = std::lround(word.numbers[0]);
        if (word.code == "VS" && !word.numbers.empty()) speed = std::lround(word.numbers[0]);
        if (word.code == "PR") return bad(word, "PR: coordinates would be relative.");
        if (isOneOf(word.code, {"SC", "IP", "IR", "RO", "IW", "LT", "UL"}))
            return bad(word, fmt::format("{} moves, scales or breaks up all that follows.", word.code));
        if (!isOneOf(word.code, {"PU", "PD", "PA"})) {
            if (isOneOf(word.code, {"IN", "DF", "SP", "FS", "VS", "AS", "PG", "EC", "NR", "AF", "AH"})) continue;
            return bad(word, fmt::format("{} draws what was not meant, or is not known here.", word.code));
        }
        if (word.numbers.size() % 2) return bad(word, "A coordinate is missing.");
        const bool was = down;
        if (word.code != "PA") down = word.code == "PD";
        if (down && !was) {
            Drawn one;
            one.points = {at}, one.tool = tool, one.force = force, one.line = word.line;
            out.push_back(std::move(one));
        }
        for (std::size_t i = 0; i + 1 < word.numbers.size(); i += 2) {
            at = {word.numbers[i] / dialect.perMm, word.numbers[i + 1] / dialect.perMm};
            if (!down) continue;
            out.back().points.push_back(at);
            out.back().speeds.push_back(speed);
        }
    }
    if (down)
        return Problem{.what = "The pen is left down at the end.", .where = {}, .mend = "Correct the dialect's lines."};
    if (tool != 0)
        return Problem{
            .what = "The tool is not put back at the end (SP0).", .where = {}, .mend = "Correct the dialect's lines."};
    return out;
}

double farthest(const std::vector<Vec2>& points, const std::vector<Vec2>& line) {
    double most = 0;
    for (const Vec2 p : points) {
        double least = distance(p, line.front());
        for (std::size_t i = 1; i < line.size(); ++i) least = std::min(least, distanceToLine(p, line[i - 1], line[i]));
        most = std::max(most, least);
    }
    return most;
}

} // namespace

Program writtenForPlotter(const toolpath::Toolpath& path, const Dialect& dialect, const Frame& frame) {
    return Plotting(path, dialect, frame).all();
}

Result<void> plotterAgrees(const Program& program, const toolpath::Toolpath& path, const Dialect& dialect,
                           const Frame& frame) {
    const auto said = saidBy(program.text, dialect);
    if (!said) return said.problem();
    const auto meant = meantBy(path, dialect, frame);
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what), .where = {}, .mend = "Correct the dialect's lines; use no such file."};
    };
    if (said->size() != meant.size())
        return bad(fmt::format("The file draws {} lines, {} were meant.", said->size(), meant.size()));
    for (std::size_t i = 0; i < meant.size(); ++i) {
        const auto& m = meant[i];
        const auto& s = (*said)[i];
        const double most =
            std::max({farthest(s.points, m.points), farthest(m.points, s.points),
                      distance(s.points.front(), m.points.front()), distance(s.points.back(), m.points.back())});
        if (most > 1.5 / dialect.perMm)
            return bad(fmt::format("Line {}: what is drawn leaves what was meant by {:.3f} mm.", s.line, most));
        if (s.tool != m.tool) return bad(fmt::format("Line {}: tool {} was meant (SP).", s.line, m.tool));
        if (s.force != m.force) return bad(fmt::format("Line {}: a force of {} g was meant (FS).", s.line, m.force));
        for (const auto& speeds : {std::pair(&s.speeds, &m.speeds), std::pair(&m.speeds, &s.speeds)})
            for (const long speed : *speeds.first)
                if (std::find(speeds.second->begin(), speeds.second->end(), speed) == speeds.second->end())
                    return bad(fmt::format("Line {}: a speed of {} cm/s was not meant (VS).", s.line, speed));
    }
    return {};
}

} // namespace ferro::program

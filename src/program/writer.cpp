#include "program/writer.h"

#include "base/holes.h"
#include "geometry/flatten.h"

#include <array>

namespace ferro::program {

using toolpath::Move;
using toolpath::Vec3;

namespace {
constexpr std::array<std::int64_t, 7> tens = {1, 10, 100, 1'000, 10'000, 100'000, 1'000'000};
}

void appendNumber(std::string& out, double value, int decimals) {
    auto scaled = std::llround(value * static_cast<double>(tens[static_cast<std::size_t>(decimals)]));
    if (scaled == 0) {
        out += '0';
        return;
    }
    if (scaled < 0) out += '-', scaled = -scaled;
    while (decimals > 0 && scaled % 10 == 0) scaled /= 10, --decimals;
    char digits[32];
    int at = 32;
    for (int i = 0; scaled > 0 || i <= decimals; ++i) {
        if (i == decimals && i > 0) digits[--at] = '.';
        digits[--at] = static_cast<char>('0' + scaled % 10);
        scaled /= 10;
    }
    out.append(digits + at, static_cast<std::size_t>(32 - at));
}

namespace {

class Writer {
public:
    Writer(const toolpath::Toolpath& path, const Dialect& dialect, const Frame& frame, std::string_view name)
        : path_(path), dialect_(dialect), frame_(frame), name_(name),
          scale_(dialect.units == Units::inch ? 1 / mmPerInch : 1),
          power10_(static_cast<double>(tens[static_cast<std::size_t>(dialect.decimals)])) {
        out_.ending = dialect.ending;
        std::size_t runs = 0;
        for (const auto& step : path.steps) {
            runs += step.runs.size();
            for (const auto& move : step.moves) heights_ = heights_ || !dialect.beam() || move.to.z != 0;
        }
        out_.text.reserve(path.count() * 28 + runs * 14 + 1000);
    }

    Program all() {
        remark(name_);
        templates(dialect_.header, nullptr);
        for (std::size_t s = 0; s < path_.steps.size(); ++s) {
            const auto& step = path_.steps[s];
            remark(fmt::format("{}: {}", step.title(), step.tool.name));
            if (!step.note.empty()) remark(step.note);
            if (step.stopBefore) templates(dialect_.pause, &step);
            if (step.toolChange || s == 0) templates(dialect_.toolChange, &step);
            templates(dialect_.start, &step);
            if (step.air != airOn_) blow(step.air);
            out_.lineOf.emplace_back();
            out_.lineOf.back().reserve(step.moves.size());
            runs_ = &step.runs;
            turned_ = step.tool.isTurned();
            auto wait = step.waits.begin();
            auto hole = step.drillings.begin();
            auto turn = step.turns.begin();
            auto worn = step.worn.begin();
            for (std::size_t i = 0; i < step.moves.size(); ++i) {
                if (dialect_.cycles && hole != step.drillings.end() && hole->first == i) {
                    cycle(*hole);
                    out_.lineOf.back().resize(hole->end, cycleLine_);
                    i = hole++->end - 1;
                    continue;
                }
                for (; wait != step.waits.end() && wait->before == i; ++wait)
                    wait->power > 0 ? templates(dialect_.pierce, &step, &*wait) : dwell(wait->seconds);
                for (; turn != step.turns.end() && turn->before == i; ++turn) turnTo(turn->to);
                if (dialect_.wear && worn != step.worn.end()) {
                    if (i == worn->first) before_ = fmt::format("G4{} D{}", worn->left ? 1 : 2, step.tool.number);
                    if (i + 1 == worn->end) before_ = "G40", ++worn;
                }
                const Vec2 from = at_;
                out_.lineOf.back().push_back(one(step.moves[i]));
                if (turned_ && step.moves[i].kind == Move::Kind::arc)
                    angle_ += sweepOf(from, step.moves[i].flat()) * 180 / pi; // an arc too short to be said, too
            }
            templates(dialect_.stop, &step);
        }
        if (airOn_) blow(false);
        templates(dialect_.footer, nullptr);
        out_.lines = line_;
        return std::move(out_);
    }

private:
    void endLine() {
        if (dialect_.lineNumbers > 0 && begun_ < out_.text.size() && out_.text[begun_] != '%' &&
            out_.text[begun_] != ';' && out_.text[begun_] != 'O') {
            number_ += static_cast<unsigned>(dialect_.lineNumbers);
            out_.text.insert(begun_, fmt::format("N{} ", number_));
        }
        out_.text += '\n';
        begun_ = out_.text.size();
        ++line_;
    }
    /// A bracket inside a remark would end it early; a line break would turn the rest into code.
    static std::string harmless(std::string text) {
        for (char& c : text)
            if (c == '(' || c == ')' || c == ';' || c == '%' || static_cast<unsigned char>(c) < 0x20) c = ' ';
        return text;
    }
    void remark(std::string text) {
        if (dialect_.comment.empty()) return;
        text = harmless(std::move(text));
        const auto hole = dialect_.comment.find("{}");
        out_.text += dialect_.comment.substr(0, hole) + text + dialect_.comment.substr(hole + 2);
        endLine();
    }
    void blow(bool on) {
        templates(on ? dialect_.air : dialect_.airOff, nullptr);
        airOn_ = on;
    }
    void templates(const std::vector<std::string>& lines, const toolpath::StepMoves* step,
                   const toolpath::Wait* wait = nullptr) {
        for (const std::string& line : lines) {
            bool lifts = false;
            out_.text += holesFilled(line, [&](std::string_view word) -> std::optional<std::string> {
                const auto number = [](double value, int decimals) {
                    std::string text;
                    appendNumber(text, value, decimals);
                    return text;
                };
                if (word == "travel")
                    return lifts = true, number((path_.travel - frame_.z) * scale_, dialect_.decimals);
                if (word == "name") return harmless(name_);
                if (!step) return {};
                if (wait && word == "power") return number(wait->power * dialect_.beamScale, 0);
                if (wait && word == "seconds") return number(wait->seconds, 2);
                if (word == "number" || word == "tool") return number(step->tool.number, 0);
                if (word == "turns" || word == "spindle") return number(step->spindle, 0); // the second as before
                if (word == "spinup") return number(step->spinUp, 2);
                return {};
            });
            endLine();
            forgetModes();
            if (lifts) have_[2] = std::llround((path_.travel - frame_.z) * scale_ * power10_);
        }
    }
    /// After a template anything may hold: say motion word, feed and power anew.
    void forgetModes() {
        word_ = -1;
        feed_ = -1;
        power_ = -1;
    }

    [[nodiscard]] std::int64_t grid(double value) const { return std::llround(value * scale_ * power10_); }
    void axis(char letter, std::int64_t value, std::int64_t& have, bool force = false) {
        if (value == have && dialect_.modal && !force) return;
        have = value;
        space();
        out_.text += letter;
        appendNumber(out_.text, static_cast<double>(value) / power10_, dialect_.decimals);
    }
    void space() {
        if (!out_.text.empty() && out_.text.back() != '\n') out_.text += ' ';
    }
    void motionWord(int word) {
        if (!before_.empty()) space(), out_.text += std::exchange(before_, {});
        if (word == word_ && dialect_.modal) return;
        word_ = word;
        space();
        out_.text += 'G';
        out_.text += static_cast<char>('0' + word);
    }
    void rates(const Move& move) {
        if (move.kind == Move::Kind::rapid) return;
        if (move.feed != feed_ || !dialect_.modal) {
            feed_ = move.feed;
            space();
            out_.text += 'F';
            appendNumber(out_.text, move.feed * scale_, dialect_.feedDecimals);
        }
    }
    void power(const Move& move) {
        if (!dialect_.beam()) return;
        if (move.power == power_ && dialect_.modal) return;
        power_ = move.power;
        space();
        out_.text += 'S';
        appendNumber(out_.text, move.power * dialect_.beamScale, 0);
    }

    /// Said whole, so that a run that is resumed here needs to know nothing of holes before. The tool stands over it at
    /// travel height, where G98 brings it back.
    void cycle(const toolpath::Drilling& hole) {
        const auto number = [&](char letter, double value) {
            space();
            out_.text += letter;
            appendNumber(out_.text, static_cast<double>(grid(value)) / power10_, dialect_.decimals);
        };
        out_.text += hole.peck <= 0 ? "G98 G81" : hole.breaks ? "G98 G73" : "G98 G83";
        number('X', hole.at.x - frame_.zero.x);
        number('Y', hole.at.y - frame_.zero.y);
        number('Z', hole.bottom - frame_.z);
        number('R', hole.from - frame_.z);
        if (hole.peck > 0) number('Q', hole.peck);
        space();
        out_.text += 'F';
        appendNumber(out_.text, hole.feed * scale_, dialect_.feedDecimals);
        endLine();
        const auto said = static_cast<std::uint32_t>(line_);
        out_.text += "G80";
        endLine();
        forgetModes();
        cycleLine_ = said;
    }
    void dwell(double seconds) {
        out_.text += "G4 P"; // changes no mode
        appendNumber(out_.text, seconds, 2);
        endLine();
    }
    void turnTo(double angle) {
        angle_ = angle;
        if (dialect_.turn.empty()) return;
        motionWord(0);
        knife(angle_, true);
        endLine();
    }
    /// Where the knife is to point at the end of a line.
    void knife(double angle, bool alone = false) {
        if (dialect_.turn.empty() || (!alone && std::abs(angle - said_) < 0.0005)) return;
        said_ = angle;
        space();
        out_.text += dialect_.turn;
        appendNumber(out_.text, angle, 3);
    }
    /// Of an arc, after a share of it.
    [[nodiscard]] double angleAlong(const Move& move, Vec2 from, double share) const {
        return angle_ + sweepOf(from, move.flat()) * 180 / pi * share;
    }
    std::uint32_t one(const Move& move) {
        const Vec3 to{move.to.x - frame_.zero.x, move.to.y - frame_.zero.y, move.to.z - frame_.z};
        const std::int64_t x = grid(to.x), y = grid(to.y), z = heights_ ? grid(to.z) : have_[2];
        const bool still = x == have_[0] && y == have_[1] && z == have_[2];
        const Vec2 from = at_;
        at_ = move.to.flat();
        if (move.kind == Move::Kind::scan) return scan(move, from, z);
        if (move.kind == Move::Kind::arc) {
            if (!dialect_.arcs || ferro::distance(from, move.centre) > dialect_.largestArc)
                return chords(move, from, z);
            if (x != have_[0] || y != have_[1]) return arc(move, from, x, y, z);
        }
        if (still) return 0;
        straight(move, x, y, z);
        return static_cast<std::uint32_t>(line_);
    }
    /// A line for each stretch of one power. What is shorter than the last digit goes to the next.
    std::uint32_t scan(const Move& move, Vec2 from, std::int64_t z) {
        for (std::uint32_t i = 0; i < move.runs.count; ++i) {
            const auto& run = (*runs_)[move.runs.first + i];
            const Vec2 p = lerp(from, move.to.flat(), static_cast<double>(run.end)) - frame_.zero;
            const std::int64_t x = grid(p.x), y = grid(p.y);
            if (x == have_[0] && y == have_[1]) continue;
            Move stretch = move;
            stretch.power = run.power;
            straight(stretch, x, y, z);
        }
        return static_cast<std::uint32_t>(line_);
    }
    void straight(const Move& move, std::int64_t x, std::int64_t y, std::int64_t z, std::optional<double> angle = {}) {
        motionWord(move.kind == Move::Kind::rapid ? 0 : 1);
        axis('X', x, have_[0]);
        axis('Y', y, have_[1]);
        if (heights_) axis('Z', z, have_[2]);
        if (angle) knife(*angle);
        rates(move);
        power(move);
        endLine();
    }
    std::uint32_t arc(const Move& move, Vec2 from, std::int64_t x, std::int64_t y, std::int64_t z) {
        const double sweep = std::abs(sweepOf(from, move.flat())), r = ferro::distance(from, move.centre);
        // Flatter than the last digit: a line says the same.
        if (r * (1 - std::cos(std::min(sweep, pi) / 2)) < 0.5 / (scale_ * power10_)) {
            straight(move, x, y, z, turned_ ? std::optional(angleAlong(move, from, 1)) : std::nullopt);
            return static_cast<std::uint32_t>(line_);
        }
        if (dialect_.byRadius) return byRadius(move, from, x, y, z, sweep, r);
        motionWord(move.ccw ? 3 : 2);
        // The centre is given from the start as it was written, so that rounding does not add up.
        const double startX = static_cast<double>(have_[0]) / power10_,
                     startY = static_cast<double>(have_[1]) / power10_;
        axis('X', x, have_[0]);
        axis('Y', y, have_[1]);
        if (heights_) axis('Z', z, have_[2]);
        std::int64_t none = 0;
        axis('I', std::llround(((move.centre.x - frame_.zero.x) * scale_ - startX) * power10_), none, true);
        axis('J', std::llround(((move.centre.y - frame_.zero.y) * scale_ - startY) * power10_), none, true);
        if (turned_) knife(angleAlong(move, from, 1));
        rates(move);
        power(move);
        endLine();
        return static_cast<std::uint32_t>(line_);
    }
    /// Pieces of at most a third of a turn: near to a half, a last digit of the end would shift the centre far.
    std::uint32_t byRadius(const Move& move, Vec2 from, std::int64_t x, std::int64_t y, std::int64_t z, double sweep,
                           double r) {
        const int pieces = std::max(1, static_cast<int>(std::ceil(sweep / (2 * pi / 3) - 1e-9)));
        const std::int64_t begin = have_[2];
        for (int i = 1; i <= pieces; ++i) {
            const Vec2 at = pointAt(from, move.flat(), static_cast<double>(i) / pieces) - frame_.zero;
            motionWord(move.ccw ? 3 : 2);
            axis('X', i == pieces ? x : grid(at.x), have_[0], true);
            axis('Y', i == pieces ? y : grid(at.y), have_[1], true);
            if (heights_) axis('Z', begin + (z - begin) * i / pieces, have_[2]);
            std::int64_t none = 0;
            axis('R', std::llround(r * scale_ * power10_), none, true);
            if (turned_) knife(angleAlong(move, from, static_cast<double>(i) / pieces));
            rates(move);
            power(move);
            endLine();
        }
        return static_cast<std::uint32_t>(line_);
    }
    std::uint32_t chords(const Move& move, Vec2 from, std::int64_t z) {
        const std::int64_t begin = have_[2];
        std::vector<Vec2> points;
        flattenSegment(from, move.flat(), dialect_.chord, [&](Vec2 p) { points.push_back(p); });
        for (std::size_t i = 0; i < points.size(); ++i) {
            const Vec2 p = points[i] - frame_.zero;
            const double share = static_cast<double>(i + 1) / static_cast<double>(points.size());
            straight(move, grid(p.x), grid(p.y),
                     begin + (z - begin) * static_cast<std::int64_t>(i + 1) / static_cast<std::int64_t>(points.size()),
                     turned_ ? std::optional(angleAlong(move, from, share)) : std::nullopt);
        }
        return static_cast<std::uint32_t>(line_);
    }

    const toolpath::Toolpath& path_;
    const Dialect& dialect_;
    Frame frame_;
    std::string name_;
    double scale_, power10_;
    Program out_;
    std::size_t line_ = 0, begun_ = 0; ///< lines written, and where the one being written begins
    std::uint64_t number_ = 0;         ///< the last N word
    static constexpr std::int64_t unknown = std::numeric_limits<std::int64_t>::min();
    std::array<std::int64_t, 3> have_{unknown, unknown, unknown};
    std::uint32_t cycleLine_ = 0; ///< of the last hole in one word
    int word_ = -1;
    double feed_ = -1, power_ = -1;
    bool heights_ = false; ///< Z is said
    bool airOn_ = false;
    std::string before_;                                    ///< words that the next line begins with
    bool turned_ = false;                                   ///< the step's knife is turned by the machine
    double angle_ = 0;                                      ///< ° that it points to
    double said_ = std::numeric_limits<double>::infinity(); ///< the same, as the program has it
    Vec2 at_;
    const std::vector<toolpath::Run>* runs_ = nullptr; ///< of the step being written
};

} // namespace

Program written(const toolpath::Toolpath& path, const Dialect& dialect, const Frame& frame, std::string_view name) {
    return Writer(path, dialect, frame, name).all();
}

} // namespace ferro::program

#include "link/resume.h"

#include "program/code.h"

namespace ferro::link {

namespace {

using Modes = program::Interpreter::Modes;

std::vector<std::string_view> linesOf(std::string_view text) {
    std::vector<std::string_view> lines;
    while (!text.empty()) {
        const auto end = std::min(text.find('\n'), text.size());
        std::string_view line = text.substr(0, end);
        if (line.ends_with('\r')) line.remove_suffix(1);
        lines.push_back(line);
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return lines;
}

/// The machine before a line.
struct Before {
    long line = 0;
    Modes modes;
    toolpath::Vec3 at;
};

/// Where to begin again: with the last finished move when that was a cut, so that nothing stays uncut; else behind it.
struct Restart {
    Before before;
    bool asksForTool = false; ///< the rest asks for a tool by itself before it cuts
};

/// What is the last move before: it was broken off, perhaps, or a person leaves it out.
enum class Last { cutAgain, left };

Result<Restart> restartOf(const std::vector<std::string_view>& lines, const Run& run, long doneLine, Last last) {
    program::Interpreter reader({.beam = run.beam, .beamScale = run.beamScale, .wear = run.wear, .turn = run.turn});
    reader.setPosition({0, 0, (run.beam ? 0 : run.travel) - run.zeroZ});
    std::optional<Before> lastCut;  // before the last finished move, when it was a cut
    std::optional<Before> behind;   // before the first line that is not done
    std::optional<Before> straight; // before the line that the controller last began to make up for wear on
    Restart out;
    bool left = false, settled = false;
    for (long i = 1; i <= static_cast<long>(lines.size()); ++i) {
        const Before before{i, reader.modes(), reader.position()};
        if (i == doneLine + 1) behind = before;
        const int wore = before.modes.wear;
        auto line = reader.read(lines[static_cast<std::size_t>(i - 1)]);
        if (!line) return line.problem().within(fmt::format("line {}", i));
        const auto isCut = [](const auto& m) { return m.kind != toolpath::Move::Kind::rapid; };
        const bool cuts = std::any_of(line->moves.begin(), line->moves.end(), isCut);
        if (i <= doneLine && wore == 40 && reader.modes().wear != 40) straight = before;
        if (i <= doneLine) {
            if (!line->moves.empty() && last == Last::cutAgain) lastCut = cuts ? std::optional(before) : std::nullopt;
            continue;
        }
        left = left || !line->moves.empty();
        for (const auto& event : line->events)
            if (event.kind == program::Event::Kind::toolChange && !settled) out.asksForTool = true;
        settled = settled || cuts;
    }
    if (!left || !behind)
        return Problem{.what = "The run was finished; nothing is left to resume.", .where = {}, .mend = {}};
    out.before = lastCut ? *lastCut : *behind;
    // It can only begin to do so on the straight line that leads in: from there all of it is cut once more.
    if (out.before.modes.wear != 40 && straight) out.before = *straight, lastCut = straight;
    // Beginning with a move before the change: its tool is asked for first, and the change itself comes again.
    if (lastCut) out.asksForTool = false;
    return out;
}

/// The words of a line outside its remarks.
class Words {
public:
    explicit Words(std::string_view line) {
        for (const char c : program::codeOf(line))
            if (!std::isspace(static_cast<unsigned char>(c)))
                code_ += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    }
    [[nodiscard]] bool has(char letter) const { return code_.find(letter) != std::string::npos; }
    /// G0 to G3, or a drilling cycle.
    [[nodiscard]] bool hasMotion() const {
        return any('G',
                   [](double v) { return v == 0 || v == 1 || v == 2 || v == 3 || v == 73 || (v >= 80 && v <= 83); });
    }
    /// For a person: a pause, a tool change.
    [[nodiscard]] bool stops() const {
        return any('M', [](double v) { return v == 0 || v == 1 || v == 6; });
    }

private:
    template<class Is> [[nodiscard]] bool any(char letter, const Is& is) const {
        for (std::size_t i = 0; i + 1 < code_.size(); ++i)
            if (code_[i] == letter && is(std::strtod(code_.c_str() + i + 1, nullptr))) return true;
        return false;
    }
    std::string code_;
};

class Head {
public:
    Head(const Run& run, const Modes& modes) : run_(run), modes_(modes) {}

    void put(std::string line) {
        text += line + "\n";
        ++lines;
    }
    [[nodiscard]] std::string number(double mmValue, int decimals) const {
        std::string out;
        program::appendNumber(out, mmValue / (modes_.inch ? mmPerInch : 1), decimals);
        return out;
    }
    [[nodiscard]] std::string place(double mmValue) const { return number(mmValue, run_.decimals); }

    std::string text;
    long lines = 0;

private:
    const Run& run_;
    const Modes& modes_;
};

Result<Resumption> restOf(const Run& run, long doneLine, Last last) {
    const auto lines = linesOf(run.program);
    auto restart = restartOf(lines, run, doneLine, last);
    if (!restart) return restart.problem();
    const auto& [line, modes, at] = restart->before;
    const double travel = run.travel - run.zeroZ;
    Resumption out{.text = {}, .fromLine = line, .entry = at};

    Head head(run, modes);
    head.put(modes.inch ? "G20" : "G21");
    head.put(fmt::format("G90 G17 G94 G{}", modes.offset));
    if (!run.beam) head.put("G0 Z" + head.place(travel));
    const bool focuses = run.beam && std::any_of(lines.begin(), lines.begin() + line,
                                                 [](std::string_view one) { return Words(one).has('Z'); });
    if (!run.beam && modes.tool > 0 && !restart->asksForTool) {
        out.tool = modes.tool;
        head.put(fmt::format("T{} M6", modes.tool));
    }
    if (modes.mist) head.put("M7");
    if (modes.flood) head.put("M8");
    if (modes.spindle != 5 && !restart->asksForTool) {
        head.put(fmt::format("M{} S{}", modes.spindle, run.beam ? 0 : std::lround(modes.speed)));
        if (!run.beam) head.put(fmt::format("G4 P{:g}", run.spinUp));
    }
    head.put(fmt::format("G0 X{} Y{}", head.place(at.x), head.place(at.y)));
    if (focuses) head.put("G0 Z" + head.place(at.z));
    if (!run.turn.empty()) { // before it goes down
        std::string angle;
        program::appendNumber(angle, modes.turned, 3);
        head.put("G0 " + run.turn + angle);
    }
    const auto* step = run.stepOf(line);
    if (!run.beam && at.z < travel - 0.001) // as places are written
        head.put(fmt::format("G1 Z{} F{}", head.place(at.z), head.number(step ? step->plunge : 100, 3)));
    // The rest is taken word by word from the program; its first line must not lean on modes that are gone.
    if (modes.plane != 17) head.put(fmt::format("G{}", modes.plane));
    if (modes.absoluteCentres) head.put("G90.1");
    if (!modes.absolute) head.put("G91");
    std::string first(lines[static_cast<std::size_t>(line - 1)]);
    const Words words(first);
    std::string before;
    if (run.beam && !words.has('S')) before += fmt::format("S{} ", std::lround(modes.speed));
    if (modes.feed > 0 && !words.has('F')) before += fmt::format("F{} ", head.number(modes.feed, 3));
    const bool moves = words.has('X') || words.has('Y') || words.has('Z');
    if (!words.hasMotion() && modes.motion < 73) before = fmt::format("G{} {}", modes.motion, before);
    if (words.stops() && !before.empty())
        head.put(before.substr(0, before.size() - 1)); // a line that asks for a person is left as it is
    else
        first = before + first;
    if (!words.hasMotion() && moves && modes.motion >= 73 && modes.motion != 80) {
        // A drilling cycle goes on: its own numbers are said anew.
        std::string cycle = fmt::format("G{} G{}", modes.returnToInitial ? 98 : 99, modes.motion);
        if (!words.has('Z')) cycle += " Z" + head.place(modes.cycle.z);
        if (!words.has('R')) cycle += " R" + head.place(modes.cycle.r);
        if (!words.has('Q') && modes.cycle.q > 0) cycle += " Q" + head.place(modes.cycle.q);
        first = cycle + " " + first;
    }
    out.head = head.lines;
    out.text = std::move(head.text);
    out.text += first + "\n";
    for (std::size_t i = static_cast<std::size_t>(line); i < lines.size(); ++i)
        out.text += std::string(lines[i]) + "\n";
    return out;
}

} // namespace

Result<Resumption> resumed(const Run& run, long doneLine) { return restOf(run, doneLine, Last::cutAgain); }

Result<Resumption> beginningAt(const Run& run, std::size_t step) {
    if (step >= run.steps.size())
        return Problem{.what = fmt::format("The run has no step {}.", step + 1),
                       .where = run.job,
                       .mend = fmt::format("It has {}.", run.steps.size())};
    return restOf(run, run.steps[step].firstLine - 1, Last::left);
}

} // namespace ferro::link

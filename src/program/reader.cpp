// A whole program as moves, with what happens between them.
#include "program/reader.h"

#include "base/quantity.h"

namespace ferro::program {

using toolpath::Move;

Result<ReadProgram> readProgram(std::string_view text, const ReadOptions& options) {
    ReadProgram out;
    out.path.process = options.process();
    out.path.travel = options.startHeight;
    out.path.start = {options.frame.zero.x, options.frame.zero.y, options.interpreter.beam ? 0 : options.startHeight};
    Interpreter reader(options.interpreter);
    reader.setPosition({0, 0, out.path.start.z - options.frame.z});
    const auto toolNumbered = [&](int number) {
        for (const auto& tool : options.tools)
            if (tool.number == number && tool.process() == options.process()) return tool;
        if (number > 0 && !options.tools.empty() && !options.interpreter.beam)
            out.notices.push_back({fmt::format("Tool {} is not known; taken for an end mill of {}.", number,
                                               mm(options.fallbackDiameter))});
        shop::Tool tool;
        tool.name = fmt::format("Tool {}", number);
        tool.number = number;
        tool.kind = options.interpreter.beam ? shop::ToolKind::laser
                    : options.blade          ? shop::ToolKind::blade
                                             : shop::ToolKind::endMill;
        tool.diameter = options.fallbackDiameter;
        return tool;
    };
    double dwelt = 0, litBy = 0;
    const auto lines = static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n')) + 1;
    const auto step = [&]() -> toolpath::StepMoves& {
        const auto& modes = reader.modes();
        const int number = modes.tool > 0 ? modes.tool : modes.nextTool;
        // A spindle that stands or turns at another speed begins a step of its own, so that it can be judged.
        const double speed = options.interpreter.beam || modes.spindle == 5 ? 0 : modes.speed;
        const bool another = !out.path.steps.empty() && out.path.steps.back().tool.number != number && number > 0;
        if (out.path.steps.empty() || another || out.path.steps.back().spindle != speed) {
            const bool change = another;
            out.path.steps.push_back({.step = {},
                                      .name = {},
                                      .kind = nullptr,
                                      .tool = toolNumbered(number),
                                      .spindle = speed,
                                      .spinUp = std::exchange(dwelt, 0),
                                      .toolChange = change,
                                      .note = {},
                                      .moves = {},
                                      .runs = {},
                                      .waits = {},
                                      .cuts = {}});
            out.path.steps.back().name = out.path.steps.back().tool.name;
            out.lineOf.emplace_back();
            out.stateOf.emplace_back();
            if (lines > 1'000'000 && out.path.steps.size() == 1) { // a picture's: not twice over while they grow
                out.path.steps.back().moves.reserve(lines);
                out.lineOf.back().reserve(lines);
                out.stateOf.back().reserve(lines);
            }
        }
        return out.path.steps.back();
    };
    bool ended = false;
    Frame frame = options.frame;
    std::size_t number = 0;
    while (!text.empty() && !ended) {
        const auto end = std::min(text.find('\n'), text.size());
        std::string_view line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        if (line.ends_with('\r')) line.remove_suffix(1);
        ++number;
        const auto before = reader.position();
        auto read = reader.read(line);
        if (!read)
            return Problem{.what = read.problem().what,
                           .where = fmt::format("line {}", number),
                           .mend = "Correct the program, or write it without this."};
        for (const auto& event : read->events) {
            ended |= event.kind == Event::Kind::end;
            if (event.kind == Event::Kind::dwell) dwelt += event.value, litBy = std::max(litBy, event.lit);
            out.happenings.push_back({event, static_cast<std::uint32_t>(number), out.path.count()});
            if (event.kind != Event::Kind::zeroSet) continue;
            // The tool stays where it is; from here on the same numbers mean other places.
            const auto now = reader.position();
            frame.zero += Vec2{before.x - now.x, before.y - now.y};
            frame.z += before.z - now.z;
        }
        if (!read->moves.empty()) {
            auto state = reader.modes(); // but for what each move carries itself
            state.motion = state.nextTool = 0;
            state.feed = 0;
            state.cycle = {};
            if (options.interpreter.beam) state.speed = 0;
            if (out.states.empty() || out.states.back() != state) out.states.push_back(state);
        }
        for (auto move : read->moves) {
            move.to = {move.to.x + frame.zero.x, move.to.y + frame.zero.y, move.to.z + frame.z};
            move.centre += frame.zero;
            auto& into = step();
            // Before a step's first move it belongs to its start.
            if (dwelt > 0) into.waits.push_back({into.moves.size(), std::exchange(dwelt, 0), std::exchange(litBy, 0)});
            into.moves.push_back(move);
            out.lineOf.back().push_back(static_cast<std::uint32_t>(number));
            out.stateOf.back().push_back(static_cast<std::uint32_t>(out.states.size() - 1));
        }
    }
    out.lines = number;
    out.atEnd = reader.modes();
    for (const auto& notice : reader.notices()) out.notices.push_back(notice);
    return out;
}

} // namespace ferro::program

#include "program/for_job.h"

#include "base/holes.h"
#include "base/quantity.h"
#include "program/agreement_internal.h"
#include "program/plotter.h"
#include "toolpath/follow_lie.h"

namespace ferro::program {

Frame frameOf(const job::Job& job) {
    const auto zero = job::zeroOf(job.sheet().stock);
    return {zero.at, zero.z};
}

shop::Process processOf(const job::Job& job) {
    for (const auto& step : job.plan.steps)
        if (const auto* tool = job::toolOf(job, step); step.enabled && tool && job.machine.does(tool->process()))
            return tool->process();
    return job.machine.mainProcess();
}

Result<Dialect> dialectOf(Disk& disk, const job::Job& job) {
    const shop::Process process = processOf(job);
    auto dialect = openDialect(disk, job.dialect.empty() ? job.machine.dialectFor(process) : job.dialect);
    if (dialect && dialect->process != process)
        return Problem{.what = fmt::format("The dialect “{}” is for a machine that works by {}, the job's does by {}.",
                                           dialect->title, shop::nameOf(dialect->process), shop::nameOf(process)),
                       .where = {},
                       .mend = "Choose another dialect in Run."};
    return dialect;
}

Result<void> mayStream(const Dialect& dialect) {
    if (!dialect.plotter) return {};
    return Problem{.what = "A plotter takes a file, and answers no lines.",
                   .where = {},
                   .mend = "Write the program, and send the file to the plotter as a whole."};
}

namespace {

/// Whether a dialect has words for what a beam is to do beyond going and burning.
Result<void> canSay(const toolpath::Toolpath& path, const Dialect& dialect) {
    if (!path.byBeam()) return {};
    for (const auto& step : path.steps) {
        const bool pierces =
            std::any_of(step.waits.begin(), step.waits.end(), [](const auto& wait) { return wait.power > 0; });
        const bool focuses =
            std::any_of(step.moves.begin(), step.moves.end(), [](const auto& move) { return move.to.z != 0; });
        if (pierces && dialect.pierce.empty())
            return Problem{.what = fmt::format("“{}” pierces, and the dialect “{}” has no words for that.", step.name,
                                               dialect.title),
                           .where = {},
                           .mend = "Let it pierce for 0 s, or give the dialect its `pierce` lines."};
        if (focuses && !dialect.heights)
            return Problem{.what =
                               fmt::format("“{}” goes down from pass to pass, and the dialect “{}” says no heights.",
                                           step.name, dialect.title),
                           .where = {},
                           .mend = "Let it go down by 0, or give the dialect `heights`."};
    }
    return {};
}

} // namespace

std::vector<Problem> unsaidBy(const Dialect& dialect, const toolpath::Toolpath& path) {
    std::vector<Problem> out;
    if (auto can = canSay(path, dialect); !can) out.push_back(can.problem());
    if (dialect.beam() && dialect.air.empty()) {
        std::string blown;
        for (const auto& step : path.steps)
            if (step.air && step.blank <= 1) blown += fmt::format("{}“{}”", blown.empty() ? "" : ", ", step.name);
        if (!blown.empty())
            out.push_back({.what = fmt::format("The dialect has no words for air, which {} asks for.", blown),
                           .where = {},
                           .mend = "Open it yourself, or give the dialect its `air` and `airOff` lines."});
    }
    std::string eased, turned, worn;
    for (const auto& step : path.steps) {
        if (step.blank > 1) continue; // said once
        if (!step.worn.empty()) worn += fmt::format("{}“{}”", worn.empty() ? "" : ", ", step.name);
        if (step.eased) eased += fmt::format("{}“{}”", eased.empty() ? "" : ", ", step.name);
        if (step.tool.isTurned()) turned += fmt::format("{}“{}”", turned.empty() ? "" : ", ", step.name);
    }
    const bool bySpeed = std::any_of(dialect.start.begin(), dialect.start.end(),
                                     [](const std::string& line) { return line.find("M4") != std::string::npos; });
    if (!eased.empty() && bySpeed)
        out.push_back({.what = fmt::format("The controller weakens the beam in corners by itself (M4), and {} asks for "
                                           "it once more.",
                                           eased),
                       .where = {},
                       .mend = "Set its power in corners to 100 %."});
    if (!worn.empty() && !dialect.wear)
        out.push_back(
            {.what = fmt::format("{} leaves the tool's wear to the controller, and the dialect has no words for "
                                 "that: it is cut as the path has it.",
                                 worn),
             .where = {},
             .mend = "If the controller knows G41 and G42, say so in the dialect (`wear`)."});
    if (!turned.empty() && dialect.turn.empty())
        out.push_back({.what = fmt::format("The program says no angles for the knife of {}: the machine has to turn it "
                                           "by itself.",
                                           turned),
                       .where = {},
                       .mend = "If it does not, give the dialect its `turn` letter."});
    if (!dialect.plotter) return out;
    std::string forces;
    for (const auto& step : path.steps) {
        if (step.blank > 1) continue;
        forces += fmt::format("{}“{}” with {:g} g", forces.empty() ? "" : ", ", step.name, step.force);
        double low = 0, high = -1e9; // of what is cut
        toolpath::Vec3 at = step.moves.front().to;
        for (const auto& move : step.moves) {
            if (move.kind != toolpath::Move::Kind::rapid && distance(at.flat(), move.to.flat()) > 1e-9)
                low = std::min(low, move.to.z), high = std::max(high, move.to.z);
            at = move.to;
        }
        if (high - low > 1e-6)
            out.push_back({.what = fmt::format("“{}” cuts at depths from {} to {}; a plotter makes them all alike.",
                                               step.name, mm(-high), mm(-low)),
                           .where = {},
                           .mend = "Use one pass, and let the blade turn as deep as it cuts."});
    }
    if (!forces.empty())
        out.push_back({.what = fmt::format("How deep a plotter cuts is a matter of its force: {}.", forces),
                       .where = {},
                       .mend = "Try it on a corner first."});
    return out;
}

ReadOptions readOptionsFor(const job::Job& job, const Dialect& dialect) {
    ReadOptions options;
    options.interpreter = {
        .beam = dialect.beam(), .beamScale = dialect.beamScale, .wear = dialect.wear, .turn = dialect.turn};
    options.frame = frameOf(job);
    options.tools = job.tools;
    options.blade = dialect.process == shop::Process::blade;
    options.startHeight = job::travelHeight(job);
    if (dialect.beam()) options.fallbackDiameter = 0.16;
    return options;
}

namespace {

double largestRadius(const toolpath::Toolpath& path) {
    double largest = 0;
    for (const auto& step : path.steps)
        for (const auto& move : step.moves)
            if (move.kind == toolpath::Move::Kind::arc)
                largest = std::max(largest, ferro::distance(move.centre, move.to.flat()));
    return largest;
}

} // namespace

namespace {

/// Whether what was written says what was meant, when it is read by itself.
Result<void> agrees(const Program& program, const toolpath::Toolpath& path, const Dialect& dialect,
                    const ReadOptions& options) {
    auto back = readProgram(program.text, options);
    if (!back) return back.problem();
    auto miss = largestMiss(path, program.lineOf, *back, dialect);
    if (!miss) return miss.problem();
    if (auto same = sameStates(path, program.lineOf, *back, dialect); !same) return same.problem();
    const double digit = (dialect.units == Units::inch ? mmPerInch : 1) * std::pow(10.0, -dialect.decimals);
    const bool hasChords = !dialect.arcs || dialect.largestArc < largestRadius(path);
    if (*miss > 3 * digit + (hasChords ? dialect.chord : 0))
        return Problem{.what = fmt::format("The written program leaves its moves by {}.", mm(*miss)),
                       .where = {},
                       .mend = "Report this; do not run the program."};
    return {};
}

} // namespace

Result<Program> programFor(const job::Job& job, const toolpath::Toolpath& path, const Dialect& dialect,
                           Clearance clearance) {
    if (clearance != Clearance::passed)
        return Problem{.what = "The job has a no-go; no program is written.",
                       .where = {},
                       .mend = "Settle the no-go findings in Proof first."};
    if (dialect.plotter) {
        Program drawn = writtenForPlotter(path, dialect, frameOf(job));
        if (auto same = plotterAgrees(drawn, path, dialect, frameOf(job)); !same)
            return same.problem().within("check of the written program");
        return drawn;
    }
    if (auto fine = canSay(path, dialect); !fine) return fine.problem();
    const auto writtenOf = [&](const toolpath::Toolpath& moves) -> Result<Program> {
        Program program = written(moves, dialect, frameOf(job), job.name);
        if (auto same = agrees(program, moves, dialect, readOptionsFor(job, dialect)); !same)
            return same.problem().within("check of the written program");
        return program;
    };
    const auto& lie = job.sheet().lie;
    if (!lie || path.byBeam()) return writtenOf(path);
    const auto bent = toolpath::onLie(path, *lie);
    auto program = writtenOf(bent.path);
    if (!program) return program;
    // The lines by the moves that are proofed: each by the last of its parts that shows.
    std::vector<std::vector<std::uint32_t>> lineOf;
    for (std::size_t s = 0; s < path.steps.size(); ++s) {
        auto& lines = lineOf.emplace_back(path.steps[s].moves.size(), 0);
        for (std::size_t k = 0; k < bent.origin[s].size(); ++k)
            if (program->lineOf[s][k]) lines[bent.origin[s][k]] = program->lineOf[s][k];
    }
    program->lineOf = std::move(lineOf);
    return program;
}

Sample sampleOf(const Dialect& dialect) {
    using toolpath::Move;
    toolpath::Toolpath path;
    path.process = dialect.process;
    path.travel = dialect.beam() ? 0 : 15;
    path.start = {0, 0, path.travel};
    constexpr std::array kinds = {shop::ToolKind::endMill, shop::ToolKind::laser, shop::ToolKind::blade};
    const bool turns = dialect.process == shop::Process::rotary;
    const auto step = [&](const char* name, const char* tool, int number, double speed) -> toolpath::StepMoves& {
        auto& moves = path.steps.emplace_back();
        moves.name = name;
        moves.tool.name = tool, moves.tool.number = number;
        moves.tool.kind = kinds[static_cast<std::size_t>(dialect.process)];
        moves.toolChange = !dialect.beam() || path.steps.size() == 1;
        if (turns) moves.spindle = speed, moves.spinUp = 3;
        if (dialect.process == shop::Process::blade) moves.force = 60 + 20 * number;
        return moves;
    };
    if (dialect.beam()) {
        auto& score = step("Fold lines", "Beam", 1, 0);
        score.moves = {Move::rapid({10, 10, 0}), Move::line({60, 10, 0}, 2400, 0.12)};
        auto& cut = step("Outer edges", "Beam", 1, 0);
        cut.stopBefore = true;
        cut.moves = {Move::rapid({10, 20, 0}), Move::line({50, 20, 0}, 900, 0.8),
                     Move::arc({60, 30, 0}, {50, 30}, true, 900, 0.8), Move::line({60, 60, 0}, 900, 0.8)};
        cut.air = !dialect.air.empty();
        if (!dialect.pierce.empty()) cut.waits = {{1, 0.3, 0.8}};
        if (dialect.heights) {
            cut.moves.push_back(Move::rapid({10, 20, -1}));
            cut.moves.push_back(Move::line({50, 20, -1}, 900, 0.8));
        }
    } else {
        auto& holes = turns ? step("Register holes", "Drill 8", 3, 8000) : step("Fold lines", "Pen knife", 2, 0);
        holes.moves = {Move::rapid({20, 20, 15}), Move::rapid({20, 20, 2}), Move::line({20, 20, -12}, 240),
                       Move::rapid({20, 20, 15})};
        if (turns) holes.drillings = {{.first = 1, .end = 4, .at = {20, 20}, .from = 2, .bottom = -12, .feed = 240}};
        if (!turns) holes.moves.insert(holes.moves.end() - 1, Move::line({60, 20, -12}, 3000));
        auto& cut = turns ? step("Outer edges", "End mill 6", 2, 16000) : step("Outer edges", "Drag knife", 1, 0);
        cut.stopBefore = true, cut.note = "Press the sheet down";
        cut.moves = {Move::rapid({10, 50, 15}),
                     Move::rapid({10, 50, 2}),
                     Move::line({10, 50, 0}, 300),
                     Move::line({40, 50, -3}, 900),
                     Move::arc({50, 60, -3}, {40, 60}, true, 1500),
                     Move::line({50, 90, -3}, 1500),
                     Move::rapid({50, 90, 15})};
    }
    if (dialect.plotter) {
        const Program program = writtenForPlotter(path, dialect, {});
        const auto same = plotterAgrees(program, path, dialect, {});
        return {program.text, same ? std::nullopt : std::optional(same.problem())};
    }
    ReadOptions options;
    options.interpreter = {
        .beam = dialect.beam(), .beamScale = dialect.beamScale, .wear = dialect.wear, .turn = dialect.turn};
    options.blade = dialect.process == shop::Process::blade;
    options.startHeight = path.travel;
    for (const auto& moves : path.steps) options.tools.push_back(moves.tool);
    const Program program = written(path, dialect, {}, "sample");
    const auto same = agrees(program, path, dialect, options);
    return {program.text, same ? std::nullopt : std::optional(same.problem())};
}

namespace {

std::string fitForFile(std::string_view name) {
    std::string out;
    for (const char c : name)
        out +=
            std::isalnum(static_cast<unsigned char>(c)) || c == '-' || c == '_' || static_cast<unsigned char>(c) >= 0x80
                ? c
                : '-';
    return out.empty() ? "job" : out;
}

std::string filled(std::string_view pattern, const job::Job& job, std::size_t number,
                   const toolpath::StepMoves& first) {
    return holesFilled(pattern, [&](std::string_view word) -> std::optional<std::string> {
        if (word == "job") return fitForFile(job.name);
        if (word == "sheet") return fitForFile(job.sheet().name);
        if (word == "number") return fmt::format("{:02}", number);
        if (word == "tool") return fitForFile(first.tool.name);
        if (word == "step") return fitForFile(first.name);
        return {};
    });
}

std::string usualName(const job::Job& job) {
    std::string name = job.sheets.size() > 1 ? "{job}-{sheet}" : "{job}";
    if (job.output.each == job::FileOf::tool) name += "-{number}-{tool}";
    if (job.output.each == job::FileOf::step) name += "-{number}-{step}";
    return name;
}

/// The steps [first, end) alone: from where the tool waits at the beginning.
toolpath::Toolpath portionOf(const toolpath::Toolpath& path, std::size_t first, std::size_t end) {
    toolpath::Toolpath out = path;
    out.steps.assign(path.steps.begin() + static_cast<std::ptrdiff_t>(first),
                     path.steps.begin() + static_cast<std::ptrdiff_t>(end));
    out.snags.clear();
    return out;
}

} // namespace

namespace {

/// Which steps go into which file: [first, end).
std::vector<std::pair<std::size_t, std::size_t>> portionsOf(const toolpath::Toolpath& path, job::FileOf each) {
    std::vector<std::pair<std::size_t, std::size_t>> out;
    for (std::size_t s = 0; s < path.steps.size(); ++s) {
        const bool begins =
            s == 0 || each == job::FileOf::step || (each == job::FileOf::tool && path.steps[s].toolChange);
        if (begins) out.emplace_back(s, s);
        out.back().second = s + 1;
    }
    return out;
}

} // namespace

std::vector<std::string> fileNamesFor(const job::Job& job, const toolpath::Toolpath& path) {
    const std::string pattern = job.output.name.empty() ? usualName(job) : job.output.name;
    std::vector<std::string> names;
    for (const auto& [first, end] : portionsOf(path, job.output.each))
        names.push_back(fitForFile(filled(pattern, job, names.size() + 1, path.steps[first])));
    return names;
}

Result<std::vector<ProgramFile>> programFilesFor(const job::Job& job, const toolpath::Toolpath& path,
                                                 const Dialect& dialect, Clearance clearance) {
    const auto portions = portionsOf(path, job.output.each);
    const auto names = fileNamesFor(job, path);
    std::vector<ProgramFile> files;
    for (const auto& [first, end] : portions) {
        auto program = programFor(job, portions.size() == 1 ? path : portionOf(path, first, end), dialect, clearance);
        if (!program) return program.problem().within(fmt::format("“{}”", path.steps[first].name));
        ProgramFile file{names[files.size()] + "." + program->ending, {}, std::move(*program)};
        for (std::size_t s = first; s < end; ++s) file.what += (s > first ? ", " : "") + path.steps[s].name;
        for (const auto& other : files)
            if (other.name == file.name)
                return Problem{.what = fmt::format("Two programs would be called {}.", file.name),
                               .where = {},
                               .mend = "Put {number} into the name of the files."};
        files.push_back(std::move(file));
    }
    if (files.empty()) { // nothing is cut; said as ever
        auto program = programFor(job, path, dialect, clearance);
        if (!program) return program.problem();
        files.push_back({fileNameFor(job, *program), {}, std::move(*program)});
    }
    return files;
}

std::string fileNameFor(const job::Job& job, const Program& program) {
    return fitForFile(job.sheets.size() > 1 ? fmt::format("{}-{}", job.name, job.sheet().name) : job.name) + "." +
           program.ending;
}

} // namespace ferro::program

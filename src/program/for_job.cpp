#include "program/for_job.h"

#include "base/quantity.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"

namespace ferro::program {

using toolpath::Move;
using toolpath::Vec3;

Frame frameOf(const job::Job& job) {
    const auto zero = job::zeroOf(job.stock);
    return {zero.at, zero.z};
}

Result<Dialect> dialectOf(Disk& disk, const job::Job& job) {
    auto dialect = openDialect(disk, job.dialect.empty() ? job.machine.dialect : job.dialect);
    if (dialect && dialect->beam != (job.machine.kind == shop::MachineKind::laser))
        return Problem{.what = fmt::format("The dialect “{}” is for a {}, the machine is none.", dialect->title,
                                           dialect->beam ? "laser" : "mill"),
                       .where = {},
                       .mend = "Choose another dialect in Run."};
    return dialect;
}

ReadOptions readOptionsFor(const job::Job& job, const Dialect& dialect) {
    ReadOptions options;
    options.interpreter = {dialect.beam, dialect.beamScale};
    options.frame = frameOf(job);
    options.tools = job.tools;
    options.startHeight = job::travelHeight(job);
    if (dialect.beam) options.fallbackDiameter = 0.16;
    return options;
}

namespace {

/// The largest distance between what was meant and what the text says, move by move in order.
Result<double> largestMiss(const toolpath::Toolpath& meant, const ReadProgram& said, const Program& program) {
    struct Bit {
        Vec3 from;
        const Move* move;
    };
    std::map<std::uint32_t, std::vector<Bit>> byLine;
    std::size_t step = 0;
    Vec3 at = said.path.start;
    for (const auto& s : said.path.steps) {
        for (std::size_t i = 0; i < s.moves.size(); ++i) {
            byLine[said.lineOf[step][i]].push_back({at, &s.moves[i]});
            at = s.moves[i].to;
        }
        ++step;
    }
    double worst = 0;
    for (std::size_t s = 0; s < meant.steps.size(); ++s)
        for (std::size_t i = 0; i < meant.steps[s].moves.size(); ++i) {
            const std::uint32_t line = program.lineOf[s][i];
            if (line == 0) continue;
            const auto found = byLine.find(line);
            if (found == byLine.end())
                return Problem{.what = fmt::format("Line {} says no move where one was meant.", line),
                               .where = {},
                               .mend = "Report this; do not run the program."};
            const Move &want = meant.steps[s].moves[i], &have = *found->second.back().move;
            if ((want.kind == Move::Kind::rapid) != (have.kind == Move::Kind::rapid) ||
                std::abs(want.power - have.power) > 0.002)
                return Problem{.what = fmt::format("Line {} is another kind of move than was meant.", line),
                               .where = {},
                               .mend = "Report this; do not run the program."};
            worst = std::max({worst, ferro::distance(want.to.flat(), have.to.flat()),
                              meant.laser ? 0 : std::abs(want.to.z - have.to.z)});
            if (want.kind == Move::Kind::arc && have.kind == Move::Kind::arc)
                worst = std::max(worst, std::abs(ferro::distance(want.centre, want.to.flat()) -
                                                 ferro::distance(have.centre, have.to.flat())));
        }
    return worst;
}

} // namespace

Result<Program> programFor(const job::Job& job, const toolpath::Toolpath& path, const Dialect& dialect,
                           Clearance clearance) {
    if (clearance != Clearance::passed)
        return Problem{.what = "The job has a no-go; no program is written.",
                       .where = {},
                       .mend = "Settle the no-go findings in Proof first."};
    const Frame frame = frameOf(job);
    Program program = written(path, dialect, frame, job.name);
    auto back = readProgram(program.text, readOptionsFor(job, dialect));
    if (!back) return back.problem().within("check of the written program");
    auto miss = largestMiss(path, *back, program);
    if (!miss) return miss.problem().within("check of the written program");
    const double digit = (dialect.units == Units::inch ? mmPerInch : 1) * std::pow(10.0, -dialect.decimals);
    if (*miss > 3 * digit)
        return Problem{.what = fmt::format("The written program leaves its moves by {}.", mm(*miss)),
                       .where = "check of the written program",
                       .mend = "Report this; do not run the program."};
    return program;
}

std::string fileNameFor(const job::Job& job, const Program& program) {
    std::string name;
    for (const char c : job.name)
        name +=
            std::isalnum(static_cast<unsigned char>(c)) || c == '-' || c == '_' || static_cast<unsigned char>(c) >= 0x80
                ? c
                : '-';
    return (name.empty() ? "job" : name) + "." + program.ending;
}

} // namespace ferro::program

#include "program/for_job.h"

#include "base/quantity.h"
#include "program/agreement_internal.h"

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
    if (dialect && dialect->beam != (process == shop::Process::beam))
        return Problem{.what = fmt::format("The dialect “{}” is for a {}, the job is none.", dialect->title,
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

double largestRadius(const toolpath::Toolpath& path) {
    double largest = 0;
    for (const auto& step : path.steps)
        for (const auto& move : step.moves)
            if (move.kind == toolpath::Move::Kind::arc)
                largest = std::max(largest, ferro::distance(move.centre, move.to.flat()));
    return largest;
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
    auto miss = largestMiss(path, program.lineOf, *back, dialect);
    if (!miss) return miss.problem().within("check of the written program");
    if (auto same = sameStates(path, program.lineOf, *back, dialect); !same)
        return same.problem().within("check of the written program");
    const double digit = (dialect.units == Units::inch ? mmPerInch : 1) * std::pow(10.0, -dialect.decimals);
    const bool hasChords = !dialect.arcs || dialect.largestArc < largestRadius(path);
    if (*miss > 3 * digit + (hasChords ? dialect.chord : 0))
        return Problem{.what = fmt::format("The written program leaves its moves by {}.", mm(*miss)),
                       .where = "check of the written program",
                       .mend = "Report this; do not run the program."};
    return program;
}

std::string fileNameFor(const job::Job& job, const Program& program) {
    std::string name;
    for (const char c : job.sheets.size() > 1 ? fmt::format("{}-{}", job.name, job.sheet().name) : job.name)
        name +=
            std::isalnum(static_cast<unsigned char>(c)) || c == '-' || c == '_' || static_cast<unsigned char>(c) >= 0x80
                ? c
                : '-';
    return (name.empty() ? "job" : name) + "." + program.ending;
}

} // namespace ferro::program

#include "link/run.h"

#include "base/hash.h"

namespace ferro::link {

std::string Run::fingerprint() const { return fmt::format("{:016x}", Hash()(program).value()); }

const Run::Step* Run::stepOf(long line) const {
    for (const auto& step : steps)
        if (line <= step.lastLine) return &step;
    return steps.empty() ? nullptr : &steps.back();
}

Run runOf(const job::Job& job, const toolpath::Toolpath& path, const program::Program& program,
          const program::Dialect& dialect) {
    Run run;
    run.job = job.name;
    run.machine = job.machine.key;
    run.board = job.sheet().board;
    run.boards = job.sheet().tray ? static_cast<int>(job.sheet().tray->count()) : 1;
    run.conversation = job.machine.conversation;
    run.program = program.text;
    run.revision = run.fingerprint(); // what follows from the job and can be run is its program
    run.dialect = dialect.key;
    run.beam = dialect.beam();
    run.beamScale = dialect.beamScale;
    run.decimals = dialect.decimals;
    run.turn = dialect.turn;
    run.wear = dialect.wear;
    const auto frame = program::frameOf(job);
    run.zero = frame.zero;
    run.zeroZ = frame.z;
    run.travel = job::travelHeight(job);
    long before = 0;
    for (std::size_t s = 0; s < path.steps.size(); ++s) {
        const auto& step = path.steps[s];
        Run::Step entry{step.title(), step.tool.name, step.tool.number, before + 1, before, step.plunge};
        for (const auto line : program.lineOf[s]) entry.lastLine = std::max(entry.lastLine, static_cast<long>(line));
        before = entry.lastLine;
        run.steps.push_back(std::move(entry));
        run.spinUp = std::max(run.spinUp, step.spinUp);
    }
    return run;
}

std::string differenceOf(const Run& then, const Run& now) {
    if (then.program == now.program) return {};
    if (then.job != now.job) return fmt::format("the log is of the job “{}”, this is “{}”", then.job, now.job);
    if (then.dialect != now.dialect)
        return fmt::format("it was written in the dialect “{}”, now it is “{}”", then.dialect, now.dialect);
    // The first line that says something else.
    std::string_view a = then.program, b = now.program;
    for (long line = 1;; ++line) {
        const auto cut = [](std::string_view& text) {
            const auto end = std::min(text.find('\n'), text.size());
            const auto first = text.substr(0, end);
            text.remove_prefix(std::min(end + 1, text.size()));
            return first;
        };
        const auto was = cut(a), is = cut(b);
        if (was != is)
            return fmt::format("line {} was “{}”, now it is “{}”", line, was.substr(0, 60), is.substr(0, 60));
        if (a.empty() || b.empty())
            return a.empty() ? "the program has become longer" : "the program has become shorter";
    }
}

} // namespace ferro::link

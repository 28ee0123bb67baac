#include "proof/proof.h"
#include "cli/common.h"
#include "job/edits.h"
#include "job/job_file.h"
#include "program/for_job.h"
#include "proof/burn.h"
#include "proof/cost.h"
#include "proof/round.h"
#include "shop/own.h"

namespace ferro::cli {

namespace {

struct Asked {
    std::string file, sheet, jobFile, picture;
    bool json = false, beam = false;
    double tool = 3, at = -1;
    std::size_t cells = 4'000'000;
    std::vector<double> stock, round, size{1280, 800};
    double section = 0;
};

Result<void> checked(const Asked& o) {
    if (!o.round.empty() && !(std::abs(o.round[0]) <= 360 && o.round[1] >= 5 && o.round[1] <= 90))
        return Problem{"“--round” is out of its range.", {}, "Give -360 to 360 and 5 to 90 degrees."};
    for (const double px : o.size)
        if (!(px >= 16 && px <= 8192)) return Problem{"“--size” is out of its range.", {}, "Give 16 to 8192 px each."};
    if (o.picture.empty() && (!o.round.empty() || o.section > 0))
        return Problem{"There is no picture to be seen from a side.", {}, "Say where it goes: --picture FILE."};
    return {};
}

/// The piece as seen from a side, the tool in it when a moment is asked for.
Result<proof::Lit> inTheRound(const Asked& o, const job::Job& job, const toolpath::Toolpath& path,
                              const proof::Timing& timing, proof::HeightGrid grid, const proof::Strokes& strokes,
                              const proof::Look& look) {
    ShownProgress shown("turning");
    const auto& stock = job.sheet().stock;
    const double until = o.at < 0 ? 1e300 : o.at;
    std::fill(grid.heights.begin(), grid.heights.end(), 0.0f);
    if (auto swept = proof::sweep(grid, proof::shownOn(grid, strokes), shown.progress, until); !swept)
        return swept.problem();
    auto solid = proof::solidOf(std::move(grid), stock.thickness, shown.progress);
    if (!solid) return solid.problem();
    proof::RoundView view{.turn = o.round[0] * pi / 180,
                          .tilt = o.round[1] * pi / 180,
                          .centre = {},
                          .width = static_cast<int>(o.size[0]),
                          .height = static_cast<int>(o.size[1]),
                          .section = o.section,
                          .lift = proof::liftFor(stock.thickness)};
    view = view.fitted(job::sheetOf(stock), stock.thickness, 24);
    const auto work = o.at < 0 ? std::nullopt : proof::atWork(path, timing, o.at);
    const auto tool = work ? std::optional(proof::ShownTool{path.steps[work->step].tool, work->at, job.machine.holder})
                           : std::nullopt;
    return proof::onGround(proof::rounded(*solid, look, view, tool, true), look.through);
}

/// The surface after `seconds` (all when below 0), as a picture file.
Result<void> paint(const Asked& o, const job::Job& job, const toolpath::Toolpath& path, const proof::Timing& timing,
                   Json& out) {
    auto grid = proof::HeightGrid::of(job.sheet().stock, o.cells);
    ShownProgress shown("cutting");
    const auto strokes = proof::strokesOf(path, job.sheet().stock.thickness, std::min(0.02, grid.cell / 10), &timing);
    auto swept = proof::sweep(grid, strokes, shown.progress, o.at < 0 ? 1e300 : o.at);
    if (!swept) return swept.problem();
    float lowest = 0;
    std::size_t through = 0;
    for (const float z : grid.heights)
        lowest = std::min(lowest, z), through += z <= static_cast<float>(-job.sheet().stock.thickness);
    out["surface"] = {
        {"cell", grid.cell}, {"lowest", lowest}, {"throughArea", static_cast<double>(through) * grid.cell * grid.cell}};
    if (o.picture.empty()) return {};
    const double thickness = job.sheet().stock.thickness;
    const auto look = proof::lookOf(job::materialOf(job), path.byBeam());
    auto dark = proof::darknessOf(grid, path, job::materialOf(job), shown.progress, &timing, o.at < 0 ? 1e300 : o.at);
    if (!dark) return dark.problem();
    const auto picture = o.round.empty() ? proof::lit(grid, thickness, look, path.byBeam() ? &*dark : nullptr)
                                         : inTheRound(o, job, path, timing, std::move(grid), strokes, look);
    if (!picture) return picture.problem();
    return writeAtomically(realDisk(), o.picture, proof::pngOf(*picture));
}

Json timesOf(const toolpath::Toolpath& path, const proof::Timing& timing) {
    Json steps = Json::array();
    for (std::size_t i = 0; i < path.steps.size(); ++i)
        steps.push_back({{"name", path.steps[i].name},
                         {"tool", path.steps[i].tool.name},
                         {"moves", path.steps[i].moves.size()},
                         {"cuts", path.steps[i].cuts.size()},
                         {"motion", timing.steps[i].motion},
                         {"change", timing.steps[i].change}});
    return {{"motion", timing.motion},
            {"running", timing.running()},
            {"total", timing.total},
            {"cutLength", timing.length},
            {"steps", steps}};
}

int proveJob(const Asked& o) {
    const auto job = jobAt(o.file, o.sheet);
    if (!job) return complain(job.problem());
    ShownProgress shown("proofing");
    auto proof = proof::proofOf(*job, shown.progress);
    if (!proof) return complain(proof.problem());
    if (const auto dialect = program::dialectOf(realDisk(), *job); !dialect)
        proof::refuse(*proof, dialect.problem(),
                      proof::Finding::Fix{"Use the machine's own dialect",
                                          [](const job::Job& j) { return job::withDialect(j, ""); }});
    else
        for (const auto& problem : program::unsaidBy(*dialect, proof->path)) proof::remark(*proof, problem);
    const auto cost = proof::costOf(*job, proof->path, proof->timing);
    Json out{
        {"kind", "job"},
        {"sheet", job->sheet().name},
        {"go", proof->mayRun()},
        {"findings", jsonOf(proof->findings, *job)},
        {"time", timesOf(proof->path, proof->timing)},
        {"cost", {{"machine", cost.machine}, {"sheet", cost.sheet}, {"tools", cost.tools}, {"total", cost.total()}}},
        {"deviation",
         {{"cutInto", proof->deviation.cutInto},
          {"astray", proof->deviation.astray},
          {"leftStanding", proof->deviation.leftStanding},
          {"corners", proof->deviation.corners},
          {"unreachedArea", proof->deviation.unreachedArea}}}};
    if (auto painted = paint(o, *job, proof->path, proof->timing, out); !painted) return complain(painted.problem());
    if (o.json) {
        fmt::print("{}\n", out.dump(2));
    } else {
        for (const auto& f : proof->findings) fmt::print("{:6} {} {}\n", proof::verdictName(f.verdict), f.what, f.mend);
        if (proof->path.process == shop::Process::blade)
            fmt::print("tip off its line by {:.4f} mm at worst\n", proof->deviation.astray);
        fmt::print("{}: {} of motion, {} in all; cut into {:.4f} mm, left standing {:.4f} mm\n",
                   proof->mayRun() ? "go" : "no-go", shownTime(proof->timing.motion), shownTime(proof->timing.total),
                   proof->deviation.cutInto, proof->deviation.leftStanding);
        if (const auto words = cost.words(); !words.empty()) fmt::print("costs {}\n", words);
    }
    return proof->mayRun() ? fine : noGo;
}

/// A program by itself: on the stock of a job, or of a size given, else of the size it moves over.
int proveProgram(const Asked& o) {
    const auto text = realDisk().read(o.file);
    if (!text) return complain(text.problem());
    const auto book = shop::openBook(realDisk());
    if (!book) return complain(book.problem());
    auto job = o.jobFile.empty() ? job::freshJob(*book, o.beam ? "laser-700" : "") : jobAt(o.jobFile, o.sheet);
    if (!job) return complain(job.problem());
    if (o.stock.size() == 3)
        job->sheet().stock.width = o.stock[0], job->sheet().stock.height = o.stock[1],
        job->sheet().stock.thickness = o.stock[2];
    program::ReadOptions options{.interpreter = {o.beam || program::processOf(*job) == shop::Process::beam, 1000},
                                 .frame = program::frameOf(*job),
                                 .tools = o.jobFile.empty() ? std::vector<shop::Tool>{} : job->tools,
                                 .fallbackDiameter = o.tool};
    options.blade = program::processOf(*job) == shop::Process::blade;
    if (options.blade) options.interpreter.turn = "ABC";
    auto read = program::readProgram(*text, options);
    if (!read) return complain(read.problem().within(o.file));
    for (const auto& n : read->notices) notice(n.text);
    if (const auto [over, lowest] = proof::reachOf(read->path); o.stock.empty() && o.jobFile.empty() && !over.empty()) {
        job->sheet().stock.width = over.high.x + 5;
        job->sheet().stock.height = over.high.y + 5;
        job->sheet().stock.thickness = std::max(1.0, -lowest);
    }
    ShownProgress shown("proofing");
    const auto proof = proof::proofOfMoves(*job, read->path, read->lineOf, shown.progress);
    if (!proof) return complain(proof.problem().within(o.file));
    const bool go = proof->mayRun();
    Json out{{"kind", "program"},
             {"go", go},
             {"findings", jsonOf(proof->findings, *job)},
             {"time", timesOf(read->path, proof->timing)},
             {"bounds", jsonOf(proof->bounds)},
             {"lowest", proof->lowest},
             {"moves", read->path.count()}};
    if (auto painted = paint(o, *job, read->path, proof->timing, out); !painted) return complain(painted.problem());
    if (o.json)
        fmt::print("{}\n", out.dump(2));
    else {
        for (const auto& f : proof->findings) fmt::print("{:6} {} {}\n", proof::verdictName(f.verdict), f.what, f.mend);
        fmt::print("{}: {} moves, {} of motion, lowest {:.3f} mm\n", go ? "go" : "no-go", read->path.count(),
                   shownTime(proof->timing.motion), proof->lowest);
    }
    return go ? fine : noGo;
}

} // namespace

void addProof(Options& app, int& exit) {
    auto command =
        app.command("proof", "Check a job, or any G-code program, before it is cut. Exit code 2 when it is a "
                             "no-go.\nExample: ferrograph-cli proof proscenium.ferro --json --picture cut.png");
    auto o = std::make_shared<Asked>();
    command.option("file", o->file, "job or program").required();
    command.flag("--json", o->json, "the answer as JSON");
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.option("--picture", o->picture, "PNG of the cut surface");
    command
        .option("--round", o->round,
                "picture in the round: degrees gone round to the right, and above level (90: from above)")
        .expected(2);
    command.option("--section", o->section, "in the round: mm below the top, above which all is taken away")
        .range(0.0, 1000.0);
    command.option("--size", o->size, "in the round: the picture's width and height, px").expected(2);
    command.option("--at", o->at, "seconds into the job for the picture (default: the end)");
    command.option("--cells", o->cells, "cells of the height grid").range(1000, 100'000'000);
    command.option("--job", o->jobFile, "program: stock, zero and tools of this job");
    command.option("--stock", o->stock, "program: width height thickness, mm").expected(3);
    command.option("--tool", o->tool, "program: diameter of unknown tools, mm").range(0.1, 10000.0);
    command.flag("--beam", o->beam, "program: it is for a laser");
    command.run([o, &exit] {
        if (auto fine = checked(*o); !fine) return void(exit = complain(fine.problem()));
        exit = isJobFile(o->file) ? proveJob(*o) : proveProgram(*o);
    });
}

} // namespace ferro::cli

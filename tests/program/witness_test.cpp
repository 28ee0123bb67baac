#include "program/for_job.h"
#include "proof/proof.h"
#include "support/toolpaths.h"
#include "support/witness.h"

using namespace ferro;
using namespace ferro::test;

namespace {

witness::Options optionsFor(const job::Job& job) {
    witness::Options options;
    options.beam = !job.machine.does(shop::Process::rotary);
    for (const auto& tool : job.tools)
        if ((tool.kind == shop::ToolKind::laser) == options.beam)
            options.tools[tool.number] = {tool.diameter, tool.tip,
                                          tool.kind == shop::ToolKind::endMill || tool.kind == shop::ToolKind::ball ||
                                                  tool.kind == shop::ToolKind::laser
                                              ? 0
                                              : tool.angle,
                                          tool.kind == shop::ToolKind::ball};
    const auto zero = job::zeroOf(job.sheet().stock);
    options.zeroX = zero.at.x, options.zeroY = zero.at.y, options.zeroZ = zero.z;
    options.plunge = 0;
    for (const auto& step : job.plan.steps) options.plunge = std::max(options.plunge, plan::ratesIn(step)->plunge);
    return options;
}
witness::Report watched(const job::Job& job, const char* key, witness::Stock& stock) {
    const auto program =
        program::programFor(job, planned(job), *program::openDialect(realDisk(), key), program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    return witness::run(program->text, stock, optionsFor(job));
}
std::string said(const witness::Report& report) {
    std::string all;
    for (const auto& u : report.unsafe) all += u + "\n";
    return all;
}

} // namespace

TEST_CASE("witness: written programs are safe for an interpreter of the tests' own, whatever the job", "[safety]") {
    for (unsigned seed = 1; seed <= 24; ++seed) {
        const auto job = randomJob(seed);
        witness::Stock stock(job.sheet().stock.width, job.sheet().stock.height, job.sheet().stock.thickness, 0.5);
        const bool laser = seed % 4 == 0;
        const auto report = watched(job, laser ? "beam-by-speed" : seed % 2 ? "mill-mm" : "mill-inch", stock);
        CAPTURE(seed);
        INFO(said(report));
        CHECK(report.unsafe.empty());
        if (!laser) CHECK(report.seconds >= 2.0 * static_cast<double>(job.plan.steps.size()) - 0.01);
    }
}

TEST_CASE("witness: it would notice: each of these is told", "[safety]") {
    const auto told = [](const std::string& program) {
        witness::Stock stock(100, 100, 10, 0.5);
        witness::Options options;
        options.tools[2] = {};
        options.plunge = 300;
        return said(witness::run(program, stock, options));
    };
    const std::string begin = "G21 G90\nG0 Z5\nT2 M6\nM3 S9000\nG4 P2\nG0 X20 Y20\n", end = "G0 Z5\nM5\nM30\n";
    CHECK(told(begin + "G1 Z-2 F300\nG1 X60 F900\n" + end).empty());
    CHECK(told("G0 Z5\nT2 M6\nG0 X20 Y20\nG1 Z-2 F300\n" + end).find("spindle") != std::string::npos);
    CHECK(told(begin + "G1 Z-2 F900\n" + end).find("quicker") != std::string::npos);
    CHECK(told(begin + "G1 X60 Z-9 F2000\n" + end).find("quicker") != std::string::npos);
    CHECK(told(begin + "G0 Z-2\n" + end).find("rapid") != std::string::npos);
    CHECK(told(begin + "G1 Z-2 F300\nM5\nG1 X60 F900\n" + end).find("spindle") != std::string::npos);
    CHECK(told(begin + "G1 Z-2 F300\n").find("ends with") != std::string::npos);
}

TEST_CASE("start depth: into stock that nobody cleared it goes at plunge feed, and the proof says no", "[safety]") {
    auto job = drawn(fresh(), {{rectangle({100, 100}, {220, 180}), {}}});
    job = stepped(job, "outline", "end-6");
    for (const char* entry : {"ramp", "plunge"}) {
        auto deep = set(set(job, "startDepth", "4"), "entry", entry);
        witness::Stock stock(job.sheet().stock.width, job.sheet().stock.height, job.sheet().stock.thickness, 0.5);
        const auto report = watched(deep, "mill-mm", stock);
        INFO(entry << said(report));
        CHECK(report.unsafe.empty());
        Progress progress;
        const auto proof = *proof::proofOf(deep, progress);
        CHECK_FALSE(proof.mayRun());
        const auto at = std::find_if(proof.findings.begin(), proof.findings.end(), [](const auto& f) {
            return f.what.find("taken to be cleared") != std::string::npos;
        });
        REQUIRE(at != proof.findings.end());
        CHECK(at->what.find("4 mm of stock") != std::string::npos);
        REQUIRE(at->fix);
        CHECK(proof::proofOf(*at->fix->apply(deep), progress)->mayRun());
        // Where a step before it has cut down there, it may.
        auto cleared = set(set(set(job, "through", "to depth"), "depth", "4"), "name", "First");
        cleared = stepped(cleared, "outline", "end-6");
        cleared = set(set(cleared, "startDepth", "4"), "entry", entry);
        const auto after = *proof::proofOf(cleared, progress);
        for (const auto& f : after.findings) CHECK(f.what.find("taken to be cleared") == std::string::npos);
        // A little less than that is not enough.
        auto short_ = with(cleared, job::withStepSetting(cleared, cleared.plan.steps[0].id, "depth", "3.5"));
        CHECK_FALSE(proof::proofOf(short_, progress)->mayRun());
    }
    auto hole = set(stepped(drawn(fresh(), {{circle({60, 60}, 4), {}}}), "drill", "drill-8"), "startDepth", "5");
    witness::Stock stock(job.sheet().stock.width, job.sheet().stock.height, job.sheet().stock.thickness, 0.5);
    CHECK(watched(hole, "mill-mm", stock).unsafe.empty());
    auto line =
        set(stepped(drawn(fresh(), {{pathOf(ring("40,40 90,60"), false), {}}}), "scribe", "ball-3"), "startDepth", "1");
    line = set(line, "depth", "2");
    witness::Stock scribed(job.sheet().stock.width, job.sheet().stock.height, job.sheet().stock.thickness, 0.5);
    CHECK(watched(line, "mill-mm", scribed).unsafe.empty());
}

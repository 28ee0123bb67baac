#include "job/sheets.h"
#include "link/run.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

TEST_CASE(
    "run: it is the job's program on the sheet at hand, with its zero, its steps by lines and what they are cut with",
    "[property]") {
    for (unsigned seed = 1; seed <= 24; ++seed) {
        auto job = randomJob(seed);
        if (seed % 3 == 0) // a second sheet with a zero of its own, and the pieces on it
            job = with(job, job::withSheetAdded(job));
        if (seed % 3 == 0) {
            auto art = *job.artwork;
            for (auto& item : art.items) item.sheet = art.sheet;
            job = job::withArtwork(job, art);
            auto stock = job.sheet().stock;
            stock.corner = job::ZeroCorner::upperRight, stock.zeroAt = job::ZeroHeight::bottom;
            job = with(job, job::withStock(job, stock));
        }
        const auto path = planned(job);
        const auto dialect = program::dialectOf(realDisk(), job);
        REQUIRE(dialect);
        const auto program = program::programFor(job, path, *dialect, program::Clearance::passed);
        REQUIRE(program);
        const auto run = link::runOf(job, path, *program, *dialect);
        CAPTURE(seed);
        CHECK(run.job == job.name);
        CHECK(run.program == program->text);
        CHECK(run.revision == run.fingerprint());
        CHECK(run.dialect == dialect->key);
        CHECK(run.beam == path.byBeam());
        CHECK(run.beamScale == dialect->beamScale);
        CHECK(run.decimals == dialect->decimals);
        const auto zero = job::zeroOf(job.sheet().stock);
        CHECK(run.zero == zero.at);
        CHECK(run.zeroZ == zero.z);
        CHECK(run.travel == job::travelHeight(job));
        REQUIRE(run.steps.size() == path.steps.size());
        long last = 0;
        for (std::size_t s = 0; s < run.steps.size(); ++s) {
            const auto& step = run.steps[s];
            CHECK(step.name == path.steps[s].name);
            CHECK(step.tool == path.steps[s].tool.number);
            CHECK(step.toolName == path.steps[s].tool.name);
            CHECK(step.plunge == path.steps[s].plunge);
            CHECK(step.firstLine == last + 1);
            CHECK(step.lastLine >= step.firstLine);
            last = step.lastLine;
            CHECK(run.stepOf(step.firstLine) == &step);
            CHECK(run.stepOf(step.lastLine) == &step);
        }
        CHECK(run.stepOf(last + 100) == &run.steps.back());
        CHECK(last <= std::count(program->text.begin(), program->text.end(), '\n'));
    }
}

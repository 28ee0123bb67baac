// Standing still at the bottom of a hole: in time, in the program, and read back.
#include "program/agreement_internal.h"
#include "program/for_job.h"
#include "proof/timing.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

TEST_CASE("program: dwells stand where they were meant, and one that is moved, changed, lost or added is noticed",
          "[safety]") {
    auto job =
        stepped(drawn(fresh(), {{circle({60, 60}, 4), {}}, {circle({90, 60}, 4), {}}}, "holes"), "drill", "drill-8");
    job = set(job, "peck", "2");
    const auto plain = planned(job);
    job = set(job, "dwell", "0.75");
    const auto path = planned(job);
    Progress progress;
    const auto time = [&](const toolpath::Toolpath& of) { return proof::timingOf(of, job.machine, progress)->total; };
    CHECK(time(path) - time(plain) == Approx(1.5).margin(0.02)); // it stands at the bottom with or without it

    const auto frame = program::frameOf(job);
    for (const char* key : {"mill-mm", "mill-inch"}) {
        const auto dialect = *program::openDialect(realDisk(), key);
        const auto program = program::programFor(job, path, dialect, program::Clearance::passed);
        INFO((program ? "" : program.problem().text()));
        REQUIRE(program);
        std::size_t count = 0;
        for (auto k = program->text.find("G4 P0.75\n"); k != std::string::npos;
             k = program->text.find("G4 P0.75\n", k + 1))
            ++count;
        CHECK(count == 2);
        const auto refused = [&](auto change) {
            auto said = path;
            change(said.steps[0].waits);
            const auto text = program::written(said, dialect, frame, "x");
            const auto read = program::readProgram(text.text, program::readOptionsFor(job, dialect));
            REQUIRE(read);
            return !program::sameStates(path, text.lineOf, *read, dialect);
        };
        CHECK_FALSE(refused([](auto&) {}));
        CHECK(refused([](auto& waits) { waits[1].before = waits[0].before + 2; }));
        CHECK(refused([](auto& waits) { waits[0].seconds = 0.5; }));
        CHECK(refused([](auto& waits) { waits.pop_back(); }));
        CHECK(refused([](auto& waits) { waits.insert(waits.begin() + 1, {waits[0].before + 1, 1}); }));
        // A foreign program's dwells take their time too.
        const auto read = program::readProgram(program->text, program::readOptionsFor(job, dialect));
        REQUIRE(read);
        std::vector<double> stood;
        for (const auto& step : read->path.steps)
            for (const auto& wait : step.waits) {
                CHECK(step.moves.at(wait.before - 1).to.z < -job.sheet().stock.thickness);
                stood.push_back(wait.seconds);
            }
        CHECK(stood == std::vector{0.75, 0.75});
    }
}

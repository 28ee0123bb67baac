#include "link/resume.h"
#include "link/run_log.h"
#include "program/for_job.h"
#include "support/failing_disk.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {

link::Run runOf(std::string program, std::vector<link::Run::Step> steps = {}) {
    link::Run run;
    run.job = "kit";
    run.program = std::move(program);
    run.dialect = "mill-mm";
    run.steps = std::move(steps);
    return run;
}
std::vector<std::string> linesOf(const std::string& text) {
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    return lines;
}
/// The machine when the first line of the old program runs again, as an interpreter that begins with the rest sees it.
program::Interpreter atReentry(const link::Resumption& rest) {
    program::Interpreter reader;
    reader.setPosition({0, 0, 5});
    const auto lines = linesOf(rest.text);
    for (long i = 0; i < rest.head; ++i) REQUIRE(reader.read(lines[static_cast<std::size_t>(i)]));
    return reader;
}

const std::string twoTools = "G21 G90 G17\nG0 Z5\nT1 M6\nM3 S12000\nG4 P2\nG0 X10 Y10\nG1 Z-2 F200\nX50 F900\n" // 8
                             "G0 Z5\nM5\nT2 M6\nM3 S9000\nG4 P2\nM8\nG0 X60\nG1 Z-3 F120\nX90 F700\nY40\n"      // 18
                             "G0 Z5\nM9\nM5\nM30\n";
const std::vector<link::Run::Step> twoSteps = {{"Holes", "Drill 8", 1, 1, 9, 200},
                                               {"Edges", "End mill 6", 2, 10, 19, 120}};

} // namespace

TEST_CASE("resume: it goes in with the state of that line: tool, spindle, air, feed, at that step's plunge",
          "[safety]") {
    const auto run = runOf(twoTools, twoSteps);
    const auto first = link::resumed(run, 8); // broken off behind the first cut
    REQUIRE(first);
    CHECK(first->fromLine == 8);
    CHECK(first->tool == 1);
    CHECK(atReentry(*first).modes().speed == 12000);
    CHECK(atReentry(*first).modes().spindle == 3);
    CHECK(first->text.find("F200") != std::string::npos); // the first step's plunge
    const auto second = link::resumed(run, 17);
    REQUIRE(second);
    CHECK(second->fromLine == 17);
    CHECK(second->tool == 2);
    const auto then = atReentry(*second);
    CHECK(then.modes().tool == 2);
    CHECK(then.modes().speed == 9000);
    CHECK(then.modes().flood);
    CHECK(then.position().x == 60);
    CHECK(then.position().z == -3);
    CHECK(then.modes().feed == 120); // went down at this step's plunge
    CHECK(second->text.find("F200") == std::string::npos);
    // Between the tools: the next one is asked for by the program itself, the old one not again.
    for (const long done : {9, 10}) {
        const auto between = link::resumed(run, done);
        REQUIRE(between);
        CHECK(between->fromLine == done + 1);
        CHECK(between->tool == 0);
        CHECK(between->text.find("T1") == std::string::npos);
        CHECK(between->text.find("T2 M6") != std::string::npos);
    }
    CHECK(link::resumed(run, 11)->tool == 2); // it may have been taken out again
    for (const long done : {19, 22, 500}) CHECK_FALSE(link::resumed(run, done));
}

TEST_CASE("begin: with a step, as it would be come to, and nothing of what is before it is cut", "[safety][property]") {
    const auto run = runOf(twoTools, twoSteps);
    CHECK(link::beginningAt(run, 2).problem().what == "The run has no step 3.");
    const auto second = link::beginningAt(run, 1);
    REQUIRE(second);
    CHECK(second->fromLine == 10);
    CHECK(second->text.find("T2 M6") != std::string::npos);
    CHECK(second->text.find("X50 F900") == std::string::npos);
    // The whole program, job by job: behind the head it is word by word the rest, and what is cut is what it cuts.
    for (unsigned seed = 0; seed < 12; ++seed) {
        auto job = randomJob(seed);
        if (seed % 3 == 1) job = with(job, job::withTray(job, job::Tray{2, 1, 30, 20, job::TrayOrder(seed % 2)}));
        Progress progress;
        const auto path = toolpath::toolpathOf(job, progress);
        REQUIRE(path);
        const auto dialect = *program::dialectOf(realDisk(), job);
        const auto program = program::programFor(job, *path, dialect, program::Clearance::passed);
        if (!program) continue;
        const auto whole = link::runOf(job, *path, *program, dialect);
        CHECK(whole.boards == (seed % 3 == 1 ? 2 : 1));
        const auto cutsOf = [&](const std::string& text) {
            program::Interpreter reader({whole.beam, whole.beamScale});
            reader.setPosition({0, 0, whole.travel - whole.zeroZ});
            std::vector<std::string> cuts;
            toolpath::Vec3 at = reader.position();
            for (const auto& line : linesOf(text)) {
                auto read = reader.read(line);
                REQUIRE(read);
                for (const auto& move : read->moves) {
                    // Over stock it goes at travel height only.
                    if (move.kind == toolpath::Move::Kind::rapid && !whole.beam &&
                        distance(at.flat(), move.to.flat()) > 1e-9)
                        CHECK(std::min(at.z, move.to.z) >= whole.travel - whole.zeroZ - 0.001);
                    if (move.kind != toolpath::Move::Kind::rapid)
                        cuts.push_back(
                            fmt::format("{:.3f} {:.3f} {:.3f} > {:.3f} {:.3f} {:.3f} F{:.0f} P{:.3f} S{:.0f}", at.x,
                                        at.y, at.z, move.to.x, move.to.y, move.to.z, move.feed,
                                        static_cast<double>(move.power), reader.modes().speed));
                    at = move.to;
                }
            }
            return cuts;
        };
        const auto all = cutsOf(whole.program);
        for (std::size_t k = 0; k < whole.steps.size(); ++k) {
            CAPTURE(seed, k);
            const auto rest = link::beginningAt(whole, k);
            if (!rest) continue; // nothing is moved from there on
            const auto cuts = cutsOf(rest->text);
            REQUIRE(cuts.size() <= all.size());
            CHECK(std::equal(cuts.rbegin(), cuts.rend(), all.rbegin()));
            if (k == 0) CHECK(cuts.size() == all.size());
            // By its tool, and at its speed.
            const auto& step = whole.steps[k];
            if (!whole.beam) CHECK(rest->text.find(fmt::format("T{} M6", step.tool)) != std::string::npos);
        }
    }
}

TEST_CASE("resume: planes, incremental coordinates, offsets, inches and drilling cycles are as they were", "[safety]") {
    const auto incremental = link::resumed(
        runOf("G21 G90\nG0 Z5\nM3 S8000\nG0 X10 Y10\nG1 Z-1 F200\nG91\nX20 F600\nY10\nX-5\nG90\nG0 Z5\nM30\n"), 7);
    REQUIRE(incremental);
    CHECK_FALSE(atReentry(*incremental).modes().absolute);
    CHECK(atReentry(*incremental).position().x == 10);
    const auto whole = program::readProgram(incremental->text, {.interpreter = {}, .frame = {}, .tools = {}});
    REQUIRE(whole);
    CHECK(whole->path.steps.back().moves.back().to.x == Approx(25));
    CHECK(whole->path.steps.back().moves.back().to.y == Approx(20));

    const auto plane = link::resumed(runOf("G20 G90 G55\nG0 Z0.2\nM3 S8000\nG0 X1 Y1\nG1 Z-0.1 F10\nG18\nG2 X1.5 Z-0.1 "
                                           "I0.25 K0\nG2 X2 Z-0.1 I0.25 K0\nG17\nM30\n"),
                                     7);
    REQUIRE(plane);
    const auto then = atReentry(*plane);
    CHECK(then.modes().plane == 18);
    CHECK(then.modes().inch);
    CHECK(then.modes().offset == 55);
    CHECK(then.position().x == Approx(25.4));

    const auto drilling = link::resumed(
        runOf("G21 G90\nG0 Z5\nM3 S3000\nG99 G83 X10 Y10 Z-6 R1 Q2 F150\nX20\nX30\nX40\nG80\nG0 Z5\nM30\n"), 5);
    REQUIRE(drilling);
    const auto drilled = program::readProgram(drilling->text, {.interpreter = {}, .frame = {}, .tools = {}});
    INFO(drilling->text);
    REQUIRE(drilled);
    double deepest = 0, farthest = 0;
    for (const auto& move : drilled->path.steps.back().moves)
        deepest = std::min(deepest, move.to.z), farthest = std::max(farthest, move.to.x);
    CHECK(deepest == -6);
    CHECK(farthest == 40);
}

TEST_CASE("run log: it holds the whole run, all attempts add up, and nothing that is none is written over") {
    TemporaryFolder folder;
    const auto file = folder.path / "kit.runlog";
    auto run = runOf(twoTools, twoSteps);
    run.zero = {3, 4};
    run.travel = 17;
    {
        auto log = link::RunLog::begun(file, run);
        REQUIRE(log);
        for (const char* entry : {"start 22 lines", "acked 5", "done 4", "done 8", "link lost"})
            REQUIRE(log->add(entry));
    }
    auto logged = link::loggedIn(*realDisk().read(file));
    REQUIRE(logged);
    CHECK(logged->run == run);
    CHECK(logged->done == 8);
    CHECK(logged->attempts == 1);
    CHECK_FALSE(logged->finished);
    {
        auto log = link::RunLog::continued(file);
        REQUIRE(log);
        for (const char* entry : {"start 20 lines", "done 7", "done 12"}) REQUIRE(log->add(entry));
    }
    logged = link::loggedIn(*realDisk().read(file));
    CHECK(logged->done == 12);
    CHECK(logged->attempts == 2);
    // A power cut in the middle of an entry: what is half written does not count.
    const auto whole = *realDisk().read(file);
    CHECK(link::loggedIn(whole + "done 22")->done == 12);
    CHECK(link::loggedIn(whole + "done 22\nfinished\n")->finished);
    for (const char* spoilt : {"done 22x\n", "done \n", "done x22\n", "done 99999999999999999999999\n"})
        CHECK(link::loggedIn(whole + spoilt)->done == 12);
    // The program has to be the one that the log says it is.
    auto bent = whole;
    bent.replace(bent.find("X50"), 3, "X51");
    CHECK_FALSE(link::loggedIn(bent));
    CHECK_FALSE(link::loggedIn("start 22 lines\ndone 4\n"));
    auto sly = whole; // what is put before a resumed program is no place for words of its own
    REQUIRE(sly.find("\"turn\":\"\"") != std::string::npos);
    sly.replace(sly.find("\"turn\":\"\""), 9, "\"turn\":\"A0\\nM3 S9\"");
    CHECK_FALSE(link::loggedIn(sly));
    // A fresh run keeps the log before it; a file that is no log, or a link to one, is let alone.
    REQUIRE(link::RunLog::begun(file, run));
    CHECK(link::loggedIn(*realDisk().read(folder.path / "kit.runlog.before"))->done == 12);
    const auto state = std::filesystem::path(std::getenv("XDG_STATE_HOME")) / "ferrograph/runs.log";
    CHECK(realDisk().read(state)->find("“kit” begun") != std::string::npos);
    REQUIRE(link::RunLog::continued(file));
    CHECK(realDisk().read(state)->find("resumed, " + file.string()) != std::string::npos);
    const auto job = folder.path / "kit.ferro";
    REQUIRE(realDisk().write(job, "PK a job"));
    CHECK_FALSE(link::RunLog::begun(job, run));
    CHECK(*realDisk().read(job) == "PK a job");
    std::filesystem::create_symlink(job, folder.path / "sly.runlog");
    CHECK_FALSE(link::RunLog::begun(folder.path / "sly.runlog", run));
    CHECK_FALSE(link::RunLog::continued(folder.path / "none.runlog"));
}

TEST_CASE("run: what differs between two is told in words, what is the same is not") {
    const auto run = runOf(twoTools, twoSteps);
    CHECK(link::differenceOf(run, run).empty());
    auto other = run;
    other.program.replace(other.program.find("X50"), 3, "X51");
    CHECK(link::differenceOf(run, other) == "line 8 was “X50 F900”, now it is “X51 F900”");
    other = run;
    other.program += "G0 X0\n";
    CHECK(link::differenceOf(run, other).find("longer") != std::string::npos);
    other.job = "moon";
    CHECK(link::differenceOf(run, other).find("moon") != std::string::npos);
    // Of a real job: every line belongs to the step that it is cut by.
    auto job = drawn(fresh(), {{rectangle({50, 50}, {110, 90}), {}}, {circle({80, 70}, 4), {}}});
    job = stepped(stepped(job, "drill", "drill-8"), "outline", "end-6");
    const auto path = planned(job);
    const auto dialect = *program::openDialect(realDisk(), "mill-mm");
    const auto program = *program::programFor(job, path, dialect, program::Clearance::passed);
    const auto real = link::runOf(job, path, program, dialect);
    REQUIRE(real.steps.size() == 2);
    CHECK(real.steps[0].tool == 3);
    CHECK(real.steps[1].tool == 2);
    CHECK(real.steps[0].plunge == plan::ratesIn(job.plan.steps[0])->plunge);
    CHECK(real.steps[1].firstLine == real.steps[0].lastLine + 1);
    CHECK(real.stepOf(real.steps[1].lastLine)->name == "Outlines");
    CHECK(real.stepOf(real.steps[0].lastLine)->name == "Holes");
}

TEST_CASE("resume: words in remarks are none, those behind them are") {
    // Line 5 has its motion behind a remark that talks of another, line 6 none at all.
    const auto run = runOf("G21 G90 G17\nG0 Z5\nM3 S9000\nG0 X10 Y10\n(G3 is not meant) G1 Z-2 F200 ; G0 neither\n(to) "
                           "X50 F900\nX60 (G0)\nX70\nG0 Z5\nM30\n",
                           {{"Edges", "End mill 6", 1, 1, 10, 200}});
    const auto rest = link::resumed(run, 6);
    REQUIRE(rest);
    CHECK(atReentry(*rest).modes().motion == 1);
    const auto lines = linesOf(rest->text);
    CHECK(lines[static_cast<std::size_t>(rest->head)].find("G1") != std::string::npos); // its motion is said anew
    CHECK(rest->text.find("X60 (G0)") != std::string::npos);
}

TEST_CASE("resume: a beam's focus is where the line has it", "[safety]") {
    auto job = drawn(fresh("laser-700", "poplar"), {{rectangle({50, 50}, {110, 90}), {}}});
    job = set(set(stepped(job, "outline"), "passes", "3"), "focusStep", "0.8");
    const auto dialect = *program::dialectOf(realDisk(), job);
    const auto path = planned(job);
    const auto program = program::programFor(job, path, dialect, program::Clearance::passed);
    REQUIRE(program);
    const auto run = link::runOf(job, path, *program, dialect);
    std::istringstream in(program->text);
    long third = 0, number = 0;
    for (std::string line; std::getline(in, line);)
        if (++number; line.find("Z-1.6") != std::string::npos) third = number;
    REQUIRE(third > 0);
    CHECK(run.machine == job.machine.key); // whose zero and times these are
    CHECK(run.conversation == job.machine.conversation);
    const auto rest = link::resumed(run, third + 2);
    REQUIRE(rest);
    CHECK(rest->text.find("G0 Z-1.6\n") != std::string::npos);
    const auto first = link::resumed(run, third - 4);
    REQUIRE(first);
    CHECK(first->text.find("G0 Z-0.8\n") != std::string::npos);
    CHECK(first->text.find("G0 Z-0.8\n") < first->text.find("Z-1.6"));
}

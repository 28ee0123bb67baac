#include "job/job_file.h"
#include "program/for_job.h"
#include "program/reader.h"
#include "proof/proof.h"
#include "support/failing_disk.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {
job::Job twoTools() {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {150, 120}, 8), {}}});
    job = drawn(job, {{circle({80, 80}, 4), {}}}, "holes");
    job.name = "Moon, second try";
    job = stepped(job, "drill", "drill-8");
    job = stepped(job, "outline", "end-6");
    return set(job, "layers", "cut");
}
std::string textIn(const program::Dialect& dialect, const job::Job& job) {
    const auto program = program::programFor(job, planned(job), dialect, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    return program->text;
}
std::size_t count(const std::string& text, std::string_view word) {
    std::size_t n = 0;
    for (auto at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) ++n;
    return n;
}
program::Dialect metric() { return *program::openDialect(realDisk(), "mill-mm"); }
} // namespace

TEST_CASE("dialect: templates are filled in where they stand, once for each change of tool") {
    auto dialect = metric();
    dialect.header = {"(job {name})", "G21", "G90", "G94", "G0 Z{travel}"};
    dialect.toolChange = {"M5", "G0 Z{travel}", "(take {number})", "T{number} M6"};
    dialect.start = {"M3 S{turns}", "G4 P{spinup}"};
    const auto job = twoTools();
    const auto text = textIn(dialect, job);
    CHECK(text.starts_with("(Moon, second try)\n(job Moon, second try)\nG21"));
    CHECK(count(text, "M6") == 2);
    CHECK(text.find("T3 M6") < text.find("T2 M6"));
    CHECK(count(text, "{") == 0);
    CHECK(count(text, fmt::format("S{:.0f}", plan::ratesIn(job.plan.steps[0])->spindle)) >= 1);
    CHECK(text.ends_with("M30\n"));
}

TEST_CASE("dialect: units, decimals, arcs and modal words change the text and never the way") {
    const auto job = twoTools();
    const auto way = [&](const program::Dialect& dialect) {
        const auto read = program::readProgram(textIn(dialect, job), program::readOptionsFor(job, dialect));
        REQUIRE(read);
        double length = 0;
        toolpath::forEachMove(read->path,
                              [&](const auto&, std::size_t, toolpath::Vec3 from, const toolpath::Move& move) {
                                  if (move.kind != toolpath::Move::Kind::rapid)
                                      length += lengthOf(from.flat(), move.flat());
                              });
        return length;
    };
    const double meant = way(metric());
    for (const bool arcs : {true, false})
        for (const bool modal : {true, false})
            for (const bool inch : {true, false}) {
                auto dialect = inch ? *program::openDialect(realDisk(), "mill-inch") : metric();
                dialect.arcs = arcs;
                dialect.modal = modal;
                dialect.comment = modal ? "; {}" : "";
                CAPTURE(arcs, modal, inch);
                CHECK(way(dialect) == Approx(meant).epsilon(1e-4));
                const auto text = textIn(dialect, job);
                CHECK((text.find("\nG2 ") != std::string::npos || text.find("\nG3 ") != std::string::npos) == arcs);
                CHECK((text.find('(') != std::string::npos) == false);
                CHECK(text.find(inch ? "G20" : "G21") != std::string::npos);
            }
}

TEST_CASE("dialect: line numbers stand before every line but marks, arcs by radius go the same way") {
    auto dialect = metric();
    dialect.lineNumbers = 5;
    dialect.header.insert(dialect.header.begin(), "%");
    const auto text = textIn(dialect, twoTools());
    std::istringstream lines(text);
    std::string line;
    int number = 0;
    while (std::getline(lines, line)) {
        if (line == "%") continue;
        number += 5;
        CHECK(line.starts_with(fmt::format("N{} ", number)));
    }
    CHECK(number > 100);
    dialect = metric();
    dialect.byRadius = true;
    const auto job = twoTools();
    const auto round = textIn(dialect, job); // read back and compared, or it would not be
    CHECK(count(round, " R") > 3);
    CHECK(count(round, " I") == 0);
    const auto read = program::readProgram(round, program::readOptionsFor(job, dialect));
    REQUIRE(read);
    double widest = 0;
    toolpath::forEachMove(read->path, [&](const auto&, std::size_t, toolpath::Vec3 from, const toolpath::Move& move) {
        if (move.kind == toolpath::Move::Kind::arc)
            widest = std::max(widest, std::abs(sweepOf(from.flat(), move.flat())));
    });
    CHECK(widest < 2.2);
    CHECK(widest > 1.5);
}

TEST_CASE("dialect: a sample is read back, what it would do wrong is told, and one's own are kept and taken away") {
    for (const auto& key : program::knownDialects()) {
        const auto sample = program::sampleOf(*program::openDialect(realDisk(), key));
        INFO(key << (sample.problem ? sample.problem->text() : ""));
        CHECK_FALSE(sample.problem);
        CHECK(sample.text.size() > 100);
    }
    auto wrong = metric();
    wrong.header.push_back("G91");
    CHECK(program::sampleOf(wrong).problem);
    wrong = metric();
    wrong.toolChange = {"M5"};
    CHECK(program::sampleOf(wrong).problem);
    wrong = metric();
    wrong.pause = {};
    CHECK(program::sampleOf(wrong).problem);

    auto own = metric();
    own.key = "back-room";
    own.footer = {"G0 X0 Y0", "(coat on)", "M30"};
    CHECK_FALSE(program::isOwnDialect("back-room"));
    REQUIRE(program::saveOwnDialect(realDisk(), own));
    CHECK(program::isOwnDialect("back-room"));
    CHECK(*program::openDialect(realDisk(), "back-room") == own);
    own.key = "../elsewhere";
    CHECK_FALSE(program::saveOwnDialect(realDisk(), own));
    own.key = "worse", own.decimals = 1;
    CHECK_FALSE(program::saveOwnDialect(realDisk(), own));
    REQUIRE(program::removeOwnDialect("back-room"));
    CHECK_FALSE(program::isOwnDialect("back-room"));
    CHECK_FALSE(program::removeOwnDialect("mill-mm"));
}

TEST_CASE("programs: a file for each tool or step is safe by itself, together they cut the whole", "[safety]") {
    auto job = twoTools();
    job = stepped(job, "outline", "end-6");
    job = set(set(set(job, "layers", "cut"), "side", "outside"), "name", "Trim");
    job = job::withOrder(job, plan::Order::byHand);
    const auto path = planned(job);
    REQUIRE(path.steps.size() == 3);
    const auto files = [&](job::FileOf each, const char* name) {
        return program::programFilesFor(with(job, job::withOutput(job, {each, name})), path, metric(),
                                        program::Clearance::passed);
    };
    CHECK(files(job::FileOf::job, "")->size() == 1);
    CHECK(files(job::FileOf::job, "")->front().name == "Moon--second-try.nc");
    const auto tools = files(job::FileOf::tool, ""), steps = files(job::FileOf::step, "{number} {step} of {sheet}");
    REQUIRE((tools && steps));
    REQUIRE(tools->size() == 2);
    CHECK((*tools)[0].name == "Moon--second-try-01-Drill-8.nc");
    REQUIRE(steps->size() == path.steps.size());
    CHECK((*steps)[0].name == "01-Holes-of-Sheet-1.nc");
    CHECK((*tools)[1].what == path.steps[1].name + ", " + path.steps[2].name);
    for (const auto* all : {&*tools, &*steps}) {
        std::size_t moves = 0;
        for (const auto& file : *all) {
            const auto read = program::readProgram(file.program.text, program::readOptionsFor(job, metric()));
            REQUIRE(read);
            CHECK(count(file.program.text, "M6") == 1);
            CHECK(file.program.text.ends_with("M30\n"));
            const auto findings = proof::findingsOfMoves(job, read->path);
            INFO(file.name << (findings.empty() ? "" : findings[0].what));
            CHECK(findings.empty());
            for (const auto& step : read->path.steps)
                for (const auto& move : step.moves) moves += move.kind != toolpath::Move::Kind::rapid;
        }
        std::size_t meant = 0;
        for (const auto& step : path.steps)
            for (const auto& move : step.moves) meant += move.kind != toolpath::Move::Kind::rapid;
        CHECK(moves + 20 > meant); // less those too short to be written
    }
    CHECK_FALSE(program::programFilesFor(job, path, metric(), program::Clearance::refused));
    for (const char* bad : {"{tool}", "../{number}", "{number}{author}", "{number", ".{number}"})
        CHECK_FALSE(job::withOutput(job, {job::FileOf::step, bad}));
    CHECK(job::withOutput(job, {job::FileOf::job, "{tool}"}));
    const auto kept = job::fromBytes(*job::toBytes(with(job, job::withOutput(job, {job::FileOf::tool, "{number}"}))));
    REQUIRE(kept);
    CHECK(kept->output == job::Output{job::FileOf::tool, "{number}"});
}

TEST_CASE("dialect: one's own wins over a shipped one, a path is none, and a broken one is named") {
    const OwnDataFolder data;
    std::filesystem::create_directories(userDataFolder() / "dialects");
    const auto own = userDataFolder() / "dialects" / "mill-mm.json";
    REQUIRE(realDisk().write(own, R"({"key":"mill-mm","title":"ours","units":"mm","ending":"tap"})"));
    CHECK(program::openDialect(realDisk(), "mill-mm")->ending == "tap");
    realDisk().remove(own);
    CHECK(program::openDialect(realDisk(), "mill-mm")->ending == "nc");
    TemporaryFolder folder;
    const auto file = folder.path / "odd.json";
    REQUIRE(realDisk().write(file, R"({"key":"odd","ending":"cnc"})"));
    // What a job names must mean the same wherever it is opened.
    for (const auto& path : {file.string(), std::string("../dialects/mill-mm"), std::string("odd.json"), std::string()})
        CHECK_FALSE(program::openDialect(realDisk(), path));
    REQUIRE(realDisk().write(userDataFolder() / "dialects" / "odd.json", R"({"key":"odd","decimals":9})"));
    const auto broken = program::openDialect(realDisk(), "odd");
    REQUIRE_FALSE(broken);
    CHECK(broken.problem().where.find("odd.json") != std::string::npos);
    CHECK(program::openDialect(realDisk(), "no-such").problem().mend.find("mill-mm") != std::string::npos);
    CHECK(program::knownDialects().size() >= 3);
    for (const char* bad : {"[]", "{\"units\":\"ell\"}", "{\"units\":\"inch\",\"decimals\":3}", "{\"ending\":\"a/b\"}",
                            "{\"comment\":\"none\"}", "{\"beamScale\":0}", "{\"chord\":0}", "{\"largestArc\":1e6}",
                            "{\"colour\":1}", "{\"arcs\":1}", "{\"header\":\"G21\"}"})
        CHECK_FALSE(program::dialectFromText(bad));
}

TEST_CASE("dialect: a laser's is refused for a mill and the other way round, file names are fit for a disk") {
    auto job = twoTools();
    job.dialect = "beam-by-speed";
    CHECK_FALSE(program::dialectOf(realDisk(), job));
    auto laser = fresh("laser-700", "poplar");
    laser.dialect = "mill-mm";
    CHECK_FALSE(program::dialectOf(realDisk(), laser));
    laser.dialect.clear();
    CHECK(program::dialectOf(realDisk(), laser)->beam());
    program::Program program;
    program.ending = "nc";
    for (const auto& [name, file] : std::initializer_list<std::pair<const char*, const char*>>{
             {"../../etc/passwd", "------etc-passwd.nc"}, {"Möwe 2", "Möwe-2.nc"}, {"", "job.nc"}}) {
        job.name = name;
        CHECK(program::fileNameFor(job, program) == file);
    }
}

TEST_CASE("program: zeros at every corner, top and bottom, move the numbers and not the cut", "[property]") {
    auto job = twoTools();
    const auto path = planned(job);
    for (int corner = 0; corner < 5; ++corner)
        for (int height = 0; height < 2; ++height) {
            job.sheet().stock.corner = static_cast<job::ZeroCorner>(corner);
            job.sheet().stock.zeroAt = static_cast<job::ZeroHeight>(height);
            const auto read = program::readProgram(textIn(metric(), job), program::readOptionsFor(job, metric()));
            REQUIRE(read);
            Box meant, said;
            double meantLow = 0, saidLow = 0;
            toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3, const auto& m) {
                meant.take(m.to.flat()), meantLow = std::min(meantLow, m.to.z);
            });
            for (const auto& step : read->path.steps)
                for (const auto& m : step.moves)
                    if (m.kind != toolpath::Move::Kind::rapid)
                        said.take(m.to.flat()), saidLow = std::min(saidLow, m.to.z);
            CAPTURE(corner, height);
            CHECK(distance(meant.high, said.high) < 0.01);
            CHECK(saidLow == Approx(meantLow).margin(0.001));
        }
}

TEST_CASE("dialects: those that are there are told once each, in the order of their names, an old name is known") {
    const auto names = program::knownDialects();
    CHECK(std::is_sorted(names.begin(), names.end()));
    CHECK(std::adjacent_find(names.begin(), names.end()) == names.end());
    CHECK(std::find(names.begin(), names.end(), "beam-by-speed") != names.end());
    CHECK(std::find(names.begin(), names.end(), "laser-dynamic") == names.end());
    const auto now = program::openDialect(realDisk(), "beam-by-speed"),
               before = program::openDialect(realDisk(), "laser-dynamic");
    REQUIRE(now);
    REQUIRE(before);
    CHECK(before->title == now->title);
}

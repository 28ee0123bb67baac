#include "program/agreement_internal.h"
#include "program/for_job.h"
#include "proof/proof.h"
#include "support/toolpaths.h"
#include "support/watched.h"

using namespace ferro;
using namespace ferro::test;

namespace {

witness::Report watched(const job::Job& job, const char* key, witness::Stock& stock) {
    const auto program =
        program::programFor(job, planned(job), *program::openDialect(realDisk(), key), program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    return witness::run(program->text, stock, watchedBy(job));
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

TEST_CASE("cycles: holes in one word are the holes that were meant, and whatever else is said is refused", "[safety]") {
    for (unsigned seed = 0; seed < 12; ++seed) {
        std::mt19937 random(seed + 3);
        auto job = fresh();
        job::Stock stock = job.sheet().stock;
        stock.corner = static_cast<job::ZeroCorner>(seed % 5), stock.zeroAt = static_cast<job::ZeroHeight>(seed % 2);
        job = with(job, job::withStock(job, stock));
        std::vector<Piece> holes;
        for (int k = 0; k < 7; ++k)
            holes.push_back({circle({40.0 + 70 * k, 60.0 + static_cast<double>(random() % 200)}, 4), {}});
        job = set(stepped(drawn(job, holes, "holes"), "drill", "drill-8"), "peck", seed % 3 ? "3" : "0");
        job = set(job, "lifts", seed % 4 < 2 ? "out of the hole" : "to break the chip");
        if (seed % 5 == 0) job = set(set(job, "through", "to depth"), "depth", "7.25");
        const auto path = planned(job);
        REQUIRE(path.steps.size() == 1);
        CHECK(path.steps[0].drillings.size() == 7);
        auto dialect = *program::openDialect(realDisk(), seed % 2 ? "mill-inch" : "mill-mm");
        const auto whole = program::programFor(job, path, dialect, program::Clearance::passed);
        dialect.cycles = true;
        const auto program = program::programFor(job, path, dialect, program::Clearance::passed);
        CAPTURE(seed);
        INFO((program ? "" : program.problem().text()));
        REQUIRE(whole);
        REQUIRE(program);
        CHECK(program->lines < whole->lines - 10);
        witness::Stock meant(stock.width, stock.height, stock.thickness, 0.5), cut = meant;
        REQUIRE(witness::run(whole->text, meant, watchedBy(job)).unsafe.empty());
        const double gone = seed % 2 ? 0.008 : 0.2;
        const auto report = witness::run(witness::unfolded(program->text, gone), cut, watchedBy(job));
        INFO(said(report));
        CHECK(report.unsafe.empty());
        double apart = 0;
        for (std::size_t i = 0; i < cut.z.size(); ++i) apart = std::max(apart, std::abs(cut.z[i] - meant.z[i]));
        CHECK(apart < 0.02); // inches have four digits
        // Each word of it spoilt.
        const auto options = program::readOptionsFor(job, dialect);
        const auto accepts = [&](const std::string& text) {
            const auto read = program::readProgram(text, options);
            if (!read) return false;
            const auto miss = program::largestMiss(path, program->lineOf, *read, dialect);
            return miss && *miss < 0.01;
        };
        REQUIRE(accepts(program->text));
        const auto line = program->text.find("G98 G");
        REQUIRE(line != std::string::npos);
        const auto end = program->text.find('\n', line);
        const std::string good = program->text.substr(line, end - line);
        const double unit = seed % 2 ? 1 / 25.4 : 1;
        for (const char word : std::string("XYZRQF"))
            for (const double by : {-0.9 * unit, 0.9 * unit}) {
                const auto at = good.find(word);
                // A peck a little smaller than asked is no fault.
                if (at == std::string::npos || (word == 'Q' && by < 0)) continue;
                const double value = std::strtod(good.c_str() + at + 1, nullptr);
                const auto next = std::min(good.find(' ', at), good.size());
                std::string bad = good;
                bad.replace(at + 1, next - at - 1, fmt::format("{:.4f}", value + (word == 'F' ? by * 40 / unit : by)));
                // Feeding begins a little higher: only air more.
                std::string text = program->text;
                text.replace(line, good.size(), bad);
                CAPTURE(bad);
                CHECK(accepts(text) == (word == 'R' && by > 0));
            }
        for (const auto& [from, to] : {std::pair("G98", "G99"), {"G98", "G98 G91"}}) {
            std::string text = program->text;
            text.replace(line, 3, to);
            CAPTURE(from, to);
            CHECK_FALSE(accepts(text));
        }
        std::string left = program->text;
        left.erase(line, good.size() + 1);
        left.insert(line, "\n"); // the same count of lines
        CHECK_FALSE(accepts(left));
    }
    // What waits at the bottom, comes out slowly or begins deeper is written out.
    for (const auto& [name, value] : {std::pair("dwell", "0.5"), {"feedOut", "500"}, {"startDepth", "2"}}) {
        auto job = stepped(drawn(fresh(), {{circle({60, 60}, 4), {}}}), "drill", "drill-8");
        job = set(set(set(job, "through", "to depth"), "depth", "6"), name, value);
        CHECK(planned(job).steps[0].drillings.empty());
        auto dialect = *program::openDialect(realDisk(), "mill-mm");
        dialect.cycles = true;
        const auto program = program::programFor(job, planned(job), dialect, program::Clearance::passed);
        REQUIRE(program);
        CHECK(program->text.find("G98") == std::string::npos);
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

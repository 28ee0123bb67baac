// What a plotter draws that follows the file, by a reader of the test's own; and what of a dialect is refused.
#include "program/code.h"
#include "program/for_job.h"
#include "program/plotter.h"
#include "proof/proof.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;

namespace {

struct Line {
    std::vector<Vec2> points;
    int tool, force;
};
/// Two letters, numbers, a semicolon: as this writer writes, no more.
std::vector<Line> drawnBy(const std::string& text) {
    std::vector<Line> out;
    Vec2 at;
    bool down = false;
    int tool = 0, force = 0;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) {
        REQUIRE(line.back() == ';');
        const std::string code = line.substr(0, 2), rest = line.substr(2, line.size() - 3);
        double x = 0, y = 0;
        const bool place = std::sscanf(rest.c_str(), "%lf,%lf", &x, &y) == 2;
        if (code == "SP") tool = std::stoi(rest);
        if (code == "FS") force = std::stoi(rest);
        if (code == "PU") down = false;
        if (code == "PD" && !down) out.push_back({{at}, tool, force}), down = true;
        if (place) at = Vec2{x, y} / 40;
        if (place && down) out.back().points.push_back(at);
    }
    CHECK_FALSE(down);
    CHECK(tool == 0);
    return out;
}

job::Job film() {
    auto job =
        drawn(fresh("roll-610", "black-card"), {{curvedBlob(3, {80, 80}, 40), {wound(circle({80, 80}, 9), false)}}});
    job = drawn(job, {{pathOf(ring("20,150 120,150"), false), {}}}, "fold");
    job = set(set(set(stepped(job, "slit"), "layers", "fold"), "through", "kiss cut"), "force", "35");
    return set(set(stepped(job, "slit"), "layers", "cut"), "force", "110");
}

} // namespace

TEST_CASE("plotter: the file draws the moves within a step, by their tool, force and order") {
    const auto job = film();
    Progress progress;
    const auto proof = *proof::proofOf(job, progress);
    REQUIRE(proof.mayRun());
    const auto dialect = *program::dialectOf(realDisk(), job);
    REQUIRE(dialect.plotter);
    const auto program = program::programFor(job, proof.path, dialect, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    CHECK(program->ending == "plt");
    const auto lines = drawnBy(program->text);
    REQUIRE(lines.size() == 3);
    CHECK((lines[0].force == 35 && lines[1].force == 110 && lines[2].force == 110));
    std::size_t next = 0;
    toolpath::Vec3 at = proof.path.start;
    double most = 0;
    bool down = false;
    for (const auto& step : proof.path.steps)
        for (const auto& move : step.moves) {
            const bool cuts = move.kind != toolpath::Move::Kind::rapid && std::min(at.z, move.to.z) < 0;
            next += cuts && !down;
            down = cuts;
            if (cuts) {
                const auto& line = lines[next - 1].points;
                for (int i = 0; i <= 8; ++i) {
                    const Vec2 p = pointAt(at.flat(), move.flat(), i / 8.0);
                    double least = distance(p, line[0]);
                    for (std::size_t k = 1; k < line.size(); ++k)
                        least = std::min(least, distanceToLine(p, line[k - 1], line[k]));
                    most = std::max(most, least);
                }
            }
            at = move.to;
        }
    CHECK(next == 3);
    CHECK(most < 0.036); // a step and a half
    // Each move's line is the one that goes to its end.
    std::vector<std::string> text(1);
    std::istringstream in(program->text);
    for (std::string line; std::getline(in, line);) text.push_back(line);
    CHECK(text.size() == program->lines + 1);
    for (std::size_t s = 0; s < proof.path.steps.size(); ++s)
        for (std::size_t m = 0; m < proof.path.steps[s].moves.size(); ++m)
            if (const auto line = program->lineOf[s][m]; line && text[line].size() > 3) {
                const Vec2 to = proof.path.steps[s].moves[m].to.flat() * 40;
                CHECK(text[line].substr(2) == fmt::format("{},{};", std::lround(to.x), std::lround(to.y)));
            }
    // A place that is a step off may be rounding; two are another drawing.
    const auto agreesWhen = [&](long off) {
        auto altered = *program;
        const auto last = altered.text.rfind("PD", altered.text.rfind("PU;"));
        const auto comma = altered.text.find(',', last);
        const long x = std::stol(altered.text.substr(last + 2));
        altered.text.replace(last + 2, comma - last - 2, fmt::format("{}", x + off));
        return program::plotterAgrees(altered, proof.path, dialect, program::frameOf(job)).has_value();
    };
    CHECK((agreesWhen(0) && agreesWhen(1) && agreesWhen(-1)));
    CHECK((!agreesWhen(3) && !agreesWhen(-3)));
    CHECK_FALSE(program::programFor(job, proof.path, dialect, program::Clearance::refused));
    CHECK(program::fileNamesFor(job, proof.path).size() == 1);
    // What HPGL has no words for is told; a machine that streams is another matter.
    const auto unsaid = program::unsaidBy(dialect, proof.path);
    REQUIRE(unsaid.size() == 1);
    CHECK(unsaid[0].what.find("35 g") != std::string::npos);
    const auto deeper = set(set(job, "passes", "3"), "turnDepth", "0.05");
    const auto told = program::unsaidBy(dialect, proof::proofOf(deeper, progress)->path);
    REQUIRE(told.size() == 2);
    CHECK(told[0].what.find("all alike") != std::string::npos);
    CHECK(program::unsaidBy(*program::openDialect(realDisk(), "blade-mm"), proof.path).empty());
    CHECK_FALSE(program::mayStream(dialect));
}

TEST_CASE("plotter: lines of a dialect that would draw something else are refused, with what is wrong") {
    const auto shipped = *program::openDialect(realDisk(), "plotter");
    CHECK_FALSE(program::sampleOf(shipped).problem);
    const auto refused = [&](auto&& change) {
        auto dialect = shipped;
        change(dialect);
        const auto problem = program::sampleOf(dialect).problem;
        REQUIRE(problem);
        return problem->what;
    };
    using D = program::Dialect;
    CHECK(refused([](D& d) { d.toolChange.clear(); }).find("tool") != std::string::npos);
    CHECK(refused([](D& d) { d.start = {"FS20;"}; }).find("force") != std::string::npos);
    CHECK(refused([](D& d) { d.header.push_back("PR;"); }).find("relative") != std::string::npos);
    CHECK(refused([](D& d) { d.header.push_back("RO90;"); }).find("RO") != std::string::npos);
    CHECK(refused([](D& d) { d.start.push_back("PD100,100;PU;"); }).find("lines") != std::string::npos);
    CHECK(refused([](D& d) { d.start.push_back("CI400;"); }).find("CI") != std::string::npos);
    CHECK(refused([](D& d) { d.header.push_back("RR400,400;"); }).find("RR") != std::string::npos);
    CHECK(refused([](D& d) { d.header.push_back("LT2;"); }).find("LT") != std::string::npos);
    CHECK(refused([](D& d) { d.footer = {"PD0,0;", "PU;", "SP0;"}; }).find("lines") != std::string::npos);
    auto moves = shipped; // and is brought back by the next line's own PU
    moves.start.push_back("PU40,40,0,0;");
    CHECK_FALSE(program::sampleOf(moves).problem);
    CHECK(refused([](D& d) { d.footer = {"PU0,0;"}; }).find("SP0") != std::string::npos);
    CHECK(refused([](D& d) { d.stop = {"§"}; }).find("instruction") != std::string::npos);
    CHECK_FALSE(program::dialectFromText(R"({"process": "rotary", "plotter": true})"));
    CHECK_FALSE(program::dialectFromText(R"({"process": "blade", "plotter": true, "perMm": 1})"));
    CHECK(program::dialectFromText(R"({"beam": true})")->beam()); // as files were before
}

TEST_CASE("blade: its G-code goes down and never starts a spindle, a mill's dialect is none for it") {
    auto job = film();
    job = job::withMachine(job, *book().machine("knife-600"));
    Progress progress;
    const auto proof = *proof::proofOf(job, progress);
    const auto dialect = *program::dialectOf(realDisk(), job);
    const auto program = program::programFor(job, proof.path, dialect, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    CHECK(program->text.find("M3 ") == std::string::npos);
    auto wrong = dialect;
    wrong.start = {"M3 S8000"};
    CHECK_FALSE(program::programFor(job, proof.path, wrong, program::Clearance::passed));
    wrong = dialect;
    wrong.toolChange.clear();
    CHECK_FALSE(program::programFor(job, proof.path, wrong, program::Clearance::passed));
    CHECK_FALSE(program::dialectOf(realDisk(), with(job, job::withDialect(job, "mill-mm"))));
}

TEST_CASE("plotter: the zero that a sheet has is where its file counts from, and force and speed are said once") {
    auto job = film();
    auto stock = job.sheet().stock;
    stock.corner = job::ZeroCorner::centre;
    job = with(job, job::withStock(job, stock));
    Progress progress;
    const auto proof = *proof::proofOf(job, progress);
    const auto dialect = *program::dialectOf(realDisk(), job);
    const auto program = program::programFor(job, proof.path, dialect, program::Clearance::passed);
    REQUIRE(program);
    const auto lines = drawnBy(program->text);
    // The fold, from 20,150 to 120,150 on the sheet.
    const Vec2 zero = job::zeroOf(job.sheet().stock).at;
    REQUIRE(zero.x > 100);
    const auto fold = std::find_if(lines.begin(), lines.end(), [](const Line& line) { return line.force == 35; });
    REQUIRE(fold != lines.end());
    CHECK(distance(fold->points.front(), Vec2{20, 150} - zero) < 1); // off by the blade's trail
    CHECK(distance(fold->points.back(), Vec2{120, 150} - zero) < 1);
    const auto times = [&](const std::string& word) {
        std::size_t count = 0;
        for (auto at = program->text.find(word); at != std::string::npos; at = program->text.find(word, at + 1))
            ++count;
        return count;
    };
    CHECK(times("FS35;") == 1);
    CHECK(times("FS110;") == 1);
    CHECK(times("VS") >= 1);
}

TEST_CASE("code: what a controller is told of a line, without what is for people") {
    CHECK(program::codeOf("  G1 X2 (to the edge) F300 ; slowly ") == "G1 X2  F300");
    CHECK(program::codeOf("(all of it)").empty());
    CHECK(program::codeOf("; all of it").empty());
    CHECK(program::codeOf("M0 (wait; then go) S1\r") == "M0  S1");
    CHECK(program::codeOf("G0 X1 (one) Y2 (two)") == "G0 X1  Y2");
    CHECK(program::codeOf("\t ").empty());
}

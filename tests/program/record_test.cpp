// Programs in every dialect, word by word, and all that the reader makes of a tour through RS-274.
#include "program/for_job.h"
#include "program/reader.h"
#include "support/golden.h"
#include "support/toolpaths.h"

using namespace ferro;

namespace {

std::string number(double value) {
    const std::string text = fmt::format("{:.3f}", value + 1e-7); // no tie is left to the last bit
    return text == "-0.000" ? "0.000" : text;
}
std::string recordOf(const program::ReadProgram& read) {
    std::string out;
    for (std::size_t s = 0; s < read.path.steps.size(); ++s) {
        const auto& step = read.path.steps[s];
        out += fmt::format("step {} · {} {} mm{}\n", step.name, step.tool.name, step.tool.diameter,
                           step.toolChange ? ", another tool" : "");
        for (std::size_t i = 0; i < step.moves.size(); ++i) {
            constexpr std::string_view kinds[] = {"rapid", "line", "arc", "scan"};
            const auto& m = step.moves[i];
            out += fmt::format("  {}: {} {} {} {}", read.lineOf[s][i], kinds[static_cast<std::size_t>(m.kind)],
                               number(m.to.x), number(m.to.y), number(m.to.z));
            if (m.kind == toolpath::Move::Kind::arc)
                out += fmt::format(" about {} {} {}", number(m.centre.x), number(m.centre.y), m.ccw ? "ccw" : "cw");
            const auto& h = read.states[read.stateOf[s][i]];
            out += fmt::format(" f{} p{:g} [G{} G{} G{} G{} G{} S{:g} M{} T{}/{}{}{}]\n",
                               number(static_cast<double>(m.feed)), double(m.power), h.plane, h.inch ? 20 : 21,
                               h.absolute ? 90 : 91, h.offset, h.toolOffset, h.speed, h.spindle, h.tool, h.nextTool,
                               h.mist ? " mist" : "", h.flood ? " flood" : "");
        }
    }
    for (const auto& h : read.happenings)
        out += fmt::format("  {}: after {} moves {} {} {} {}{} {}\n", h.line, h.moves, static_cast<int>(h.event.kind),
                           number(h.event.value), number(h.event.zero.x), number(h.event.zero.y),
                           h.event.bare ? "" : " with words", h.event.what);
    for (const auto& n : read.notices) out += "  " + n.text + "\n";
    return out + fmt::format("{} lines\n", read.lines);
}

} // namespace

TEST_CASE("program: in every dialect it is written as it was, and read back") {
    std::string all;
    for (const auto& key : program::knownDialects()) {
        const auto dialect = program::openDialect(realDisk(), key);
        REQUIRE(dialect);
        const bool beam = dialect->beam(), blade = dialect->process == shop::Process::blade;
        auto job = beam    ? test::fresh("laser-700", "poplar")
                   : blade ? test::fresh(dialect->plotter ? "roll-610" : "knife-600", "film")
                           : test::fresh();
        job = test::drawn(job, {{rectangle({50.2, 50.3}, {90.7, 80.1}, 6), {}}});
        job = test::drawn(job, {{pathOf(test::ring("55,60 80,62 70,70"), false), {}}}, "lines");
        if (!beam && !blade) {
            job = test::drawn(job, {{circle({70, 90}, 4), {}}, {circle({60, 95}, 4), {}}}, "holes");
            job = test::set(test::stepped(job, "drill", "drill-8"), "layers", "holes");
        }
        job = test::set(test::stepped(job, blade ? "slit" : "outline"), "layers", "cut");
        job = test::set(test::stepped(job, blade ? "slit" : "scribe"), "layers", "lines");
        job = test::set(job, "stop", "yes");
        job.name = "Owls & moon";
        const auto text = program::programFor(job, test::planned(job), *dialect, program::Clearance::passed);
        INFO(key << (text ? "" : text.problem().text()));
        if (!text) {
            all += fmt::format("== {}: {}\n", key, text.problem().text());
            continue;
        }
        all += fmt::format("== {}\n{}", key, text->text);
    }
    test::checkGolden("program/dialects.txt", all);
}

TEST_CASE("reader: a tour through the words it knows comes out as it did") {
    const std::string_view tours[] = {
        "N10 G21 G90 G17 G94 G54\nT3 M6\nS12000 M3\nG4 P2.5\nM8\nG0 X10 Y20 Z5\nG1 Z-2 F300\nX30 F900\nG2 X40 Y30 I0 "
        "J10\n"
        "G3 X40 Y10 R10\nM7\nG91\nG1 X5 Y-5\nG90\nG0 Z5\nM9\nM0\nT4\nM6 (the next)\nS8000 M4\nG1 X0 Y0 Z-1 "
        "F100\nM5\nG28\nM30\n",
        "%\nO12 (a name)\nG20 G91.1\nG55\nG0 X1 Y1 Z0.5\nM3 S500\nG1 Z-0.1 F10\nG90.1\nG2 X2 Y1 I1.5 J1\nG91.1\nG53 G0 "
        "Z0\nG43 H2\n"
        "G0 X0\nG49\nG59\nG1 X1 F5\nG92 X0 Y0\nG1 X0.5\nG64\nG61\nM2\n",
        "G21 G90\nM3 S9000\nG0 X0 Y0 Z10\nG98 G81 X5 Y5 Z-4 R2 F120\nX10\nG99 G82 X15 Z-3 R1 P0.5\nG83 X20 Y0 Z-6 R1 "
        "Q2\n"
        "G91 G73 X5 Z-5 R-1 Q1.5\nG90 G80\nG0 Z10\nG18\nG1 X1\nG19\nG1 Y2\nG17\nG40\nM1\nM30",
        "G21\nT9 M6\nG0 X1 Y1\nG1 X2 Z-1 F50\n(feed stays)\nG0 Z1 ; up\n/G1 X9\nG30 Z5\nM98\n",
    };
    std::string all;
    for (const auto tour : tours)
        for (const bool beam : {false, true}) {
            program::ReadOptions options;
            options.interpreter = {beam, 1000};
            options.frame.zero = {100, 50};
            const auto book = test::book();
            options.tools = {book.tools.begin(), book.tools.begin() + 5};
            const auto read = program::readProgram(tour, options);
            all += fmt::format("== {}{}\n{}", tour.substr(0, tour.find('\n')), beam ? " by beam" : "",
                               read ? recordOf(*read) : read.problem().text() + "\n");
        }
    test::checkGolden("program/reader.txt", all);
}

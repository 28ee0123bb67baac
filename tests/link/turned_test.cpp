// A knife that the machine turns, judged from the written text alone by a reader of the test's own: where it points
// wherever it cuts, and how far it is turned on the spot.
#include "geometry/arc_fit.h"
#include "link/resume.h"
#include "program/agreement_internal.h"
#include "program/for_job.h"
#include "support/proofs.h"
#include "support/toolpaths.h"

#include <map>
#include <sstream>

using namespace ferro;
using namespace ferro::test;

namespace {

job::Job onTable(const std::vector<Piece>& pieces) {
    auto job = stepped(drawn(fresh("knife-1000", "black-card"), pieces), "slit", "knife-turned");
    return set(set(job, "role", "any"), "layers", "cut");
}
program::Dialect turning() { return *program::openDialect(realDisk(), "blade-turned"); }
program::Program programOf(const job::Job& job, const program::Dialect& dialect = turning()) {
    auto program = program::programFor(job, planned(job), dialect, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    return std::move(*program);
}

struct Seen {
    double off = 0;         ///< °, the largest between knife and way
    double inStock = 0;     ///< °, the largest turn on the spot below the top
    double whole = 0;       ///< ° turned on the spot, in all
    double cut = 0;         ///< mm
    std::size_t lifts = 0;  ///< how often it comes out of the stock
    std::size_t angles = 0; ///< A words
};
Seen seen(const std::string& text) {
    Seen out;
    std::map<char, double> at{{'X', 0}, {'Y', 0}, {'Z', 5}, {'A', 0}};
    int motion = 0;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) {
        if (line.empty() || line[0] == '(') continue;
        const auto before = at;
        std::istringstream words(line);
        std::map<char, double> said;
        for (std::string word; words >> word;) {
            const double value = std::strtod(word.c_str() + 1, nullptr);
            if (word[0] == 'G' && value <= 3) motion = static_cast<int>(value);
            said[word[0]] = value;
        }
        for (const char axis : {'X', 'Y', 'Z', 'A'})
            if (said.contains(axis)) at[axis] = said[axis];
        out.angles += said.contains('A');
        const Vec2 from{before.at('X'), before.at('Y')}, to{at['X'], at['Y']};
        if (distance(from, to) < 1e-9) {
            const double by = std::abs(at['A'] - before.at('A'));
            out.whole += by;
            if (before.at('Z') < 0) out.inStock = std::max(out.inStock, by);
            out.lifts += before.at('Z') < 0 && at['Z'] > 0;
            continue;
        }
        if (std::min(at['Z'], before.at('Z')) >= 0) continue;
        REQUIRE(at['Z'] == before.at('Z')); // down and up it goes where it stands
        REQUIRE(motion != 0);               // no rapid in the stock
        double begins = 0, ends = 0;
        if (motion == 1) {
            begins = ends = std::atan2(to.y - from.y, to.x - from.x);
            out.cut += distance(from, to);
        } else {
            const Vec2 centre = from + Vec2{said['I'], said['J']};
            const double way = motion == 3 ? pi / 2 : -pi / 2;
            begins = std::atan2(from.y - centre.y, from.x - centre.x) + way;
            ends = std::atan2(to.y - centre.y, to.x - centre.x) + way;
            const double sweep = (at['A'] - before.at('A')) * pi / 180; // turned on the way, all of it
            out.cut += std::abs(sweep) * distance(from, centre);
            out.off = std::max(out.off, (sweep > 0) == (motion == 3) || std::abs(sweep) < 1e-3 ? 0.0 : 180.0);
        }
        const double blur = 0.003 / distance(from, to) * 180 / pi; // what the last digits leave open
        const auto away = [](double a, double degrees) {
            return std::abs(std::remainder(a * 180 / pi - degrees, 360));
        };
        out.off = std::max({out.off, away(begins, before.at('A')) - blur, away(ends, at['A']) - blur});
    }
    return out;
}

} // namespace

TEST_CASE("turned knife: it points along its way wherever it cuts, and over sharp corners it is turned above the stock",
          "[property][safety]") {
    for (unsigned seed = 1; seed <= 9; ++seed) {
        const Path path = seed % 3 == 0   ? pathOf(blob(seed, {200, 150}, 60, 9), true)
                          : seed % 3 == 1 ? rectangle({60, 60}, {200, 160}, seed)
                                          : pathOf(ring("60,60 140,62 138,140 100,141 99,80 61,79"), seed % 2 == 0);
        auto job = set(onTable({{path, {}}}), "overcut", "0");
        const auto program = programOf(job);
        const auto knife = seen(program.text);
        CAPTURE(seed, program.text.substr(0, 600));
        CHECK(knife.off < 0.4);
        CHECK(knife.inStock <= 12.01); // what it turns over is asked to be more than 12°
        CHECK(knife.cut == Approx(lengthOf(withoutCubics(path, 0.002))).margin(0.05));
        std::size_t sharp = 0;
        for (std::size_t i = path.closed ? 0 : 1; i < path.segments.size(); ++i) {
            const std::size_t b = (i + path.segments.size() - 1) % path.segments.size();
            const Vec2 in = tangentAt(path.from(b), path.segments[b], 1),
                       on = tangentAt(path.from(i), path.segments[i], 0);
            sharp += std::acos(std::clamp(dot(in, on), -1.0, 1.0)) > 12 * pi / 180;
        }
        CHECK(knife.lifts == (path.closed ? std::max<std::size_t>(sharp, 1) : sharp + 1));
        CHECK(knife.whole <= 180.0 * static_cast<double>(knife.lifts)); // never the long way round
    }
}

TEST_CASE("turned knife: arcs as R or chords turn it too, and a dialect without angles says so") {
    const auto job = onTable({{rectangle({60, 60}, {200, 160}, 18), {}}});
    auto dialect = turning();
    dialect.arcs = false;
    const auto chords = seen(programOf(job, dialect).text);
    CHECK(chords.off < 1.2); // half of what a chord bends
    dialect = turning();
    dialect.byRadius = true, dialect.turn = "C";
    CHECK(programOf(job, dialect).text.find(" C90\n") != std::string::npos);
    dialect = *program::openDialect(realDisk(), "blade-mm");
    CHECK(seen(programOf(job, dialect).text).angles == 0);
    const auto unsaid = program::unsaidBy(dialect, planned(job));
    REQUIRE(unsaid.size() == 1);
    CHECK(unsaid[0].what.find("says no angles") != std::string::npos);
    CHECK(program::unsaidBy(turning(), planned(job)).empty());
    dialect.turn = "X";
    CHECK_FALSE(program::dialectFromText(program::toText(dialect)));
}

TEST_CASE("turned knife: a text that points it elsewhere, or turns it in the stock, is refused with its line",
          "[safety]") {
    const auto job = onTable({{rectangle({60, 60}, {200, 160}, 18), {}}});
    const auto path = planned(job);
    const auto program = programOf(job);
    const auto judged = [&](std::string text) {
        const auto back = program::readProgram(text, program::readOptionsFor(job, turning()));
        REQUIRE(back);
        const auto same = program::sameStates(path, program.lineOf, *back, turning());
        return same ? std::string() : same.problem().what;
    };
    REQUIRE(judged(program.text).empty());
    const auto without = [&](std::string word, std::string by) {
        auto text = program.text;
        const auto at = text.find(word);
        REQUIRE(at != std::string::npos);
        return text.replace(at, word.size(), by);
    };
    CHECK(judged(without(" A90\n", "\n")).find("off its way (A)") != std::string::npos);
    CHECK(judged(without(" A90\n", " A450\n")).find("off its way (A)") == std::string::npos); // the same, once round
    CHECK(judged(without(" A90\n", " A80\n")).find("Line ") == 0);
    // The first angle after it has gone down.
    const auto turn = program.text.find("G0 A");
    if (turn != std::string::npos) {
        const auto end = program.text.find('\n', turn) + 1;
        const auto line = program.text.substr(turn, end - turn);
        auto text = program.text;
        text.erase(turn, line.size());
        const auto down = text.find('\n', text.find("Z-0", turn)) + 1;
        text.insert(down, line);
        CHECK_FALSE(judged(text).empty());
    }
    auto dialect = turning();
    dialect.start = {"G0 A7"};
    CHECK_FALSE(program::programFor(set(job, "overcut", "0"), path, dialect, program::Clearance::passed));
}

TEST_CASE("turned knife: turning takes its time, and a run that is resumed points it before it goes down", "[safety]") {
    auto job = onTable({{rectangle({60, 60}, {200, 160}), {}}});
    const double quick = proofOf(job).timing.motion;
    job.machine.turnSpeed = 45;
    CHECK(proofOf(job).timing.motion > quick + 3 * 90.0 / 45 * 0.9);
    const auto path = planned(job);
    const auto program = programOf(job);
    const auto run = link::runOf(job, path, program, turning());
    std::vector<std::string> lines;
    std::istringstream in(program.text);
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    std::size_t tried = 0;
    for (long i = 1; i < static_cast<long>(lines.size()); ++i) {
        const auto rest = link::resumed(run, i);
        if (!rest) continue;
        const auto knife = seen(rest->text);
        INFO(i << "\n" << rest->text);
        CHECK(knife.off < 0.4);
        CHECK(knife.inStock < 12.01);
        ++tried;
    }
    CHECK(tried > 10);
}

// What is left to a controller that makes up for the tool's wear, judged from the text alone: where it may shift the
// way, and that it would shift it off the part.
#include "geometry/measure.h"
#include "link/resume.h"
#include "program/agreement_internal.h"
#include "program/for_job.h"
#include "support/proofs.h"
#include "support/toolpaths.h"

#include <sstream>

using namespace ferro;
using namespace ferro::test;

namespace {

job::Job panel(const char* direction, const char* entry) {
    auto job = drawn(fresh(), {{curvedBlob(4, {150, 130}, 60), {wound(rectangle({130, 110}, {165, 150}, 8), false)}}});
    job = set(set(stepped(job, "outline", "end-6"), "leadBy", "straight"), "direction", direction);
    return set(set(job, "entry", entry), "wear", "by the controller");
}
program::Dialect knowing() {
    auto dialect = *program::openDialect(realDisk(), "mill-mm");
    dialect.wear = true;
    return dialect;
}
program::Program programOf(const job::Job& job, const program::Dialect& dialect) {
    auto program = program::programFor(job, planned(job), dialect, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    return std::move(*program);
}
std::vector<std::string> linesOf(const std::string& text) {
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    return lines;
}

} // namespace

TEST_CASE("wear: from one straight line to another the controller shifts the way off the part, whichever way round",
          "[property][safety]") {
    for (const char* direction : {"climb", "conventional"})
        for (const char* entry : {"ramp", "plunge"}) {
            const auto job = panel(direction, entry);
            const auto path = planned(job);
            const auto program = programOf(job, knowing());
            CAPTURE(direction, entry);
            const Vec2 zero = program::frameOf(job).zero;
            Vec2 at;
            int side = 40, motion = 0;
            std::size_t stretches = 0, asked = 0;
            for (const auto& line : linesOf(program.text)) {
                std::istringstream words(line);
                Vec2 to = at;
                bool turned = false;
                const int before = side;
                for (std::string word; words >> word;) {
                    const double value = std::strtod(word.c_str() + 1, nullptr);
                    if (word == "G41" || word == "G42" || word == "G40") side = static_cast<int>(value), turned = true;
                    if (word == "G0" || word == "G1" || word == "G2" || word == "G3") motion = static_cast<int>(value);
                    if (word[0] == 'X') to.x = value;
                    if (word[0] == 'Y') to.y = value;
                }
                stretches += turned && side != 40;
                if (turned) {
                    CHECK(motion == 1); // by a straight line that goes somewhere
                    CHECK(distance(at, to) > 1);
                    CHECK((side == 40) == (before != 40));
                    if (side != 40) CHECK(line.find(" D2") != std::string::npos);
                }
                if (before != 40 && side != 40 && motion == 1 && distance(at, to) > 0.05) {
                    const Vec2 middle = (at + to) / 2 + zero, left = perpendicular(unit(to - at));
                    const auto far = [&](Vec2 p) {
                        double least = 1e9;
                        for (const auto& contour : path.pieces->contours) {
                            const Ruler ruler(contour.path);
                            least = std::min(least, distance(ruler.at(ruler.nearest(p)).point, p));
                        }
                        return least;
                    };
                    const double shift = side == 41 ? 0.1 : -0.1;
                    CHECK(far(middle + left * shift) > far(middle));
                    ++asked;
                }
                if (motion == 0 && distance(at, to) > 0) CHECK(side == 40); // no rapid is shifted
                at = to;
            }
            CHECK(side == 40);
            CHECK(stretches == path.steps[0].worn.size());
            CHECK(stretches >= 2);
            CHECK(asked > 2);
        }
}

TEST_CASE("wear: a dialect without it is written as the path has it and says so, and where it cannot be is told") {
    const auto job = panel("climb", "ramp");
    auto plain = knowing();
    plain.wear = false;
    CHECK(programOf(job, plain).text == programOf(set(job, "wear", "in the path"), plain).text);
    const auto unsaid = program::unsaidBy(plain, planned(job));
    REQUIRE(unsaid.size() == 1);
    CHECK(unsaid[0].what.find("no words for that") != std::string::npos);
    CHECK(program::unsaidBy(knowing(), planned(job)).empty());
    for (const auto& changed :
         {set(job, "leadBy", "arc"), set(job, "leads", "in only"), set(job, "relief", "corner")}) {
        CHECK(planned(changed).steps[0].worn.empty());
        CHECK(finding(proofOf(changed), "cannot make up for wear here"));
    }
    CHECK_FALSE(finding(proofOf(job), "cannot make up for wear"));
    plain.process = shop::Process::blade;
    plain.wear = true;
    CHECK_FALSE(program::dialectFromText(program::toText(plain)));
}

TEST_CASE("wear: a text that shifts the way elsewhere or to the other side is refused with its line", "[safety]") {
    const auto job = panel("climb", "plunge");
    const auto path = planned(job);
    const auto program = programOf(job, knowing());
    const auto judged = [&](std::string from, std::string to) {
        auto text = program.text;
        const auto at = text.find(from);
        REQUIRE(at != std::string::npos);
        text.replace(at, from.size(), to);
        const auto back = program::readProgram(text, program::readOptionsFor(job, knowing()));
        REQUIRE(back);
        const auto same = program::sameStates(path, program.lineOf, *back, knowing());
        return same ? std::string() : same.problem().what;
    };
    CHECK(judged("G41", "G41").empty());
    CHECK(judged("G41", "G42").find("G42 is in force, G41 was meant") != std::string::npos);
    CHECK(judged("G41 D2 ", "").find("G40 is in force") != std::string::npos);
    CHECK(judged("G40 ", "").find("G41 is in force, G40 was meant") != std::string::npos);
    CHECK(judged("M30", "G41 D2\nM30").find("no G40") != std::string::npos);
    // Without the dialect's leave they are what they ever were: refused.
    auto options = program::readOptionsFor(job, knowing());
    options.interpreter.wear = false;
    CHECK_FALSE(program::readProgram(program.text, options));
}

TEST_CASE("wear: a resumed run has the controller make up for it as the whole one had, from a straight line on",
          "[safety][property]") {
    const auto job = panel("climb", "plunge");
    const auto path = planned(job);
    const auto program = programOf(job, knowing());
    const auto run = link::runOf(job, path, program, knowing());
    const auto lines = linesOf(program.text);
    const program::Interpreter::Options options{.wear = true};
    std::vector<int> whole;
    program::Interpreter all(options);
    all.setPosition({0, 0, 15});
    for (const auto& line : lines) {
        REQUIRE(all.read(line));
        whole.push_back(all.modes().wear);
    }
    std::size_t tried = 0;
    for (long done = 1; done < static_cast<long>(lines.size()); done += 3) {
        const auto rest = link::resumed(run, done);
        if (!rest) continue;
        program::Interpreter reader(options);
        reader.setPosition({0, 0, 15});
        const auto again = linesOf(rest->text);
        for (std::size_t i = 0; i < again.size(); ++i) {
            INFO(done << " " << again[i]);
            const auto read = reader.read(again[i]);
            REQUIRE(read);
            const long old = static_cast<long>(i) - rest->head + rest->fromLine;
            if (static_cast<long>(i) < rest->head) CHECK(reader.modes().wear == 40);
            if (static_cast<long>(i) >= rest->head)
                REQUIRE(reader.modes().wear == whole[static_cast<std::size_t>(old - 1)]);
        }
        ++tried;
    }
    CHECK(tried > 8);
}

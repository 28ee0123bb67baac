// What a beam does beyond going and burning: air, standing lit to pierce, a focus that goes down from pass to pass.
#include "program/for_job.h"
#include "proof/proof.h"
#include "support/toolpaths.h"

#include <set>
#include <sstream>

using namespace ferro;
using namespace ferro::test;

namespace {

job::Job card() {
    auto job = drawn(fresh("laser-700", "poplar"), {{rectangle({50, 50}, {110, 90}), {}}});
    return stepped(job, "outline");
}
program::Dialect speed() { return *program::openDialect(realDisk(), "beam-by-speed"); }
Result<program::Program> writtenBy(const job::Job& job, const program::Dialect& dialect) {
    return program::programFor(job, planned(job), dialect, program::Clearance::passed);
}
std::size_t timesIn(const std::string& text, std::string_view word) {
    std::size_t n = 0;
    for (auto at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) ++n;
    return n;
}
/// The problem of reading back what a dialect makes of it; empty: it says what was meant.
std::string missed(const job::Job& job, const program::Dialect& dialect) {
    const auto program = writtenBy(job, dialect);
    return program ? "" : program.problem().text();
}

} // namespace

TEST_CASE("beam: air is on where it was asked for and off elsewhere, and a dialect that has it otherwise is refused",
          "[safety]") {
    auto job = stepped(card(), "outline");
    job = set(job, "air", "off");
    job = with(job, job::withOrder(job, plan::Order::byHand));
    const auto text = writtenBy(job, speed())->text;
    CHECK(timesIn(text, "M8") == 1);
    CHECK(timesIn(text, "M9") == 1);
    CHECK(text.find("M8") < text.find("M9"));
    CHECK(proof::proofOf(job, *std::make_unique<Progress>())->mayRun());
    auto dialect = speed();
    dialect.air = {"M9"};
    CHECK(missed(job, dialect).find("air is off") != std::string::npos);
    dialect = speed();
    dialect.airOff = {"M8"};
    CHECK(missed(job, dialect).find("air is on") != std::string::npos);
    dialect = speed();
    dialect.air = dialect.airOff = {};
    CHECK(missed(job, dialect).empty()); // a machine whose air is a tap
    const auto unsaid = program::unsaidBy(dialect, planned(job));
    REQUIRE(unsaid.size() == 1);
    CHECK(unsaid[0].what.find("no words for air") != std::string::npos);
    CHECK(program::unsaidBy(speed(), planned(job)).empty());
    dialect.air = {"M8"};
    CHECK_FALSE(program::dialectFromText(program::toText(dialect)));
}

TEST_CASE("beam: it stands lit where it was meant, as long and as strongly, and nowhere else", "[safety]") {
    auto job = set(set(set(set(card(), "pierce", "0.4"), "hold", "tabs"), "tabCount", "2"), "power", "70");
    const auto path = planned(job);
    REQUIRE(path.steps[0].waits.size() == 3); // at its start and behind each tab
    for (const auto& wait : path.steps[0].waits) {
        const auto& next = path.steps[0].moves[wait.before];
        CHECK(next.power == Approx(0.7f).margin(1e-4));
        CHECK(path.steps[0].moves[wait.before - 1].power == 0);
    }
    const auto program = writtenBy(job, speed());
    REQUIRE(program);
    CHECK(timesIn(program->text, "M3 S700\nG4 P0.4\nM4 S0\n") == 3);
    const auto read = program::readProgram(program->text, program::readOptionsFor(job, speed()));
    REQUIRE(read);
    REQUIRE(read->path.steps[0].waits.size() == 3);
    for (const auto& wait : read->path.steps[0].waits) CHECK(wait.power == Approx(0.7));
    // Longer, stronger, dark, or beside.
    auto dialect = speed();
    for (const auto& pierce : std::vector<std::vector<std::string>>{{"M3 S{power}", "G4 P9", "M4 S0"},
                                                                    {"M3 S900", "G4 P{seconds}", "M4 S0"},
                                                                    {"M4 S{power}", "G4 P{seconds}"},
                                                                    {"M3 S{power}", "M4 S0"},
                                                                    {}}) {
        dialect.pierce = pierce;
        CHECK_FALSE(missed(job, dialect).empty());
    }
    dialect = speed();
    dialect.start = {"M3 S400", "G4 P1", "M4 S0"};
    CHECK(missed(card(), dialect).find("burns where it stands") != std::string::npos);
    dialect.stop = {"M3 S300", "G4 P0.1", "M5 S0"};
    dialect.start = speed().start;
    CHECK_FALSE(missed(card(), dialect).empty());
}

TEST_CASE("beam: its focus goes down from pass to pass, dark, and a run that is resumed finds it there", "[safety]") {
    auto job = set(set(card(), "passes", "3"), "focusStep", "0.8");
    const auto proof = proof::proofOf(job, *std::make_unique<Progress>());
    REQUIRE(proof);
    for (const auto& f : proof->findings) UNSCOPED_INFO(f.what);
    CHECK(proof->mayRun());
    std::set<double> heights;
    toolpath::Vec3 at;
    for (const auto& move : proof->path.steps[0].moves) {
        if (move.power > 0) {
            heights.insert(move.to.z);
            CHECK(at.z == move.to.z); // it burns at one height
        }
        at = move.to;
    }
    CHECK(heights == std::set<double>{-1.6, -0.8, 0});
    const auto program = writtenBy(job, speed());
    REQUIRE(program);
    CHECK(timesIn(program->text, "Z-1.6") == 1);
    CHECK(timesIn(writtenBy(card(), speed())->text, "Z") == 0);
    auto dialect = speed();
    dialect.heights = false;
    CHECK(missed(job, dialect).find("says no heights") != std::string::npos);
    CHECK(program::unsaidBy(dialect, planned(job)).size() == 1);
    auto low = job;
    low.machine.travelZ = 1;
    CHECK_FALSE(proof::proofOf(low, *std::make_unique<Progress>())->mayRun());
}

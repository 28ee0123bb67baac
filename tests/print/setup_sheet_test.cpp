#include "print/setup_sheet.h"
#include "proof/proof.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;

namespace {
std::string sheetOf(const job::Job& job, const std::optional<print::ProgramFacts>& program = {}) {
    Progress progress;
    const auto proof = proof::proofOf(job, progress);
    REQUIRE(proof);
    const auto pdf = print::setupSheet(job, *proof, program);
    INFO((pdf ? "" : pdf.problem().text()));
    REQUIRE(pdf);
    return *pdf;
}
std::size_t countOf(const std::string& text, std::string_view what) {
    std::size_t count = 0;
    for (auto at = text.find(what); at != std::string::npos; at = text.find(what, at + 1)) ++count;
    return count;
}
} // namespace

TEST_CASE("setup sheet: the same job gives the same bytes, without a date, another program other ones") {
    auto job = stepped(drawn(fresh(), {{rectangle({50, 50}, {90, 90}), {}}}), "outline", "end-6");
    const auto a = sheetOf(job, print::ProgramFacts{"a.nc", "00", 12});
    CHECK(a == sheetOf(job, print::ProgramFacts{"a.nc", "00", 12}));
    CHECK(a != sheetOf(job, print::ProgramFacts{"a.nc", "01", 12}));
    CHECK(a.find("/CreationDate") == std::string::npos);
    CHECK(countOf(a, "/Type /Page\n") + countOf(a, "/Type /Page ") == 1);
    CHECK(a.find("B612") != std::string::npos); // words are words, in our own face
}

TEST_CASE("setup sheet: long names, many steps and clamps go on over pages, an empty job and a no-go have one too") {
    auto job = drawn(fresh("mill-1200"), {{rectangle({50, 50}, {90, 90}), {}}});
    job = with(job, job::withName(job, std::string(300, 'W') + "ä“" + std::string(300, 'i')));
    for (int i = 0; i < 60; ++i) {
        job = stepped(job, "scribe", "engraver-30");
        job = set(job, "note",
                  "Press the part down until the vacuum holds it, then go on with the next of the many steps.");
    }
    for (int i = 0; i < 12; ++i)
        job = with(job, job::withClamp(job, {{{10.0 + 40 * i, 600}, {30.0 + 40 * i, 620}}, 20}));
    const auto many = sheetOf(job);
    CHECK(countOf(many, "/Type /Page\n") + countOf(many, "/Type /Page ") > 2);
    CHECK(sheetOf(fresh()).starts_with("%PDF"));
}

#include "artwork/copies.h"
#include "job/sheets.h"
#include "print/sheet_map.h"
#include "support/proofs.h"

using namespace ferro;
using namespace ferro::test;

namespace {

job::Job kit() {
    auto job = drawn(fresh(), {{rectangle({20, 20}, {100, 60}), {wound(circle({40, 40}, 5), false)}}}, "cut", "wing");
    job = drawn(job, {{rectangle({150, 20}, {190, 50}), {}}}, "cut", "foot");
    job = drawn(job, {{pathOf(ring("60,30 90,50"), false), {}}}, "marks", "mark");
    job = drawn(job, {{rectangle({300, 200}, {320, 210}), {}}}, "beside", "never cut");
    job = set(stepped(job, "outline", "end-6"), "layers", "cut");
    return job;
}
std::vector<print::ProofedSheet> proofed(const job::Job& job) {
    std::vector<print::ProofedSheet> out;
    for (const auto& sheet : job::sheetsToCut(job)) out.push_back({sheet, proofOf(sheet)});
    return out;
}
std::size_t pagesOf(const std::string& pdf) {
    std::size_t count = 0;
    for (auto at = pdf.find("/Type /Page"); at != std::string::npos; at = pdf.find("/Type /Page", at + 1))
        count += pdf[at + 11] != 's';
    return count;
}

} // namespace

TEST_CASE("sheet map: parts are numbered as they come loose, on all sheets, each with what lies in it") {
    auto job = kit();
    const auto wing = artwork::boundsOf(job.artwork->items[0]);
    auto two = with(job, job::withSheetAdded(job, "Second"));
    two = drawn(two, {{circle({100, 100}, 60), {}}}, "cut", "moon");
    const auto sheets = proofed(two);
    REQUIRE(sheets.size() == 2);
    const auto parts = print::partsOf(sheets);
    REQUIRE(parts.size() == 3); // neither the mark nor what no step cuts
    for (std::size_t i = 0; i < 3; ++i) CHECK(parts[i].number == static_cast<int>(i) + 1);
    CHECK(parts[2].sheet == 1);
    CHECK(parts[2].name.starts_with("moon"));
    // The order of the program, read from its moves: where the outer edge of each is cut first.
    std::vector<std::string> order;
    for (const auto& step : sheets[0].proof.path.steps)
        for (const auto& cut : step.cuts)
            if (cut.intent.role == plan::Role::outerEdges)
                order.push_back(artwork::find(*sheets[0].job.artwork, cut.intent.item)->name);
    CHECK(parts[0].name == order[0]);
    CHECK(parts[1].name == order[1]);
    const auto& big = parts[0].name.starts_with("wing") ? parts[0] : parts[1];
    CHECK(big.bounds == wing);
    CHECK(big.outlines.size() == 3); // its edge, its hole and the mark on it
}

TEST_CASE("sheet map: a part that reaches round another is that part, wherever the middle of its bounds lies") {
    // An angle with its middle in the board that lies in its arms: the board is cut first.
    auto job = drawn(fresh(), {{rectangle({60, 60}, {140, 140}), {}}}, "cut", "board");
    job = drawn(job, {{pathOf(ring("20,20 180,20 180,40 40,40 40,180 20,180"), true), {}}}, "cut", "angle");
    const auto parts = print::partsOf(proofed(set(stepped(job, "outline", "end-3"), "layers", "cut")));
    REQUIRE(parts.size() == 2);
    for (const auto& part : parts) {
        INFO(part.name);
        CHECK(part.outlines.size() == 1);
        CHECK(part.bounds.width() == (part.name.starts_with("angle") ? 160 : 80));
    }
}

TEST_CASE("sheet map: a group is one part, facts go along, and the papers are the same each time") {
    auto job = kit();
    artwork::Ids both{job.artwork->items[0].id, job.artwork->items[1].id};
    auto art = artwork::withGrouped(*job.artwork, both, "Left wing with its foot");
    REQUIRE(art);
    auto told = artwork::withPart(*art, both, {.labels = {"S1", "back"}});
    REQUIRE(told);
    job = job::withArtwork(job, *told);
    const auto sheets = proofed(job);
    const auto parts = print::partsOf(sheets);
    REQUIRE(parts.size() == 1);
    CHECK(parts[0].name == "Left wing with its foot");
    CHECK(parts[0].facts.labels.size() == 2);
    CHECK(parts[0].bounds.width() == Approx(170));
    const auto map = print::sheetMap(sheets), labels = print::labelSheet(sheets);
    REQUIRE((map && labels));
    CHECK(*map == *print::sheetMap(sheets));
    CHECK(*labels == *print::labelSheet(sheets));
    CHECK((pagesOf(*map) == 1 && pagesOf(*labels) == 1));
}

TEST_CASE("sheet map: many parts go on over pages, label paper is checked, and nothing to label is said") {
    auto job = fresh("mill-1200");
    std::vector<Piece> many;
    for (int i = 0; i < 90; ++i) {
        const Vec2 low{20.0 + 45 * (i % 10), 20.0 + 40 * (i / 10)};
        many.push_back({rectangle(low, low + Vec2{20, 15}), {}});
    }
    job = stepped(drawn(job, many, "cut", std::string(200, 'W').c_str()), "outline", "end-3");
    const auto sheets = proofed(job);
    CHECK(print::partsOf(sheets).size() == 90);
    CHECK(pagesOf(*print::sheetMap(sheets)) >= 2);
    CHECK(pagesOf(*print::labelSheet(sheets)) == 4); // 24 on a page
    CHECK(pagesOf(*print::labelSheet(sheets, {.width = 100, .height = 140, .columns = 2, .rows = 2})) == 23);
    CHECK_FALSE(print::labelSheet(sheets, {.width = 100, .columns = 3}));
    CHECK_FALSE(print::checked({.width = 5}));
    CHECK_FALSE(print::checked({.rows = 9}));
    CHECK_FALSE(print::sheetMap({}));
    CHECK_FALSE(print::labelSheet(proofed(stepped(drawn(fresh(), {{circle({50, 50}, 20), {}}}), "scribe"))));
}

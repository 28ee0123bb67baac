#include "geometry/polygons.h"
#include "support/proofs.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {

/// The finding is there, weighs as said, and its fix takes it away.
void toldAndMended(const job::Job& job, std::string_view words, Verdict verdict) {
    const auto proof = proofOf(job);
    const auto* f = finding(proof, words);
    CAPTURE(words);
    for (const auto& other : proof.findings) UNSCOPED_INFO(other.what);
    REQUIRE(f);
    CHECK(f->verdict == verdict);
    REQUIRE(f->fix);
    const auto fixed = f->fix->apply(job);
    REQUIRE(fixed);
    CHECK_FALSE(finding(proofOf(*fixed), words));
}
job::Job plate(std::vector<Piece> pieces = {{rectangle({60, 60}, {200, 160}), {}}}) {
    return stepped(drawn(fresh(), std::move(pieces)), "outline", "end-6");
}

} // namespace

TEST_CASE("findings: a web thinner than the tool reaches is no gouge, and a real one is told to a micron", "[safety]") {
    auto job =
        drawn(fresh(),
              {{pathOf(ring("40,40 240,40 40,160"), true), {wound(pathOf(ring("56,56 180,56 56,130"), true), false)}}});
    job = stepped(job, "outline", "end-6");
    CHECK(proofOf(job).deviation.cutInto < 0.005);
    CHECK(proofOf(job).mayRun());
    // Webs of any thickness and slant.
    for (unsigned seed = 1; seed <= 10; ++seed) {
        const auto outer = blob(seed, {200, 180}, 90, 14, 0.3);
        const auto inner = offset({outer}, -(0.4 + 0.6 * seed));
        REQUIRE(inner);
        Piece piece{wound(pathOf(outer, true), true), {}};
        for (const auto& opening : *inner) piece.openings.push_back(wound(pathOf(opening, true), false));
        CAPTURE(seed);
        CHECK(proofOf(stepped(drawn(fresh(), {piece}), "outline", "end-3")).deviation.cutInto < 0.01);
    }
    // Two parts nearer than the tool is wide: each cut goes into the other by what is missing.
    for (const double gap : {5.5, 3.0, 0.5}) {
        auto near = plate({{rectangle({60, 60}, {120, 120}), {}}, {rectangle({120 + gap, 60}, {180 + gap, 120}), {}}});
        CHECK(proofOf(near).deviation.cutInto == Approx(6 - gap).margin(0.006));
        CHECK_FALSE(proofOf(near).mayRun());
    }
    CHECK(proofOf(plate({{rectangle({60, 60}, {120, 120}), {}}, {rectangle({126.1, 60}, {180, 120}), {}}})).mayRun());
    // Across a part from one side to the other.
    auto crossed = plate({{rectangle({60, 60}, {200, 160}), {}}, {rectangle({20, 100}, {260, 120}), {}}});
    CHECK(proofOf(crossed).deviation.cutInto >= 6);
    // What is meant to stay on is no gouge, and more than that is.
    CHECK(proofOf(set(plate(), "allowance", "-0.2")).deviation.cutInto < 0.01);
    CHECK(proofOf(set(plate(), "allowance", "0.3")).deviation.leftStanding < 0.01);
}

TEST_CASE("findings: a pass more than a whole division is noted, with the depth that saves it") {
    auto job = set(set(set(plate(), "through", "to depth"), "depth", "1.9"), "depthPerPass", "0.9");
    const auto proof = proofOf(job);
    const auto* f = finding(proof, "needs 3 passes");
    REQUIRE(f);
    REQUIRE(f->fix);
    CHECK(f->fix->label.find("0.95") != std::string::npos);
    const auto fixed = *f->fix->apply(job);
    CHECK(plan::passDepths(*plan::depthIn(fixed.plan.steps[0]), 12).size() == 2);
    CHECK_FALSE(finding(proofOf(set(job, "depthPerPass", "0.95")), "passes"));
    CHECK_FALSE(finding(proofOf(set(job, "depthPerPass", "0.7")), "passes")); // a third more would be too much
}

TEST_CASE("findings: too much a pass, tabs as high as the stock, tabs on what frees nothing, the wrong side") {
    toldAndMended(set(set(plate(), "depthPerPass", "12"), "entry", "plunge"), "should take", Verdict::look);
    CHECK_FALSE(finding(proofOf(set(plate(), "depthPerPass", "4")), "should take"));
    toldAndMended(set(plate(), "tabHeight", "12"), "as high as the stock", Verdict::look);
    CHECK_FALSE(finding(proofOf(set(plate(), "tabHeight", "11.5")), "as high as the stock"));
    toldAndMended(set(set(plate(), "through", "to depth"), "depth", "4"), "frees nothing", Verdict::note);
    const auto ring = plate({{rectangle({60, 60}, {200, 160}), {wound(rectangle({90, 90}, {150, 130}), false)}}});
    CHECK_FALSE(finding(proofOf(ring), "on the outside"));
    toldAndMended(set(ring, "side", "outside"), "1 opening on the outside", Verdict::look);
}

TEST_CASE("findings: outlines scribed and cut, tabs that a neighbour takes away, holes by their size") {
    auto twice = stepped(plate(), "scribe", "engraver-30");
    toldAndMended(twice, "also follows 1 outline", Verdict::look);
    CHECK_FALSE(finding(proofOf(set(twice, "layers", "lines")), "also follows"));
    // The neighbour's cut runs along the slot that the tab stands in.
    const auto near =
        set(plate({{rectangle({60, 60}, {160, 160}), {}}, {rectangle({165, 60}, {240, 160}), {}}}), "tabSpacing", "50");
    CHECK(finding(proofOf(near), "cut away by another"));
    CHECK_FALSE(finding(proofOf(plate({{rectangle({60, 60}, {160, 160}), {}}, {rectangle({173, 60}, {240, 160}), {}}})),
                        "cut away by another"));
    std::vector<Piece> holes;
    for (int i = 0; i < 12; ++i) holes.push_back({circle({40.0 + 20 * i, 40}, i < 9 ? 2 : 3), {}});
    auto drilled = set(stepped(drawn(fresh(), holes, "holes"), "drill", "drill-8"), "layers", "holes");
    const auto proof = proofOf(drilled);
    std::size_t noGos = 0;
    for (const auto& f : proof.findings) noGos += f.verdict == Verdict::noGo;
    CHECK(noGos == 2); // one for each size
    CHECK(finding(proof, "9 holes are 4 mm"));
    CHECK(finding(proof, "3 holes are 6 mm"));
    std::vector<Piece> alike;
    for (int i = 0; i < 12; ++i) alike.push_back({circle({40.0 + 20 * i, 40}, 2), {}});
    toldAndMended(set(stepped(drawn(fresh(), alike, "holes"), "drill", "drill-8"), "layers", "holes"),
                  "12 holes are 4 mm", Verdict::noGo);
}

TEST_CASE("findings: a dialect that is not there is a no-go with a way out") {
    auto proof = proofOf(plate());
    REQUIRE(proof.mayRun());
    proof::refuse(proof, {.what = "There is no dialect “x”.", .where = {}, .mend = "Use another."});
    CHECK_FALSE(proof.mayRun());
    CHECK(proof.findings.front().what.find("dialect") != std::string::npos);
}

TEST_CASE("findings: a stencil's areas are cut inside, and it is told that they fall out of the sheet") {
    auto job = drawn(test::fresh("laser-700", "black-card"), {{rectangle({20, 20}, {40, 60}), {}}}, "letters");
    auto art = *job.artwork;
    art.groups.push_back({{++art.lastId}, {}, "o", std::make_shared<const artwork::Bridged>()});
    art.items[0].group = art.groups.back().id;
    job = stepped(test::with(job, job::withArtwork(job, art)), "outline");
    const auto proof = proofOf(job);
    CHECK(proof.mayRun());
    const auto* falls = finding(proof, "What is drawn on “letters” falls out of the sheet");
    REQUIRE(falls);
    CHECK(falls->offer == proof::Finding::Offer::spaceAround);
    CHECK(falls->items == artwork::Ids{art.items[0].id});
    const double kerf =
        job.tools[0].kind == shop::ToolKind::laser ? job.tools[0].diameter : proof.path.steps[0].tool.diameter;
    CHECK(boundsOf(proof.path.steps[0].cuts[0].centre).width() == Approx(20 - kerf).margin(0.002));
}

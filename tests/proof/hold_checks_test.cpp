// What the proof says of chips, tabs, thin places and small parts: told where it is so, and silent where it is not.
#include "job/sheets.h"
#include "support/proofs.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;

namespace {

bool told(const job::Job& job, std::string_view words) { return finding(proofOf(job), words) != nullptr; }
job::Job plate(std::vector<Piece> pieces = {{rectangle({60, 60}, {200, 160}), {}}}) {
    return stepped(drawn(fresh(), std::move(pieces)), "outline", "end-6");
}
job::Job burnt(std::vector<Piece> pieces) {
    return stepped(drawn(fresh("laser-700", "black-card"), std::move(pieces)), "outline");
}

} // namespace

TEST_CASE("hold: chips that are too thick or too thin are told with the feed that suits, once proven no more") {
    CHECK_FALSE(told(plate(), "chips of"));
    for (const char* feed : {"200", "5900"}) {
        auto job = set(plate(), "feed", feed);
        job.machine.maxFeed = 6000;
        const auto proof = proofOf(job);
        const auto* f = finding(proof, "chips of");
        REQUIRE(f);
        CHECK(f->verdict == Verdict::look);
        REQUIRE(f->fix);
        CHECK_FALSE(told(*f->fix->apply(job), "chips of"));
        auto material = job.material;
        material.proven.push_back({.machine = job.machine.key,
                                   .tool = "end-6",
                                   .kind = "outline",
                                   .thickness = job.sheets.front().stock.thickness,
                                   .settings = {},
                                   .date = "2026-12-01",
                                   .note = {}});
        job.material = material;
        CHECK_FALSE(told(job, "chips of"));
        CHECK_FALSE(told(job, "Nothing was proven"));
    }
    // A spindle far too fast for the feed: its speed is what is offered.
    auto fast = set(set(plate(), "spindle", "24000"), "feed", "300");
    const auto proof = proofOf(fast);
    const auto* f = finding(proof, "rubs");
    CHECK_FALSE(f); // that is how to mend, not what it is
    REQUIRE(finding(proof, "chips of"));
    CHECK(finding(proof, "chips of")->mend.find("rubs") != std::string::npos);
    CHECK(told(plate(), "Nothing was proven on Birch ply of 12 mm for “Outlines”"));
}

TEST_CASE("hold: a tool that takes little to the side feeds faster by the book, and says why") {
    const double half = shop::thinChips(0.5), tenth = shop::thinChips(0.1);
    CHECK(half == 1);
    CHECK(tenth == Approx(1 / std::sin(std::acos(1 - 2 * 0.1)))); // the chip where the tooth leaves a straight side
    CHECK(shop::thinChips(0.001) == 2);
    auto job = drawn(fresh(), {{rectangle({60, 60}, {200, 160}), {}}});
    job = stepped(job, "clear", "end-6");
    const double feed = numberOf(job.plan.steps[0], "feed");
    job = set(job, "overlap", "90");
    CHECK(numberOf(job.plan.steps[0], "feed") == Approx(std::min(job.machine.maxFeed, feed * tenth)).margin(5.1));
    CHECK_FALSE(told(job, "chips of"));
    CHECK(numberOf(set(set(job, "feed", "700"), "overlap", "80").plan.steps[0], "feed") == 700); // a person's stays
    CHECK(numberOf(set(job, "overlap", "55").plan.steps[0], "feed") == feed);
}

TEST_CASE("hold: thin places of a part are found between its edges and in itself, and nowhere else") {
    const auto hole = [](Vec2 at, double r) { return wound(circle(at, r), false); };
    // Between two openings, between an opening and the outline, in a neck: 1 mm each.
    const std::vector<Piece> thin[] = {
        {{rectangle({60, 60}, {200, 160}), {hole({100, 100}, 20), hole({141, 100}, 20)}}},
        {{rectangle({60, 60}, {200, 160}), {hole({100, 100}, 39)}}},
        {{pathOf(ring("60,60 120,60 120,90 140,90 140,60 200,60 200,160 140,160 140,91 120,91 120,160 60,160"), true),
          {}}},
    };
    for (const auto& pieces : thin) {
        const auto job = plate(pieces);
        const auto proof = proofOf(job);
        const auto* f = finding(proof, "thinner than");
        REQUIRE(f);
        CAPTURE(f->what);
        CHECK(f->verdict == Verdict::look);
        CHECK(f->what.find("1 mm at one place") != std::string::npos);
        REQUIRE(f->at);
    }
    // Of several the thinnest is told, where it is.
    const auto both =
        proofOf(plate({{rectangle({60, 60}, {200, 160}), {hole({100, 100}, 20), hole({141, 100}, 20)}},
                       {rectangle({220, 60}, {340, 160}), {hole({260, 100}, 19), hole({299.6, 100}, 20)}}}));
    const auto* thinnest = finding(both, "2 parts are thinner than");
    REQUIRE(thinnest);
    CHECK(thinnest->what.find("0.6 mm at the thinnest") != std::string::npos);
    CHECK(thinnest->at->x == Approx(279.3).margin(1));
    // Wide ones, two parts side by side, corners and narrow slots are none.
    const std::vector<Piece> fine[] = {
        {{rectangle({60, 60}, {200, 160}), {hole({100, 100}, 20), hole({145, 100}, 20)}}},
        {{rectangle({60, 60}, {120, 160}), {}}, {rectangle({127, 60}, {190, 160}), {}}},
        {{pathOf(ring("60,60 200,60 60,120"), true), {}}},
        {{pathOf(ring("60,60 200,60 200,160 133,160 133,100 126,100 126,160 60,160"), true), {}}},
    };
    for (const auto& pieces : fine) CHECK_FALSE(told(plate(pieces), "thinner than"));
    CHECK_FALSE(told(set(set(plate(thin[0]), "through", "to depth"), "depth", "3"), "thinner than"));
    // Card by a beam may be thinner.
    CHECK_FALSE(
        told(burnt({{rectangle({20, 20}, {90, 90}), {hole({40, 40}, 10), hole({61, 40}, 10)}}}), "thinner than"));
    CHECK(told(burnt({{rectangle({20, 20}, {90, 90}), {hole({40, 40}, 10), hole({60.3, 40}, 10)}}}), "thinner than"));
}

TEST_CASE("hold: tabs too weak for the way round, a single one, and small parts that come loose by a beam") {
    CHECK_FALSE(told(plate(), "tab"));
    CHECK(told(set(set(plate(), "tabWidth", "0.5"), "tabHeight", "0.5"), "weak for the way round"));
    const auto one = set(plate(), "tabCount", "1");
    CHECK(told(one, "weak for the way round") != told(one, "by one tab only"));
    const auto strong = set(set(one, "tabWidth", "20"), "tabHeight", "5");
    CHECK(told(strong, "by one tab only"));
    CHECK_FALSE(told(set(strong, "tabCount", "2"), "tab"));
    CHECK(told(burnt({{rectangle({20, 20}, {26, 25}), {}}}), "1 part smaller than 8 mm comes loose"));
    CHECK_FALSE(told(burnt({{rectangle({20, 20}, {30, 25}), {}}}), "smaller than"));
}

TEST_CASE("hold: film that is cut from its back is told until it lies mirrored, and other stock when it does") {
    auto job = stepped(drawn(fresh("knife-600", "iron-on"), {{rectangle({40, 40}, {140, 90}), {}}}), "slit");
    const auto proof = proofOf(job);
    const auto* f = finding(proof, "cut from its back");
    REQUIRE(f);
    REQUIRE(f->fix);
    const auto mended = *f->fix->apply(job);
    CHECK_FALSE(told(mended, "cut from its back"));
    CHECK_FALSE(told(mended, "mirrored"));
    auto paper = fresh("knife-600", "film");
    paper = stepped(drawn(paper, {{rectangle({40, 40}, {140, 90}), {}}}), "slit");
    CHECK_FALSE(told(paper, "mirrored"));
    paper.sheet().mirrored = true;
    CHECK(told(paper, "lies mirrored"));
}

TEST_CASE("hold: a step with nothing to do is told, but not where another sheet has its pieces") {
    auto job = plate();
    job = set(stepped(job, "scribe"), "layers", "lines");
    CHECK(told(job, "takes no piece"));
    job = with(job, job::withSheetAdded(job));
    CHECK(told(with(job, job::atSheet(job, job.sheets[0].id)), "takes no piece"));
    job = drawn(job, {{pathOf(ring("60,60 100,60 90,90"), false), {}}}, "lines");
    CHECK_FALSE(told(with(job, job::atSheet(job, job.sheets[0].id)), "takes no piece"));
    CHECK_FALSE(told(job, "takes no piece")); // and the outlines are on the first
}

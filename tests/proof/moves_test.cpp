#include "proof/proof.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {
/// A program's moves on a sheet of 300 × 200 × 10 with 2 mm of scrap board; rapids have nothing to do below its top.
struct Foreign {
    job::Job job = fresh();
    toolpath::Toolpath path;
    explicit Foreign(std::vector<Move> moves) {
        job.sheet().stock = {.width = 300, .height = 200, .thickness = 10};
        job.sheet().stock.spacer = 2;
        path.start = {0, 0, 5};
        path.travel = 0;
        path.steps.push_back({.step = {},
                              .name = "groove",
                              .kind = nullptr,
                              .tool = *book().tool("end-6"),
                              .spindle = 12000,
                              .note = {},
                              .moves = std::move(moves),
                              .runs = {},
                              .waits = {},
                              .cuts = {}});
    }
    [[nodiscard]] std::vector<proof::Finding> findings() const { return proof::findingsOfMoves(job, path); }
};
Move rapid(double x, double y, double z) { return {Move::Kind::rapid, true, {x, y, z}, {}, 0, 0}; }
Move feed(double x, double y, double z) { return {Move::Kind::line, true, {x, y, z}, {}, 600, 0}; }
bool says(const std::vector<proof::Finding>& findings, std::string_view words) {
    return std::any_of(findings.begin(), findings.end(),
                       [&](const auto& f) { return f.what.find(words) != std::string::npos; });
}
} // namespace

TEST_CASE("moves: a rapid may go up, over, and back into a hole it has drilled, and nowhere else", "[safety]") {
    CHECK(Foreign({rapid(20, 20, 5), feed(20, 20, -3), feed(80, 20, -3), rapid(80, 20, 5), rapid(0, 0, 5)})
              .findings()
              .empty());
    // Between the pecks of a drill.
    CHECK(Foreign({rapid(20, 20, 2), feed(20, 20, -3), rapid(20, 20, 2), rapid(20, 20, -2.5), feed(20, 20, -6),
                   rapid(20, 20, 5)})
              .findings()
              .empty());
    struct Wrong {
        const char* what;
        std::vector<Move> moves;
        std::size_t at;
    };
    const Wrong wrong[] = {
        {"sideways in the stock", {rapid(20, 20, 5), feed(20, 20, -3), rapid(60, 20, -3)}, 2},
        {"sideways down into it", {rapid(20, 20, 5), rapid(60, 20, -1)}, 1},
        {"sideways out of it", {rapid(20, 20, 5), feed(20, 20, -3), rapid(60, 20, 5)}, 2},
        {"plunging into it", {rapid(20, 20, 5), rapid(20, 20, -1)}, 1},
        {"deeper than it has drilled", {rapid(20, 20, 5), feed(20, 20, -3), rapid(20, 20, 5), rapid(20, 20, -4)}, 3},
        {"where another hole was",
         {rapid(20, 20, 5), feed(20, 20, -3), rapid(20, 20, 5), rapid(60, 20, 5), rapid(60, 20, -2)},
         4},
        {"where it has only passed", {rapid(20, 20, 5), feed(20, 20, -3), feed(60, 20, 5), rapid(60, 20, -2)}, 3},
    };
    for (const auto& w : wrong) {
        INFO(w.what);
        const auto findings = Foreign(w.moves).findings();
        REQUIRE(findings.size() == 1);
        CHECK(findings[0].verdict == proof::Verdict::noGo);
        REQUIRE(findings[0].move);
        CHECK(findings[0].move->move == w.at);
    }
    auto burning = Foreign({rapid(20, 20, 0)});
    burning.path.process = shop::Process::beam;
    burning.path.steps[0].moves[0].power = 0.1;
    CHECK(says(burning.findings(), "beam"));
}

TEST_CASE("moves: depth, bed, height and clamps bound any program", "[safety]") {
    const auto deep = Foreign({rapid(20, 20, 5), feed(20, 20, -12.5), rapid(20, 20, 5)}).findings();
    CHECK(says(deep, "0.5 mm below the scrap board"));
    CHECK(deep[0].move->move == 1);
    CHECK(Foreign({rapid(20, 20, 5), feed(20, 20, -12), rapid(20, 20, 5)}).findings().empty());
    CHECK(says(Foreign({rapid(20, 20, 5), rapid(700, 20, 5)}).findings(), "the bed of"));
    CHECK(says(Foreign({rapid(20, 20, 95)}).findings(), "height travel"));
    const Move round{Move::Kind::arc, true, {100, 20, -3}, {400, 20}, 600, 0};
    CHECK(says(Foreign({rapid(100, 20, 5),
                        feed(100, 20, -3),
                        {round.kind, true, {700, 20, -3}, {400, 20}, 600, 0},
                        rapid(700, 20, 5)})
                   .findings(),
               "the bed of"));

    auto clamped = Foreign({rapid(20, 20, 5), feed(20, 20, -3), feed(120, 20, -3), rapid(120, 20, 5)});
    clamped.job.sheet().clamps.push_back({{{60, 23.9}, {80, 40}}, 15});
    REQUIRE(clamped.findings().size() == 1); // 4 mm beside a 6 mm tool with room for its runout
    CHECK(clamped.findings()[0].move->move == 2);
    clamped.job.sheet().clamps[0].area.low.y = 24.1;
    CHECK(clamped.findings().empty());
    // A rapid over a clamp that is lower than it flies, and one that is not.
    auto over = Foreign({rapid(0, 30, 5), rapid(120, 30, 20), rapid(120, 30, 20), rapid(10, 30, 20)});
    over.path.start = {0, 30, 20};
    over.path.steps[0].moves = {rapid(120, 30, 20)};
    over.job.sheet().clamps.push_back({{{60, 20}, {80, 40}}, 15});
    CHECK(over.findings().empty());
    over.job.sheet().clamps[0].height = 21;
    CHECK(says(over.findings(), "runs into clamp 1"));
}

TEST_CASE("moves: shank and holder stay above the stock and off the clamps, as far as they are known", "[safety]") {
    const auto to = [](double depth) {
        Foreign f({rapid(50, 20, 5), feed(50, 20, -depth), feed(150, 20, -depth), rapid(150, 20, 5)});
        auto& tool = f.path.steps[0].tool;
        tool.diameter = 4, tool.fluteLength = 6, tool.shank = 8, tool.stickOut = 9;
        f.job.machine.holder = 30;
        return f;
    };
    CHECK(to(6).findings().empty());
    CHECK(says(to(6.1).findings(), "its shank would meet the stock"));
    CHECK(says(to(9.1).findings(), "its holder would meet the stock"));
    CHECK(to(9.1).findings()[0].move->move == 1);
    auto unknown = to(9.1);
    unknown.job.machine.holder = 0, unknown.path.steps[0].tool.shank = 0;
    CHECK(unknown.findings().empty());
    auto beside = to(9.1); // of the sheet there is nothing to be met
    for (auto& move : beside.path.steps[0].moves) move.to.y = -20;
    CHECK(beside.findings().empty());
    // A clamp 10 mm beside the cut: the cutter passes, what is wider passes only above it.
    auto clamped = to(3);
    clamped.job.sheet().clamps.push_back({{{80, 30}, {120, 50}}, 5.5});
    CHECK(clamped.findings().empty());
    clamped.job.sheet().clamps[0].height = 6.5;
    CHECK(says(clamped.findings(), "clamp 1 with the shank or holder"));
    clamped.job.sheet().clamps[0].area.low.y = 36.1;
    CHECK(clamped.findings().empty());
    clamped.job.sheet().clamps[0] = {{{80, 24.9}, {120, 50}}, 2.9}; // the shank's 4 mm, and room
    CHECK(clamped.findings().empty());
    clamped.job.sheet().clamps[0].height = 3.1;
    CHECK(says(clamped.findings(), "clamp 1 with the shank or holder"));
}

TEST_CASE("moves: a spindle that stands, and a program for the other kind of machine, are no-gos", "[safety]") {
    auto still = Foreign({rapid(20, 20, 5), feed(20, 20, -3), feed(80, 20, -3), rapid(80, 20, 5)});
    CHECK_FALSE(says(still.findings(), "stands still"));
    still.path.steps[0].spindle = 0;
    REQUIRE(says(still.findings(), "stands still"));
    for (const auto& f : still.findings())
        if (f.what.find("stands still") != std::string::npos) CHECK(f.move->move == 1);
    // Above the stock and beside it nothing is cut.
    auto air = Foreign({rapid(20, 20, 5), feed(20, 20, 0.5), feed(80, 20, 0.5), rapid(-40, 20, 5), feed(-40, 20, -3)});
    air.path.steps[0].spindle = 0;
    CHECK_FALSE(says(air.findings(), "stands still"));
    auto flat = Foreign({feed(20, 20, 5), feed(80, 20, 5)});
    CHECK(says(flat.findings(), "program for a laser"));
    auto mill = Foreign({rapid(20, 20, 5), feed(20, 20, -3)});
    mill.path.process = shop::Process::beam;
    CHECK(says(mill.findings(), "program for a mill"));
    CHECK(says(mill.findings(), "does not work by beam"));
}

TEST_CASE("moves: what our own planner makes passes, whatever the job", "[property]") {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        const auto job = randomJob(seed);
        CAPTURE(seed);
        for (const auto& f : proof::findingsOfMoves(job, planned(job))) {
            INFO(f.what);
            CHECK(f.what.find("rapid") == std::string::npos);
        }
    }
}

TEST_CASE("findings: worst first, each with what to do, jumps inside the sheet, fixes that help", "[property]") {
    Progress progress;
    for (unsigned seed = 1; seed <= 30; ++seed) {
        auto job = randomJob(seed);
        std::mt19937 random(seed);
        if (random() % 2) job.sheet().stock.spacer = 0;
        if (random() % 2) job = with(job, job::withClamp(job, {{{100, 100}, {130, 130}}, 12}));
        if (random() % 3 == 0) job.machine.maxSpindle = 9000;
        const auto proof = proof::proofOf(job, progress);
        REQUIRE(proof);
        CAPTURE(seed);
        auto worst = proof::Verdict::noGo;
        for (const auto& f : proof->findings) {
            INFO(f.what);
            CHECK(f.verdict <= worst);
            worst = f.verdict;
            CHECK_FALSE(f.what.empty());
            if (f.at)
                CHECK(Box{{-50, -50}, {job.sheet().stock.width + 50, job.sheet().stock.height + 50}}.contains(*f.at));
            if (!f.fix) continue;
            CHECK_FALSE(f.fix->label.empty());
            const auto fixed = f.fix->apply(job);
            REQUIRE(fixed);
            const auto again = proof::proofOf(*fixed, progress);
            REQUIRE(again);
            const bool still = std::any_of(again->findings.begin(), again->findings.end(), [&](const auto& g) {
                return g.what == f.what && g.step == f.step && g.item == f.item;
            });
            CHECK_FALSE(still);
        }
    }
}

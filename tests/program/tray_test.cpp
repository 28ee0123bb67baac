#include "artwork/copies.h"
#include "program/for_job.h"
#include "support/proofs.h"
#include "support/toolpaths.h"
#include "support/watched.h"
#include "toolpath/blade.h"

using namespace ferro;
using namespace ferro::test;

namespace {

job::Job onTray(const job::Job& job, int columns, int rows, job::TrayOrder order, bool stops = true) {
    return with(job, job::withTray(job, job::Tray{columns, rows, 30, 20, order, stops}));
}
std::string programOf(const job::Job& job, const char* key) {
    const auto program =
        program::programFor(job, planned(job), *program::openDialect(realDisk(), key), program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    return program->text;
}

} // namespace

// The witness knows nothing of trays: it cuts one large board by the program, and each blank's place in it has to look
// like what the job's program without a tray leaves of a single one.
TEST_CASE("tray: a program cuts every blank as one alone would be cut, safely, whatever the job and the order",
          "[safety]") {
    for (unsigned seed = 1; seed <= 8; ++seed) {
        const auto job = randomJob(seed);
        const bool laser = seed % 4 == 0;
        const char* key = laser ? "beam-by-speed" : seed % 2 ? "mill-mm" : "mill-inch";
        const auto& stock = job.sheet().stock;
        constexpr double cell = 0.5;
        witness::Stock single(stock.width, stock.height, stock.thickness, cell);
        const auto alone = witness::run(programOf(job, key), single, watchedBy(job));
        const auto order = seed % 3 ? job::TrayOrder::blankByBlank : job::TrayOrder::stepByStep;
        const int columns = seed % 2 ? 2 : 1;
        const auto tray = onTray(job, columns, 2, order, seed % 5 != 0);
        const Box all = job::trayOf(tray.sheet());
        witness::Stock board(all.width(), all.height(), stock.thickness, cell);
        const auto report = witness::run(programOf(tray, key), board, watchedBy(job));
        CAPTURE(seed);
        INFO((report.unsafe.empty() ? "" : report.unsafe.front()));
        CHECK(report.unsafe.empty());
        CHECK(report.deepest == Approx(alone.deepest));
        const std::size_t blanks = static_cast<std::size_t>(2 * columns);
        const std::size_t changes = order == job::TrayOrder::blankByBlank
                                        ? blanks - 1
                                        : job.plan.steps.size() * (blanks - 1) + job.plan.steps.size() - 1;
        if (seed % 5)
            CHECK(report.stops >= changes); // steps that come to nothing do not stop
        else
            CHECK(report.stops == alone.stops);
        std::size_t differ = 0, cells = 0;
        for (const Vec2 place : {Vec2{0, 0}, Vec2{stock.width + 30, 0}, Vec2{0, stock.height + 20},
                                 Vec2{stock.width + 30, stock.height + 20}}) {
            if (place.x > 0 && columns == 1) continue;
            const int right = static_cast<int>(std::lround(place.x / cell)),
                      up = static_cast<int>(std::lround(place.y / cell));
            for (int row = 0; row < single.rows; ++row)
                for (int column = 0; column < single.columns; ++column, ++cells) {
                    const double here = board.z[static_cast<std::size_t>((row + up) * board.columns + column + right)];
                    const double there = single.z[static_cast<std::size_t>(row * single.columns + column)];
                    differ += std::abs(here - there) > 0.02;
                }
        }
        // A rim that only just touches a cell's middle may fall either way by the dialect's last digit.
        CHECK(static_cast<double>(differ) < 2e-4 * static_cast<double>(cells));
    }
}

TEST_CASE("tray: a drawn blade's tip cuts the same on every blank, from wherever it points when it comes there") {
    auto job = fresh("knife-600", "black-card");
    job = drawn(job, {{rectangle({20, 20}, {70, 60}, 0), {}}, {circle({120, 60}, 25), {}}});
    job = with(job, job::withStock(job, [&] {
                   auto stock = job.sheet().stock;
                   stock.width = 160, stock.height = 100;
                   return stock;
               }()));
    job = stepped(job, "slit");
    const auto tray = onTray(job, 2, 2, job::TrayOrder::blankByBlank);
    const auto path = planned(tray);
    REQUIRE(path.steps.size() == 4);
    // Where the tip is drawn while it cuts, on each blank: followed through all of the moves without a break.
    toolpath::Caster caster(path.steps[0].tool.trail);
    REQUIRE(path.steps[0].tool.trail > 0.1);
    std::vector<std::vector<Vec2>> tips(4);
    std::size_t s = 0;
    const toolpath::StepMoves* current = &path.steps[0];
    toolpath::forEachMove(path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from,
                                    const toolpath::Move& move) {
        if (&step != current) current = &step, ++s;
        if (move.kind == toolpath::Move::Kind::rapid || std::max(from.z, move.to.z) >= 0) return;
        caster.draw(from.flat(), move.flat(), [&](Vec2 tip, Vec2, double) { tips[s].push_back(tip - path.blanks[s]); });
    });
    const Ring corners{{20, 20}, {70, 20}, {70, 60}, {20, 60}};
    for (std::size_t k = 0; k < 4; ++k) {
        REQUIRE(tips[k].size() > 50);
        double worst = 0;
        for (const Vec2 tip : tips[k]) {
            double off = std::abs(distance(tip, {120, 60}) - 25);
            for (std::size_t c = 0; c < 4; ++c)
                off = std::min(off, distanceToLine(tip, corners[c], corners[(c + 1) % 4]));
            worst = std::max(worst, off);
        }
        CAPTURE(k, worst);
        CHECK(worst < 0.06);
    }
}

TEST_CASE("tray: the proof is of one blank, and of what the others change", "[safety]") {
    auto job = fresh("mill-1200");
    job::Stock stock = job.sheet().stock;
    stock.width = 200, stock.height = 150;
    job = with(job, job::withStock(job, stock));
    job = drawn(job, {{wound(rectangle({30, 30}, {150, 110}, 6), true), {wound(circle({90, 70}, 15), false)}}});
    job = set(stepped(job, "outline", "end-6"), "layers", "cut");
    const auto single = proofOf(job);
    REQUIRE(single.mayRun());
    const auto tray = onTray(job, 3, 2, job::TrayOrder::blankByBlank);
    const auto proof = proofOf(tray);
    CHECK(proof.mayRun());
    CHECK(proof.deviation.cutInto == single.deviation.cutInto);
    CHECK(proof.deviation.edges.size() == single.deviation.edges.size());
    CHECK(proof.path.steps.size() == 6 * single.path.steps.size());
    CHECK(proof.timing.motion > 5.8 * single.timing.motion); // the ways home are fewer, those between come on top
    CHECK(proof.timing.motion < 6.6 * single.timing.motion);
    const auto sums = proof::sumsOf(proof.path, proof.timing);
    REQUIRE(sums.size() == single.path.steps.size());
    CHECK(sums[0].motion == Approx(6 * single.timing.steps[0].motion).epsilon(0.1));

    SECTION("a cut beyond the blank that reaches the next is a no-go, with more room between them it is not") {
        auto near = tray;
        near = drawn(near, {{wound(rectangle({-4, 115}, {25, 145}, 0), true), {}}}, "marks");
        near = set(set(stepped(near, "outline", "end-3"), "layers", "marks"), "side", "on line");
        auto close = *near.sheet().tray;
        close.gapX = 5;
        const auto* told = finding(proofOf(with(near, job::withTray(near, close))), "reaches 5.5 mm beyond it");
        CHECK(told);
        close.gapX = 6;
        CHECK_FALSE(finding(proofOf(with(near, job::withTray(near, close))), "on one blank reaches"));
        close.columns = 1, close.gapX = 0; // to no side there is another
        CHECK_FALSE(finding(proofOf(with(near, job::withTray(near, close))), "on one blank reaches"));
        // Beyond the right by 3.5 mm, beyond the upper edge by 6.5.
        auto high = drawn(tray, {{wound(rectangle({190, 120}, {202, 155}, 0), true), {}}}, "marks");
        high = set(set(stepped(high, "outline", "end-3"), "layers", "marks"), "side", "on line");
        close = {3, 2, 4, 6};
        CHECK(finding(proofOf(with(high, job::withTray(high, close))), "reaches 6.5 mm beyond it"));
        close = {3, 1, 3, 0};
        CHECK(finding(proofOf(with(high, job::withTray(high, close))), "reaches 3.5 mm beyond it"));
        close = {3, 2, 4, 7};
        CHECK_FALSE(finding(proofOf(with(high, job::withTray(high, close))), "on one blank reaches"));
    }
    SECTION("what is wanted of a part counts every blank") {
        const auto wanted = [&](const job::Job& of, int quantity) {
            artwork::Part part;
            part.quantity = quantity;
            const auto art = artwork::withPart(*of.artwork, {of.artwork->items[0].id}, part);
            REQUIRE(art);
            return proofOf(job::withArtwork(of, *art));
        };
        CHECK_FALSE(finding(wanted(tray, 6), "is wanted"));
        CHECK(finding(wanted(tray, 5), "is wanted"));
        CHECK_FALSE(finding(wanted(job, 1), "is wanted"));
    }
    SECTION("the bed has to hold all of them") {
        auto wide = *tray.sheet().tray;
        wide.columns = 6;
        const auto full = proofOf(with(tray, job::withTray(tray, wide)));
        CHECK_FALSE(full.mayRun());
        CHECK(finding(full, "the bed of"));
        const auto filled = with(tray, job::withTrayFilled(tray, 30, 20));
        CHECK(filled.sheet().tray->columns == 5); // 5 · 200 + 4 · 30 of 1200
        CHECK(proofOf(filled).mayRun());
    }
    SECTION("a clamp in the way of another blank's cut") {
        const auto held = with(tray, job::withClamp(tray, {{{230 + 20, 20}, {230 + 40, 60}}, 30}));
        const auto hit = proofOf(held);
        const auto* told = finding(hit, "runs into clamp 1");
        REQUIRE(told);
        REQUIRE(told->move);
        CHECK(hit.path.steps[told->move->step].blank == 2);
        CHECK_FALSE(finding(proofOf(with(job, job::withClamp(job, {{{250, 20}, {270, 60}}, 30}))), "runs into clamp"));
    }
    SECTION("what was measured is one blank") {
        job::Lie lie;
        lie.xs = {0, 200}, lie.ys = {0, 150}, lie.heights = {0, 0.1, 0.2, 0.1};
        const auto bent = proofOf(with(tray, job::withLie(tray, lie)));
        const auto* told = finding(bent, "of the others on the tray");
        REQUIRE(told);
        REQUIRE(told->fix);
        CHECK_FALSE(bent.mayRun());
        CHECK(proofOf(with(tray, told->fix->apply(with(tray, job::withLie(tray, lie))))).mayRun());
        CHECK_FALSE(finding(proofOf(with(job, job::withLie(job, lie))), "of the others"));
    }
    SECTION("a finding names its move, in whatever order they are cut") {
        auto late = drawn(job, {{wound(rectangle({160, 20}, {190, 100}, 0), true), {}}}, "floor");
        late = set(set(stepped(late, "clear", "end-3"), "layers", "floor"), "depth", "6");
        for (auto& tool : late.tools)
            if (tool.key == "end-3") tool.stickOut = 4; // its holder is to meet the stock
        for (const auto order : {job::TrayOrder::blankByBlank, job::TrayOrder::stepByStep}) {
            const auto bad = proofOf(onTray(late, 2, 1, order));
            const auto* told = finding(bad, "its holder would meet the stock");
            REQUIRE(told);
            REQUIRE(told->move);
            const auto& step = bad.path.steps[told->move->step];
            CHECK(step.blank == 1);
            CHECK(step.step == lastStep(late));
            CHECK(step.moves[told->move->move].to.z == Approx(-6));
        }
    }
}

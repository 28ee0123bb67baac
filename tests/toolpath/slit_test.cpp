// Blades that trail behind their axis, judged by a tip that is drawn after it by a rule of the test's own: the tip only
// ever moves along the blade.
#include "support/toolpaths.h"
#include "toolpath/blade.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

struct Dragged {
    std::vector<Vec2> tips; ///< wherever it is in the stock
    std::vector<double> depths;
    std::vector<std::size_t> downs; ///< index of the first tip of each time it goes down
    double travelled = 0;           ///< mm of tip, in the stock
    double lowest = 0;
};

/// By pulling the tip a hair at a time: it stays `trail` mm from the axis, and moves straight towards it.
Dragged dragged(const toolpath::Toolpath& path) {
    Dragged out;
    const double trail = path.steps.front().tool.trail;
    Vec2 heading{1, 0};
    bool down = false;
    toolpath::forEachMove(path, [&](const toolpath::StepMoves&, std::size_t, toolpath::Vec3 from, const Move& move) {
        out.lowest = std::min(out.lowest, move.to.z);
        const bool cuts = move.kind != Move::Kind::rapid && std::min(from.z, move.to.z) < -1e-9;
        if (move.kind == Move::Kind::rapid) CHECK(std::max(from.z, move.to.z) > 0);
        if (cuts && !down) out.downs.push_back(out.tips.size());
        down = cuts;
        if (!cuts) return;
        const double way = lengthOf(from.flat(), move.flat());
        const int bits = std::max(1, static_cast<int>(way / 0.002));
        Vec2 tip = from.flat() - heading * trail;
        for (int i = 1; i <= bits; ++i) {
            const Vec2 axis = pointAt(from.flat(), move.flat(), static_cast<double>(i) / bits);
            const Vec2 pull = axis - tip;
            const Vec2 next = trail > 0 && length(pull) > 1e-12 ? axis - pull / length(pull) * trail : axis;
            out.travelled += distance(tip, next);
            tip = next;
            if (trail > 0) heading = unit(axis - tip);
            out.tips.push_back(tip);
            out.depths.push_back(-from.z - (move.to.z - from.z) * i / bits);
        }
    });
    return out;
}

job::Job onBlade(const std::vector<Piece>& pieces, double trail, const char* layer = "cut") {
    auto job = drawn(fresh("knife-600", "black-card"), pieces, layer);
    for (auto& tool : job.tools)
        if (tool.kind == shop::ToolKind::blade) tool.trail = trail;
    return stepped(job, "slit");
}

double off(const Path& path, Vec2 p) {
    const Ruler ruler(path);
    return distance(ruler.at(ruler.nearest(p)).point, p);
}

} // namespace

TEST_CASE("slit: the tip keeps to the line all along, through every corner, whatever shape and trail", "[property]") {
    for (unsigned seed = 1; seed <= 14; ++seed) {
        std::mt19937 random(seed);
        const double trail = std::vector{0.0, 0.25, 0.45, 1.2}[seed % 4];
        const Path path = seed % 3 == 0   ? pathOf(blob(seed, {100, 100}, 40, 12), true)
                          : seed % 3 == 1 ? curvedBlob(seed, {100, 100}, 45)
                                          : pathOf(ring("60,60 140,62 138,140 100,141 99,80 61,79"), seed % 2 == 0);
        auto job = onBlade({{path, {}}}, trail);
        job = set(job, "overcut", seed % 2 ? "0" : "2");
        job = set(job, "role", "any");
        job = set(job, "layers", "cut"); // open lines too
        job = set(job, "passes", seed % 5 == 0 ? "2" : "1");
        if (seed % 4 == 1) job = set(job, "turnDepth", "0.1");
        const auto plan = planned(job);
        const auto tip = dragged(plan);
        const Ruler line(plan.pieces->contours[0].path);
        CAPTURE(seed, trail);
        double worst = 0;
        for (std::size_t i = 0; i < tip.tips.size(); i += 4)
            worst = std::max(worst, distance(line.at(line.nearest(tip.tips[i])).point, tip.tips[i]));
        CHECK(worst < (trail > 0 ? 0.025 : 0.004)); // corners up to 12° are dragged round
        // Nothing of the line is left uncut.
        double bare = 0;
        for (double along = 0; along <= line.length(); along += 0.7) {
            double least = 1e9;
            const Vec2 here = line.at(along).point;
            for (std::size_t i = 0; i < tip.tips.size(); i += 8) least = std::min(least, distance(here, tip.tips[i]));
            bare = std::max(bare, least);
        }
        CHECK(bare < 0.03);
        const double passes = seed % 5 == 0 ? 2 : 1, over = seed % 2 || !path.closed ? 0 : 2;
        CHECK(tip.travelled == Approx(passes * (line.length() + over)).margin(0.3 * passes));
        CHECK(tip.lowest == Approx(-(job.sheet().stock.thickness + 0.1)));
    }
}

TEST_CASE("slit: a kiss cut stops in the film, corners turn higher where asked, dashes fit evenly") {
    const Path square = rectangle({20, 20}, {80, 60});
    auto job = set(onBlade({{square, {}}}, 0.45), "through", "kiss cut");
    job = set(set(job, "depth", "0.2"), "turnDepth", "0.05");
    const auto kiss = planned(job);
    const auto tip = dragged(kiss);
    CHECK(tip.lowest == Approx(-0.2));
    // Wherever the tip stands still at a corner it is up at 0.05.
    int turning = 0;
    for (std::size_t i = 1; i < kiss.steps[0].moves.size(); ++i) {
        const auto &move = kiss.steps[0].moves[i], &before = kiss.steps[0].moves[i - 1];
        if (move.kind == Move::Kind::arc) {
            CHECK(move.to.z == Approx(-0.05));
            ++turning;
        }
        // Up and down it goes where it stands, never on its way.
        if (distance(move.to.flat(), before.to.flat()) > 1e-9) CHECK(move.to.z == before.to.z);
    }
    CHECK(turning >= 4);
    CHECK_FALSE(kiss.steps[0].cuts[0].intent.frees);

    job = set(set(set(job, "turnDepth", "0"), "dash", "3"), "gap", "2");
    const auto dashes = dragged(planned(job));
    CHECK(dashes.downs.size() == 40); // 200 mm in 40 times 5
    CHECK(dashes.travelled == Approx(120).margin(1));
    const auto fold = onBlade({{pathOf(ring("10,10 58,10"), false), {}}}, 0.45);
    const auto open = dragged(planned(set(set(set(fold, "layers", "cut"), "dash", "3"), "gap", "2")));
    CHECK(open.downs.size() == 10); // begins and ends with one
    CHECK(distance(open.tips.front(), {10, 10}) < 0.02);
    CHECK(distance(open.tips.back(), {58, 10}) < 0.02);
}

TEST_CASE("slit: weeding lines keep off the pieces and reach the border, which goes round it all last") {
    const std::vector<Piece> pieces{{circle({60, 60}, 20), {wound(circle({60, 60}, 5), false)}},
                                    {rectangle({110, 30}, {150, 90}), {}}};
    auto job = set(set(set(onBlade(pieces, 0.45), "weeding", "border and lines"), "pitch", "15"), "spare", "2");
    const auto plan = planned(job);
    const auto& cuts = plan.steps[0].cuts;
    REQUIRE(cuts.size() > 6);
    CHECK_FALSE(cuts.back().intent.contour);
    CHECK(boundsOf(cuts.back().centre).low == Vec2{35, 25});
    CHECK(boundsOf(cuts.back().centre).high == Vec2{155, 95});
    int lines = 0;
    for (const auto& cut : cuts) {
        if (cut.intent.contour || cut.centre.closed) continue;
        ++lines;
        const Ruler line(cut.centre);
        for (double along = 0; along <= line.length(); along += 0.5) {
            const Vec2 p = line.at(along).point;
            CHECK(off(circle({60, 60}, 20), p) > 1.98);
            CHECK(off(pieces[1].outline, p) > 1.98);
            CHECK(distance(p, {60, 60}) > 20);
            CHECK_FALSE(contains(flattened(pieces[1].outline, 0.01), p));
        }
    }
    CHECK(lines >= 8);
    // On a sheet that has no room for it, it is said.
    job::Stock small = job.sheet().stock;
    small.width = 150;
    const auto none = planned(with(job, job::withStock(job, small)));
    REQUIRE(none.snags.size() == 1);
    CHECK(none.snags[0].what.find("border") != std::string::npos);
}

TEST_CASE("slit: the caster follows its law, from any direction") {
    for (const double angle : {0.0, 0.4, 1.5, 3.0, -2.2}) {
        toolpath::Caster caster(0.8, {std::cos(angle), std::sin(angle)});
        caster.draw({0, 0}, Segment::line({2, 0}), [](Vec2, Vec2, double) {});
        const double left = std::atan2(caster.heading().y, caster.heading().x);
        CHECK(std::tan(left / 2) == Approx(std::tan(angle / 2) * std::exp(-2 / 0.8)).margin(1e-6));
    }
}

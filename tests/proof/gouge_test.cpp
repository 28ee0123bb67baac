#include "geometry/measure.h"
#include "proof/deviation.h"
#include "support/proofs.h"

using namespace ferro;
using namespace ferro::test;

namespace {

/// Two panels side by side, each with an opening, cut by outlines with leads.
job::Job panels(const char* tool) {
    auto job = drawn(fresh(),
                     {{rectangle({40, 40}, {150, 110}, 0), {wound(rectangle({70, 60}, {120, 90}, 8), false)}},
                      {curvedBlob(5, {280, 90}, 55), {}}},
                     "cut", "panel");
    job = set(stepped(job, "outline", tool), "lead", "2");
    return set(job, "depthPerPass", "5");
}
/// The place on the designs that is nearest to a point, and on which item.
struct Near {
    artwork::ItemId item;
    Vec2 at;
    double far = 1e9;
};
Near nearest(const plan::Pieces& pieces, Vec2 p) {
    Near best;
    for (const auto& c : pieces.contours) {
        const Ruler ruler(c.path);
        const Vec2 q = ruler.at(ruler.nearest(p)).point;
        if (distance(p, q) < best.far) best = {c.item, q, distance(p, q)};
    }
    return best;
}

} // namespace

TEST_CASE("deviation: a gouge from any place of a cut, its leads too, is measured at its size and its place",
          "[property]") {
    for (const char* tool : {"end-3", "end-6"}) {
        const auto job = panels(tool);
        Progress progress;
        const auto path = toolpath::toolpathOf(job, progress);
        REQUIRE(path);
        const auto& step = path->steps.at(0);
        const double radius = step.tool.diameter / 2;
        std::size_t tried = 0, leads = 0;
        for (const auto& cut : step.cuts)
            for (std::size_t i = cut.first; i < cut.end; ++i) {
                const auto& move = step.moves[i];
                if (move.kind == toolpath::Move::Kind::rapid || move.to.z > -1) continue;
                const Vec2 e = move.to.flat();
                const Near near = nearest(*path->pieces, e);
                if (near.far < 0.5) continue;
                leads += near.far > radius + 0.05;
                const double deep = i % 2 ? 0.05 : 0.4;
                const Vec2 p = near.at + unit(e - near.at) * (radius - deep);
                auto spoilt = *path;
                auto& moves = spoilt.steps[0].moves;
                const auto there = toolpath::Move::line({p.x, p.y, move.to.z}, move.feed);
                const auto back = toolpath::Move::line(move.to, move.feed);
                moves.insert(moves.begin() + static_cast<std::ptrdiff_t>(i) + 1, {there, back});
                for (auto& other : spoilt.steps[0].cuts) {
                    if (other.first > i) other.first += 2;
                    if (other.end > i) other.end += 2;
                }
                const auto found = proof::deviationOf(spoilt, progress);
                REQUIRE(found);
                CAPTURE(tool, i, e.x, e.y, deep, near.far);
                CHECK(found->cutInto == Approx(deep).margin(0.012));
                CHECK(distance(found->cutIntoAt, near.at) < 1.5);
                double worst = 0;
                artwork::ItemId item;
                for (const auto& edge : found->edges)
                    for (const auto& sample : edge.samples)
                        if (sample.miss < worst) worst = sample.miss, item = edge.item;
                CHECK(item == near.item);
                ++tried;
            }
        CAPTURE(tool, tried, leads);
        CHECK(tried > 60);
        CHECK(leads >= 2);
    }
}

TEST_CASE("deviation: what lies within an area that is cleared is gone over on purpose, what lies beside it is not",
          "[safety]") {
    // A rebate that is open to its panel's lower edge, and a pocket with an opening through its floor.
    auto job = fresh();
    job.sheet().stock = {.width = 220, .height = 160, .thickness = 9, .spacer = 4};
    job = drawn(job, {{rectangle({30, 30}, {150, 120}, 0), {}}}, "panel");
    job = set(stepped(job, "outline", "end-6"), "layers", "panel");
    job = drawn(job, {{rectangle({30, 30}, {150, 42}, 0), {}}}, "rebate");
    job = set(set(stepped(job, "clear", "end-6"), "layers", "rebate"), "rim", "blank and parts");
    job = set(job, "depth", "4");
    job = drawn(job, {{rectangle({60, 60}, {120, 105}, 0), {}}}, "pocket");
    job = set(set(stepped(job, "clear", "end-6"), "layers", "pocket"), "depth", "3");
    job = drawn(job, {{circle({90, 80}, 9), {}}}, "window");
    job = set(set(stepped(job, "outline", "end-3"), "layers", "window"), "side", "inside");
    const auto good = proofOf(job);
    for (const auto& f : good.findings) UNSCOPED_INFO(f.what);
    CAPTURE(good.deviation.cutIntoAt.x, good.deviation.cutIntoAt.y);
    CHECK(good.mayRun());
    CHECK(good.deviation.cutInto < 0.01);
    CHECK(good.deviation.leftStanding < 0.02);
    CHECK(std::none_of(good.findings.begin(), good.findings.end(),
                       [](const auto& f) { return f.what.find("clears the top of") != std::string::npos; }));
    // What is to stand in the pocket as a part, and is not let stand as an island, is still cut into.
    const auto standing = proofOf(set(job, "side", "outside"));
    CHECK_FALSE(standing.mayRun());
    CHECK(standing.deviation.cutInto > 2);
    // The same ways, but a bit of the rebate's goes up into the panel, and one of the pocket's over its wall.
    const auto spoiltBy = [&](std::size_t step, Vec2 to) {
        auto path = good.path;
        auto& moves = path.steps[step].moves;
        for (std::size_t i = 0; i + 1 < moves.size(); ++i) {
            if (moves[i].kind == toolpath::Move::Kind::rapid || moves[i].to.z > -2) continue;
            const auto back = moves[i].to;
            const std::vector extra{toolpath::Move::line({to.x, to.y, back.z}, 900), toolpath::Move::line(back, 900)};
            moves.insert(moves.begin() + static_cast<std::ptrdiff_t>(i) + 1, extra.begin(), extra.end());
            for (auto& cut : path.steps[step].cuts) {
                if (cut.first > i) cut.first += 2;
                if (cut.end > i) cut.end += 2;
            }
            Progress progress;
            return proof::deviationOf(path, progress)->cutInto;
        }
        return 0.0;
    };
    REQUIRE(good.path.steps.size() == 4);
    REQUIRE(good.path.steps[0].kind->name == "clear");
    CHECK(spoiltBy(0, {90, 40.5}) > 1.4); // its wall is at 42
    CHECK(spoiltBy(1, {118, 80}) > 0.9);  // its wall is at 120
}

TEST_CASE("toolpath: whatever goes down into stock sinks no quicker than it may plunge, but in a hole it has made",
          "[property]") {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        if (seed % 4 == 0) continue; // a beam goes down nowhere
        Progress progress;
        const auto path = toolpath::toolpathOf(randomJob(seed), progress);
        REQUIRE(path);
        CAPTURE(seed);
        for (const auto& step : path->steps) {
            std::map<std::pair<double, double>, double> lowest; // where it has been straight down
            toolpath::Vec3 at{1e9, 1e9, 1e9};
            for (const auto& move : step.moves) {
                const bool down = move.to.z < at.z - 1e-9 && move.to.z < -1e-9;
                const std::pair place{move.to.x, move.to.y};
                const bool beside = step.name == "Skim" && !Box{{0, 0}, {600, 400}}.contains(move.to.flat());
                const bool own = beside || (at.flat() == move.to.flat() && lowest.contains(place) &&
                                            move.to.z >= lowest[place] - 1e-9);
                if (down && !own) {
                    CAPTURE(step.name, move.to.x, move.to.y, at.z, move.to.z, move.feed, step.plunge);
                    CHECK(move.kind != toolpath::Move::Kind::rapid);
                    const double drop = at.z - move.to.z, way = lengthOf(at.flat(), move.flat());
                    CHECK(double(move.feed) * drop / std::hypot(drop, way) <= step.plunge * (1 + 1e-6));
                }
                if (at.flat() == move.to.flat()) {
                    const auto [known, fresh] = lowest.try_emplace(place, move.to.z);
                    if (!fresh) known->second = std::min(known->second, move.to.z);
                }
                at = move.to;
            }
        }
    }
}

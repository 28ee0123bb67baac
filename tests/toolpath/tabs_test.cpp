#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

/// How much of a tab is left standing, mm along the outline, asked of every move of the job: one that goes below its
/// top (or burns) takes away what lies within the tool's radius.
double standing(const toolpath::Toolpath& path, const toolpath::Cut& cut, double tab) {
    const Ruler ruler(cut.centre);
    const double half = cut.tabWidth / 2 + 0.01;
    int left = 0, asked = 0;
    for (double s = tab - half; s <= tab + half; s += 0.1, ++asked) {
        const Vec2 p = ruler.at(s).point;
        bool gone = false;
        toolpath::forEachMove(
            path, [&](const toolpath::StepMoves& by, std::size_t, toolpath::Vec3 from, const Move& move) {
                if (gone || move.kind == Move::Kind::rapid) return;
                const bool low = path.byBeam() ? move.power > 0 : std::min(from.z, move.to.z) < cut.tabTop - 1e-6;
                if (!low) return;
                const Box box = boundsOf(Path{from.flat(), {move.flat()}, false}).grown(by.tool.radius());
                if (!box.contains(p)) return;
                const double t = nearestOn(from.flat(), move.flat(), p);
                gone = distance(pointAt(from.flat(), move.flat(), t), p) < by.tool.radius() - 0.02;
            });
        left += !gone;
    }
    return 2 * half * left / asked;
}

} // namespace

TEST_CASE("tabs: no lead, ramp or lap lowers one, wherever the outline starts and they are placed", "[safety]") {
    std::mt19937 random(4);
    std::uniform_real_distribution<> part(0, 1);
    for (int trial = 0; trial < 24; ++trial) {
        const bool laser = trial % 3 == 2;
        const Vec2 low{60 + 40 * part(random), 60 + 30 * part(random)};
        Path outline = trial % 2 ? rectangle(low, low + Vec2{90 + 60 * part(random), 70 + 40 * part(random)}, 4)
                                 : curvedBlob(static_cast<unsigned>(trial), {180, 160}, 70);
        auto job = drawn(fresh(laser ? "laser-700" : "mill-600", "poplar"), {{wound(outline, true), {}}});
        job = stepped(job, "outline", laser ? "beam" : trial % 4 ? "end-6" : "end-3");
        job = set(job, "hold", "tabs");
        job = set(job, "tabWidth", trial % 2 ? "8" : "3");
        job = set(job, "lead", trial % 5 == 0 ? "0" : trial % 5 == 1 ? "8" : "3");
        if (!laser) job = set(set(job, "entry", trial % 2 ? "ramp" : "plunge"), "rampAngle", trial % 4 ? "5" : "25");
        if (!laser && trial % 4 == 1) job = set(job, "direction", "conventional");
        if (trial % 6 == 5) job = set(job, "side", "on line");
        const bool byHand = trial % 3 != 0;
        if (byHand) { // where the outline would begin, too
            std::vector<double> along{part(random), 0.125, 0.375};
            job = with(job, job::withTabs(job, lastStep(job), job.artwork->items[0].id, -1, along));
        }
        const auto path = planned(job);
        CAPTURE(trial, laser, byHand);
        REQUIRE(path.steps.size() == 1);
        for (const auto& s : path.snags) UNSCOPED_INFO(s.what);
        for (const auto& cut : path.steps[0].cuts) {
            REQUIRE(cut.tabs.size() >= 2);
            for (const double tab : cut.tabs) {
                CAPTURE(tab, cut.tabWidth);
                CHECK(standing(path, cut, tab) > cut.tabWidth * 0.97);
            }
            // And between them it is cut all the way: nothing of the outline stands but the tabs.
            const Ruler ruler(cut.centre);
            const double reach = cut.tabWidth / 2 + path.steps[0].tool.diameter;
            for (int k = 0; k < 60; ++k) {
                const double s = ruler.length() * k / 60;
                bool near = false;
                for (const double tab : cut.tabs) {
                    const double off = std::abs(std::remainder(s - tab, ruler.length()));
                    near = near || off < reach + 1;
                }
                if (near) continue;
                const Vec2 p = ruler.at(s).point;
                double deepest = 1;
                toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
                    if (move.kind == Move::Kind::rapid || (laser && move.power <= 0)) return;
                    const double t = nearestOn(from.flat(), move.flat(), p);
                    if (distance(pointAt(from.flat(), move.flat(), t), p) < 0.01)
                        deepest = std::min(deepest, laser ? -1.0 : from.z + (move.to.z - from.z) * t);
                });
                CHECK(deepest < (laser ? 0 : -job.sheet().stock.thickness));
            }
        }
    }
}

TEST_CASE("tabs: on what goes not through there are none, and tabs without end leave no place to begin") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {150, 120}), {}}});
    job = stepped(job, "outline", "end-6");
    CHECK_FALSE(planned(job).steps[0].cuts[0].tabs.empty());
    CHECK(planned(set(set(job, "through", "to depth"), "depth", "5")).steps[0].cuts[0].tabs.empty());
    job = set(job, "tabWidth", "90");
    job = with(job, job::withTabs(job, lastStep(job), job.artwork->items[0].id, -1, {0.1, 0.35, 0.6, 0.85}));
    const auto path = planned(job);
    REQUIRE_FALSE(path.snags.empty());
    CHECK(path.snags[0].verdict == Verdict::noGo);
    CHECK(path.snags[0].what.find("no place") != std::string::npos);
}

TEST_CASE("tabs: none stands in a slot that another part is to fit into, though it lies where one is due") {
    // A panel with a slot of 12 mm half way along each long side, turned this way and that.
    for (const double turn : {0.0, 0.3, 1.7}) {
        const auto panel =
            *pathsFromText("M 0 0 L 94 0 L 94 40 L 106 40 L 106 0 L 200 0 L 200 120 L 106 120 L 106 80 L 94 80 "
                           "L 94 120 L 0 120 Z");
        const auto by = Transform::rotated(turn, {100, 60});
        auto job = drawn(fresh(), {{transformed(panel[0], Transform::moved({200, 140})), {}}}, "cut", "panel");
        job = with(job, job::withArtwork(job, artwork::withTransformed(*job.artwork, {job.artwork->items[0].id}, by)));
        const auto slots = transformed(rectangle({292, 130}, {308, 270}), by);
        for (const char* count : {"4", "5", "6", "8"}) {
            const auto path = planned(set(stepped(job, "outline", "end-6"), "tabCount", count));
            const auto& cut = path.steps[0].cuts.at(0);
            CHECK(cut.tabs.size() >= 4);
            for (const double tab : cut.tabs)
                CHECK_FALSE(contains(flattened(slots, 0.01), Ruler(cut.centre).at(tab).point));
        }
    }
}

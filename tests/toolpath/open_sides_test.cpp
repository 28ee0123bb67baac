// Areas that are open at the blank's edge or a part's, and areas that are gone into by drilled holes; judged on a grid.
#include "geometry/spatial.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

/// Ways of a tool's middle, to be asked for what they come near to.
class WayList {
public:
    void put(Vec2 a, Vec2 b) {
        list_.emplace_back(a, b);
        Box box;
        box.take(a), box.take(b);
        boxes_.push_back(box);
        index_.reset();
    }
    [[nodiscard]] double nearest(Vec2 p, double within) const {
        if (!index_) index_ = std::make_unique<SpatialIndex>(boxes_);
        double least = 1e9;
        for (const std::size_t k : index_->meeting(Box{p, p}.grown(within)))
            least = std::min(least, distanceToLine(p, list_[k].first, list_[k].second));
        return least;
    }
    [[nodiscard]] const auto& all() const { return list_; }

private:
    std::vector<std::pair<Vec2, Vec2>> list_;
    std::vector<Box> boxes_;
    mutable std::unique_ptr<SpatialIndex> index_;
};

struct Swept {
    double radius = 0;
    WayList floor; ///< at the last depth
    WayList below; ///< all of them below the top

    [[nodiscard]] bool isGone(Vec2 p) const { return floor.nearest(p, radius + 0.1) <= radius + 0.004; }
    [[nodiscard]] bool isTouched(Vec2 p) const { return below.nearest(p, radius) <= radius - 0.012; }
};
Swept sweptBy(const toolpath::Toolpath& path, double depth, std::size_t ofStep = 0) {
    Swept out;
    out.radius = path.steps[ofStep].tool.radius();
    toolpath::forEachMove(path, [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (&step != &path.steps[ofStep] || move.kind == Move::Kind::rapid) return;
        if (std::min(from.z, move.to.z) > -1e-9) return;
        Vec2 a = from.flat();
        flattenSegment(a, move.flat(), 0.001, [&](Vec2 b) {
            out.below.put(a, b);
            if (std::abs(from.z + depth) < 1e-9 && std::abs(move.to.z + depth) < 1e-9) out.floor.put(a, b);
            a = b;
        });
    });
    return out;
}
job::Job onSheet(double width, double height, const std::vector<Piece>& pieces, const char* layer = "floor") {
    auto job = fresh();
    job.sheet().stock = {.width = width, .height = height, .thickness = 12};
    return drawn(job, pieces, layer);
}
job::Job cleared(const job::Job& job, const char* rim, const char* by = "rings", const char* layers = "floor") {
    auto out = set(set(stepped(job, "clear", "end-6"), "layers", layers), "rim", rim);
    return set(set(set(out, "depth", "2"), "depthPerPass", "3"), "by", by);
}

} // namespace

TEST_CASE("open sides: what reaches the blank's edge is cleared right to it and no other wall is touched",
          "[property]") {
    // A recess along the lower edge, a notch in the left one that stops a hair inside, a corner, and one in the middle.
    const std::vector<Piece> pieces{{rectangle({50, 0}, {110, 25}, 0), {}},
                                    {wound(pathOf(ring("0.15,60 30,60 22,90 0.15,90"), true), true), {}},
                                    {rectangle({140, 80}, {160, 120}, 0), {}},
                                    {rectangle({70, 60}, {110, 90}, 0), {}}};
    const Rings rings = ringsOf(pieces);
    for (const char* by : {"rings", "lines", "even load"}) {
        const auto path = planned(cleared(onSheet(160, 120, pieces), "blank", by));
        REQUIRE(path.steps.size() == 1);
        const auto swept = sweptBy(path, 2);
        std::size_t left = 0, touched = 0, asked = 0;
        for (double x = 0.05; x < 160; x += 0.9)
            for (double y = 0.05; y < 120; y += 0.9) {
                const Vec2 p{x, y};
                const double inside = room(rings, p);
                // In the film beside the left edge it may cut or not.
                if (inside < 0 && x < 0.2 && y > 59.8 && y < 90.2) continue;
                touched += inside < -0.012 && swept.isTouched(p);
                // Reached where a disc of the tool fits into the area carried on beyond the edges of the blank.
                bool reached = inside > 3.02;
                for (int k = 0; inside > 0 && k < 48 && !reached; ++k)
                    for (const double far : {0.0, 1.5, 2.9}) {
                        const Vec2 m = p + far * Vec2{std::cos(k * pi / 24), std::sin(k * pi / 24)};
                        bool fits = true;
                        for (int q = 0; q < 36 && fits; ++q) {
                            const Vec2 e = m + 3.02 * Vec2{std::cos(q * pi / 18), std::sin(q * pi / 18)};
                            const bool air = e.x < 0.16 || e.y < 0 || e.x > 160 || e.y > 120;
                            fits = air || contains(rings, e);
                        }
                        reached = reached || fits;
                    }
                asked += reached;
                left += reached && !swept.isGone(p);
            }
        CAPTURE(by, left, touched);
        CHECK(asked > 3000);
        CHECK(left == 0);
        CHECK(touched == 0);
        const bool corner = swept.isGone({159.9, 119.9}), closed = swept.isGone({70.1, 60.1});
        CHECK(corner);
        CHECK_FALSE(closed);
    }
    // As walls: corners at the edges stay, and no way leaves the blank.
    const auto walls = planned(cleared(onSheet(160, 120, pieces), "none"));
    CHECK_FALSE(sweptBy(walls, 2).isGone({50.1, 0.1}));
    for (const auto& move : walls.steps[0].moves)
        if (move.kind != Move::Kind::rapid) CHECK((move.to.x >= 3 && move.to.y >= 2.99 && move.to.x <= 157.01));
}

TEST_CASE("open sides: along a part's edge it runs over the waste, but not into the part beside it", "[safety]") {
    const Piece panel{rectangle({30, 30}, {90, 100}, 0), {}}, beside{rectangle({98, 30}, {150, 100}, 0), {}};
    const Piece rebate{rectangle({80, 40}, {90, 90}, 0), {}};
    auto job = onSheet(200, 140, {panel, beside}, "parts");
    job = set(stepped(job, "outline", "end-6"), "layers", "parts");
    job = drawn(job, {rebate}, "rebate");
    for (const char* rim : {"blank", "blank and parts"}) {
        const auto path = planned(cleared(job, rim, "rings", "rebate"));
        REQUIRE(path.steps.size() == 2);
        REQUIRE(path.steps[0].kind->name == "clear");
        const auto swept = sweptBy(path, 2);
        const bool open = std::string_view(rim) != "blank";
        CAPTURE(rim);
        const bool corner = swept.isGone({89.9, 40.1}) && swept.isGone({89.9, 89.9});
        CHECK(corner == open);
        std::size_t into = 0;
        for (double x = 30; x < 150; x += 0.5)
            for (double y = 30; y < 100; y += 0.5) {
                const bool mine = x > 80 && x < 90 && y > 40 && y < 90, waste = x >= 90 && x <= 98;
                into += !mine && !waste && swept.isTouched({x, y});
            }
        CHECK(into == 0);
    }
    // An area that lies in no part is bounded by its walls, however much waste is round it.
    const Piece alone{rectangle({160, 40}, {190, 90}, 0), {}};
    const auto apart = planned(cleared(drawn(job, {alone}, "alone"), "blank and parts", "rings", "alone"));
    CHECK_FALSE(sweptBy(apart, 2).isTouched({157, 60}));
    // What lies beyond would close round something that stands: that is told, and it stays within its walls.
    const Piece horseshoe{wound(pathOf(ring("40,0 60,0 60,30 64,30 64,0 84,0 84,50 40,50"), true), true), {}};
    const auto told = planned(cleared(onSheet(160, 120, {horseshoe}), "blank"));
    REQUIRE(told.snags.size() == 1);
    CHECK(told.snags[0].what.find("close round") != std::string::npos);
    for (const auto& move : told.steps[0].moves)
        if (move.kind != Move::Kind::rapid) CHECK(move.to.y > 2.99);
    // So is an outline that another step follows too.
    auto shared = cleared(onSheet(160, 120, {{rectangle({50, 0}, {110, 25}, 0), {}}}), "blank");
    const auto both = planned(set(stepped(shared, "outline", "end-3"), "side", "inside"));
    CHECK(std::any_of(both.snags.begin(), both.snags.end(),
                      [](const auto& snag) { return snag.what.find("Another step") != std::string::npos; }));
}

TEST_CASE("clear: a bull nose leaves a floor that is flat but for its own corner along the walls", "[property]") {
    for (const double corner : {0.5, 1.5, 2.8}) {
        shop::Tool tool{.key = "nose", .name = "Nose 8", .number = 44, .kind = shop::ToolKind::bullNose, .diameter = 8};
        tool.corner = corner, tool.fluteLength = 20;
        const std::vector<Piece> areas{{rectangle({30, 30}, {90, 75}, 0), {wound(circle({60, 52}, 6), false)}}};
        auto job = onSheet(160, 120, areas);
        job.tools.push_back(tool);
        job = set(set(set(stepped(job, "clear", "nose"), "layers", "floor"), "depth", "4"), "depthPerPass", "4");
        job = set(job, "overlap", "10"); // more than it cuts level is not let between
        const auto path = planned(job);
        CAPTURE(corner);
        CHECK(path.snags.empty());
        const auto swept = sweptBy(path, 4);
        const Rings rings = ringsOf(areas);
        // Its shape once more, from the circle's equation.
        const auto edge = [&](double r) {
            const double off = r - (4 - corner);
            return off <= 0 ? 0 : corner - std::sqrt(std::max(0.0, corner * corner - off * off));
        };
        double ridge = 0, into = 0, foot = 0;
        std::size_t floors = 0, feet = 0;
        for (double x = 30.1; x < 90; x += 0.63)
            for (double y = 30.1; y < 75; y += 0.63) {
                const Vec2 p{x, y};
                const double inside = room(rings, p);
                if (inside <= 0) continue;
                double height = 0; // above the floor; 4 is the top
                const double nearest = swept.floor.nearest(p, 5);
                height = nearest > 4 ? 4 : edge(nearest);
                const bool square = std::min(x - 30, 90 - x) > 8 || std::min(y - 30, 75 - y) > 8; // no corner near
                if (!square) continue;
                if (inside > corner + 0.02) ridge = std::max(ridge, height), ++floors;
                if (inside < corner - 0.02) {
                    const double meant = corner - std::sqrt(corner * corner - (corner - inside) * (corner - inside));
                    foot = std::max(foot, std::abs(height - meant)), ++feet;
                }
            }
        for (const auto& way : swept.below.all()) into = std::max(into, 4 - room(rings, way.second));
        CHECK(floors > 1000);
        CHECK(feet > 20);
        CHECK(ridge < 0.003);
        CHECK(foot < 0.12); // near the wall it is steep: a hair of the way is much of the height
        CHECK(into < 0.01);
    }
    shop::Tool tool{.key = "nose", .name = "Nose 8", .number = 44, .kind = shop::ToolKind::bullNose, .diameter = 8};
    tool.corner = 1;
    auto job = onSheet(160, 120, {{rectangle({30, 30}, {90, 75}, 0), {}}});
    job.tools.push_back(tool);
    job = set(stepped(job, "outline", "nose"), "extra", "0.3");
    REQUIRE(planned(job).snags.size() == 1);
    CHECK(planned(job).snags[0].what.find("leaves a foot") != std::string::npos);
    CHECK(planned(set(job, "extra", "1")).snags.empty());
}

TEST_CASE("clear: it goes in by holes that were drilled, drilled before it, and never straight down elsewhere",
          "[safety]") {
    const std::vector<Piece> areas{{rectangle({30, 30}, {80, 70}, 0), {}}, {rectangle({100, 30}, {150, 70}, 0), {}}};
    auto job = onSheet(200, 120, areas);
    job = set(cleared(job, "none"), "entry", "drilled hole");
    job = drawn(job, {{{{45, 52}, {}, false}, {}}, {{{120, 44}, {}, false}, {}}}, "entries");
    job = set(set(set(stepped(job, "drill", "drill-8"), "layers", "entries"), "through", "to depth"), "depth", "6");
    const auto path = planned(job);
    REQUIRE(path.steps.size() == 2);
    CHECK(path.steps[0].kind->name == "drill"); // whatever the list says
    CHECK(path.snags.empty());
    std::size_t downs = 0;
    toolpath::forEachMove(path, [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (&step != &path.steps[1] || move.to.z >= std::min(from.z, -1e-9)) return;
        const Vec2 p = move.to.flat();
        CHECK(from.flat() == p);
        CHECK(std::min(distance(p, {45, 52}), distance(p, {120, 44})) < 1e-9);
        CHECK(static_cast<double>(move.feed) <= step.plunge + 1e-6);
        ++downs;
    });
    CHECK(downs == 2);
    const auto swept = sweptBy(path, 2, 1);
    for (const Vec2 p : {Vec2{31, 50}, Vec2{79, 69}, Vec2{101, 50}, Vec2{125, 50}})
        CHECK((room(ringsOf(areas), p) < 1.2 || swept.isGone(p)));
    // A hole too shallow by its tip, too thin, or none: a ramp, and that is told.
    for (const auto& [name, value] : {std::pair("depth", "2"), {"tool", "drill-4"}, {"enabled", "off"}}) {
        const auto other = planned(set(job, name, value));
        CAPTURE(name);
        CHECK(std::count_if(other.snags.begin(), other.snags.end(), [](const auto& snag) {
                  return snag.what.find("No hole was drilled") != std::string::npos;
              }) == 2);
        toolpath::forEachMove(other, [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
            if (step.kind->name != "clear" || move.to.z >= std::min(from.z, -1e-9)) return;
            CHECK(from.z - move.to.z <= lengthOf(from.flat(), move.flat()) * std::tan(4 * pi / 180) * 1.001);
        });
    }
}

// Clearing, judged by what the tool's disc does on a grid that knows nothing of how the ways were made.
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

struct Judged {
    double cutInto = 0; ///< mm, largest
    double left = 0;    ///< mm² that the tool gets to and that stand
    double lowest = 0;
    std::size_t rapidsBelow = 0, quickDown = 0, lifts = 0;
};
Judged judged(const job::Job& job, const std::vector<Piece>& pieces, double depth, double allowance = 0) {
    const auto path = planned(job);
    REQUIRE(path.steps.size() == 1);
    const auto& step = path.steps[0];
    const double radius = step.tool.radius();
    const Rings rings = ringsOf(pieces);
    Judged out;
    std::vector<std::pair<Vec2, Vec2>> floor; // ways at the last depth
    toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        out.lowest = std::min(out.lowest, move.to.z);
        const bool rapid = move.kind == Move::Kind::rapid;
        out.rapidsBelow += rapid && from.z < 0 && distance(from.flat(), move.to.flat()) > 1e-9;
        out.lifts += rapid && from.z < 0;
        const double down = from.z - move.to.z, way = std::hypot(lengthOf(from.flat(), move.flat()), down);
        if (!rapid && down > 1e-9 && std::min(from.z, move.to.z) < -1e-9)
            out.quickDown += static_cast<double>(move.feed) * down / std::max(way, 1e-12) > step.plunge * 1.01;
        if (rapid || std::min(from.z, move.to.z) >= -1e-9) return;
        Vec2 a = from.flat();
        flattenSegment(a, move.flat(), 0.001, [&](Vec2 b) {
            const int parts = std::max(1, static_cast<int>(distance(a, b) / 0.7));
            for (int k = 0; k <= parts; ++k) {
                const Vec2 p = lerp(a, b, static_cast<double>(k) / parts);
                out.cutInto = std::max(out.cutInto, radius + allowance - room(rings, p));
            }
            if (std::abs(move.to.z + depth) < 1e-9 && std::abs(from.z + depth) < 1e-9) floor.emplace_back(a, b);
            a = b;
        });
    });
    // All middles that the tool may have on a fine grid; what any of them covers has to be gone.
    constexpr double cell = 0.8;
    Box box;
    for (const auto& ring : rings)
        for (const Vec2 p : ring) box.take(p);
    std::vector<Vec2> middles;
    for (double x = box.low.x; x < box.high.x; x += cell)
        for (double y = box.low.y; y < box.high.y; y += cell)
            if (room(rings, {x, y}) > radius + allowance + 0.02) middles.push_back({x, y});
    for (double x = box.low.x + 0.1; x < box.high.x; x += cell)
        for (double y = box.low.y + 0.1; y < box.high.y; y += cell) {
            const Vec2 p{x, y};
            const bool reached =
                std::any_of(middles.begin(), middles.end(), [&](Vec2 m) { return distance(m, p) < radius - 0.03; });
            if (!reached) continue;
            const bool gone = std::any_of(floor.begin(), floor.end(), [&](const auto& way) {
                return distanceToLine(p, way.first, way.second) <= radius + 0.002;
            });
            out.left += gone ? 0 : cell * cell;
        }
    return out;
}

} // namespace

TEST_CASE("clear: all that the tool gets to is gone, no wall is touched, whatever the shape and the ways",
          "[property]") {
    for (unsigned seed = 0; seed < 16; ++seed) {
        std::mt19937 random(seed * 31 + 7);
        const auto pick = [&](auto... options) {
            const std::common_type_t<decltype(options)...> list[] = {options...};
            return list[random() % sizeof...(options)];
        };
        std::vector<Piece> pieces;
        Piece piece;
        switch (seed % 4) {
        case 0: piece.outline = curvedBlob(seed, {80, 80}, 34); break;
        case 1: piece.outline = pathOf(blob(seed, {80, 80}, 34, 14, 0.5), true); break;
        case 2:
            piece.outline = pathOf(ring("40,40 120,40 120,52 60,56 120,60 120,100 80,62 40,100"), true);
            break; // needles
        default: piece.outline = rectangle({45, 50}, {115, 105}, pick(0.0, 6.0));
        }
        piece.outline = wound(piece.outline, true);
        if (seed % 2) piece.openings.push_back(wound(circle({78, 80}, 7), false));
        if (seed % 4 == 3) piece.openings.push_back(wound(rectangle({95, 60}, {105, 70}), false));
        pieces.push_back(piece);
        const char* tool = pick("end-3", "end-6");
        const char* overlap = pick("10", "30", "55", "85");
        const char* allowance = pick("0", "0", "0.4");
        auto job = set(stepped(drawn(fresh(), pieces, "floor"), "clear", tool), "overlap", overlap);
        job = set(set(job, "by", pick("rings", "lines", "even load")), "angle", pick("0", "30", "-70"));
        const char* perPass = pick("1", "3");
        job = set(set(job, "depth", "2.4"), "depthPerPass", perPass);
        job = set(set(job, "direction", pick("climb", "conventional")), "entry", pick("ramp", "plunge", "helix"));
        job = set(set(job, "rampAngle", pick("2", "10", "40")), "allowance", allowance);
        const auto j = judged(job, pieces, 2.4, std::atof(allowance));
        CAPTURE(seed, tool, overlap, allowance, perPass, j.cutInto, j.left, j.lifts);
        CHECK(j.cutInto < 0.01);
        CHECK(j.left == 0);
        CHECK(j.lowest == Approx(-2.4));
        CHECK(j.rapidsBelow == 0);
        CHECK(j.quickDown == 0);
    }
}

TEST_CASE("clear: rings run so that climb has the wall on the right, and stay down from ring to ring") {
    const std::vector<Piece> square{{rectangle({40, 40}, {100, 90}), {}}};
    for (const char* direction : {"climb", "conventional"}) {
        auto job = set(stepped(drawn(fresh(), square, "floor"), "clear", "end-6"), "direction", direction);
        const auto path = planned(set(job, "depth", "0.05"));
        double turn = 0; // of all that goes round the middle at depth
        std::size_t lifts = 0;
        toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            lifts += move.kind == Move::Kind::rapid && from.z < 0;
            if (move.to.z < std::min(from.z, -1e-9)) // down by its ramp, never straight
                CHECK(from.z - move.to.z <= lengthOf(from.flat(), move.flat()) * std::tan(4 * pi / 180) * 1.001);
            if (move.kind != Move::Kind::rapid && move.to.z == from.z && from.z < 0)
                turn += cross(from.flat() - Vec2{70, 65}, move.to.flat() - from.flat());
        });
        CHECK((turn > 0) == (std::string_view(direction) == "climb"));
        CHECK(lifts == 1);
    }
    // Two areas and what lies in an island of one: each by itself.
    const std::vector<Piece> nested{{wound(rectangle({20, 20}, {90, 90}), true), {}},
                                    {wound(rectangle({35, 35}, {75, 75}), false), {}},
                                    {wound(circle({55, 55}, 9), true), {}}};
    CHECK(judged(set(stepped(drawn(fresh(), nested, "floor"), "clear", "end-6"), "depth", "2"), nested, 2).left == 0);
}

TEST_CASE("clear: an area too narrow for the tool is a no-go that says so") {
    const auto path =
        planned(stepped(drawn(fresh(), {{rectangle({40, 40}, {44, 90}), {}}}, "floor"), "clear", "end-6"));
    REQUIRE(path.snags.size() == 1);
    CHECK(path.snags[0].verdict == Verdict::noGo);
    CHECK(path.snags[0].what.find("does not fit") != std::string::npos);
}

TEST_CASE("clear: what a wide tool has left a thin one takes, all of it, and hardly anything else", "[property]") {
    for (unsigned seed = 0; seed < 5; ++seed) {
        std::vector<Piece> pieces{
            {wound(seed % 2 ? pathOf(blob(seed, {80, 80}, 34, 12, 0.5), true) : rectangle({45, 50}, {115, 105}, 0),
                   true),
             {wound(rectangle({70, 70}, {90, 84}), false)}}};
        auto job =
            set(set(stepped(drawn(fresh(), pieces, "floor"), "clear", "end-6"), "depth", "2"), "depthPerPass", "3");
        const auto wide = planned(job);
        auto thin = set(set(stepped(job, "clear", "end-3"), "depth", "2"), "depthPerPass", seed % 2 ? "3" : "1");
        const auto full = planned(thin);
        thin = set(set(thin, "what", "what is left"), "by", seed % 3 ? "rings" : "lines");
        const auto path = planned(thin);
        REQUIRE(path.steps.size() == 2);
        const Rings rings = ringsOf(pieces);
        double way = 0, all = 0, into = 0, lowest = 0;
        std::vector<std::tuple<Vec2, Vec2, double>> floor;
        toolpath::forEachMove(full, [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
            if (step.tool.diameter < 4 && move.kind != Move::Kind::rapid) all += toolpath::distance(from, move.to);
        });
        toolpath::forEachMove(path, [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
            const double radius = step.tool.radius();
            if (move.kind == Move::Kind::rapid || std::min(from.z, move.to.z) >= 0) return;
            if (radius < 2) way += toolpath::distance(from, move.to);
            lowest = std::min(lowest, move.to.z);
            Vec2 a = from.flat();
            flattenSegment(a, move.flat(), 0.001, [&](Vec2 b) {
                for (const Vec2 p : {a, lerp(a, b, 0.5), b})
                    into = std::max(into, radius - (contains(rings, p) ? room(rings, p) : -room(rings, p)));
                if (from.z == -2 && move.to.z == -2) floor.emplace_back(a, b, radius);
                a = b;
            });
        });
        CAPTURE(seed, way, all, into);
        CHECK(into < 0.01);
        CHECK(lowest == Approx(-2));
        CHECK(way < 0.6 * all);
        double left = 0;
        for (double x = 40; x < 120; x += 0.7)
            for (double y = 40; y < 120; y += 0.7) {
                const Vec2 p{x, y};
                if (!contains(rings, p)) continue;
                // Reached by the thin tool from one of many middles round about.
                bool reached = false;
                for (int k = 0; k < 48 && !reached; ++k)
                    for (const double far : {0.0, 0.7, 1.4}) {
                        const Vec2 m = p + far * Vec2{std::cos(k * pi / 24), std::sin(k * pi / 24)};
                        reached = reached || (contains(rings, m) && room(rings, m) > 1.53);
                    }
                if (!reached) continue;
                const bool gone = std::any_of(floor.begin(), floor.end(), [&](const auto& f) {
                    return distanceToLine(p, std::get<0>(f), std::get<1>(f)) <= std::get<2>(f) + 0.002;
                });
                left += gone ? 0 : 0.49;
            }
        CHECK(left == 0);
    }
    // Where nothing is left that is said, and nothing is cut.
    auto job = set(set(stepped(drawn(fresh(), {{circle({80, 80}, 30), {}}}, "floor"), "clear", "end-6"), "depth", "2"),
                   "what", "all");
    job = set(set(stepped(job, "clear", "end-3"), "depth", "2"), "what", "what is left");
    const auto path = planned(job);
    CHECK(path.steps.size() == 1);
    REQUIRE(path.snags.size() == 1);
    CHECK(path.snags[0].what.find("Nothing is left") != std::string::npos);
    // What was not cleared as deep is not done.
    CHECK(planned(set(job, "depth", "3")).steps.size() == 2);
}

// Grooves, judged by what a cone does over places that know nothing of how its way was found.
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

struct Stretch {
    toolpath::Vec3 from, to;
};
struct Carved {
    double cutInto = 0, left = 0, floorLeft = 0, lowest = 0; ///< mm
    double fastDown = 0;                                     ///< over the plunge feed, 1: as fast as that
    std::size_t rapidsBelow = 0;
};
/// A tool's lower end from its dimensions alone: a cone with a flat, or going over into a ball.
struct Lower {
    double tip, slope, ball = 0, touch = 0; ///< touch: mm out, where the ball ends

    explicit Lower(const shop::Tool& tool) : tip(tool.tip / 2), slope(std::tan(tool.angle * pi / 360)) {
        if (tool.kind == shop::ToolKind::taperedBall)
            ball = tool.corner, touch = ball * std::cos(tool.angle * pi / 360);
        if (tool.kind == shop::ToolKind::ball) ball = touch = tool.diameter / 2;
    }
    [[nodiscard]] double rise(double r) const {
        if (ball <= 0) return std::max(0.0, r - tip) / slope;
        const double on = std::min(r, touch);
        return ball - std::sqrt(ball * ball - on * on) + (r - on) / slope;
    }
    [[nodiscard]] double reach(double h) const {
        if (ball <= 0) return tip + h * slope;
        const double end = ball - std::sqrt(ball * ball - touch * touch);
        return h > end ? touch + (h - end) * slope : std::sqrt(std::max(0.0, h * (2 * ball - h)));
    }
};
/// `limit`: as deep as it may go; `step`: which of the toolpath's.
Carved carved(const job::Job& job, const std::vector<Piece>& pieces, double limit, std::size_t step = 0) {
    const auto path = planned(job);
    REQUIRE(path.steps.size() > step);
    const auto& tool = path.steps[step].tool;
    const Lower lower(tool);
    const Rings rings = ringsOf(pieces);
    Carved out;
    std::vector<Stretch> cuts;
    std::vector<Stretch> mills;
    toolpath::forEachMove(path, [&](const auto& moves, std::size_t, toolpath::Vec3 from, const Move& move) {
        const bool mine = &moves == &path.steps[step], rapid = move.kind == Move::Kind::rapid;
        out.rapidsBelow += rapid && from.z < 0 && distance(from.flat(), move.to.flat()) > 1e-9;
        if (rapid || std::min(from.z, move.to.z) >= 0) return;
        toolpath::Vec3 a = from;
        double done = 0;
        const double whole = lengthOf(from.flat(), move.flat());
        flattenSegment(from.flat(), move.flat(), 0.0005, [&](Vec2 p) {
            done += distance(a.flat(), p);
            const toolpath::Vec3 b{p.x, p.y, whole > 0 ? from.z + (move.to.z - from.z) * done / whole : move.to.z};
            (mine ? cuts : mills).push_back({a, b});
            a = b;
        });
        if (!mine) return;
        const double down = from.z - move.to.z, way = toolpath::distance(from, move.to);
        if (down > 1e-9)
            out.fastDown = std::max(out.fastDown, static_cast<double>(move.feed) * down / way / moves.plunge);
        const int parts = std::max(1, static_cast<int>(way / 0.3));
        for (int k = 0; k <= parts; ++k) {
            const double t = static_cast<double>(k) / parts, z = from.z + (move.to.z - from.z) * t;
            const Vec2 p = pointAt(from.flat(), move.flat(), t);
            if (z < 0) out.cutInto = std::max(out.cutInto, lower.reach(-z) - room(rings, p));
            out.lowest = std::min(out.lowest, z);
        }
    });
    // Wherever the tool could stand as deep as the edges let it, nothing may stand above its point.
    Box box;
    for (const auto& ring : rings)
        for (const Vec2 p : ring) box.take(p);
    const double millRadius = step > 0 ? path.steps[0].tool.radius() : 0;
    for (double x = box.low.x + 0.05; x < box.high.x; x += box.width() / 30)
        for (double y = box.low.y + 0.07; y < box.high.y; y += box.height() / 30) {
            const double free = room(rings, {x, y});
            if (free <= lower.tip) continue;
            const double wanted = std::min(limit, lower.rise(free));
            double surface = 0;
            for (const auto& s : cuts) {
                if (distanceToLine({x, y}, s.from.flat(), s.to.flat()) > lower.reach(limit)) continue;
                const Vec2 a = s.from.flat(), way = s.to.flat() - a;
                const double size2 = dot(way, way);
                // Near the foot, and either way of it: a ramp cuts most where its cone is nearest.
                const double foot = size2 > 0 ? dot(Vec2{x, y} - a, way) / size2 : 0;
                const double lean = size2 > 0 ? lower.slope * (s.to.z - s.from.z) / std::sqrt(size2) : 0;
                const double off = distanceToLine({x, y}, a, s.to.flat());
                const double best = std::abs(lean) < 1 && size2 > 0
                                        ? foot - off * lean / std::sqrt(1 - lean * lean) / std::sqrt(size2)
                                        : foot;
                const auto take = [&](double t) {
                    const double d = distance(a + way * t, {x, y});
                    surface = std::min(surface, s.from.z + (s.to.z - s.from.z) * t + lower.rise(d));
                };
                for (const double t : {std::clamp(best, 0.0, 1.0), std::clamp(foot, 0.0, 1.0), 0.0, 1.0}) take(t);
                for (int k = 1; k < 40 && lower.ball > 0; ++k) take(k / 40.0);
            }
            for (const auto& s : mills)
                if (distanceToLine({x, y}, s.from.flat(), s.to.flat()) <= millRadius)
                    surface = std::min(surface, std::max(s.from.z, s.to.z));
            double& worst = wanted >= limit ? out.floorLeft : out.left;
            worst = std::max(worst, surface + wanted);
        }
    return out;
}
/// The same with another angle of the point.
job::Job angled(job::Job job, double angle) {
    for (auto& tool : job.tools)
        if (tool.kind == shop::ToolKind::vBit) tool.angle = angle;
    return job;
}
std::vector<Piece> shape(unsigned seed) {
    Piece piece;
    switch (seed % 5) {
    case 0: piece.outline = rectangle({40, 40}, {90, 52}); break;
    case 1: piece.outline = curvedBlob(seed, {70, 70}, 20); break;
    case 2: piece.outline = pathOf(blob(seed, {70, 70}, 20, 13, 0.6), true); break;
    case 3:
        piece.outline = circle({70, 70}, 18);
        piece.openings = {wound(circle({73, 71}, 9), false)};
        break;
    default:
        piece.outline = pathOf(ring("40,40 88,40 88,47 66,49 66,80 88,82 88,88 40,88 40,82 56,80 56,49 40,47"), true);
    }
    piece.outline = wound(piece.outline, true);
    return {piece};
}
job::Job grooved(const job::Job& job, const char* tool, double depth, double perPass) {
    auto next = set(stepped(job, "groove", tool), "depth", fmt::format("{}", depth));
    return set(next, "depthPerPass", fmt::format("{}", perPass));
}

} // namespace

TEST_CASE("groove: as deep as both edges let it, up to the surface in corners, never over an edge", "[property]") {
    for (unsigned seed = 0; seed < 10; ++seed) {
        std::mt19937 random(seed * 31 + 7);
        const auto pick = [&](auto... options) {
            const std::common_type_t<decltype(options)...> list[] = {options...};
            return list[random() % sizeof...(options)];
        };
        const auto pieces = shape(seed);
        const char* tool = pick("v-60", "v-60", "engraver-30");
        const double angle = pick(60.0, 90.0);
        const bool engraver = std::string_view(tool) == "engraver-30";
        const double depth = engraver ? pick(0.4, 1.5) : pick(1.0, 2.5, 5.0), perPass = pick(0.7, 2.0, 9.0);
        const auto job = angled(grooved(drawn(fresh(), pieces, "letters"), tool, depth, perPass), angle);
        const auto& used = *job::toolOf(job, job.plan.steps[0]);
        const double cone = (used.radius() - used.tip / 2) / std::tan(used.angle * pi / 360);
        const auto j = carved(job, pieces, std::min(depth, cone));
        CAPTURE(seed, tool, depth, perPass, j.cutInto, j.left, j.floorLeft, j.lowest, j.fastDown);
        CHECK(j.cutInto < 0.01);
        CHECK(j.left < 0.02);
        CHECK(j.floorLeft < 0.052); // the ridges that are asked for
        CHECK(j.lowest >= -std::min(depth, cone) - 1e-9);
        CHECK(j.fastDown < 1.001);
        CHECK(j.rapidsBelow == 0);
    }
}

TEST_CASE("groove: by a ball, or a ball below a taper, as deep as its curve lets it", "[property]") {
    for (unsigned seed = 0; seed < 8; ++seed) {
        const auto pieces = shape(seed);
        auto job = drawn(fresh(), pieces, "letters");
        for (auto& tool : job.tools)
            if (tool.key == "v-60") {
                tool.kind = seed % 2 ? shop::ToolKind::ball : shop::ToolKind::taperedBall;
                tool.angle = seed % 4 ? 20 : 60, tool.corner = seed % 3 ? 0.75 : 1.5, tool.tip = 0;
                if (seed % 2) tool.diameter = seed % 4 == 1 ? 6 : 3;
            }
        job = grooved(job, "v-60", seed % 3 ? 1.2 : 4, 0.9);
        const auto& used = *job::toolOf(job, job.plan.steps[0]);
        const double limit = std::min(plan::depthIn(job.plan.steps[0])->depth, Lower(used).rise(used.diameter / 2));
        const auto j = carved(job, pieces, limit);
        CAPTURE(seed, limit, j.cutInto, j.left, j.floorLeft, j.lowest, j.fastDown);
        CHECK(j.cutInto < 0.02); // at the surface, where a hundredth deeper is more than that in width
        CHECK(j.left < 0.02);
        CHECK(j.floorLeft < 0.06);
        CHECK(j.lowest >= -limit - 1e-9);
        CHECK(j.fastDown < 1.001);
        CHECK(j.rapidsBelow == 0);
    }
}

TEST_CASE("scribe: a line as wide as its ink was, over passes, and told where the tool cannot", "[property]") {
    // A straight line and an arc, 0.4 to 2.4 mm wide and down to a hair.
    const Path line{
        {40, 40}, {Segment::line({80, 40}), Segment::arc({80, 60}, {100, 60}, true), Segment::line({100, 90})}, false};
    auto job = drawn(fresh(), {{line, {}}}, "letters");
    auto art = *job.artwork;
    art.items.back().leaf = artwork::leafOf({line, {}}, {0.4, 2.4, 1.2, 0.1});
    job.artwork = std::make_shared<const artwork::Artwork>(art);
    job = set(stepped(job, "scribe", "v-60"), "deep", "by ink's width");
    const auto deepest = [](const job::Job& of) {
        double lowest = 0;
        const auto path = planned(of);
        for (const auto& move : path.steps[0].moves) lowest = std::min(lowest, move.to.z);
        return lowest;
    };
    const auto told = [](const job::Job& of) {
        std::string all;
        for (const auto& snag : planned(of).snags) all += snag.what + "\n";
        return all;
    };
    job = set(set(job, "depth", "5"), "depthPerPass", "0.8");
    CHECK(told(job).empty());
    const Lower lower(*job::toolOf(job, job.plan.steps[0]));
    CHECK(deepest(job) == Approx(-lower.rise(1.2)).margin(0.002));
    // The deepest of all passes at each of some places along the line, by the moves alone.
    const Ruler ruler(line);
    const double first = 40, second = first + pi / 2 * 20;
    for (double along = 0.5; along < ruler.length(); along += 3.7) {
        const Vec2 at = ruler.at(along).point;
        double z = 0;
        toolpath::forEachMove(planned(job), [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            if (move.kind == Move::Kind::rapid || distanceToLine(at, from.flat(), move.to.flat()) > 0.003) return;
            const double whole = distance(from.flat(), move.to.flat());
            const double t = whole > 0 ? distance(from.flat(), at) / whole : 1;
            z = std::min(z, std::lerp(from.z, move.to.z, std::min(1.0, t)));
        });
        const double width = along < first    ? std::lerp(0.4, 2.4, along / first)
                             : along < second ? std::lerp(2.4, 1.2, (along - first) / (second - first))
                                              : std::lerp(1.2, 0.1, (along - second) / 30);
        CAPTURE(along, width, z);
        CHECK(2 * lower.reach(-z) == Approx(width).margin(0.012));
    }
    CHECK(told(set(job, "depth", "1")).find("Ink is wider than the line of 1.2") != std::string::npos);
    CHECK(told(set(job, "tool", "end-3")).find("as wide at every depth") != std::string::npos);
    art.items.back().leaf = artwork::leafOf({line, {}});
    job.artwork = std::make_shared<const artwork::Artwork>(art);
    CHECK(told(job).find("not known how wide") != std::string::npos);
    CHECK(planned(job).steps.empty());
}

TEST_CASE("groove: what an end mill has cleared of the floor is left out, the rest is not", "[property]") {
    for (const unsigned seed : {1u, 2u, 4u}) {
        const auto pieces = shape(seed);
        const auto bare = drawn(fresh(), pieces, "letters");
        auto job = set(set(stepped(bare, "clear", "end-3"), "depth", "1.5"), "slant", "30");
        job = grooved(job, "v-60", 1.5, 2);
        const auto j = carved(job, pieces, 1.5, 1);
        CAPTURE(seed, j.cutInto, j.left, j.floorLeft);
        CHECK(j.cutInto < 0.01);
        CHECK(j.left < 0.02);
        CHECK(j.floorLeft < 0.06); // and a thread along what the mill has left
        const auto lengthIn = [](const job::Job& of) {
            double sum = 0;
            for (const auto& step : planned(of).steps)
                if (step.kind->name == "groove") {
                    Vec2 at;
                    for (const auto& move : step.moves) {
                        if (move.kind != Move::Kind::rapid) sum += lengthOf(at, move.flat());
                        at = move.to.flat();
                    }
                }
            return sum;
        };
        CHECK(lengthIn(job) < 0.5 * lengthIn(grooved(bare, "v-60", 1.5, 2)));
    }
}

TEST_CASE("groove: a second tip takes only what was too narrow for the first") {
    // A wedge from nothing to 12 mm: the wider tip begins where the wedge is as wide as that.
    const std::vector<Piece> wedge{{wound(pathOf(ring("40,50 100,44 100,56"), true), true), {}}};
    auto job = drawn(fresh(), wedge, "letters");
    for (auto& tool : job.tools)
        if (tool.key == "v-60") tool.tip = 2;
    job = grooved(job, "v-60", 5, 9);
    const auto alone = grooved(job, "engraver-30", 1.5, 9);
    const auto rest = set(alone, "what", "what is left");
    const auto farthest = [](const job::Job& of) {
        double x = 0;
        const auto path = planned(of);
        for (const auto& move : path.steps.at(1).moves)
            if (move.kind != Move::Kind::rapid && std::abs(move.to.y - 50) < 1) x = std::max(x, move.to.x); // no corner
        return x;
    };
    const double begins = 40 + 1 / (std::sin(std::atan(0.1))); // where the edges are a tip's radius from the middle
    CHECK(farthest(rest) == Approx(begins + 0.2).margin(0.05));
    CHECK(farthest(alone) > 70);
    job = set(grooved(drawn(fresh(), wedge, "letters"), "engraver-30", 1.5, 9), "what", "what is left");
    const auto path = planned(job);
    REQUIRE(path.snags.size() > 0);
    CHECK(path.snags[0].what.find("grooved whole") != std::string::npos);
}

TEST_CASE("groove: what cannot be as it was asked is told") {
    const auto snagOf = [](const job::Job& job) {
        std::string all;
        for (const auto& snag : planned(job).snags) all += snag.what + " " + snag.mend + "\n";
        return all;
    };
    const auto wide = drawn(fresh(), {{rectangle({40, 40}, {90, 90}), {}}}, "letters");
    CHECK(snagOf(grooved(wide, "v-60", 3, 3)).find("flat floor with its point") != std::string::npos);
    CHECK(snagOf(angled(grooved(wide, "v-60", 9, 3), 90)).find("at most") != std::string::npos);
    const auto thin = drawn(fresh(), {{rectangle({40, 40}, {90, 40.15}), {}}}, "letters");
    CHECK(snagOf(grooved(thin, "engraver-30", 1, 1)).find("tip of 0.2 mm") != std::string::npos);
    const auto hall = drawn(fresh(), {{rectangle({20, 20}, {580, 380}), {}}}, "letters");
    CHECK(snagOf(grooved(hall, "v-60", 3, 3)).find("m of way for the point") != std::string::npos);
    CHECK(planned(grooved(hall, "v-60", 3, 3)).steps.empty());
    const auto crossed = drawn(fresh(), {{pathOf(ring("40,40 90,80 90,40 40,80"), true), {}}}, "letters");
    CHECK(snagOf(grooved(crossed, "v-60", 3, 3)).find("65.00, 60.00") != std::string::npos);
}

TEST_CASE("bevel: takes so much off the edge as was asked, on the part alone", "[property]") {
    for (unsigned seed = 0; seed < 8; ++seed) {
        auto pieces = shape(seed);
        if (seed % 2 && pieces[0].openings.empty()) pieces[0].openings.push_back(wound(circle({70, 70}, 5), false));
        const double width = seed % 3 ? 1.2 : 0.6, below = seed % 2 ? 0.5 : 0.2;
        auto job = set(stepped(drawn(fresh(), pieces), "bevel", "v-60"), "width", fmt::format("{}", width));
        job = set(set(job, "pointBelow", fmt::format("{}", below)), "direction", seed % 2 ? "climb" : "conventional");
        const auto path = planned(angled(job, 90));
        CAPTURE(seed, path.pieces->contours.size(), path.pieces->taken[0].size());
        INFO((path.snags.empty() ? "" : path.snags[0].what));
        REQUIRE(path.steps.size() == 1);
        const Rings rings = ringsOf(pieces);
        double most = 0, least = 1e9, deepest = 0; // how far the cone reaches over the edge, at the surface
        toolpath::forEachMove(path, [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
            deepest = std::min(deepest, move.to.z);
            if (move.kind == Move::Kind::rapid || move.to.z > deepest + 1e-9 || from.z != move.to.z) return;
            for (int k = 0; k < 20; ++k) {
                const Vec2 p = pointAt(from.flat(), move.flat(), k / 20.0);
                const double reach = step.tool.radiusAt(-move.to.z) + room(rings, p); // the part is inside
                most = std::max(most, reach), least = std::min(least, reach);
            }
        });
        CAPTURE(seed, width, below);
        CHECK(most < width + 0.01);
        CHECK(least > width - 0.01);
        CHECK(deepest == Approx(-(width + below))); // 90°: as deep as it is wide
        CHECK(path.snags.empty());
    }
    const auto snags = planned(set(stepped(drawn(fresh(), shape(0)), "bevel", "v-60"), "width", "20")).snags;
    REQUIRE(snags.size() == 1);
    CHECK(snags[0].verdict == Verdict::noGo);
}

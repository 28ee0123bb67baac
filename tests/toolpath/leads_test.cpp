#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

/// How near the tool's axis comes to an outline while it is below the top, mm.
double nearest(const toolpath::Toolpath& path, const Path& outline) {
    const Ring ring = flattened(outline, 0.001);
    double least = 1e9;
    toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (std::min(from.z, move.to.z) > -1e-9) return;
        Vec2 a = from.flat();
        flattenSegment(a, move.flat(), 0.001, [&](Vec2 b) {
            for (std::size_t k = 0; k < ring.size(); ++k)
                least = std::min(least, distanceBetween(a, b, ring[k], ring[(k + 1) % ring.size()]));
            a = b;
        });
    });
    return least;
}

} // namespace

TEST_CASE("leads: they keep clear of every neighbour, however near and however long they are asked for", "[safety]") {
    for (const char* lead : {"0", "2", "5", "12"})
        for (const double gap : {6.2, 8.0, 11.0, 20.0}) {
            const Path left = rectangle({40, 40}, {100, 100}, 0),
                       right = rectangle({100 + gap, 30}, {160 + gap, 110}, 0),
                       above = circle({70, 100 + gap + 25}, 25);
            auto job = stepped(drawn(fresh(), {{left, {}}, {right, {}}, {above, {}}}), "outline", "end-6");
            job = set(set(job, "lead", lead), "hold", "none");
            const auto path = planned(job);
            CAPTURE(lead, gap);
            for (const Path* part : {&left, &right, &above}) CHECK(nearest(path, *part) == Approx(3).margin(0.006));
        }
}

TEST_CASE("leads: a start that was placed is where each pass begins, by whatever lead has room there") {
    const Path part = rectangle({40, 40}, {120, 100}, 12);
    const auto base = set(set(stepped(drawn(fresh(), {{part, {}}}), "outline", "end-6"), "hold", "none"), "lead", "2");
    const auto item = base.artwork->items.front().id;
    int flats = 0;
    for (const char* entry : {"ramp", "plunge"})
        for (const char* by : {"arc", "straight"})
            for (const char* leads : {"in only", "in and out"})
                for (const double along : {0.03, 0.2, 0.51, 0.77}) {
                    auto job = set(set(set(base, "entry", entry), "leadBy", by), "leads", leads);
                    job = set(with(job, job::withStart(job, lastStep(job), item, -1, along)), "leadOut", "5");
                    const auto path = planned(job);
                    const Ruler ruler(path.pieces->contours[0].path);
                    const Vec2 asked = ruler.at(along * ruler.length()).point;
                    CAPTURE(entry, by, leads, along);
                    CHECK(path.snags.empty());
                    CHECK(distance(path.steps[0].cuts[0].centre.start, asked) == Approx(3).margin(0.02));
                    CHECK(nearest(path, part) == Approx(3).margin(0.006));
                    // Where it goes down and where it comes up: off the part by what each lead is asked to.
                    const auto& moves = path.steps[0].moves;
                    const double off = by == std::string_view("arc") ? 1 : std::sqrt(0.5);
                    const auto offPart = [&](Vec2 p) {
                        const Ring ring = flattened(part, 0.001);
                        double least = 1e9;
                        for (std::size_t k = 0; k < ring.size(); ++k)
                            least = std::min(least, distanceToLine(p, ring[k], ring[(k + 1) % ring.size()]));
                        return least;
                    };
                    // Beside a round corner it is further off.
                    const auto tangentOff = [&](double way) {
                        const double at = along * ruler.length() + way + ruler.length();
                        return ruler.at(std::fmod(at, ruler.length())).tangent;
                    };
                    const bool flat = dot(tangentOff(-6), tangentOff(6)) > 0.9999;
                    flats += flat;
                    if (flat) CHECK(offPart(moves.front().to.flat()) == Approx(3 + 2 * off).margin(0.02));
                    if (flat)
                        CHECK(offPart(moves.back().to.flat()) ==
                              Approx(leads == std::string_view("in only") ? 3 : 3 + 5 * off).margin(0.02));
                }
    CHECK(flats >= 8);
    // On a tab it begins elsewhere, and that is told; taken away again it begins where it did.
    auto job = set(base, "hold", "tabs");
    job = with(job, job::withTabs(job, lastStep(job), item, -1, {0.2, 0.7}));
    const auto before = planned(job);
    const auto onTab = planned(with(job, job::withStart(job, lastStep(job), item, -1, 0.2)));
    REQUIRE(onTab.snags.size() == 1);
    CHECK(onTab.snags[0].what.find("a tab lies") != std::string::npos);
    auto back = with(job, job::withStart(job, lastStep(job), item, -1, 0.4));
    CHECK(planned(back).steps[0].moves.front().to != before.steps[0].moves.front().to);
    back = with(back, job::withStart(back, lastStep(back), item, -1, std::nullopt));
    CHECK(planned(back).steps[0].moves.front().to == before.steps[0].moves.front().to);
    CHECK_FALSE(job::withStart(job, lastStep(job), item, 0, 0.5));
    CHECK_FALSE(job::withStart(job, lastStep(job), item, -1, 1.5));
}

TEST_CASE("outline: one side of an open line is followed at the tool's radius, all passes the same way", "[property]") {
    for (unsigned seed = 0; seed < 16; ++seed) {
        std::mt19937 random(seed + 11);
        Path line{{40, 80}, {}, false};
        for (int k = 1; k < 7; ++k) {
            const Vec2 to{40.0 + 16 * k, 60 + 40.0 * static_cast<double>(random() % 1000) / 1000};
            line.segments.push_back(Segment::line(to));
        }
        const bool left = random() % 2, climb = random() % 2, ramp = random() % 2;
        const char* allowance = random() % 2 ? "0" : "0.5";
        auto job = set(stepped(drawn(fresh(), {{line, {}}}), "outline", "end-6"), "side", left ? "left" : "right");
        job = set(set(job, "direction", climb ? "climb" : "conventional"), "entry", ramp ? "ramp" : "plunge");
        job = set(set(job, "allowance", allowance), "depthPerPass", "4");
        const auto path = planned(job);
        CAPTURE(seed, left, climb, ramp, allowance);
        for (const auto& s : path.snags) UNSCOPED_INFO(s.what);
        CHECK(path.snags.size() <= (ramp ? 1 : 0)); // that it comes in without its lead
        REQUIRE(path.steps.size() == 1);
        const double off = 3 + std::atof(allowance);
        const double bottom = bottomOf(job, job.plan.steps[0]);
        std::vector<Vec2> line2{line.start};
        for (const auto& s : line.segments) line2.push_back(s.end);
        const auto offLine = [&](Vec2 p) {
            double least = 1e9;
            for (std::size_t k = 0; k + 1 < line2.size(); ++k)
                least = std::min(least, distanceToLine(p, line2[k], line2[k + 1]));
            return least;
        };
        std::vector<std::pair<Vec2, Vec2>> floor;
        double ahead = 0, back = 0;
        std::size_t wrong = 0;
        toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            if (move.kind == Move::Kind::rapid || std::min(from.z, move.to.z) > -1e-9) return;
            Vec2 a = from.flat();
            flattenSegment(a, move.flat(), 0.001, [&](Vec2 b) {
                wrong += offLine(b) < off - 0.006;
                if (from.z == move.to.z) (b.x > a.x ? ahead : back) += std::abs(b.x - a.x);
                if (std::abs(move.to.z + bottom) < 1e-9 && from.z == move.to.z) floor.emplace_back(a, b);
                a = b;
            });
        });
        CHECK(wrong == 0);
        // With the spindle turning clockwise climb has the part on the right: on the line's left it goes as drawn.
        CHECK((left == climb ? ahead > 3 * back : back > 3 * ahead));
        std::size_t missed = 0, asked = 0;
        for (std::size_t k = 0; k + 1 < line2.size(); ++k)
            for (double t = 0.02; t < 1; t += 0.02) {
                const Vec2 p = lerp(line2[k], line2[k + 1], t), u = unit(line2[k + 1] - line2[k]);
                const Vec2 beside = p + perpendicular(u) * (left ? off : -off);
                if (offLine(beside) < off - 0.002) continue; // an inner corner keeps the tool off
                ++asked;
                missed += std::none_of(floor.begin(), floor.end(), [&](const auto& way) {
                    return distanceToLine(beside, way.first, way.second) < 0.008;
                });
            }
        CHECK(asked > 100);
        CHECK(missed == 0);
    }
    // A spiral that the tool cannot follow is told; a closed outline has no left.
    Path tight{{40, 40}, {}, false};
    for (const Vec2 p : {Vec2{90, 40}, Vec2{90, 44}, Vec2{60, 44}}) tight.segments.push_back(Segment::line(p));
    const auto spiral = planned(set(stepped(drawn(fresh(), {{tight, {}}}), "outline", "end-6"), "side", "left"));
    REQUIRE(spiral.snags.size() == 1);
    CHECK(spiral.snags[0].verdict == Verdict::noGo);
    const auto closed =
        planned(set(stepped(drawn(fresh(), {{circle({80, 80}, 20), {}}}), "outline", "end-6"), "side", "right"));
    REQUIRE(closed.snags.size() == 1);
    CHECK(closed.snags[0].what.find("no left or right") != std::string::npos);
    CHECK(nearest(closed, circle({80, 80}, 20)) == Approx(3).margin(0.006));
}

TEST_CASE("skim: lines run along the side that is asked for, and it is told from which depth it begins") {
    for (const bool upright : {false, true}) {
        auto job = fresh();
        job.sheet().stock = {.width = 120, .height = 80, .thickness = 12};
        job = set(set(stepped(job, "skim", "end-6"), "along", upright ? "height" : "width"), "depth", "2.5");
        job = set(job, "startDepth", "1");
        const auto path = planned(job);
        double across = 0, upward = 0;
        toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
            if (move.kind == Move::Kind::rapid || move.to.z > -1) return;
            across += std::abs(move.to.x - from.x), upward += std::abs(move.to.y - from.y);
        });
        CAPTURE(upright, across, upward);
        CHECK((upright ? upward > 3 * across : across > 3 * upward));
        REQUIRE(path.steps[0].cuts.size() == 1);
        CHECK(path.steps[0].cuts[0].intent.top == 1);
        CHECK(path.steps[0].cuts[0].intent.bottom == 2.5);
    }
}

TEST_CASE(
    "leads: where there is room every pass comes and goes by a quarter arc at its depth, and ramps take their angle") {
    const Path disc = circle({100, 100}, 30);
    for (const char* entry : {"plunge", "ramp"})
        for (const double lead : {0.0, 3.0, 6.0}) {
            auto job = set(stepped(drawn(fresh(), {{disc, {}}}), "outline", "end-6"), "entry", entry);
            job = set(set(set(job, "lead", fmt::format("{}", lead)), "hold", "none"), "depthPerPass", "4");
            const auto path = planned(set(job, "rampAngle", "4"));
            CAPTURE(entry, lead);
            const bool ramps = std::string_view(entry) == "ramp";
            double down = 0, way = 0;
            std::size_t leads = 0, ends = 0, lifts = 0;
            const auto out = [&](Vec2 p) { return distance(p, {100, 100}) - 33; }; // off the loop, mm
            toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
                const double along = lengthOf(from.flat(), move.flat());
                if (move.kind != Move::Kind::rapid && along > 1e-6) {
                    CHECK(move.to.z <= 1e-9); // whatever goes sideways at a feed is in the stock
                    if (move.to.z < from.z - 1e-9) down += from.z - move.to.z, way += along;
                    if (move.kind == Move::Kind::arc && distance(move.centre, {100, 100}) > 1) {
                        ++leads;
                        CHECK(distance(move.centre, move.to.flat()) == Approx(lead));
                        // On to the loop, or off it, by all of its radius.
                        CHECK(std::min(out(from.flat()), out(move.to.flat())) == Approx(0).margin(0.01));
                        CHECK(std::max(out(from.flat()), out(move.to.flat())) > 0.4 * lead);
                    }
                }
                // Where it lifts off it has left the part.
                if (move.to.z > from.z + 1e-9 && from.z < -1e-6 && along < 1e-9) {
                    ++lifts;
                    ends += out(from.flat()) > 0.4 * lead - 0.01;
                }
            });
            const std::size_t passes = ramps ? 1 : 4; // 12.3 mm at 4 a pass
            CHECK(lifts == passes);
            CHECK(ends == passes);
            CHECK(leads == (lead > 0 ? 2 * passes : 0));
            if (ramps) CHECK(down / way == Approx(std::tan(4 * pi / 180)).epsilon(0.01));
        }
}

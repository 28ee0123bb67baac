// What outlines can be asked for beyond their depth: finish passes, skins, reliefs, tabs that rise slowly.
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

struct Place {
    Vec2 at;
    double z, feed;
    std::size_t cut;
};
/// Where the tool's middle was below the stock's top, every fifth of a mm, in order.
std::vector<Place> below(const toolpath::Toolpath& path) {
    std::vector<Place> places;
    toolpath::forEachMove(path, [&](const auto& step, std::size_t i, toolpath::Vec3 from, const Move& move) {
        if (move.kind == Move::Kind::rapid) return;
        const double way = std::max(lengthOf(from.flat(), move.flat()), std::abs(move.to.z - from.z));
        const int parts = std::max(1, static_cast<int>(std::ceil(way / 0.2)));
        std::size_t cut = 0;
        while (cut + 1 < step.cuts.size() && i >= step.cuts[cut].end) ++cut;
        for (int k = 1; k <= parts; ++k) {
            const double t = static_cast<double>(k) / parts, z = from.z + (move.to.z - from.z) * t;
            if (z < 0) places.push_back({pointAt(from.flat(), move.flat(), t), z, static_cast<double>(move.feed), cut});
        }
    });
    return places;
}
job::Job outlined(std::vector<Piece> pieces, const char* tool = "end-6") {
    return set(stepped(drawn(fresh(), std::move(pieces)), "outline", tool), "hold", "none");
}
const Piece panel{wound(rectangle({40, 40}, {120, 90}, 4), true), {wound(rectangle({60, 55}, {90, 75}), false)}};

} // namespace

TEST_CASE("outline: passes keep off what the last one at full depth takes, at its own feed", "[property]") {
    auto job = set(set(outlined({panel}), "finish", "0.4"), "finishFeed", "777");
    job = set(set(job, "depthPerPass", "3"), "lead", "1");
    const auto path = planned(job);
    REQUIRE(path.steps.size() == 1);
    CHECK(path.snags.empty());
    const double radius = path.steps[0].tool.radius(), bottom = bottomOf(job, job.plan.steps[0]);
    const Rings rings = ringsOf({panel});
    std::size_t finished = 0;
    double nearest = 1e9, before = 1e9;
    for (const auto& p : below(path)) {
        const double off = -room(rings, p.at) - radius; // the part is inside
        nearest = std::min(nearest, off);
        if (p.feed == 777 && p.z == Approx(-bottom))
            ++finished;
        else if (p.feed > 777) // leads at the plunge feed aside
            before = std::min(before, off);
    }
    CHECK(before > 0.395);
    CHECK(nearest == Approx(0).margin(0.006));
    CHECK(static_cast<double>(finished) * 0.2 > 2 * (80 + 50) + 2 * (24 + 14));
    // Each edge by itself, and nothing else between its passes and its last.
    const auto& cuts = path.steps[0].cuts;
    REQUIRE(cuts.size() == 4);
    CHECK(cuts[0].intent.contour == cuts[1].intent.contour);
    CHECK(cuts[0].intent.allowance == Approx(0.4));
    CHECK(cuts[1].intent.allowance == 0);
    // Where the passes before come not by, it is not gone into at full depth: it is cut as if nothing had been asked.
    const Piece waist{
        wound(pathOf(ring("40,40 70,40 70,61 90,61 90,40 120,40 120,90 90,90 90,67.4 70,67.4 70,90 40,90"), true),
              false),
        {}};
    auto narrow = set(set(outlined({waist}), "side", "inside"), "finish", "0.4");
    narrow = set(narrow, "depthPerPass", "3");
    const auto told = planned(narrow);
    REQUIRE(told.snags.size() == 1);
    CHECK(told.snags[0].what.find("too narrow") != std::string::npos);
    CHECK(planned(set(narrow, "finish", "0")).count() == told.count());
}

TEST_CASE("outline: a skin stays below what it holds, and is cut when all else is done if that is asked", "[safety]") {
    const std::vector<Piece> pieces{panel, {wound(circle({150, 60}, 7), true), {}}};
    auto job = set(set(outlined(pieces), "skinUnder", "20"), "skin", "0.5");
    const double thickness = job.sheet().stock.thickness, bottom = bottomOf(job, job.plan.steps[0]);
    const auto lowest = [&](const toolpath::Toolpath& path, bool small) {
        double least = 0;
        for (const auto& p : below(path))
            if ((distance(p.at, {150, 60}) < 14) == small) least = std::min(least, p.z);
        return least;
    };
    const auto held = planned(job);
    CHECK(lowest(held, true) == Approx(0.5 - thickness));
    CHECK(lowest(held, false) == Approx(-bottom));
    for (const auto& cut : held.steps[0].cuts)
        if (distance(cut.centre.start, {150, 60}) < 14) CHECK_FALSE(cut.intent.frees);
    const auto all = planned(set(job, "hold", "skin"));
    CHECK(lowest(all, false) == Approx(0.5 - thickness));

    job = set(job, "skinFeed", "333");
    const auto freed = planned(job);
    const auto places = below(freed);
    CHECK(lowest(freed, true) == Approx(-bottom));
    bool through = false;
    for (const auto& p : places) {
        const bool now = p.z < 0.5 - thickness - 1e-9 && distance(p.at, {150, 60}) < 14;
        if (through) CHECK(distance(p.at, {150, 60}) < 14); // nothing else after it
        if (now) CHECK(p.feed <= 333);
        through = through || now;
    }
    CHECK(through);
    CHECK(freed.steps[0].cuts.back().intent.frees);
}

TEST_CASE("outline: reliefs let a square corner in, no further than they need, each its own way", "[property]") {
    for (const char* tool : {"end-3", "end-6"})
        for (const double turn : {0.0, 0.4}) {
            Piece hole{wound(transformed(rectangle({60, 60}, {100, 80}), Transform::rotated(turn, {80, 70})), true),
                       {}};
            const double radius = book().tool(tool)->radius();
            for (const char* form : {"none", "corner", "long edge", "short edge"}) {
                const auto job = set(set(outlined({hole}, tool), "side", "inside"), "relief", form);
                const auto path = planned(job);
                CAPTURE(tool, turn, form);
                const Rings rings = ringsOf({hole});
                double over = 0, alongLong = 0, alongShort = 0;
                std::vector<double> missed;
                for (std::size_t k = 0; k < 4; ++k) {
                    const Vec2 corner = hole.outline.from(k);
                    double least = 1e9;
                    for (const auto& p : below(path)) least = std::min(least, distance(p.at, corner) - radius);
                    missed.push_back(least);
                }
                for (const auto& p : below(path)) {
                    const Vec2 q = Transform::rotated(-turn, {80, 70})(p.at) - Vec2{80, 70};
                    over = std::max(over, radius - room(rings, p.at));
                    alongLong = std::max(alongLong, std::abs(q.x) + radius - 20);
                    alongShort = std::max(alongShort, std::abs(q.y) + radius - 10);
                }
                const double root = std::sqrt(2.0);
                const bool none = std::string_view(form) == "none", middle = std::string_view(form) == "corner",
                           longer = std::string_view(form) == "long edge";
                for (const double miss : missed) CHECK(miss == Approx(none ? radius * (root - 1) : 0).margin(0.01));
                CHECK(alongLong == Approx(none     ? 0
                                          : middle ? radius * (1 - 1 / root)
                                          : longer ? radius
                                                   : 0)
                                       .margin(0.01));
                CHECK(alongShort == Approx(none     ? 0
                                           : middle ? radius * (1 - 1 / root)
                                           : longer ? 0
                                                    : radius)
                                        .margin(0.01));
                CHECK(over == Approx(none ? 0 : middle ? radius * (1 - 1 / root) : radius).margin(0.01));
            }
        }
    // Round corners and obtuse ones need none.
    const Piece round{wound(rectangle({60, 60}, {100, 80}, 5), true), {}};
    const auto job = set(set(outlined({round}), "side", "inside"), "relief", "corner");
    const auto plain = planned(job);
    for (const auto& cut : plain.steps[0].cuts) CHECK(cut.intent.reliefs.empty());
}

TEST_CASE("outline: tabs rise and fall no steeper than asked, as many as asked, and stand at their height",
          "[safety]") {
    for (const char* entry : {"ramp", "plunge"})
        for (const char* count : {"1", "3", "7"}) {
            auto job = set(set(outlined({{wound(rectangle({40, 40}, {160, 120}, 6), true), {}}}), "hold", "tabs"),
                           "entry", entry);
            job = set(set(set(job, "tabEnds", "sloped"), "tabCount", count), "rampAngle", "12");
            job = set(set(job, "tabHeight", "3"), "tabWidth", "6");
            const auto path = planned(job);
            REQUIRE(path.steps.size() == 1);
            REQUIRE(path.steps[0].cuts.size() == 1);
            const auto& cut = path.steps[0].cuts[0];
            CAPTURE(entry, count);
            CHECK(cut.tabs.size() == static_cast<std::size_t>(std::atoi(count)));
            const Ruler ruler(cut.centre);
            const double half = 3 + path.steps[0].tool.radius(), slope = std::tan(30 * pi / 180);
            const double top = cut.tabTop, bottom = bottomOf(job, job.plan.steps[0]);
            CHECK(top == Approx(3 - job.sheet().stock.thickness));
            double lowest = 0;
            for (const auto& p : below(path)) {
                lowest = std::min(lowest, p.z);
                const double at = ruler.nearest(p.at);
                if (distance(ruler.at(at).point, p.at) > 1e-6) continue; // a lead
                for (const double tab : cut.tabs) {
                    double off = std::abs(at - tab);
                    off = std::min(off, ruler.length() - off);
                    CHECK(p.z > top - std::max(0.0, off - half) * slope - 1e-6);
                }
            }
            CHECK(lowest == Approx(-bottom));
        }
}

TEST_CASE("outline: it runs past its start as far as asked, and leaves a floor where it goes not through") {
    const Piece disc{wound(circle({80, 80}, 30), true), {}};
    for (const char* entry : {"ramp", "plunge"})
        for (const char* lead : {"0", "2"}) {
            auto job = set(set(set(outlined({disc}), "entry", entry), "lead", lead), "depthPerPass", "50");
            const auto length = [&](const char* overlap) {
                double sum = 0;
                toolpath::forEachMove(planned(set(job, "overlap", overlap)),
                                      [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
                                          if (move.kind != Move::Kind::rapid) sum += lengthOf(from.flat(), move.flat());
                                      });
                return sum;
            };
            CAPTURE(entry, lead);
            CHECK(length("7.5") - length("0") == Approx(7.5).margin(0.01));
        }
    auto job = set(set(set(outlined({disc}), "through", "to depth"), "depth", "4"), "floor", "0.7");
    double lowest = 0;
    for (const auto& p : below(planned(job))) lowest = std::min(lowest, p.z);
    CHECK(lowest == Approx(-3.3));
}

TEST_CASE("outline: passes before a finish leave the same tabs that it leaves, begun where they will", "[safety]") {
    for (unsigned seed = 0; seed < 8; ++seed) {
        const char *ends = seed % 2 ? "upright" : "sloped", *entry = seed % 3 ? "ramp" : "plunge";
        const Piece part{wound(curvedBlob(seed, {120, 120}, 60), true), {}};
        auto job = set(set(set(outlined({part}), "hold", "tabs"), "tabCount", "5"), "finish", "0.5");
        job = set(set(set(job, "tabEnds", ends), "entry", entry), "depthPerPass", "4");
        const auto path = planned(job);
        CAPTURE(seed);
        REQUIRE(path.steps.size() == 1);
        REQUIRE(path.steps[0].cuts.size() == 2);
        const auto &rough = path.steps[0].cuts[0], &last = path.steps[0].cuts[1];
        REQUIRE(rough.tabs.size() == last.tabs.size());
        CHECK(std::is_sorted(rough.tabs.begin(), rough.tabs.end()));
        const Ruler ruler(last.centre);
        const double half = 0.45 * last.tabWidth; // its foot, on the edge; less at bends
        for (const double tab : last.tabs) {
            const Vec2 a = ruler.at(tab - half).point, b = ruler.at(tab + half).point;
            for (const auto& p : below(path))
                if (distanceToLine(p.at, a, b) < path.steps[0].tool.radius() - 0.6) CHECK(p.z > last.tabTop - 1e-6);
        }
    }
}

TEST_CASE("outline: wherever it goes on past its start, its arcs begin on the circle that they end on", "[property]") {
    for (const char* machine : {"mill-600", "laser-700"})
        for (const char* relief : {"none", "corner", "long edge"})
            for (const char* finish : {"0", "0.4"})
                for (const char* overlap : {"0", "3", "30", "90"}) {
                    const bool beam = std::string_view(machine) == "laser-700";
                    const Piece slot{wound(rectangle({60, 60}, {100, 80}), true), {}};
                    auto job = drawn(fresh(machine, beam ? "poplar" : "birch-ply"), {slot});
                    job = set(set(stepped(job, "outline", beam ? "beam" : "end-6"), "side", "inside"), "overlap",
                              overlap);
                    job = set(set(job, "hold", "tabs"), "lead", "2");
                    if (!beam) job = set(set(job, "relief", relief), "finish", finish);
                    job = set(job, "tabWidth", "4");
                    const auto path = planned(job);
                    CAPTURE(machine, relief, finish, overlap);
                    CHECK(path.count() > 0);
                    const Rings rings = ringsOf({slot});
                    toolpath::forEachMove(path,
                                          [&](const auto& step, std::size_t, toolpath::Vec3 from, const Move& move) {
                                              if (move.kind != Move::Kind::arc) return;
                                              CHECK(distance(from.flat(), move.centre) ==
                                                    Approx(distance(move.to.flat(), move.centre)).margin(0.005));
                                              if (std::string_view(relief) == "none") // and keep to the waste
                                                  CHECK(room(rings, move.to.flat()) > step.tool.radius() - 0.01);
                                          });
                }
}

TEST_CASE("outline: what leaves nothing to cut is told, and nothing is cut") {
    const Piece disc{wound(circle({80, 80}, 30), true), {}};
    for (const char* floor : {"4", "9"}) {
        const auto path = planned(set(set(set(outlined({disc}), "through", "to depth"), "depth", "4"), "floor", floor));
        CHECK(path.steps.empty());
        REQUIRE(path.snags.size() == 1);
        CHECK(path.snags[0].verdict == Verdict::noGo);
    }
    const auto all = planned(set(set(outlined({disc}), "hold", "skin"), "skin", "10"));
    CHECK(all.count() > 0); // less than the stock is thick
    auto beam = stepped(drawn(fresh("laser-700", "poplar"), {disc}), "outline", "beam");
    const auto told = planned(set(beam, "hold", "skin"));
    REQUIRE(told.snags.size() == 1);
    CHECK(told.snags[0].what.find("no skin") != std::string::npos);
}

// Layouts, judged by exact edges that know nothing of how they were made.
#include "nest/check.h"
#include "support/jigsaw.h"
#include "support/shapes.h"

using namespace ferro;
using namespace ferro::test;

namespace {

constexpr nest::Settings quick{.effort = 300'000};

nest::Layout laid(const std::vector<nest::Part>& parts, const std::vector<nest::Sheet>& sheets,
                  const nest::Settings& settings = quick) {
    Progress progress;
    auto layout = nest::laidOut(parts, sheets, settings, progress);
    INFO((layout ? "" : layout.problem().text()));
    REQUIRE(layout);
    for (const auto& fault : nest::faultsOf(parts, sheets, settings, *layout)) {
        INFO(fault.what);
        CHECK(false);
    }
    return *layout;
}
std::size_t leftOf(const nest::Layout& layout) {
    std::size_t sum = 0;
    for (const auto& left : layout.left) sum += static_cast<std::size_t>(left.count);
    return sum;
}
nest::Part partOf(Path outline, int quantity = 1, double turnStep = 0) {
    return {{{wound(std::move(outline), true), {}}}, quantity, turnStep};
}
Box placedBox(const nest::Part& part, const nest::Placement& at) {
    return boundsOf(transformed(part.pieces[0], at.place));
}

} // namespace

TEST_CASE("nest: random parts lie apart, within their sheets, turned as they may be, all of them or told",
          "[property]") {
    for (unsigned seed = 1; seed <= 8; ++seed) {
        std::mt19937 random(seed);
        const auto pick = [&](auto... options) {
            const std::common_type_t<decltype(options)...> list[] = {options...};
            return list[random() % sizeof...(options)];
        };
        std::vector<nest::Part> parts;
        for (unsigned i = 0; i < 6; ++i) {
            nest::Part part = partOf(
                random() % 2 ? curvedBlob(seed * 10 + i, {500, -200}, 20.0 + static_cast<double>(random() % 40))
                             : pathOf(blob(seed * 10 + i, {0, 0}, 20.0 + static_cast<double>(random() % 40)), true),
                1 + static_cast<int>(random() % 3), pick(0.0, pi / 2, pi, 2 * pi));
            part.mirror = random() % 2;
            part.filler = random() % 4 == 0;
            parts.push_back(part);
        }
        std::vector<nest::Sheet> sheets{sheetOf(300, 200), sheetOf(250, 250)};
        sheets[0].area.openings.push_back(wound(rectangle({100, 60}, {140, 90}), false));
        if (seed % 2) sheets[1].area.outline = pathOf(ring("0,0 250,0 250,120 150,250 0,250"), true);
        sheets[1].taken.push_back({rectangle({0, 0}, {40, 30}), {}});
        nest::Settings settings = quick;
        settings.spacing = pick(0.0, 0.2, 7.0);
        settings.margin = pick(0.0, 5.0);
        settings.start = static_cast<nest::Corner>(random() % 4);
        settings.keeps = static_cast<nest::Along>(random() % 2);
        settings.seed = seed;
        INFO("seed " << seed);
        const auto layout = laid(parts, sheets, settings);
        CHECK(layout.placed.size() > 0);
        CHECK(layout.share > 0.1);
    }
}

TEST_CASE("nest: the same on every run, and not on another seed") {
    const auto parts = partsOf(jigsaw(3, 10, 300, 200), 1);
    const auto a = laid(parts, {sheetOf(600, 200)}), b = laid(parts, {sheetOf(600, 200)});
    REQUIRE(a.placed.size() == b.placed.size());
    for (std::size_t i = 0; i < a.placed.size(); ++i) {
        const auto &p = a.placed[i].place, &q = b.placed[i].place;
        CHECK((p.a == q.a && p.b == q.b && p.tx == q.tx && p.ty == q.ty));
    }
}

TEST_CASE("nest: a rectangle cut into pieces is filled again, or nearly") {
    const auto parts = partsOf(jigsaw(18, 8, 600, 400), 1);
    const auto layout = laid(parts, {sheetOf(1200, 400)}, {.effort = 1'500'000});
    CHECK(leftOf(layout) == 0);
    CHECK(600 / layout.used > 0.88);
}

TEST_CASE("nest: rectangles lie in rows from the corner asked for, the off-cut at the other end") {
    const auto part = partOf(rectangle({0, 0}, {50, 30}), 12, pi / 2);
    for (int corner = 0; corner < 4; ++corner)
        for (const auto along : {nest::Along::width, nest::Along::height}) {
            nest::Settings settings = quick;
            settings.start = static_cast<nest::Corner>(corner);
            settings.keeps = along;
            settings.spacing = 5;
            settings.margin = 10;
            const auto layout = laid({part}, {sheetOf(500, 400)}, settings);
            REQUIRE(layout.placed.size() == 12);
            Box all;
            for (const auto& one : layout.placed) all.take(placedBox(part, one));
            const bool right = settings.start == nest::Corner::lowerRight || settings.start == nest::Corner::upperRight;
            const bool upper = settings.start == nest::Corner::upperLeft || settings.start == nest::Corner::upperRight;
            CHECK((right ? 500 - all.high.x : all.low.x) == Approx(10).margin(0.1));
            CHECK((upper ? 400 - all.high.y : all.low.y) == Approx(10).margin(0.1));
            const bool wide = along == nest::Along::width, far = wide ? right : upper;
            CHECK(layout.used == Approx(wide  ? far ? 500 - all.low.x : all.high.x
                                        : far ? 400 - all.low.y
                                              : all.high.y)
                                     .margin(0.1));
            const double length = along == nest::Along::width ? all.width() : all.height();
            CHECK(length < (along == nest::Along::width ? 120 : 100)); // 12 of 1500 mm² on a strip of 400 or 500
        }
}

TEST_CASE("nest: a part lies in the opening of another, and not in its material") {
    nest::Part frame = partOf(rectangle({0, 0}, {190, 190}), 1, 2 * pi);
    frame.pieces[0].openings.push_back(wound(rectangle({20, 20}, {170, 170}), false));
    const auto layout =
        laid({frame, partOf(circle({0, 0}, 70))}, {sheetOf(200, 200)}, {.spacing = 4, .margin = 3, .effort = 4000});
    CHECK(layout.placed.size() == 2);
    // A gear over another's ring, bore over bore: no edge crosses, and they overlap.
    const std::vector<nest::Part> gears{{{gear(40, 9)}, 1, 2 * pi}, {{gear(25, 9)}, 1, 2 * pi}};
    nest::Layout wrong;
    wrong.placed = {{0, 0, Transform::moved({50, 50})}, {1, 0, Transform::moved({50, 50})}};
    CHECK(nest::faultsOf(gears, {sheetOf(100, 100)}, {}, wrong).size() == 1);
    CHECK(leftOf(laid(gears, {sheetOf(82, 82)}, {.effort = 2000})) == 1);
}

TEST_CASE("nest: fewer sheets where that can be, must before filler, what is left has a reason") {
    std::vector<nest::Part> parts{partOf(rectangle({0, 0}, {90, 90}), 5, pi / 2), partOf(circle({0, 0}, 400)),
                                  partOf(pathOf(ring("0,0 10,0 0,10 10,10"), true)),
                                  partOf(pathOf(ring("0,0 10,0 20,0"), true)),
                                  partOf(pathOf(ring("0,0 50,0 50,9"), false))};
    parts[0].filler = true;
    parts.push_back(partOf(rectangle({0, 0}, {99, 99}), 3, pi / 2));
    const auto layout = laid(parts, {sheetOf(200, 200), sheetOf(200, 100)});
    std::map<std::size_t, int> count;
    for (const auto& one : layout.placed) ++count[one.part];
    CHECK(count[5] == 3);
    CHECK(count[0] == 3);
    REQUIRE(layout.left.size() == 5);
    CHECK(layout.left[0].why.find("no room") != std::string::npos);
    CHECK(layout.left[1].why.find("none of the sheets") != std::string::npos);
    CHECK(layout.left[2].why.find("crosses itself") != std::string::npos);
    CHECK(layout.left[3].why.find("no area") != std::string::npos);
    CHECK(layout.left[4].why.find("open") != std::string::npos);
}

TEST_CASE("nest: spacing is between parts, the sheet's edge asks for its margin alone") {
    const auto part = partOf(rectangle({0, 0}, {100, 100}), 1, pi / 2);
    CHECK(leftOf(laid({part}, {sheetOf(100, 100)}, {.spacing = 10, .effort = 1000})) == 0);
    CHECK(leftOf(laid({part}, {sheetOf(103.9, 104)}, {.spacing = 10, .margin = 2, .effort = 1000})) == 1);
    CHECK(leftOf(laid({part, part}, {sheetOf(210.2, 100.2)}, {.spacing = 10, .effort = 1000})) == 0);
    CHECK(leftOf(laid({part, part}, {sheetOf(209.9, 100.2)}, {.spacing = 10, .effort = 1000})) == 1);
}

TEST_CASE("nest: what fits only slanting is laid so") {
    CHECK(leftOf(laid({partOf(rectangle({0, 0}, {1000, 20}))}, {sheetOf(800, 800)})) == 0);
    CHECK(leftOf(laid({partOf(rectangle({0, 0}, {1000, 20}), 1, pi / 2)}, {sheetOf(800, 800)})) == 1);
}

TEST_CASE("nest: hostile parts cost neither the others nor much time") {
    Ring comb; // 20 000 points, hair-thin necks
    for (int i = 0; i < 5000; ++i) {
        const double x = i * 0.02;
        comb.insert(comb.end(),
                    {{x, 0}, {x, i % 2 ? 40.0 : 20.0}, {x + 0.01, i % 2 ? 40.0 : 20.0}, {x + 0.01, 0.0001}});
    }
    comb.push_back({100, -1});
    comb.push_back({0, -1});
    const std::vector<nest::Part> parts{partOf(pathOf(comb, true), 1, pi / 2),
                                        partOf(rectangle({0, 0}, {100, 0.01}), 3),
                                        partOf(rectangle({0, 0}, {30, 30}), 4)};
    const auto layout = laid(parts, {sheetOf(200, 200)}, {.spacing = 2, .margin = 2, .effort = 20'000});
    std::map<std::size_t, int> count;
    for (const auto& one : layout.placed) ++count[one.part];
    CHECK(count[2] == 4);
    CHECK(count[1] == 3);
    Progress progress;
    CHECK_FALSE(nest::laidOut(parts, {}, {}, progress));
    CHECK_FALSE(nest::laidOut(parts, {sheetOf(4, 4)}, {.margin = 2}, progress));
    CHECK_FALSE(nest::laidOut(parts, {sheetOf(99, 99)}, {.spacing = -1}, progress));
    progress.cancel();
    const auto cancelled = nest::laidOut(parts, {sheetOf(200, 200)}, {}, progress);
    REQUIRE_FALSE(cancelled);
    CHECK(cancelled.problem().isCancelled);
}

TEST_CASE("nest: the check sees what is wrong") {
    const std::vector<nest::Part> parts{partOf(rectangle({0, 0}, {50, 30}), 2, pi / 2)};
    const std::vector<nest::Sheet> sheets{sheetOf(200, 100)};
    const auto faults = [&](Transform a, Transform b, double spacing = 0, double margin = 0) {
        nest::Layout layout;
        layout.placed = {{0, 0, a}, {0, 0, b}};
        return nest::faultsOf(parts, sheets, {.spacing = spacing, .margin = margin}, layout).size();
    };
    const auto at = [](double x, double y) { return Transform::moved({x, y}); };
    CHECK(faults(at(0, 0), at(50, 0)) == 0);
    CHECK(faults(at(0, 0), at(49.99, 0)) == 1);
    CHECK(faults(at(0, 0), at(40, 0)) == 1);
    CHECK(faults(at(0, 0), at(0, 0)) == 1);
    CHECK(faults(at(0, 0), at(52, 0), 2) == 0);
    CHECK(faults(at(0, 0), at(51.99, 0), 2) == 1);
    CHECK(faults(at(2, 2), at(60, 2), 0, 2) == 0);
    CHECK(faults(at(1.99, 2), at(60, 2), 0, 2) == 1);
    CHECK(faults(at(0, 0), at(150.01, 0)) == 1);
    CHECK(faults(at(0, 0), at(100, 0) * Transform::rotated(0.1)) >= 1);
    CHECK(faults(at(0, 0), at(120, 0) * Transform::scaled(-1, 1)) == 1);
    CHECK(faults(at(0, 0), at(100, 0) * Transform::scaled(0.9, 0.9)) >= 1);
    nest::Layout few;
    few.placed = {{0, 0, at(0, 0)}};
    CHECK(nest::faultsOf(parts, sheets, {}, few).size() == 1);
    few.left = {{0, 1, "no room"}};
    CHECK(nest::faultsOf(parts, sheets, {}, few).empty());
}

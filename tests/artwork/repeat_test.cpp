#include "artwork/copies.h"
#include "artwork/repeat.h"
#include "support/shapes.h"

using namespace ferro;
using namespace ferro::artwork;
using test::ring;

namespace {

const Box sheet{{0, 0}, {200, 100}};
struct Owl { // 20 × 10 at 10, 10, with an eye in its left half
    Artwork art;
    Ids ids;
    Owl() {
        auto made = withPieces({}, {{rectangle({10, 10}, {30, 20}), {}}, {circle({14, 15}, 1), {}}}, "cut", "owl");
        art = made.artwork, ids = made.ids;
    }
};
std::vector<Box> bodies(const Artwork& art) { // bounds of all bodies, in drawing order
    std::vector<Box> out;
    for (std::size_t i = 0; i < art.items.size(); i += 2) out.push_back(boundsOf(art.items[i]));
    return out;
}

} // namespace

TEST_CASE("repeat: a grid keeps its gaps, fills what there is, and lies staggered as bricks do") {
    const Owl owl;
    auto made = withRepeated(owl.art, owl.ids, {.columns = 3, .rows = 2, .gap = {5, 4}}, sheet);
    REQUIRE(made);
    CHECK(made->ids.size() == 10);
    const auto all = bodies(made->artwork);
    REQUIRE(all.size() == 6);
    for (int i = 0; i < 6; ++i) {
        CHECK(all[static_cast<std::size_t>(i)].low.x == Approx(10 + i % 3 * 25));
        CHECK(all[static_cast<std::size_t>(i)].low.y == Approx(10 + i / 3 * 14));
    }
    // To fill the sheet: 10 + 7 × 25 + 20 would be beyond 200, 10 + 6 × 14 + 10 beyond 100.
    const auto full = withRepeated(owl.art, owl.ids, {.columns = 0, .rows = 0, .gap = {5, 4}}, sheet);
    REQUIRE(full);
    CHECK(bodies(full->artwork).size() == 7 * 6);
    Box over;
    for (const auto& box : bodies(full->artwork)) over.take(box);
    CHECK(sheet.contains(over));
    const auto bricks =
        withRepeated(owl.art, owl.ids, {.columns = 0, .rows = 2, .gap = {5, 4}, .staggered = true}, sheet);
    REQUIRE(bricks);
    const auto laid = bodies(bricks->artwork);
    CHECK(laid[laid.size() / 2].low.x == Approx(10 + 12.5));
    over = {};
    for (const auto& box : laid) over.take(box);
    CHECK(sheet.contains(over));
    // They follow: an original that is changed changes all.
    auto changed = made->artwork;
    changed.items[0].leaf = leafOf({rectangle({10, 10}, {32, 20}), {}});
    const auto after = followed(made->artwork, changed);
    for (const auto& box : bodies(after)) CHECK(box.width() == Approx(22));
}

TEST_CASE("repeat: a ring turns its copies or leaves them upright, over a part of a turn to its end") {
    const Owl owl;
    const Vec2 centre{100, 50}, own = boundsOf(owl.art, {owl.ids[0]}).centre();
    const double radius = distance(own, centre);
    for (const bool turns : {true, false}) {
        const auto ring = withRepeated(owl.art, owl.ids,
                                       {.way = Repeat::Way::ring, .count = 8, .centre = centre, .turns = turns}, sheet);
        REQUIRE(ring);
        const auto& items = ring->artwork.items;
        REQUIRE(items.size() == 16);
        for (std::size_t i = 0; i < items.size(); i += 2) {
            const auto n = static_cast<double>(i / 2);
            const Vec2 middle = items[i].place(own);
            CHECK(distance(middle, centre) == Approx(radius));
            const Vec2 meant = Transform::rotated(n * pi / 4, centre)(own);
            CHECK(distance(middle, meant) < 1e-9);
            CHECK(std::abs(std::remainder(std::atan2(items[i].place.b, items[i].place.a) - (turns ? n * pi / 4 : 0),
                                          2 * pi)) < 1e-9);
            // The eye stays where it is in its owl.
            CHECK(distance(items[i].place({14, 15}), items[i + 1].place({14, 15})) < 1e-9);
        }
    }
    const auto fan = withRepeated(owl.art, owl.ids,
                                  {.way = Repeat::Way::ring, .count = 4, .centre = centre, .span = -pi / 2}, sheet);
    REQUIRE(fan);
    CHECK(distance(fan->artwork.items[6].place(own), Transform::rotated(-pi / 2, centre)(own)) < 1e-9);
}

TEST_CASE("repeat: along a line the middles lie on it, evenly, turned as it goes") {
    const Owl owl;
    const auto strings = withPieces(
        owl.art, {{pathOf(ring("20,60 120,60 120,90"), false), {}}, {circle({60, 60}, 20), {}}}, "lines", "string");
    const auto along = [&](std::size_t line, int count, double pitch, bool turns = true) {
        Ids all = owl.ids;
        all.push_back(strings.ids[line]);
        auto made = withRepeated(strings.artwork, all,
                                 {.way = Repeat::Way::line, .count = count, .turns = turns, .pitch = pitch}, sheet,
                                 strings.ids[line]);
        REQUIRE(made);
        std::vector<std::pair<Vec2, double>> places;
        for (std::size_t i = strings.artwork.items.size(); i < made->artwork.items.size(); i += 2) {
            const auto& place = made->artwork.items[i].place;
            places.emplace_back(place({20, 15}), std::atan2(place.b, place.a));
        }
        return places;
    };
    const auto five = along(0, 5, 0); // 130 mm long
    REQUIRE(five.size() == 5);
    CHECK(distance(five[0].first, {20, 60}) < 1e-9);
    CHECK(distance(five[1].first, {52.5, 60}) < 1e-9);
    CHECK(distance(five[4].first, {120, 90}) < 1e-9);
    CHECK(five[0].second == Approx(0).margin(1e-9));
    CHECK(five[4].second == Approx(pi / 2));
    CHECK(along(0, 5, 0, false)[4].second == Approx(0).margin(1e-9));
    CHECK(along(0, 1, 30).size() == 5);
    const auto round = along(1, 6, 0);
    REQUIRE(round.size() == 6);
    for (std::size_t i = 0; i < 6; ++i) CHECK(distance(round[i].first, {60, 60}) == Approx(20));
    CHECK(distance(round[0].first, round[5].first) == Approx(20)); // a sixth apart all round
}

TEST_CASE("repeat: what cannot be done is said and makes nothing") {
    const Owl owl;
    const auto refused = [&](const Repeat& repeat) { return !withRepeated(owl.art, owl.ids, repeat, sheet); };
    CHECK(refused({.columns = 1, .rows = 1}));
    CHECK(refused({.columns = 2, .rows = 1, .gap = {-20, 0}}));
    CHECK(refused({.columns = 9999, .rows = 9999}));
    CHECK(refused({.columns = 0, .rows = 1, .gap = {500, 5}}));
    CHECK(refused({.way = Repeat::Way::ring, .count = 1}));
    CHECK(refused({.way = Repeat::Way::ring, .count = 3, .span = 0}));
    CHECK(refused({.way = Repeat::Way::ring, .count = 3, .centre = {20, 15}, .turns = false}));
    CHECK(refused({.way = Repeat::Way::line}));
    CHECK_FALSE(withRepeated(owl.art, {}, {}, sheet));
}

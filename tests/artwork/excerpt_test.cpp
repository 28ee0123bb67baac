#include "artwork/copies.h"
#include "artwork/excerpt.h"
#include "support/shapes.h"

#include <set>

using namespace ferro;
using namespace ferro::artwork;

TEST_CASE("excerpt: pieces come into another artwork with layer, group, facts and kin, and ids of their own") {
    auto from = withPieces({}, {{rectangle({0, 0}, {8, 5}), {}}, {circle({30, 0}, 4), {}}}, "cut", "wing");
    auto art = *withGrouped(from.artwork, from.ids, "bird");
    art = *withLayerFlag(art, "cut", Flag::notes, true);
    art = *withPart(art, {from.ids[0]}, {.quantity = 3});
    auto copied = *withCopies(art, {from.ids[0]}, {50, 0}, 2);
    art = copied.artwork;

    SECTION("the copy without its original stands alone, with its facts") {
        const auto alone = excerptOf(art, {copied.ids[1]});
        REQUIRE(alone.items.size() == 1);
        CHECK_FALSE(alone.items[0].of);
        const auto in = withExcerpt({}, alone, {});
        REQUIRE(in.ids.size() == 1);
        CHECK(partOf(in.artwork, in.artwork.items[0]).quantity == 3);
        CHECK(boundsOf(in.artwork.items[0]).low.x == Approx(100));
    }
    SECTION("with the original it follows the one that came along") {
        const auto other = withPieces({}, {{circle({0, 0}, 9), {}}}, "score", "moon").artwork;
        const auto carried = excerptOf(art, {from.ids[0], from.ids[1], copied.ids[0]});
        const auto in = withExcerpt(other, carried, {7, -2});
        const auto& out = in.artwork;
        REQUIRE(out.items.size() == 4);
        CHECK(out.items[0].name == "moon");
        const auto* wing = find(out, in.ids[0]);
        const auto* copy = find(out, in.ids[2]);
        CHECK(copy->of == wing->id);
        CHECK(boundsOf(*wing).low == Vec2{7, -2});
        CHECK(find(out, wing->layer)->name == "cut");
        CHECK(isNote(out, *wing));
        REQUIRE(wing->group);
        CHECK(wing->group == find(out, in.ids[1])->group);
        CHECK(out.groups.size() >= 1);
        std::set<std::uint32_t> ids;
        for (const auto& l : out.layers) CHECK(ids.insert(l.id.value).second);
        for (const auto& g : out.groups) CHECK(ids.insert(g.id.value).second);
        for (const auto& i : out.items) CHECK(ids.insert(i.id.value).second);
        for (const auto id : ids) CHECK(id <= out.lastId);
    }
    SECTION("a layer of the same name takes them, and keeps its own look; what was locked or hidden can be seen") {
        auto shut = *withFlag(art, {from.ids[0]}, Flag::hidden, true);
        const auto carried = excerptOf(shut, {from.ids[0]});
        const auto here = withPieces({}, {{circle({0, 0}, 9), {}}}, "cut", "moon").artwork;
        const auto in = withExcerpt(here, carried, {});
        CHECK(in.artwork.layers.size() == 1);
        CHECK_FALSE(isNote(in.artwork, *find(in.artwork, in.ids[0])));
        CHECK_FALSE(isHidden(in.artwork, *find(in.artwork, in.ids[0])));
    }
}

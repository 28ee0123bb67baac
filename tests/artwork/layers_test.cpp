#include "artwork/edits.h"
#include "support/shapes.h"

#include <set>

using namespace ferro;
using namespace ferro::artwork;

namespace {
Added puppets(int count, const char* layer = "puppets") {
    std::vector<Piece> pieces;
    for (int i = 0; i < count; ++i) pieces.push_back({rectangle({10.0 * i, 0}, {10.0 * i + 8, 5}), {}});
    return withPieces({}, std::move(pieces), layer, "heron");
}
/// Everything about an artwork that must hold after any edit.
void mustBeSound(const Artwork& art) {
    std::set<std::uint32_t> ids;
    for (const auto& layer : art.layers) CHECK(ids.insert(layer.id.value).second);
    for (const auto& group : art.groups) CHECK(ids.insert(group.id.value).second);
    for (const auto& item : art.items) {
        CHECK(ids.insert(item.id.value).second);
        CHECK(find(art, item.layer));
        if (item.group)
            CHECK(
                std::any_of(art.groups.begin(), art.groups.end(), [&](const Group& g) { return g.id == item.group; }));
        CHECK(item.place.determinant() != 0);
    }
    for (const auto id : ids) CHECK(id <= art.lastId);
    // A group without anything in it would be there for ever.
    for (const auto& group : art.groups) {
        const bool used =
            std::any_of(art.items.begin(), art.items.end(), [&](const Item& i) { return i.group == group.id; }) ||
            std::any_of(art.groups.begin(), art.groups.end(), [&](const Group& g) { return g.parent == group.id; });
        CHECK(used);
    }
}
} // namespace

TEST_CASE("edits: a random hundred of them leaves a sound artwork, and equal sequences give equal ones", "[property]") {
    for (unsigned seed = 1; seed <= 25; ++seed) {
        std::optional<Artwork> twin;
        for (int round = 0; round < 2; ++round) {
            std::mt19937 random(seed);
            Artwork art = puppets(6).artwork;
            for (int i = 0; i < 100; ++i) {
                Ids some;
                for (const auto& item : art.items)
                    if (random() % 3 == 0) some.push_back(item.id);
                if (some.empty()) continue;
                const double by = static_cast<double>(random() % 40) - 20;
                const Result<Artwork> next = [&]() -> Result<Artwork> {
                    switch (random() % 11) {
                    case 0: return withTransformed(art, some, Transform::moved({by, 3}));
                    case 1: return withTransformed(art, some, Transform::rotated(by / 7, {10, 10}));
                    case 2: return withSize(art, some, 5 + std::abs(by), 0);
                    case 3: return withOriginalSize(art, some);
                    case 4: return withGrouped(art, some, "troupe");
                    case 5: return withUngrouped(art, some);
                    case 6: return withLayer(art, some, random() % 2 ? "front" : "back");
                    case 7: return withFlag(art, some, random() % 2 ? Flag::locked : Flag::hidden, random() % 2);
                    case 8: return withName(art, some, "moon");
                    case 9: {
                        if (art.items.size() > 40) return withRemoved(art, some);
                        auto added = withDuplicates(art, some, {1, 1});
                        if (!added) return added.problem();
                        return added->artwork;
                    }
                    default: return withLayerFlag(art, "front", Flag::hidden, random() % 2);
                    }
                }();
                if (next) art = *next;
            }
            mustBeSound(art);
            if (twin) CHECK(*twin == art);
            twin = art;
        }
    }
}

TEST_CASE("edits: copies share their leaves, keep their groups apart, and lie where asked") {
    auto [art, ids] = puppets(4);
    art = *withGrouped(art, {ids[0], ids[1]}, "pair");
    const auto added = withDuplicates(art, {ids[0], ids[1], ids[2]}, {0, 50});
    REQUIRE(added);
    REQUIRE(added->ids.size() == 3);
    const auto* first = find(art, ids[0]);
    const auto* copy = find(added->artwork, added->ids[0]);
    CHECK(std::get<0>(copy->leaf) == std::get<0>(first->leaf));
    CHECK(copy->group);
    CHECK(copy->group != first->group);
    CHECK(copy->group == find(added->artwork, added->ids[1])->group);
    CHECK_FALSE(find(added->artwork, added->ids[2])->group);
    CHECK(boundsOf(*copy).low == Vec2{0, 50});
    CHECK(withGroupMates(added->artwork, {added->ids[0]}).size() == 2);
}

TEST_CASE("edits: hidden and locked count by layer too, and a locked piece stays where it is") {
    auto [art, ids] = puppets(2);
    art = *withLayer(art, {ids[1]}, "front");
    auto locked = *withLayerFlag(art, "front", Flag::locked, true);
    CHECK(isLocked(locked, *find(locked, ids[1])));
    CHECK_FALSE(isLocked(locked, *find(locked, ids[0])));
    CHECK_FALSE(withTransformed(locked, {ids[1]}, Transform::moved({1, 0})));
    CHECK_FALSE(withRemoved(locked, {ids[0], ids[1]}));
    CHECK_FALSE(withLayerFlag(art, "no such", Flag::hidden, true));
    locked = *withLayerFlag(locked, "front", Flag::locked, false);
    CHECK(withTransformed(locked, {ids[1]}, Transform::moved({1, 0})));
    const auto hidden = *withFlag(art, {ids[0]}, Flag::hidden, true);
    CHECK(isHidden(hidden, *find(hidden, ids[0])));
    CHECK(countsOf(art).pieces == 2);
    CHECK(countsOf(art).points == 8);
    for (const auto& refused :
         {withTransformed(art, {{999}}, {}), withName(art, {{999}}, "x"), withSize(art, ids, -4, 0),
          withTransformed(art, ids, Transform::scaled(0, 1)), withLayer(art, ids, "")})
        CHECK_FALSE(refused);
}

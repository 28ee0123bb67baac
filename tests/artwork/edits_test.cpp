#include "artwork/edits.h"
#include "support/shapes.h"

#include <random>

using namespace ferro;
using namespace ferro::artwork;

namespace {
artwork::Added puppets(int count) {
    std::vector<Piece> pieces;
    for (int i = 0; i < count; ++i) pieces.push_back({rectangle({10.0 * i, 0}, {10.0 * i + 8, 5}), {}});
    return withPieces({}, std::move(pieces), "puppets", "heron");
}
} // namespace

TEST_CASE("edits: sizes are exact through any number of moves, turns and mirrors") {
    auto [art, ids] = puppets(3);
    const Ids one{ids[0]};
    auto edited = *withSize(art, one, 148, 0);
    CHECK(boundsOf(edited, one).width() == Approx(148).margin(1e-9));
    CHECK(boundsOf(edited, one).height() == Approx(148.0 * 5 / 8).margin(1e-9));
    for (int i = 0; i < 8; ++i) edited = *withTransformed(edited, one, Transform::rotated(pi / 4, {3, 9}));
    edited = *withTransformed(edited, one, Transform::scaled(-1, 1, {50, 0}));
    CHECK(boundsOf(edited, one).width() == Approx(148).margin(1e-9));
    const auto back = *withOriginalSize(edited, one);
    CHECK(boundsOf(back, one).width() == Approx(8).margin(1e-9));
    CHECK(find(back, ids[0])->place.determinant() < 0); // the mirror stays
    CHECK(distance(boundsOf(back, one).centre(), boundsOf(edited, one).centre()) < 1e-9);
}

TEST_CASE("edits: what cannot be done is said and changes nothing") {
    auto [art, ids] = puppets(2);
    CHECK_FALSE(withRemoved(art, {}));
    CHECK(withRemoved(art, {{99}}).problem().what == "There is no item 99.");
    CHECK_FALSE(withTransformed(art, ids, Transform::scaled(0, 1)));
    CHECK_FALSE(withTransformed(art, ids, Transform::moved({NAN, 0})));
    CHECK_FALSE(withSize(art, ids, -1, -1));
    const auto locked = *withFlag(art, {ids[0]}, Flag::locked, true);
    CHECK(withTransformed(locked, ids, Transform::moved({1, 0})).problem().what == "“heron 1” is locked.");
    CHECK_FALSE(withRemoved(*withLayerFlag(art, "puppets", Flag::locked, true), ids));
    CHECK_FALSE(withGrouped(art, {ids[0]}, "alone"));
    CHECK_FALSE(withUngrouped(art, ids));
}

TEST_CASE("edits: groups nest, move together and come apart from the outside in") {
    auto [art, ids] = puppets(4);
    auto grouped = *withGrouped(art, {ids[0], ids[1]}, "pair");
    grouped = *withGrouped(grouped, {ids[0], ids[1], ids[2]}, "three");
    CHECK(withGroupMates(grouped, {ids[2]}) == Ids{ids[0], ids[1], ids[2]});
    const auto opened = *withUngrouped(grouped, {ids[2]});
    CHECK(withGroupMates(opened, {ids[0]}) == Ids{ids[0], ids[1]});
    CHECK(withGroupMates(opened, {ids[2]}) == Ids{ids[2]});
    CHECK(opened.groups.size() == 1);
    const auto copies = *withDuplicates(grouped, {ids[0], ids[1], ids[2]}, {0, 50});
    CHECK(copies.ids.size() == 3);
    CHECK(withGroupMates(copies.artwork, {copies.ids[0]}).size() >= 2);
    CHECK(withRemoved(grouped, {ids[0], ids[1], ids[2]})->groups.empty());
}

TEST_CASE("edits: things are found by their number in whatever order they lie", "[property]") {
    std::vector<Piece> pieces(300, Piece{rectangle({0, 0}, {2, 1}), {}});
    auto art = artwork::withPieces({}, pieces, "cut", "token").artwork;
    std::mt19937 random(4);
    for (int round = 0; round < 20; ++round) {
        for (const auto& item : art.items) {
            const auto* found = artwork::find(art, item.id);
            REQUIRE(found == &item);
        }
        CHECK(artwork::find(art, artwork::ItemId{art.lastId + 1}) == nullptr);
        CHECK(artwork::find(art, artwork::ItemId{}) == nullptr);
        // Some are moved in the order, some taken out.
        for (int i = 0; i < 40; ++i)
            std::swap(art.items[random() % art.items.size()], art.items[random() % art.items.size()]);
        art.items.erase(art.items.begin() + static_cast<std::ptrdiff_t>(random() % art.items.size()));
    }
}
